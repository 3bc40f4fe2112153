package trend

import (
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
		line, ok := Fit(test.points)
		if ok != test.ok || math.Abs(line.Slope-test.slope) > 1e-9 {
			t.Errorf("%s: slope %v, %v; want %v, %v", name, line.Slope, ok, test.slope, test.ok)
		}
	}
}

func TestReaches(t *testing.T) {
	line := Line{Slope: 0.1, Base: 2}
	if day, ok := line.Reaches(5, 10); !ok || math.Abs(day-30) > 1e-9 {
		t.Errorf("reaches 5 on day %v, %v", day, ok)
	}
	if _, ok := line.Reaches(2, 10); ok {
		t.Error("a growing line comes down to a limit behind it")
	}
	if _, ok := (Line{Base: 2}).Reaches(5, 0); ok {
		t.Error("a level line reaches something")
	}
}
