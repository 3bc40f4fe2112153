package plane

// The line at a distance from a shape.

import (
	"math"
	"slices"
)

// distances are the lines at the given distance from each part of each shape, with the
// shape on their left hand; only those that come to the box. About a corner it is only
// the arc between the two sides: the rest of the circle lies beside them.
func (r Region) distances(around box) (out []Curve) {
	for _, n := range r.near {
		add := func(c Curve) {
			if c.box().meets(around) {
				out = append(out, c)
			}
		}
		for _, line := range n.Shape.Lines {
			along(slices.Compact(slices.Clone(line)), n.Within, add)
		}
	}
	return out
}

// along makes the line at a distance from one line of points.
func along(line []Point, within float64, add func(Curve)) {
	last := len(line) - 1
	if last == 0 {
		add(arc(line[0], within, 0, 2*math.Pi))
		return
	}
	for i := range last {
		a, b := line[i], line[i+1]
		off := b.minus(a)
		off = off.left().times(within / off.length())
		add(straight(b.plus(off), a.plus(off)))
		add(straight(a.minus(off), b.minus(off)))
		switch {
		case i+2 <= last:
			corner(a, b, line[i+2], within, add)
		case line[0] == line[last] && last > 1:
			corner(a, b, line[1], within, add)
		default: // a round end on either side
			corner(a, b, a, within, add)
			corner(line[1], line[0], line[1], within, add)
		}
	}
}

// corner makes the arc on the outer side of a corner at b.
func corner(a, b, c Point, within float64, add func(Curve)) {
	in, out := b.minus(a), c.minus(b)
	turn := math.Atan2(in.cross(out), in.dot(out))
	from := in.left().times(-1)
	if turn < 0 {
		turn, from = -turn, out.left()
	}
	if turn*within > short {
		add(arc(b, within, math.Atan2(from.Y, from.X), turn))
	}
}
