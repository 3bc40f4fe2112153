package ground

// What edges and things look like on a plan, and the key that says so.

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"vespers/core/ground"
	"vespers/core/plane"
	"vespers/web/page"
)

// sees reports whether something is in sight, and notes its kind.
func (p *plan) sees(kind string, shape plane.Shape) bool {
	low, high := plane.Point{X: math.Inf(1), Y: math.Inf(1)}, plane.Point{X: math.Inf(-1), Y: math.Inf(-1)}
	for _, line := range shape.Lines {
		for _, at := range line {
			low, high = plane.Point{X: min(low.X, at.X), Y: min(low.Y, at.Y)}, plane.Point{X: max(high.X, at.X), Y: max(high.Y, at.Y)}
		}
	}
	if low.X > p.high.X || high.X < p.low.X || low.Y > p.high.Y || high.Y < p.low.Y {
		return false
	}
	if !slices.Contains(p.Kinds, kind) {
		p.Kinds = append(p.Kinds, kind)
	}
	return true
}

// lobes of the mark of a tree, which is told by its shape like every other.
const lobes = 7

// mark is what a kind of place looks like, around a point.
func mark(kind string, at plane.Point, size float64) string {
	corners := map[string][]float64{"gate": {45, 135, 225, 315}, "pole": {90, 210, 330}, "stay": {30, 150, 270}, "sprinkler": {0, 90, 180, 270}}[kind]
	var d strings.Builder
	for i, deg := range corners {
		turn := deg * math.Pi / 180
		fmt.Fprintf(&d, "%c%.2f %.2f", "ML"[min(i, 1)], at.X+1.2*size*math.Cos(turn), at.Y-1.2*size*math.Sin(turn))
	}
	round := func(x, y, r float64) {
		fmt.Fprintf(&d, "M%.2f %.2fa%.2f %.2f 0 1 0 %.2f 0a%.2f %.2f 0 1 0 %.2f 0Z", x-r, y, r, r, 2*r, r, r, -2*r)
	}
	switch {
	case corners != nil:
		d.WriteByte('Z')
	case kind == "tree":
		for i := range lobes + 1 {
			turn := 2 * math.Pi * float64(i) / lobes
			x, y := at.X+1.5*size*math.Cos(turn), at.Y+1.5*size*math.Sin(turn)
			if i == 0 {
				fmt.Fprintf(&d, "M%.2f %.2f", x, y)
				continue
			}
			fmt.Fprintf(&d, "A%.2f %.2f 0 0 1 %.2f %.2f", size*.75, size*.75, x, y)
		}
		d.WriteByte('Z')
		round(at.X, at.Y, size*.25)
	case kind == "stump":
		round(at.X, at.Y, size)
		round(at.X, at.Y, size*.4)
	default:
		round(at.X, at.Y, size)
	}
	return d.String()
}

// keyMark is a line of the key: what something on the plan looks like, and what it is.
type keyMark struct{ Kind, D, Name string }

// key is what is on a plan.
func (p *plan) key(v *page.Visit) (out []keyMark) {
	for _, kind := range p.Kinds {
		one := keyMark{Kind: "line " + kind, D: "M1 12H39", Name: v.T("ground.thing." + kind)}
		if slices.Contains(ground.Edges(), kind) {
			one.Name = v.T("ground.edge." + kind)
		}
		if slices.ContainsFunc(p.Spots, func(s spotShape) bool { return s.Kind == kind }) {
			one.Kind, one.D = "spot "+kind, mark(kind, plane.Point{X: 20, Y: 12}, 7)
		}
		out = append(out, one)
	}
	return out
}
