package ground

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vespers/core/ground"
	"vespers/core/plane"
)

// TestTheBorderIsWhatIsLeft: the way that is drawn, read again as a browser reads it, has
// the area of what is left, also with holes and with arcs of more than half a turn.
func TestTheBorderIsWhatIsLeft(t *testing.T) {
	square := plane.Shape{Filled: true, Lines: [][]plane.Point{{{X: 0, Y: 0}, {X: 40, Y: 0}, {X: 40, Y: 30}, {X: 0, Y: 30}, {X: 0, Y: 0}}}}
	line := func(at ...plane.Point) plane.Shape { return plane.Shape{Lines: [][]plane.Point{at}} }
	for name, near := range map[string][]plane.Near{
		"all of it":            nil,
		"a pond in the middle": {{Shape: plane.At(plane.Point{X: 20, Y: 15}), Within: 6}},
		"a bite at a corner":   {{Shape: plane.At(plane.Point{X: 0, Y: 0}), Within: 8}},
		"most of a circle":     {{Shape: plane.At(plane.Point{X: 38, Y: 15}), Within: 9}},
		"along a wall":         {{Shape: line(plane.Point{X: -5, Y: -1}, plane.Point{X: 25, Y: -1}, plane.Point{X: 30, Y: 9}), Within: 4}},
		"two ponds that meet":  {{Shape: plane.At(plane.Point{X: 15, Y: 15}), Within: 6}, {Shape: plane.At(plane.Point{X: 23, Y: 15}), Within: 5}},
	} {
		site := ground.Site{Zones: []ground.Zone{{ID: "z", Shape: square}}}
		p := drawn(&site, nil, 1)
		region := square.Without(near)
		if got, want := drawnArea(t, p.border(region)), region.Area(); math.Abs(got-want) > 0.01*want {
			t.Errorf("%s: drawn %.2f m², %.2f left", name, got, want)
		}
	}
}

// TestEveryPlaceHasItsMark: what stands at a place is told by its shape, each kind by
// another, stays and poles, people and glass apart.
func TestEveryPlaceHasItsMark(t *testing.T) {
	of := map[string]string{}
	for _, kind := range []string{"stay", "pole", "sprinkler", "stump", "tree", "gate", "fuel_point"} {
		d := mark(kind, plane.Point{X: 10, Y: 10}, 5)
		if same, is := of[d]; is || !strings.HasSuffix(d, "Z") || strings.Contains(d, "NaN") {
			t.Errorf("%s is drawn as %s: %s", kind, same, d)
		}
		of[d] = kind
	}
}

// TestTheKeyHasWhatIsInSight of a zone, and its scale is round in the unit of who looks.
func TestTheKeyHasWhatIsInSight(t *testing.T) {
	lawn := plane.Shape{Filled: true, Lines: [][]plane.Point{{{X: 0, Y: 0}, {X: 40, Y: 0}, {X: 40, Y: 30}, {X: 0, Y: 30}, {X: 0, Y: 0}}}}
	site := ground.Site{Zones: []ground.Zone{{ID: "z", Shape: lawn}},
		Edges:  []ground.Edge{{ID: "w", Kind: "wall", Shape: plane.Shape{Lines: [][]plane.Point{{{X: -400, Y: 15}, {X: 400, Y: 15}}}}}, {ID: "far", Kind: "water", Shape: plane.Shape{Lines: [][]plane.Point{{{X: 900, Y: 15}, {X: 990, Y: 15}}}}}},
		Things: []ground.Thing{{ID: "t", Kind: "tree", Shape: plane.At(plane.Point{X: 45, Y: 15})}, {ID: "g", Kind: "gate", Shape: plane.At(plane.Point{X: 500, Y: 15})}}}
	if got := drawn(&site, &site.Zones[0], 1).Kinds; strings.Join(got, " ") != "wall tree" {
		t.Errorf("in sight of the lawn: %v", got)
	}
	if got := drawn(&site, nil, 1).Kinds; len(got) != 4 {
		t.Errorf("on the whole plan: %v", got)
	}
	const foot = 0.3048
	if feet := drawn(&site, nil, foot).Scale.Metres / foot; math.Abs(feet-math.Round(feet)) > 1e-9 || math.Mod(math.Round(feet), 10) != 0 {
		t.Errorf("the scale has %v feet", feet)
	}
}

var command = regexp.MustCompile(`([MLAZ])([^MLAZ]*)`)

// drawnArea is the area of a path, by the even-odd rule for rings that do not cross: the
// outer ones less the holes.
func drawnArea(t *testing.T, d string) float64 {
	t.Helper()
	var rings [][]plane.Point
	for _, c := range command.FindAllStringSubmatch(d, -1) {
		var n []float64
		for _, word := range strings.Fields(c[2]) {
			f, err := strconv.ParseFloat(word, 64)
			if err != nil {
				t.Fatalf("%q: %v", c[0], err)
			}
			n = append(n, f)
		}
		switch c[1] {
		case "M":
			rings = append(rings, []plane.Point{{X: n[0], Y: n[1]}})
		case "L":
			rings[len(rings)-1] = append(rings[len(rings)-1], plane.Point{X: n[0], Y: n[1]})
		case "A":
			ring := rings[len(rings)-1]
			rings[len(rings)-1] = append(ring, arc(ring[len(ring)-1], plane.Point{X: n[5], Y: n[6]}, n[0], n[3] == 1, n[4] == 1)...)
		}
	}
	area := 0.0
	for i, ring := range rings {
		inside := 0
		for k, other := range rings {
			if k != i && holds(other, ring[0]) {
				inside++
			}
		}
		twice := 0.0
		for k := range ring {
			a, b := ring[k], ring[(k+1)%len(ring)]
			twice += a.X*b.Y - a.Y*b.X
		}
		if inside%2 == 0 {
			area += math.Abs(twice) / 2
		} else {
			area -= math.Abs(twice) / 2
		}
	}
	return area
}

// arc is places on an arc as SVG has it: of the two circles through its ends the one
// that its flags name, the way round that they name.
func arc(from, to plane.Point, r float64, large, sweep bool) (out []plane.Point) {
	dx, dy := to.X-from.X, to.Y-from.Y
	half := math.Hypot(dx, dy) / 2
	rise := math.Sqrt(max(0, r*r-half*half))
	if large == sweep {
		rise = -rise
	}
	centre := plane.Point{X: (from.X+to.X)/2 - rise*dy/(2*half), Y: (from.Y+to.Y)/2 + rise*dx/(2*half)}
	start, end := math.Atan2(from.Y-centre.Y, from.X-centre.X), math.Atan2(to.Y-centre.Y, to.X-centre.X)
	if sweep && end < start {
		end += 2 * math.Pi
	}
	if !sweep && end > start {
		end -= 2 * math.Pi
	}
	for i := 1; i <= 60; i++ {
		a := start + (end-start)*float64(i)/60
		out = append(out, plane.Point{X: centre.X + r*math.Cos(a), Y: centre.Y + r*math.Sin(a)})
	}
	return out
}

func holds(ring []plane.Point, p plane.Point) bool {
	in := false
	for i := range ring {
		a, b := ring[i], ring[(i+1)%len(ring)]
		if (a.Y > p.Y) != (b.Y > p.Y) && p.X < a.X+(b.X-a.X)*(p.Y-a.Y)/(b.Y-a.Y) {
			in = !in
		}
	}
	return in
}
