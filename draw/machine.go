package draw

import (
	"fmt"
	"slices"

	"vespers/core/machine"
)

// Machine is a machine in plan view, its front up, in metres.
func Machine(sheet *machine.Sheet) Scene {
	d := sheet.Drawing
	s := Scene{X: -0.25, Y: -0.15, W: d.Width + 0.6, H: d.Length + 0.3}
	for _, kind := range layers {
		for _, p := range d.Parts {
			if p.Kind == kind {
				s.part(p)
			}
		}
	}
	return s
}

// layers is the order in which parts are drawn: what lies above comes last.
var layers = []string{"wheel", "castor", "chute", "deck", "frame", "footplate", "engine", "muffler", "tank", "seat", "lever", "roll_bar"}

func (s *Scene) part(p machine.Part) {
	cx, cy := p.X+p.W/2, p.Y+p.H/2
	switch p.Kind {
	case "wheel", "castor":
		s.rect("part tyre", p.X, p.Y, p.W, p.H, p.W*0.3)
		for i := 1; i < 5; i++ {
			y := p.Y + p.H*float64(i)/5
			s.line("tread", p.X+p.W*0.12, y, p.X+p.W*0.88, y)
		}
		if p.Kind == "castor" {
			s.path("part fork", fmt.Sprintf("M%s %sL%s %sL%s %s", n(p.X-0.03), n(cy), n(cx), n(p.Y+p.H+0.12), n(p.X+p.W+0.03), n(cy)))
		}
	case "deck":
		// Rounded over each blade, straight between: the shell of a rotary deck.
		r := p.H * 0.45
		s.path("part shell", fmt.Sprintf("M%s %sQ%s %s %s %sL%s %sQ%s %s %s %sL%s %sQ%s %s %s %sL%s %sQ%s %s %s %sZ",
			n(p.X), n(p.Y+r), n(p.X), n(p.Y), n(p.X+r), n(p.Y), n(p.X+p.W-r), n(p.Y), n(p.X+p.W), n(p.Y), n(p.X+p.W), n(p.Y+r),
			n(p.X+p.W), n(p.Y+p.H-r*0.5), n(p.X+p.W), n(p.Y+p.H), n(p.X+p.W-r), n(p.Y+p.H), n(p.X+r), n(p.Y+p.H), n(p.X), n(p.Y+p.H), n(p.X), n(p.Y+p.H-r*0.5)))
		blades := 2
		if p.W > 1.3 {
			blades = 3
		}
		for i := range blades {
			x := p.X + p.W*(float64(i)+0.5)/float64(blades)
			s.circle("spindle", x, cy, 0.07)
			s.circle("sweep", x, cy, p.W/float64(blades)/2*0.86)
		}
	case "chute":
		s.path("part chute", fmt.Sprintf("M%s %sL%s %sL%s %sL%s %sZ", n(p.X), n(p.Y), n(p.X+p.W), n(p.Y+p.H*0.18), n(p.X+p.W), n(p.Y+p.H), n(p.X), n(p.Y+p.H*0.86)))
		for i := 1; i < 4; i++ {
			y := p.Y + p.H*float64(i)/4
			s.line("rib", p.X, y, p.X+p.W, y+0.04)
		}
	case "engine":
		s.rect("part block", p.X, p.Y, p.W, p.H, 0.06)
		s.circle("part screen", cx, cy, min(p.W, p.H)*0.34)
		s.circle("rib", cx, cy, min(p.W, p.H)*0.2)
	case "seat":
		s.rect("part cushion", p.X, p.Y, p.W, p.H*0.78, 0.12)
		s.rect("part backrest", p.X+0.02, p.Y+p.H*0.72, p.W-0.04, p.H*0.28, 0.08)
	case "lever":
		s.line("part rod", cx, p.Y+p.H, cx, p.Y)
		s.rect("part grip", p.X, p.Y-0.02, p.W, 0.14, 0.04)
	case "roll_bar":
		s.rect("part hoop", p.X, p.Y, p.W, p.H, 0.03)
		s.rect("part hoop", p.X, p.Y, 0.08, p.H+0.16, 0.03)
		s.rect("part hoop", p.X+p.W-0.08, p.Y, 0.08, p.H+0.16, 0.03)
	case "footplate":
		s.rect("part plate", p.X, p.Y, p.W, p.H, 0.03)
		for i := 1; i < 4; i++ {
			y := p.Y + p.H*float64(i)/4
			s.line("tread", p.X+0.05, y, p.X+p.W-0.05, y)
		}
	default:
		s.rect("part "+p.Kind, p.X, p.Y, p.W, p.H, 0.04)
	}
}

// Mark is how a spot of the walk stands.
type Mark struct {
	Spot  string // station or place
	State string // ahead, here, done, fault
	Count int    // points there
}

// Walk is the machine with the loop round it and a mark at every spot where
// there is something to look at.
func Walk(sheet *machine.Sheet, marks []Mark) Scene {
	s := Machine(sheet)
	d := sheet.Drawing
	s.X, s.Y, s.W, s.H = -0.95, -0.95, d.Width+0.2+1.9, d.Length+1.9
	var loop Scene
	loop.path("loop", loopPath(sheet))
	for _, p := range sheet.Places {
		if st, ok := sheet.Spot(p.Station); ok {
			loop.line("spur", st.X, st.Y, p.X, p.Y)
		}
	}
	s.Shapes = append(loop.Shapes, s.Shapes...)
	slices.SortStableFunc(marks, func(a, b Mark) int { return late(a) - late(b) })
	for _, m := range marks {
		spot, ok := sheet.Spot(m.Spot)
		if !ok {
			continue
		}
		if m.State == "here" {
			s.circle("here-ring", spot.X, spot.Y, 0.3)
		}
		s.circle("spot "+m.State, spot.X, spot.Y, 0.16)
		switch m.State {
		case "done":
			s.path("tick", fmt.Sprintf("M%s %sl.05 .06l.1 -.12", n(spot.X-0.075), n(spot.Y+0.01)))
		case "fault":
			s.path("tick", fmt.Sprintf("M%s %sv.1m0 .04v.01", n(spot.X), n(spot.Y-0.09)))
		default:
			if m.Count == 0 {
				continue
			}
			s.plain("spot-count", spot.X, spot.Y+0.055, fmt.Sprint(m.Count))
		}
	}
	return s
}

func late(m Mark) int {
	if m.State == "here" {
		return 1
	}
	return 0
}

// loopPath is a smooth closed way through the stations.
func loopPath(sheet *machine.Sheet) string {
	st := sheet.Loop.Stations
	if len(st) < 3 {
		return ""
	}
	at := func(i int) machine.Station { return st[(i+len(st))%len(st)] }
	d := fmt.Sprintf("M%s %s", n(st[0].X), n(st[0].Y))
	for i := range st {
		// Each piece leaves and arrives in the direction of its neighbours.
		before, from, to, after := at(i-1), at(i), at(i+1), at(i+2)
		const bend = 1.0 / 5
		d += fmt.Sprintf("C%s %s %s %s %s %s",
			n(from.X+(to.X-before.X)*bend), n(from.Y+(to.Y-before.Y)*bend),
			n(to.X-(after.X-from.X)*bend), n(to.Y-(after.Y-from.Y)*bend), n(to.X), n(to.Y))
	}
	return d + "Z"
}
