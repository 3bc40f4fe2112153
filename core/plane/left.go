package plane

// What is left of a polygon when all that is too near to other shapes is taken away.
//
// Nothing is clipped. The boundary of what is left is made of pieces of the polygon's own
// rings that nothing is too near to, and of pieces of the lines at the given distance from
// the shapes (straight beside their parts, a circle about each of their points) that lie in
// the polygon and that no other shape is too near to. All of them are cut where they meet;
// a piece is kept or dropped by what is just beside its middle.

import (
	"math"
	"slices"
)

// Near is a shape, and how near to it is too near, in metres.
type Near struct {
	Shape  Shape
	Within float64
}

// cover is what is too near to one part of a shape; all that is lies in its box.
type cover struct {
	box    box
	a, b   Point
	within float64
}

// covers are those of every part of every shape.
func covers(near []Near) (out []cover) {
	for _, n := range near {
		n.Shape.segments(func(a, b Point) {
			out = append(out, cover{nowhere().with(a).with(b).wider(n.Within), a, b, n.Within})
		})
	}
	return out
}

const (
	beside = 1e-9 // how far beside its middle a piece is looked at
	same   = 1e-7 // nearer than this, two places are one
	short  = 1e-5 // a piece that is no longer is none: what lies beside it cannot be told
	hair   = 3e-6 // how much more is out where lines all but meet
	joined = 1e-4 // ends of pieces that follow one another are no further apart
)

// Region is what is left of a polygon. Its border has what is left on its left hand.
type Region struct {
	zone   Shape
	near   []Near
	covers []cover
	loops  [][]Curve
	Border []Curve
}

// Curve is a piece of a border, in metres: straight from A to B, or an arc about Centre.
// Turn is how far the arc goes round, in radians, below 0 with the clock; 0 is straight.
type Curve struct {
	A, B, Centre Point
	Radius, Turn float64
	start        float64 // the angle at A
}

func straight(a, b Point) Curve { return Curve{A: a, B: b} }

func arc(centre Point, radius, start, turn float64) Curve {
	c := Curve{Centre: centre, Radius: radius, Turn: turn, start: start}
	c.A, c.B = c.at(0), c.at(1)
	return c
}

// at is the place at a share of the way along.
func (c Curve) at(t float64) Point {
	if c.Turn == 0 {
		return c.A.plus(c.B.minus(c.A).times(t))
	}
	angle := c.start + t*c.Turn
	return Point{c.Centre.X + c.Radius*math.Cos(angle), c.Centre.Y + c.Radius*math.Sin(angle)}
}

// leftward is the direction to its left hand in its middle, of length 1.
func (c Curve) leftward() Point {
	if c.Turn == 0 {
		along := c.B.minus(c.A)
		return along.times(1 / along.length()).left()
	}
	out := c.at(.5).minus(c.Centre).times(1 / c.Radius)
	if c.Turn > 0 {
		return out.times(-1)
	}
	return out
}

func (c Curve) part(from, to float64) Curve {
	if c.Turn == 0 {
		return straight(c.at(from), c.at(to))
	}
	return arc(c.Centre, c.Radius, c.start+from*c.Turn, (to-from)*c.Turn)
}

func (c Curve) back() Curve {
	if c.Turn == 0 {
		return straight(c.B, c.A)
	}
	return arc(c.Centre, c.Radius, c.start+c.Turn, -c.Turn)
}

// long is how long it is.
func (c Curve) long() float64 {
	if c.Turn == 0 {
		return c.A.Distance(c.B)
	}
	return math.Abs(c.Turn) * c.Radius
}

func (c *Curve) box() box {
	if c.Turn == 0 {
		return nowhere().with(c.A).with(c.B)
	}
	b := nowhere().with(c.A).with(c.B)
	for quarter := range 4 { // as far as it goes to the east, north, west and south
		angle := float64(quarter) * math.Pi / 2
		if math.Abs(c.turned(angle)) <= math.Abs(c.Turn) {
			sin, cos := math.Sincos(angle)
			b = b.with(Point{c.Centre.X + c.Radius*cos, c.Centre.Y + c.Radius*sin})
		}
	}
	return b
}

// swept is twice the area between the curve and a point.
func (c Curve) swept(from Point) float64 {
	if c.Turn == 0 {
		return c.A.minus(from).cross(c.B.minus(from))
	}
	m := c.Centre.minus(from)
	end := c.start + c.Turn
	return c.Radius * (m.X*(math.Sin(end)-math.Sin(c.start)) - m.Y*(math.Cos(end)-math.Cos(c.start)) + c.Radius*c.Turn)
}

// Without is what is left of a polygon, which has to be sound, when everything too near is
// taken away. What is exactly as far away as it has to be is left.
func (s Shape) Without(near []Near) Region {
	around := s.box()
	all := Region{zone: s}
	for _, n := range near {
		if n.Within > touch && n.Shape.box().wider(n.Within).meets(around) {
			all.near = append(all.near, n)
		}
	}
	for n := range 4 {
		r := all
		r.near = slices.Clone(all.near)
		for i := range r.near { // two lines that all but meet: a hair's breadth more out
			r.near[i].Within += float64(n) * hair
		}
		r.covers = covers(r.near)
		r.Border = r.border(around)
		if r.loops = loops(r.Border); closed(r.loops) {
			return r
		}
	}
	return Region{zone: s, near: all.near} // nothing that could be told is left
}

// border finds the pieces around what is left.
func (r Region) border(around box) (out []Curve) {
	rings := r.zone.edges()
	onRing := covers([]Near{{Shape{Lines: r.zone.Lines}, same}})
	var middles []Point // of pieces that are kept and no part of a ring
	for i, pieces := range cut(append(slices.Clone(rings), r.distances(around)...)) {
		for _, piece := range pieces {
			middle := piece.at(.5)
			side := piece.leftward().times(beside)
			if i < len(rings) {
				if !r.covered(middle.plus(side)) {
					out = append(out, piece)
				}
				continue
			}
			outside := middle.minus(side)
			twice := func(p Point) bool { return p.Distance(middle) < same }
			if r.covered(outside) || !r.zone.holds(outside) || within(onRing, middle) || slices.ContainsFunc(middles, twice) {
				continue
			}
			out, middles = append(out, piece.back()), append(middles, middle)
		}
	}
	return out
}

// covered reports whether a point is too near to something: nearer to a part of a shape
// than it may be, or inside one.
func (r Region) covered(p Point) bool {
	return within(r.covers, p) || slices.ContainsFunc(r.near, func(n Near) bool { return n.Shape.Filled && n.Shape.holds(p) })
}

// within reports whether a point is covered by some part.
func within(parts []cover, p Point) bool {
	for i := range parts {
		if c := &parts[i]; c.box.holds(p) && toSegment(p, c.a, c.b) < c.within {
			return true
		}
	}
	return false
}

// edges are the parts of a polygon's rings, with the polygon on their left hand.
func (s Shape) edges() (out []Curve) {
	for i, ring := range s.Lines {
		turned := (ringArea(ring) < 0) != (i > 0)
		for k := 1; k < len(ring); k++ {
			switch a, b := ring[k-1], ring[k]; {
			case a == b:
			case turned:
				out = append(out, straight(b, a))
			default:
				out = append(out, straight(a, b))
			}
		}
	}
	return out
}

// Area of what is left, in square metres.
func (r Region) Area() float64 {
	if len(r.Border) == 0 {
		return 0
	}
	twice, from := 0.0, r.Border[0].A
	for _, loop := range r.loops {
		for i, c := range loop {
			twice += c.swept(from) + straight(c.B, loop[(i+1)%len(loop)].A).swept(from)
		}
	}
	return max(0, twice/2)
}

// Holds reports whether a point is in what is left.
func (r Region) Holds(p Point) bool {
	return len(r.Border) > 0 && r.zone.holds(p) && !r.covered(p)
}

// Distance is how far a shape is from what is left, 0 where one lies in the other;
// infinite if nothing is left.
func (r Region) Distance(s Shape) float64 {
	least := math.Inf(1)
	if len(r.Border) == 0 {
		return least
	}
	for _, line := range s.Lines {
		if slices.ContainsFunc(line, r.Holds) {
			return 0
		}
	}
	for i := range r.Border {
		c := &r.Border[i]
		if s.Filled && s.holds(c.at(.5)) {
			return 0
		}
		s.segments(func(a, b Point) { least = min(least, c.distance(a, b)) })
	}
	return least
}
