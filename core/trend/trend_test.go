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
