package plane

// Where curves meet, and how far they are from one another.

import (
	"cmp"
	"math"
	"slices"
)

// cut divides curves where they meet, and where one ends on another.
func cut(curves []Curve) [][]Curve {
	order, boxes := make([]int, len(curves)), make([]box, len(curves))
	at := make([][]float64, len(curves))
	for i := range curves {
		order[i], boxes[i] = i, curves[i].box().wider(same)
		at[i] = append(make([]float64, 0, 6), 0, 1)
	}
	slices.SortFunc(order, func(i, k int) int { return cmp.Compare(boxes[i].low.X, boxes[k].low.X) })
	for n, i := range order {
		for _, k := range order[n+1:] {
			if boxes[k].low.X > boxes[i].high.X {
				break
			}
			if !boxes[i].meets(boxes[k]) {
				continue
			}
			c, d := &curves[i], &curves[k]
			crossings, count := meet(c, d)
			for _, p := range crossings[:count] {
				if boxes[i].holds(p) && boxes[k].holds(p) && c.from(p) < same && d.from(p) < same {
					at[i], at[k] = append(at[i], c.share(p)), append(at[k], d.share(p))
				}
			}
			for _, p := range [...]Point{c.A, c.B} { // where one ends on the other
				if boxes[k].holds(p) && d.from(p) < same {
					at[k] = append(at[k], d.share(p))
				}
			}
			for _, p := range [...]Point{d.A, d.B} {
				if boxes[i].holds(p) && c.from(p) < same {
					at[i] = append(at[i], c.share(p))
				}
			}
		}
	}
	out := make([][]Curve, len(curves))
	for i, c := range curves {
		slices.Sort(at[i])
		long := c.long()
		for n, from := 1, 0.0; n < len(at[i]); n++ {
			if to := at[i][n]; (to-from)*long > short {
				out[i] = append(out[i], c.part(from, to))
				from = to
			}
		}
	}
	return out
}

// share is how far along a curve a point is that lies on it, from 0 to 1.
func (c *Curve) share(p Point) float64 {
	if c.Turn == 0 {
		along := c.B.minus(c.A)
		return min(1, max(0, p.minus(c.A).dot(along)/along.dot(along)))
	}
	out := p.minus(c.Centre)
	return c.turned(math.Atan2(out.Y, out.X)) / c.Turn
}

// turned is how far round from its start an arc comes to an angle.
func (c *Curve) turned(angle float64) float64 {
	if c.Turn < 0 {
		return -math.Mod(math.Mod(c.start-angle, 2*math.Pi)+2*math.Pi, 2*math.Pi)
	}
	return math.Mod(math.Mod(angle-c.start, 2*math.Pi)+2*math.Pi, 2*math.Pi)
}

// meet is where two curves cross, or the lines and circles that they are parts of.
func meet(c, d *Curve) (out [2]Point, count int) {
	switch {
	case c.Turn == 0 && d.Turn == 0:
		p, q := c.B.minus(c.A), d.B.minus(d.A)
		if p.cross(q) == 0 {
			return out, 0
		}
		return [2]Point{c.at(d.A.minus(c.A).cross(q) / p.cross(q))}, 1
	case c.Turn == 0:
		return lineMeets(c, d)
	case d.Turn == 0:
		return lineMeets(d, c)
	}
	return circlesMeet(c, d)
}

func lineMeets(line, circle *Curve) (out [2]Point, count int) {
	along := line.B.minus(line.A)
	along = along.times(1 / along.length())
	foot := line.A.plus(along.times(circle.Centre.minus(line.A).dot(along)))
	far := foot.Distance(circle.Centre)
	if far > circle.Radius {
		return out, 0
	}
	half := along.times(math.Sqrt(circle.Radius*circle.Radius - far*far))
	return [2]Point{foot.plus(half), foot.minus(half)}, 2
}

func circlesMeet(c, d *Curve) (out [2]Point, count int) {
	between := d.Centre.minus(c.Centre)
	far := between.length()
	if far == 0 || far > c.Radius+d.Radius || far < math.Abs(c.Radius-d.Radius) {
		return out, 0
	}
	along := (far*far + c.Radius*c.Radius - d.Radius*d.Radius) / (2 * far)
	up := math.Sqrt(max(0, c.Radius*c.Radius-along*along))
	unit := between.times(1 / far)
	foot := c.Centre.plus(unit.times(along))
	return [2]Point{foot.plus(unit.left().times(up)), foot.minus(unit.left().times(up))}, 2
}

// from is how far a point is from the curve.
func (c *Curve) from(p Point) float64 {
	if c.Turn == 0 {
		return toSegment(p, c.A, c.B)
	}
	out := p.minus(c.Centre)
	if math.Abs(c.turned(math.Atan2(out.Y, out.X))) <= math.Abs(c.Turn) {
		return math.Abs(out.length() - c.Radius)
	}
	return min(p.Distance(c.A), p.Distance(c.B))
}

// distance is how far a straight part is from the curve, 0 where they meet.
func (c *Curve) distance(a, b Point) float64 {
	if c.Turn == 0 {
		return apart(c.A, c.B, a, b)
	}
	if a != b {
		line := straight(a, b)
		crossings, count := lineMeets(&line, c)
		for _, p := range crossings[:count] {
			if toSegment(p, a, b) <= touch && c.from(p) <= touch {
				return 0
			}
		}
	}
	return min(c.from(a), c.from(b), c.from(nearest(c.Centre, a, b)), toSegment(c.A, a, b), toSegment(c.B, a, b))
}
