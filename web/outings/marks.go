package outings

// The marks on the map of a walk: in what order one goes, what is done, and where
// something was found.

import (
	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/core/walk"
	"vespers/draw"
)

// visit is one point of a walk: where it is, and whether it is still asked.
type visit struct {
	at   string
	open bool
}

// mapMarks gives each place of a walk the number of the next visit to it, in the
// order one goes; found is the worst that stands at a place.
func mapMarks(points []visit, here string, found map[string]defect.Grade) []draw.Mark {
	var out []draw.Mark
	index := map[string]int{}
	number, last := 0, ""
	for _, p := range points {
		if p.at != last {
			number, last = number+1, p.at
		}
		i, seen := index[p.at]
		if !seen {
			i = len(out)
			index[p.at] = i
			out = append(out, draw.Mark{Spot: p.at, State: "done"})
		}
		if p.open && out[i].State == "done" {
			out[i].State, out[i].Number = "ahead", number
		}
	}
	for i, m := range out {
		switch {
		case m.Spot == here:
			out[i].State = "here"
		case m.State == "done":
			out[i].State = foundMark(found[m.Spot])
		}
	}
	return out
}

// foundMark is the state of a place that is done with, by the worst found there.
func foundMark(g defect.Grade) string {
	switch g {
	case "", defect.Sound:
		return "done"
	case defect.Halt:
		return "fault"
	}
	return "noted"
}

// foundAt is the worst that stands at each place of a machine.
func foundAt(o *outing.Outing, u *outing.UnitState) map[string]defect.Grade {
	worst := map[string]defect.Grade{}
	for _, d := range o.Defects() {
		if c, ok := u.Sheet.Check(d.Check); ok && d.Machine == u.Machine {
			worst[c.At] = defect.Worse(d.Finding.Grade, worst[c.At])
		}
	}
	return worst
}

// marks are those of the walk that is shown.
func (p *walkPage) marks(here string) []draw.Mark {
	var points []visit
	for _, stop := range p.u.Route {
		if c := p.u.Check(stop.ID); c != nil && stop.Do == walk.Check && p.sameWalk(c.Phase) {
			points = append(points, visit{c.At, len(p.u.Open(c.ID)) > 0})
		}
	}
	return mapMarks(points, here, foundAt(p.o, p.u))
}

// breakMarks are those of a look at a break.
func breakMarks(o *outing.Outing, now outing.BreakStop) []draw.Mark {
	open := map[string]bool{}
	for _, s := range o.BreakLeft() {
		if s.Unit == now.Unit {
			open[s.Check.ID] = true
		}
	}
	var points []visit
	for _, look := range o.Break().Looks {
		for _, stop := range look.Route {
			if look.Machine == now.Unit.Machine && stop.Do == walk.Check {
				points = append(points, visit{stop.At, open[stop.ID]})
			}
		}
	}
	return mapMarks(points, now.Check.At, nil)
}

// foundOn draws a machine, with the loop and marks where something was found.
func foundOn(o *outing.Outing, u *outing.UnitState) draw.Scene {
	var marks []draw.Mark
	worst := foundAt(o, u)
	for _, c := range u.Sheet.Checks {
		if g, found := worst[c.At]; found {
			delete(worst, c.At)
			marks = append(marks, draw.Mark{Spot: c.At, State: foundMark(g)})
		}
	}
	if len(marks) == 0 {
		return draw.Machine(u.Sheet)
	}
	return draw.Walk(u.Sheet, marks)
}

// openAt counts the points of a walk that are open at a place.
func openAt(u inspect.State, route []walk.Stop, at string) (n int) {
	for _, stop := range route {
		if c := u.Check(stop.ID); c != nil && stop.Do == walk.Check && c.At == at && len(u.Open(c.ID)) > 0 {
			n++
		}
	}
	return n
}
