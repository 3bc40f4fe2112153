package draw

import (
	"slices"
	"strings"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/text"
)

func sheets(t *testing.T) []*machine.Sheet {
	t.Helper()
	var out []*machine.Sheet
	for _, r := range machinetest.All(t) {
		out = append(out, r.Sheet)
	}
	return out
}

// corners are the outermost points of a shape, as far as numbers tell.
func corners(s Shape) (x1, y1, x2, y2 float64) {
	switch s.Kind {
	case "circle":
		return s.X - s.R, s.Y - s.R, s.X + s.R, s.Y + s.R
	case "line":
		return min(s.X, s.W), min(s.Y, s.H), max(s.X, s.W), max(s.Y, s.H)
	case "rect":
		return s.X, s.Y, s.X + s.W, s.Y + s.H
	}
	return s.X, s.Y, s.X, s.Y
}

func inside(t *testing.T, name string, s Scene) {
	t.Helper()
	const air = 0.01
	for _, shape := range s.Shapes {
		if shape.Kind == "path" {
			continue
		}
		x1, y1, x2, y2 := corners(shape)
		if x1 < s.X-air || y1 < s.Y-air || x2 > s.X+s.W+air || y2 > s.Y+s.H+air {
			t.Errorf("%s: %s %s lies outside the frame: %v %v %v %v in %s", name, shape.Kind, shape.Class, x1, y1, x2, y2, s.ViewBox())
		}
	}
}

func TestMachinesLieInTheirFrames(t *testing.T) {
	for _, sheet := range sheets(t) {
		s := Machine(sheet)
		inside(t, sheet.ID, s)
		if len(s.Shapes) < len(sheet.Drawing.Parts) {
			t.Errorf("%s: %d shapes for %d parts", sheet.ID, len(s.Shapes), len(sheet.Drawing.Parts))
		}
		var marks []Mark
		for _, st := range sheet.Loop.Stations {
			marks = append(marks, Mark{Spot: st.ID, State: "ahead", Number: 3})
		}
		walk := Walk(sheet, append(marks, Mark{Spot: "nowhere", State: "ahead"}))
		inside(t, sheet.ID+" on its walk", walk)
		if n := count(walk, "spot ahead"); n != len(sheet.Loop.Stations) {
			t.Errorf("%s: %d spots for %d stations", sheet.ID, n, len(sheet.Loop.Stations))
		}
	}
}

func count(s Scene, class string) (n int) {
	for _, shape := range s.Shapes {
		if shape.Class == class {
			n++
		}
	}
	return n
}

// TestEveryDrawingHasALayer: what can be drawn lies in a layer, or it would be
// left out in silence.
func TestEveryDrawingHasALayer(t *testing.T) {
	for kind := range drawn {
		if !slices.Contains(machine.PartKinds(), kind) {
			t.Errorf("%s can be drawn but lies in no layer", kind)
		}
	}
}

// TestASheetBringsItsShapes: drawn where its part is, closed where there is an
// inside, above what it lies over.
func TestASheetBringsItsShapes(t *testing.T) {
	sheet := &machine.Sheet{
		Drawing: machine.Drawing{Length: 2, Width: 1, Parts: []machine.Part{
			{ID: "spray", Kind: "boom", X: 0.2, Y: 1, W: 0.4, H: 0.2}, {ID: "frame", Kind: "frame", W: 1, H: 2}, {ID: "seat", Kind: "seat", X: 0.3, Y: 1.4, W: 0.4, H: 0.4}}},
		Shapes: []machine.Shape{{ID: "boom", Strokes: []machine.Stroke{
			{Class: "metal", Points: [][]float64{{0, 0}, {1, 0}, {0.5, 1}}}, {Class: "rib", Points: [][]float64{{0, 0.5}, {1, 0.5}}}, {Class: "lamp", Circle: []float64{0.5, 0.5, 0.25}}}}},
	}
	s := Machine(sheet)
	inside(t, "own", s)
	var order []string
	for _, shape := range s.Shapes {
		order = append(order, strings.TrimSpace(shape.Class+" "+shape.D))
	}
	want := []string{"part frame", "part metal M0.2 1L0.6 1L0.4 1.2Z", "rib M0.2 1.1L0.6 1.1", "part lamp", "part cushion", "part backrest"}
	if !slices.Equal(order, want) {
		t.Errorf("%q, want %q", order, want)
	}
	if lamp := s.Shapes[3]; lamp.X != 0.4 || lamp.Y != 1.1 || lamp.R != 0.05 {
		t.Errorf("%+v", lamp)
	}
}

// TestNoTwoMachinesLookAlike: at a glance, by the kinds of their parts.
func TestNoTwoMachinesLookAlike(t *testing.T) {
	seen := map[string]string{}
	for _, sheet := range sheets(t) {
		var kinds []string
		for _, p := range sheet.Drawing.Parts {
			if !slices.Contains(kinds, p.Kind) {
				kinds = append(kinds, p.Kind)
			}
		}
		slices.Sort(kinds)
		key := strings.Join(kinds, " ")
		if other, ok := seen[key]; ok && other != sheet.Family {
			t.Errorf("%s is made of the same parts as a %s", sheet.ID, other)
		}
		seen[key] = sheet.Family
	}
}

func TestMarks(t *testing.T) {
	sheet := sheets(t)[0]
	s := Walk(sheet, []Mark{{Spot: "front", State: "here", Number: 2}, {Spot: "rear", State: "done"}, {Spot: "seat", State: "fault"}})
	for class, want := range map[string]int{"here-ring": 1, "spot here": 1, "spot done": 1, "spot fault": 1, "tick": 2, "spot-count": 1} {
		t.Run(class, func(t *testing.T) {
			if n := count(s, class); n != want {
				t.Errorf("%d × %s, want %d", n, class, want)
			}
		})
	}
	last := 0
	for i, shape := range s.Shapes {
		if shape.Class == "spot here" {
			last = i
		}
	}
	for i, shape := range s.Shapes {
		if strings.HasPrefix(shape.Class, "spot ") && i > last {
			t.Errorf("%s lies over the spot one is at", shape.Class)
		}
	}
}

// TestLadderLightsWhatConducts: in every state of every sheet a rung is lit
// exactly where its permit is true, and current leaves its end.
func TestLadderLightsWhatConducts(t *testing.T) {
	for _, sheet := range sheets(t) {
		logic, _ := interlock.Of(sheet)
		for x := range interlock.State(1 << len(logic.Switches)) {
			made := logic.Positions(x)
			for _, rung := range Ladder(sheet.Interlock, made, nil) {
				want := logic.Permit(rung.Permit).Eval(func(name string) bool { return made[name] })
				if rung.Lit != want {
					t.Fatalf("%s %s in %v: lit %v", sheet.ID, rung.Permit, made, rung.Lit)
				}
				if end := lastWire(rung.Scene); end != want {
					t.Fatalf("%s %s in %v: current at the end %v, want %v", sheet.ID, rung.Permit, made, end, want)
				}
			}
		}
	}
}

// lastWire reports whether the wire that reaches the right rail is live.
func lastWire(s Scene) bool {
	for _, shape := range slices.Backward(s.Shapes) {
		if shape.Kind == "line" && strings.HasPrefix(shape.Class, "wire") {
			return shape.Class == "wire live"
		}
	}
	return false
}

func TestChangedContactsAreShown(t *testing.T) {
	sheet := sheets(t)[0]
	rungs := Ladder(sheet.Interlock, map[string]bool{}, map[string]bool{"brake": true})
	n := 0
	for _, r := range rungs {
		n += count(r.Scene, "changed")
	}
	if n != 2 { // it stands in the start and in the run permit
		t.Errorf("%d contacts shown as changed", n)
	}
	none := machine.Interlock{None: &text.Text{EN: "none", ES: "ninguno"}}
	if Ladder(none, nil, nil) != nil {
		t.Error("a machine without interlocks has a ladder")
	}
}

func TestCode(t *testing.T) {
	s := Code(3, func(x, y int) bool { return []string{"##.", "..#", "#.#"}[y][x] == '#' })
	if s.W != 11 || s.H != 11 || len(s.Shapes) != 1 {
		t.Fatalf("%+v", s)
	}
	if want := "M4 4h2v1h-2zM6 5h1v1h-1zM4 6h1v1h-1zM6 6h1v1h-1z"; s.Shapes[0].D != want {
		t.Errorf("%s, want %s", s.Shapes[0].D, want)
	}
}

func TestSVGStandsAlone(t *testing.T) {
	for _, sheet := range sheets(t) {
		svg := Walk(sheet, []Mark{{Spot: sheet.Loop.Stations[0].ID, State: "ahead", Number: 7}}).SVG(text.Spanish)
		if strings.Contains(svg, "style=") || strings.Contains(svg, "NaN") || !strings.Contains(svg, ">7<") {
			t.Errorf("%s: %.200s", sheet.ID, svg)
		}
	}
	var s Scene
	s.words("w", 0, 0, text.Text{EN: "a<b", ES: "c&d"})
	if got := s.SVG(text.Spanish); !strings.Contains(got, "c&amp;d") {
		t.Errorf("words are not escaped: %s", got)
	}
}
