package outing

// What is due on the machines of an outing: who is asked for it, and what keeps
// a machine in.

import (
	"slices"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/walk"
)

var ruleOverdue = text.NewRule("release.care_overdue", text.Slot{Name: "point", Kind: text.Words}, text.Slot{Name: "who", Kind: text.Term})

// asked reports whether somebody who takes a machine out is asked for a point:
// it is due, and theirs to look at. A technician is asked for their own a little
// before.
func asked(m Machine, who operator.Person, c *machine.Check, now time.Time) bool {
	if !who.MayLookAt(m.Sheet, c, now) {
		return false
	}
	due := m.Past.Due(c, m.Hours, now)
	return due == inspect.DueNow || due == inspect.Overdue || due == inspect.Soon && c.WhoLooks() == machine.ByTechnician
}

// dueAnyWay lists the points that somebody would be asked for, whatever way the
// options stand that they tell.
func dueAnyWay(m Machine, who operator.Person, now time.Time) []string {
	var out []string
	for _, chosen := range m.Sheet.EveryWay() {
		sheet := m.Sheet.With(chosen)
		for i := range sheet.Checks {
			if c := &sheet.Checks[i]; !slices.Contains(out, c.ID) && asked(m, who, c, now) {
				out = append(out, c.ID)
			}
		}
	}
	slices.Sort(out)
	return out
}

// overdue lists the points of a machine without which it is not released.
func overdue(m Machine, now time.Time) []string {
	var out []string
	for i := range m.Sheet.Checks {
		if c := &m.Sheet.Checks[i]; c.Mandatory && m.Past.Due(c, m.Hours, now) == inspect.Overdue {
			out = append(out, c.ID)
		}
	}
	return out
}

// blind reports whether a machine's hour meter is known not to count.
func blind(m Machine) bool {
	return slices.ContainsFunc(m.Carried, func(d Carried) bool { return m.Sheet.AtMeter(d.Check) })
}

// routesFor are the ways round for somebody who takes the outing over: without
// what is open and not theirs to look at, and with what is overdue and is.
func (o *Outing) routesFor(to operator.Person, now time.Time) map[string][]walk.Stop {
	routes := map[string][]walk.Stop{}
	if o.Status != Open {
		return nil
	}
	for _, u := range o.Units {
		changed := false
		asked := func(c *machine.Check) bool {
			may := to.MayLookAt(u.Sheet, c, now)
			if u.Asks(c.ID) {
				return may || len(u.Open(c.ID)) == 0
			}
			return may && slices.Contains(u.Overdue, c.ID)
		}
		for i := range u.Sheet.Checks {
			c := &u.Sheet.Checks[i]
			changed = changed || asked(c) != u.Asks(c.ID)
		}
		if changed {
			routes[u.Machine] = u.RouteOf("", now, asked)
		}
	}
	if len(routes) == 0 {
		return nil
	}
	return routes
}

// unseen is what keeps a unit from release because nobody who may has looked at
// it: what is overdue and not asked for here.
func (u *UnitState) unseen(phases []machine.Phase) []Missing {
	var out []Missing
	for _, id := range u.Overdue {
		c := u.Check(id)
		if c != nil && slices.Contains(phases, c.Phase) && !u.Asks(id) && len(u.Open(id)) > 0 {
			out = append(out, Missing{Reason: ruleOverdue.Says(c.Name, text.Key("who."+c.WhoLooks())), Step: StageWalk, Machine: u.Machine, Check: id, Acts: 1, Seconds: c.Seconds})
		}
	}
	return out
}
