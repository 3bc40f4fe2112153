package plane

import (
	"math"
	"testing"
)

func TestWrongPolygons(t *testing.T) {
	square := rectangle(0, 0, 10, 10)
	closed := func(ring ...Point) Shape { return polygon(ring) }
	for name, c := range map[string]struct {
		shape Shape
		wrong string
	}{
		"a square":                   {closed(square...), ""},
		"a point twice":              {closed(Point{0, 0}, Point{10, 0}, Point{10, 0}, Point{10, 10}), ""},
		"a triangle":                 {closed(Point{0, 0}, Point{10, 0}, Point{10, 10}), ""},
		"with a hole":                {polygon(square, rectangle(2, 2, 3, 3)), ""},
		"with two holes":             {polygon(square, rectangle(2, 2, 3, 3), rectangle(6, 6, 3, 3)), ""},
		"open":                       {Shape{Filled: true, Lines: [][]Point{square}}, NotClosed},
		"no ring":                    {Shape{Filled: true}, NoArea},
		"an empty ring":              {Shape{Filled: true, Lines: [][]Point{{}}}, NotClosed},
		"a line there and back":      {closed(Point{0, 0}, Point{10, 0}), NoArea},
		"three points in a line":     {closed(Point{0, 0}, Point{5, 0}, Point{10, 0}), Crossing},
		"a bow":                      {closed(Point{0, 0}, Point{10, 10}, Point{10, 0}, Point{0, 10}), Crossing},
		"a spike":                    {closed(Point{0, 0}, Point{10, 0}, Point{15, 0}, Point{10, 0}, Point{10, 10}), Crossing},
		"a corner on another side":   {closed(Point{0, 0}, Point{10, 0}, Point{10, 10}, Point{5, 0}, Point{0, 10}), Crossing},
		"a hole that cuts":           {polygon(square, rectangle(8, 8, 5, 5)), Crossing},
		"a hole that touches":        {polygon(square, rectangle(0, 2, 3, 3)), Crossing},
		"a hole outside":             {polygon(square, rectangle(20, 2, 3, 3)), HoleOut},
		"a hole around it":           {polygon(square, rectangle(-5, -5, 30, 30)), HoleOut},
		"a hole in a hole":           {polygon(square, rectangle(2, 2, 6, 6), rectangle(4, 4, 1, 1)), HoleOut},
		"a hole in a hole, the last": {polygon(square, rectangle(4, 4, 1, 1), rectangle(2, 2, 6, 6)), HoleOut},
	} {
		if got := c.shape.Wrong(); got != c.wrong {
			t.Errorf("%s: %q, not %q", name, got, c.wrong)
		}
	}
}

func TestAreaAndMiddle(t *testing.T) {
	for name, c := range map[string]struct {
		shape  Shape
		area   float64
		middle Point
	}{
		"a square":       {polygon(rectangle(100, 200, 10, 10)), 100, Point{105, 205}},
		"with the clock": {polygon([]Point{{0, 0}, {0, 10}, {10, 10}, {10, 0}}), 100, Point{5, 5}},
		"a hole in it":   {polygon(rectangle(0, 0, 10, 10), rectangle(0, 0, 5, 10)), 50, Point{7.5, 5}},
		"an L":           {polygon([]Point{{0, 0}, {4, 0}, {4, 2}, {2, 2}, {2, 4}, {0, 4}}), 12, Point{5. / 3, 5. / 3}},
		"a point":        {At(Point{3, 4}), 0, Point{3, 4}},
		"a line":         {Shape{Lines: [][]Point{{{0, 0}, {10, 0}, {10, 10}}}}, 0, Point{7.5, 2.5}},
	} {
		if got := c.shape.Area(); math.Abs(got-c.area) > 1e-9 {
			t.Errorf("%s: area %v", name, got)
		}
		if got := c.shape.Middle(); got.Distance(c.middle) > 1e-9 {
			t.Errorf("%s: middle %v", name, got)
		}
	}
}
