package trend

import (
	"fmt"
	"math"
	"testing"
)

func TestFit(t *testing.T) {
	for name, test := range map[string]struct {
		points []Point
		slope  float64
		ok     bool
	}{
		"too few":      {[]Point{{0, 1}, {1, 2}, {2, 3}}, 0, false},
		"one day":      {[]Point{{1, 1}, {1, 2}, {1, 3}, {1, 4}}, 0, false},
		"straight":     {[]Point{{0, 2}, {7, 2.7}, {14, 3.4}, {21, 4.1}}, 0.1, true},
		"one bad tap":  {[]Point{{0, 2}, {7, 2.7}, {14, 9}, {21, 4.1}, {28, 4.8}, {35, 5.5}}, 0.1, true},
		"level":        {[]Point{{0, 3}, {1, 3}, {2, 3}, {3, 3}}, 0, true},
		"shrinking":    {[]Point{{0, 5}, {2, 4}, {4, 3}, {6, 2}}, -0.5, true},
		"unequal days": {[]Point{{0, 1}, {1, 1.5}, {10, 6}, {11, 6.5}}, 0.5, true},
	} {
		t.Run(name, func(t *testing.T) {
			line, ok := Fit(test.points)
			if ok != test.ok || math.Abs(line.Slope-test.slope) > 1e-9 {
				t.Errorf("%s: slope %v, %v; want %v, %v", name, line.Slope, ok, test.slope, test.ok)
			}
		})
	}
}

// TestTheLineItself: where it begins and where it leads, not only how steep it
// is; the middle of an even number lies between the two in the middle.
func TestTheLineItself(t *testing.T) {
	for name, c := range map[string]struct {
		points []Point
		base   float64
		at     float64 // on day 100
	}{
		"straight":      {[]Point{{0, 2}, {7, 2.7}, {14, 3.4}, {21, 4.1}}, 2, 12},
		"not from nil":  {[]Point{{10, 3}, {20, 4}, {30, 5}, {40, 6}}, 2, 12},
		"falling":       {[]Point{{0, 5}, {2, 4}, {4, 3}, {6, 2}}, 5, -45},
		"of five":       {[]Point{{0, 1}, {1, 2}, {2, 3}, {3, 4}, {4, 50}}, 1, 101},
		"one beside it": {[]Point{{0, 2}, {7, 2.7}, {14, 9}, {21, 4.1}, {28, 4.8}, {35, 5.5}}, 2, 12},
	} {
		t.Run(name, func(t *testing.T) {
			line, ok := Fit(c.points)
			if !ok || math.Abs(line.Base-c.base) > 1e-9 || math.Abs(line.Value(100)-c.at) > 1e-9 {
				t.Errorf("%+v, at 100 %v", line, line.Value(100))
			}
		})
	}
	for want, values := range map[float64][]float64{1: {1}, 1.5: {2, 1}, 2: {3, 1, 2}, 2.5: {4, 1, 2, 3}, 3: {9, 1, 2, 3, 4}, 3.5: {9, 8, 1, 2, 3, 4}} {
		t.Run(fmt.Sprint(want), func(t *testing.T) {
			if got := median(values); got != want {
				t.Errorf("the middle of %v is %v", values, got)
			}
		})
	}
}

// Example tells where stopping times lead: a brake that wears out.
func Example() {
	line, ok := Fit([]Point{{0, 2.0}, {7, 2.1}, {14, 2.2}, {21, 2.3}})
	fmt.Printf("%v %.3f s a week, %.1f s in ten weeks\n", ok, line.Slope*7, line.Value(70))
	// Output: true 0.100 s a week, 3.0 s in ten weeks
}
