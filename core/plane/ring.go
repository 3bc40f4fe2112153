package plane

// Whether the rings of a polygon are drawn as they have to be.

import (
	"cmp"
	"slices"
)

// What can be wrong with a polygon.
const (
	NotClosed = "not_closed"
	NoArea    = "no_area"
	Crossing  = "crossing"
	HoleOut   = "hole_outside"
)

// touch is how near two places of a ring are the same, in metres.
const touch = 1e-9

// Wrong says what is wrong with a polygon, nothing if it is sound: its rings end where
// they begin, have an area, meet neither themselves nor one another, and its holes lie in
// it and not in one another.
func (s Shape) Wrong() string {
	for _, ring := range s.Lines {
		switch {
		case len(ring) < 2 || ring[0] != ring[len(ring)-1]:
			return NotClosed
		case len(ring) < 4:
			return NoArea
		}
	}
	if s.crossing() {
		return Crossing
	}
	for _, ring := range s.Lines {
		if b := (Shape{Lines: [][]Point{ring}}).box(); abs(ringArea(ring))/2 <= touch*max(1, b.low.Distance(b.high)) {
			return NoArea
		}
	}
	if len(s.Lines) == 0 {
		return NoArea
	}
	around := Shape{Lines: s.Lines[:1], Filled: true}
	for i, hole := range s.Lines[1:] {
		for k, other := range s.Lines[1:] {
			if i != k && (Shape{Lines: [][]Point{other}}).holds(hole[0]) {
				return HoleOut
			}
		}
		if !around.holds(hole[0]) {
			return HoleOut
		}
	}
	return ""
}

func abs(f float64) float64 { return max(f, -f) }

// part is one straight part of a ring, next the number of the one that follows it.
type part struct {
	ring, at, next int
	a, b           Point
}

func (p part) west() float64 { return min(p.a.X, p.b.X) }

// parts of the rings, from the west to the east. A point that is there twice makes none.
func (s Shape) parts() (out []part) {
	for r, ring := range s.Lines {
		ring = slices.Compact(slices.Clone(ring))
		for i := 1; i < len(ring); i++ {
			out = append(out, part{r, i, i%(len(ring)-1) + 1, ring[i-1], ring[i]})
		}
	}
	slices.SortFunc(out, func(p, q part) int { return cmp.Compare(p.west(), q.west()) })
	return out
}

// crossing reports whether rings meet themselves or one another. Two parts that follow one
// another may only share the point between them, and one may not go back over the other.
func (s Shape) crossing() bool {
	parts := s.parts()
	for i, p := range parts {
		for _, q := range parts[i+1:] {
			if q.west() > max(p.a.X, p.b.X)+touch {
				break
			}
			if p.meets(q) {
				return true
			}
		}
	}
	return false
}

// meets reports whether two parts meet where they may not.
func (p part) meets(q part) bool {
	switch {
	case p.ring == q.ring && p.next == q.at:
		return back(p.a, p.b, q.b)
	case p.ring == q.ring && q.next == p.at:
		return back(q.a, q.b, p.b)
	}
	return apart(p.a, p.b, q.a, q.b) <= touch
}

// back reports whether a line goes back over itself from b on.
func back(a, b, c Point) bool {
	in, out := b.minus(a), c.minus(b)
	return in.dot(out) < 0 && abs(in.cross(out)) <= touch*in.length()*out.length()
}

// apart is how far two straight parts are from one another.
func apart(a, b, c, d Point) float64 {
	if p, q := b.minus(a), d.minus(c); p.cross(q) != 0 {
		t, u := c.minus(a).cross(q)/p.cross(q), c.minus(a).cross(p)/p.cross(q)
		if t >= 0 && t <= 1 && u >= 0 && u <= 1 {
			return 0
		}
	}
	return min(toSegment(a, c, d), toSegment(b, c, d), toSegment(c, a, b), toSegment(d, a, b))
}
