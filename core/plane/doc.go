// Package plane computes with shapes on a plan: how large they are, how far from one
// another, and what is left of one when everything too near to others is taken away. Metres,
// x east, y north. Offsets have round joins and ends and are exact: their arcs are arcs, and
// not lines that come near them.
package plane

import "math"

// Point is a place on the plan, in metres.
type Point struct{ X, Y float64 }

func (p Point) plus(q Point) Point       { return Point{p.X + q.X, p.Y + q.Y} }
func (p Point) minus(q Point) Point      { return Point{p.X - q.X, p.Y - q.Y} }
func (p Point) times(f float64) Point    { return Point{p.X * f, p.Y * f} }
func (p Point) dot(q Point) float64      { return p.X*q.X + p.Y*q.Y }
func (p Point) cross(q Point) float64    { return p.X*q.Y - p.Y*q.X }
func (p Point) length() float64          { return math.Sqrt(p.dot(p)) }
func (p Point) left() Point              { return Point{-p.Y, p.X} }
func (p Point) Distance(q Point) float64 { return p.minus(q).length() }

// square is the square of the distance, where only the nearest is asked for.
func (p Point) square(q Point) float64 { d := p.minus(q); return d.dot(d) }

// Shape is a point, a line or a polygon: lines of points, one of one point for a point. A
// filled one is a polygon: its lines are rings that end where they begin, the first around
// it and the others around its holes.
type Shape struct {
	Lines  [][]Point
	Filled bool
}

// At is a shape of one point.
func At(p Point) Shape { return Shape{Lines: [][]Point{{p}}} }

// segments calls do with every part of the shape's lines; a lone point is a part from
// itself to itself.
func (s Shape) segments(do func(a, b Point)) {
	for _, line := range s.Lines {
		if len(line) == 1 {
			do(line[0], line[0])
		}
		for i := 1; i < len(line); i++ {
			do(line[i-1], line[i])
		}
	}
}

// Distance is how far a point is from the shape: 0 inside a polygon.
func (s Shape) Distance(p Point) float64 {
	if s.Filled && s.holds(p) {
		return 0
	}
	least := math.Inf(1)
	s.segments(func(a, b Point) { least = min(least, toSegment(p, a, b)) })
	return least
}

// holds reports whether a point is inside a polygon: a line from it to the east crosses its
// rings an odd number of times.
func (s Shape) holds(p Point) bool {
	in := false
	for _, ring := range s.Lines {
		for i := 1; i < len(ring); i++ {
			a, b := ring[i-1], ring[i]
			if (a.Y > p.Y) != (b.Y > p.Y) && p.X < a.X+(p.Y-a.Y)/(b.Y-a.Y)*(b.X-a.X) {
				in = !in
			}
		}
	}
	return in
}

// toSegment is how far a point is from a straight part.
func toSegment(p, a, b Point) float64 { return p.Distance(nearest(p, a, b)) }

// nearest is the point of a straight part that is nearest to one.
func nearest(p, a, b Point) Point {
	along := b.minus(a)
	square := along.dot(along)
	if square == 0 {
		return a
	}
	return a.plus(along.times(min(1, max(0, p.minus(a).dot(along)/square))))
}

// ringArea is twice the area in a ring, below 0 if it goes with the clock.
func ringArea(ring []Point) (twice float64) {
	for i := 1; i < len(ring); i++ {
		twice += ring[i-1].minus(ring[0]).cross(ring[i].minus(ring[0]))
	}
	return twice
}

// Area of a polygon, in square metres; a line has none.
func (s Shape) Area() float64 {
	if !s.Filled {
		return 0
	}
	area := 0.0
	for i, ring := range s.Lines {
		if one := math.Abs(ringArea(ring)) / 2; i == 0 {
			area = one
		} else {
			area -= one
		}
	}
	return area
}

// Middle is the middle of a polygon's area, of a line's length, or the point.
func (s Shape) Middle() Point {
	if !s.Filled {
		return s.halfway()
	}
	from, whole, sum := s.Lines[0][0], 0.0, Point{}
	for i, ring := range s.Lines {
		twice, moment := 0.0, Point{}
		for k := 1; k < len(ring); k++ {
			a, b := ring[k-1].minus(from), ring[k].minus(from)
			twice, moment = twice+a.cross(b), moment.plus(a.plus(b).times(a.cross(b)))
		}
		if (twice < 0) != (i > 0) { // rings may go either way round; holes take away
			twice, moment = -twice, moment.times(-1)
		}
		whole, sum = whole+twice, sum.plus(moment)
	}
	return from.plus(sum.times(1 / (3 * whole)))
}

// halfway is the middle of all that is drawn by its length, or the point.
func (s Shape) halfway() Point {
	whole, sum := 0.0, Point{}
	s.segments(func(a, b Point) {
		long := a.Distance(b)
		whole, sum = whole+long, sum.plus(a.plus(b).times(long/2))
	})
	if whole == 0 {
		return s.Lines[0][0]
	}
	return sum.times(1 / whole)
}

// box is what a shape lies in.
type box struct{ low, high Point }

func nowhere() box {
	return box{Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}}
}

func (b box) with(p Point) box {
	return box{Point{min(b.low.X, p.X), min(b.low.Y, p.Y)}, Point{max(b.high.X, p.X), max(b.high.Y, p.Y)}}
}

func (b box) wider(by float64) box {
	return box{Point{b.low.X - by, b.low.Y - by}, Point{b.high.X + by, b.high.Y + by}}
}

func (b box) holds(p Point) bool {
	return b.low.X <= p.X && p.X <= b.high.X && b.low.Y <= p.Y && p.Y <= b.high.Y
}

func (b box) meets(c box) bool {
	return b.low.X <= c.high.X && c.low.X <= b.high.X && b.low.Y <= c.high.Y && c.low.Y <= b.high.Y
}

func (s Shape) box() box {
	b := nowhere()
	for _, line := range s.Lines {
		for _, p := range line {
			b = b.with(p)
		}
	}
	return b
}
