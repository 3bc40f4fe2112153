package plane

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

func polygon(rings ...[]Point) Shape {
	s := Shape{Filled: true}
	for _, ring := range rings {
		s.Lines = append(s.Lines, append(ring[:len(ring):len(ring)], ring[0]))
	}
	return s
}

func line(points ...Point) Shape { return Shape{Lines: [][]Point{points}} }

func rectangle(x, y, wide, high float64) []Point {
	return []Point{{x, y}, {x + wide, y}, {x + wide, y + high}, {x, y + high}}
}

// TestWhatIsLeft of squares, where it can be said by hand.
func TestWhatIsLeft(t *testing.T) {
	square := polygon(rectangle(0, 0, 10, 10))
	for name, c := range map[string]struct {
		zone Shape
		near []Near
		area float64
	}{
		"nothing near":            {square, nil, 100},
		"a wall beside it":        {square, []Near{{line(Point{0, 0}, Point{10, 0}), 2}}, 80},
		"the other way round":     {square, []Near{{line(Point{10, 0}, Point{0, 0}), 2}}, 80},
		"a wall in three parts":   {square, []Near{{line(Point{-1, 0}, Point{2, 0}, Point{3, 0}, Point{30, 0}), 2}}, 80},
		"touching its edge":       {square, []Near{{line(Point{-5, -2}, Point{15, -2}), 2}}, 100},
		"all of it, to its edge":  {square, []Near{{line(Point{-5, 0}, Point{15, 0}), 10}}, 0},
		"a pole in the middle":    {square, []Near{{At(Point{5, 5}), 2}}, 100 - 4*math.Pi},
		"a pole at the corner":    {square, []Near{{At(Point{0, 0}), 2}}, 100 - math.Pi},
		"a pole that touches":     {square, []Near{{At(Point{-2, 5}), 2}}, 100},
		"the same pole twice":     {square, []Near{{At(Point{5, 5}), 2}, {At(Point{5, 5}), 2}}, 100 - 4*math.Pi},
		"poles that touch":        {square, []Near{{At(Point{3, 5}), 2}, {At(Point{7, 5}), 2}}, 100 - 8*math.Pi},
		"a line in the middle":    {square, []Near{{line(Point{3, 5}, Point{7, 5}), 1}}, 100 - 8 - math.Pi},
		"two lines that touch":    {square, []Near{{line(Point{-5, 4}, Point{15, 4}), 1}, {line(Point{-5, 6}, Point{15, 6}), 1}}, 60},
		"the same line twice":     {square, []Near{{line(Point{3, 5}, Point{7, 5}), 1}, {line(Point{4, 5}, Point{7, 5}), 1}}, 100 - 8 - math.Pi},
		"a polygon in it":         {square, []Near{{polygon(rectangle(4, 4, 2, 2)), 1}}, 100 - 4 - 8 - math.Pi},
		"a polygon around it":     {square, []Near{{polygon(rectangle(-10, -10, 40, 40)), 1}}, 0},
		"in the hole of a ring":   {square, []Near{{polygon(rectangle(-20, -20, 60, 60), rectangle(-5, -5, 20, 20)), 6}}, 64},
		"a hole":                  {polygon(rectangle(0, 0, 10, 10), rectangle(4, 4, 2, 2)), nil, 96},
		"a hole, its edge a wall": {polygon(rectangle(0, 0, 10, 10), rectangle(4, 4, 2, 2)), []Near{{line(Point{4, 4}, Point{6, 4}, Point{6, 6}, Point{4, 6}, Point{4, 4}), 1}}, 100 - 4 - 8 - math.Pi},
		"a bare touch is nothing": {square, []Near{{line(Point{0, 0}, Point{10, 0}), 0}}, 100},
	} {
		t.Run(name, func(t *testing.T) {
			if wrong := c.zone.Wrong(); wrong != "" {
				t.Fatal(wrong)
			}
			if got := c.zone.Without(c.near).Area(); math.Abs(got-c.area) > 1e-4 {
				t.Errorf("%.6f left, not %.6f", got, c.area)
			}
		})
	}
}

// dice throws a polygon, and shapes to keep away from. With whole numbers lines lie on
// one another, and touch, as those do that people type.
type dice struct {
	*rand.Rand
	whole bool
}

func (d dice) number(low, high float64) float64 {
	n := low + d.Float64()*(high-low)
	if d.whole {
		n = math.Round(n)
	}
	return n
}

func (d dice) point(reach float64) Point {
	return Point{d.number(-reach, reach), d.number(-reach, reach)}
}

// star is a ring about a place.
func (d dice) star(at Point, reach float64, corners int) []Point {
	var out []Point
	for i := range corners {
		angle, far := (float64(i)+.8*d.Float64())*2*math.Pi/float64(corners), d.number(reach/3, reach)
		p := at.plus(Point{far * math.Cos(angle), far * math.Sin(angle)})
		if d.whole {
			p = Point{math.Round(p.X), math.Round(p.Y)}
		}
		out = append(out, p)
	}
	return out
}

func (d dice) zone() Shape {
	for {
		s := polygon(d.star(Point{}, 20, 3+d.IntN(20)))
		if d.IntN(3) == 0 {
			s = polygon(s.Lines[0][:len(s.Lines[0])-1], d.star(d.point(5), 4, 3+d.IntN(5)))
		}
		if s.Wrong() == "" {
			return s
		}
	}
}

func (d dice) shape() Shape {
	switch d.IntN(4) {
	case 0:
		return At(d.point(25))
	case 1:
		for {
			if s := polygon(d.star(d.point(20), 8, 3+d.IntN(4))); s.Wrong() == "" {
				return s
			}
		}
	}
	points := []Point{d.point(25)}
	for range 1 + d.IntN(6) {
		points = append(points, points[len(points)-1].plus(d.point(10)))
	}
	return line(points...)
}

func (d dice) near() (out []Near) {
	for range d.IntN(5) {
		out = append(out, Near{d.shape(), d.number(0, 5)})
	}
	return out
}

// TestLeftAgainstAGrid of points, each asked for itself: as much of the polygon is left,
// and nothing of it is nearer to a shape than what is left says.
func TestLeftAgainstAGrid(t *testing.T) {
	const step = .2
	for seed := range uint64(120) {
		d := dice{rand.New(rand.NewPCG(seed, 14)), seed%2 == 0}
		zone, near, other := d.zone(), d.near(), d.shape()
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			left := zone.Without(near)
			if !closed(left.Loops()) {
				t.Error("the border is open")
			}
			count, edge, least := 0, 0.0, math.Inf(1)
			for _, c := range left.Border {
				edge += c.long()
			}
			for x := -20.0; x < 20; x += step {
				for y := -20.0; y < 20; y += step {
					p := Point{x + d.Float64()*step, y + d.Float64()*step}
					in := zone.Distance(p) == 0
					for _, n := range near {
						in = in && n.Shape.Distance(p) >= n.Within
					}
					if in {
						count++
						least = min(least, other.Distance(p))
					}
					if in != left.Holds(p) {
						t.Fatalf("%v: %v", p, !in)
					}
				}
			}
			got, want := left.Area(), float64(count)*step*step
			// A grid misses by half a cell where the border goes through, most of which averages out.
			if math.Abs(got-want) > 3*step*math.Sqrt(edge*step)+step {
				t.Errorf("%.3f left, not %.3f, border %.1f", got, want, edge)
			}
			if far := left.Distance(other); count > 50 && (far > least+1e-9 || far < least-3*step) {
				t.Errorf("%.3f away, not %.3f", far, least)
			}
		})
	}
}

// TestFurtherAwayLeavesLess whatever stands around.
func TestFurtherAwayLeavesLess(t *testing.T) {
	for seed := range uint64(1000) {
		d := dice{rand.New(rand.NewPCG(seed, 15)), seed%2 == 0}
		zone, near, other := d.zone(), d.near(), d.shape()
		before := zone.Without(near)
		for i := range near {
			near[i].Within += d.number(0, 2)
		}
		after := zone.Without(near)
		if before.Area() > zone.Area()+1e-6 || after.Area() > before.Area()+1e-4 {
			t.Fatalf("seed %d: %.4f of %.4f, then %.4f", seed, before.Area(), zone.Area(), after.Area())
		}
		if after.Area() > 1e-3 && after.Distance(other) < before.Distance(other)-1e-5 {
			t.Fatalf("seed %d: nearer than before", seed)
		}
	}
}

// BenchmarkLeft of a polygon of 200 points, beside water of as many.
func BenchmarkLeft(b *testing.B) {
	d := dice{rand.New(rand.NewPCG(1, 1)), false}
	zone := polygon(d.star(Point{}, 60, 200))
	near := []Near{{line(d.star(Point{30, 10}, 60, 200)...), 3}}
	for b.Loop() {
		zone.Without(near)
	}
}
