package outing

// What stands against the machines of an outing.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
)

// Defect is a finding that stands: not sound and not put right.
type Defect struct {
	// Found has the record that found it, or the older defect it repeats.
	inspect.Found
	Machine string
	Test    int // place in the plan; -1 for a finding at a point
	// Carried: the machine brought it into this outing.
	Carried bool
}

// Defects lists what stands against the machines of the outing: what they
// carried in, what was found and not put right, and tests that failed.
func (o *Outing) Defects() []Defect {
	var out []Defect
	for _, u := range o.Units {
		out = append(out, o.unitDefects(u)...)
	}
	return out
}

func (o *Outing) unitDefects(u *UnitState) []Defect {
	var out []Defect
	for _, c := range u.Carried {
		out = append(out, Defect{Machine: u.Machine, Test: -1, Carried: true, Found: inspect.Found{ID: c.ID, Check: c.Check, Item: c.Item,
			Finding: o.underTerms(c.ID, c.Finding, time.Time{})}})
	}
	for _, s := range []stage{walkStage{StageWalk}, breakStage{}, procedureStage{}, roundStage{}} {
		out = s.defects(o, u, out)
	}
	for i, d := range out {
		if !d.Carried {
			out[i].Finding = o.underTerms(d.ID, d.Finding, d.At)
		}
	}
	return out
}

// join adds d, or makes an older defect on the same point worse: an operator
// may grade worse, never better. Nothing the older one restricts is lost.
func (o *Outing) join(list []Defect, d Defect) []Defect {
	for i := range list {
		old := &list[i]
		if !old.Carried || old.Check != d.Check || old.Item != d.Item {
			continue
		}
		switch {
		case worse(d.Finding, old.Finding):
			deadline := old.Finding.Deadline.Earlier(d.Finding.Deadline)
			restrictions := defect.Union(old.Finding.Restrictions, d.Finding.Restrictions)
			old.Finding = d.Finding
			old.Finding.Deadline, old.Finding.Restrictions = deadline, restrictions
		case o.House.Edition > 0:
			old.Finding.Deadline = old.Finding.Deadline.Earlier(d.Finding.Deadline)
			old.Finding.Restrictions = defect.Union(old.Finding.Restrictions, d.Finding.Restrictions)
		}
		return list
	}
	return append(list, d)
}

// beside puts what was found beside the walk among what stands: where the machine
// brought it in, or where the same point stands already, the worse of the two does.
func (o *Outing) beside(u *UnitState, standing []Defect, found []inspect.Found) []Defect {
	for _, f := range found {
		d := Defect{Machine: u.Machine, Test: -1, Found: f}
		if slices.ContainsFunc(u.Carried, func(c Carried) bool { return c.Check == d.Check && c.Item == d.Item }) {
			standing = o.join(standing, d)
		} else {
			standing = worsen(standing, d)
		}
	}
	return standing
}

// worsen puts a finding of a break among those that stand: where the same point
// stands already, the worse of the two does.
func worsen(list []Defect, d Defect) []Defect {
	for i, old := range list {
		if old.Carried || old.Check != d.Check || old.Item != d.Item || old.Machine != d.Machine {
			continue
		}
		if worse(d.Finding, old.Finding) {
			list[i] = d
		}
		return list
	}
	return append(list, d)
}

func worse(a, b defect.Finding) bool {
	return a.Grade != b.Grade && defect.Worse(a.Grade, b.Grade) == a.Grade
}
