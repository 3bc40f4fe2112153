package draw

// Machines seen from above.

import (
	"cmp"
	"fmt"
	"slices"

	"vespers/core/machine"
)

// Machine is a machine in plan view, its front up, in metres.
func Machine(sheet *machine.Sheet) Scene {
	s := bounds(sheet)
	for _, kind := range machine.PartKinds() {
		for _, p := range sheet.Drawing.Parts {
			switch draw := drawn[kind]; {
			case p.Kind != kind:
			case draw != nil:
				draw(&s, p)
			default:
				s.rect("part "+p.Kind, p.X, p.Y, p.W, p.H, min(p.W, p.H)*0.2)
			}
		}
		for _, p := range sheet.Drawing.Parts {
			if own, ok := sheet.Shape(p.Kind); ok && cmp.Or(own.Over, "frame") == kind {
				s.own(own, p)
			}
		}
	}
	return s
}

// own draws a part of a kind that its sheet brings.
func (s *Scene) own(shape *machine.Shape, p machine.Part) {
	for _, stroke := range shape.Strokes {
		class := stroke.Class
		if !stroke.Line() || class == "rod" {
			class = "part " + class
		}
		if len(stroke.Circle) == 3 {
			s.circle(class, p.X+p.W*stroke.Circle[0], p.Y+p.H*stroke.Circle[1], min(p.W, p.H)*stroke.Circle[2])
			continue
		}
		d := ""
		for i, at := range stroke.Points {
			d += string("ML"[min(i, 1)]) + n(p.X+p.W*at[0]) + " " + n(p.Y+p.H*at[1])
		}
		if !stroke.Line() {
			d += "Z"
		}
		s.path(class, d)
	}
}

// bounds frames everything drawn, with a little air.
func bounds(sheet *machine.Sheet) Scene {
	d := sheet.Drawing
	left, top, right, bottom := 0.0, 0.0, d.Width, d.Length
	for _, p := range d.Parts {
		left, top = min(left, p.X), min(top, p.Y)
		right, bottom = max(right, p.X+p.W), max(bottom, p.Y+p.H)
	}
	air := 0.07 * max(d.Width, d.Length)
	return Scene{X: left - air, Y: top - air, W: right - left + 2*air, H: bottom - top + 2*air}
}

// Mark is how a spot of the walk stands.
type Mark struct {
	Spot  string // station or place
	State string // ahead, here, done; fault or noted where something was found
	// Number is when one comes there, counted from 1; 0 shows none.
	Number int
}

// Walk is the machine with the loop round it and a mark at every spot where
// there is something to look at.
func Walk(sheet *machine.Sheet, marks []Mark) Scene {
	s := Machine(sheet)
	unit := s.frameLoop(sheet)
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
			s.circle("here-ring", spot.X, spot.Y, 0.3*unit)
		}
		s.circle("spot "+m.State, spot.X, spot.Y, 0.16*unit)
		switch m.State {
		case "done":
			s.path("tick", fmt.Sprintf("M%s %sl%s %sl%s %s", n(spot.X-0.075*unit), n(spot.Y+0.01*unit), n(0.05*unit), n(0.06*unit), n(0.1*unit), n(-0.12*unit)))
		case "noted":
			s.circle("noted-dot", spot.X, spot.Y, 0.06*unit)
		case "fault":
			s.path("tick", fmt.Sprintf("M%s %sv%sm0 %sv%s", n(spot.X), n(spot.Y-0.09*unit), n(0.1*unit), n(0.04*unit), n(0.01*unit)))
		default:
			if m.Number == 0 {
				continue
			}
			s.plain("spot-count", spot.X, spot.Y+0.055*unit, fmt.Sprint(m.Number))
			s.Shapes[len(s.Shapes)-1].H = 0.17 * unit
		}
	}
	return s
}

// frameLoop widens the frame to the loop, and returns how large marks are: a saw
// on the bench and a tractor are looked at on the same screen.
func (s *Scene) frameLoop(sheet *machine.Sheet) (unit float64) {
	left, top, right, bottom := s.X, s.Y, s.X+s.W, s.Y+s.H
	for _, st := range sheet.Loop.Stations {
		left, top = min(left, st.X), min(top, st.Y)
		right, bottom = max(right, st.X), max(bottom, st.Y)
	}
	unit = max(right-left, bottom-top) / 3.3
	air := 0.36 * unit
	s.X, s.Y, s.W, s.H = left-air, top-air, right-left+2*air, bottom-top+2*air
	return unit
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
