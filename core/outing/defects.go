package outing

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// Defect is a finding that stands: not sound and not put right.
type Defect struct {
	// ID is the record that found it, or the older defect it repeats.
	ID      string
	Machine string
	Check   string // "" for a failed test
	Item    string
	Fault   string
	Test    int // place in the plan; -1 for a finding of the walk-around
	Note    string
	Value   *Value
	Finding defect.Finding
	By      string
	At      time.Time
	// Carried: the machine brought it into this outing.
	Carried bool
}

// The rules that make defects besides the table.
var (
	ruleRefusalFailed = text.NewRule("test.cranked_when_it_must_not", text.Slot{Name: "test", Kind: text.Count})
	ruleStopFailed    = text.NewRule("test.did_not_stop", text.Slot{Name: "test", Kind: text.Count})
	ruleStopSlow      = text.NewRule("test.stopped_too_late", text.Slot{Name: "test", Kind: text.Count}, text.Slot{Name: "took", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount})
	ruleRestarted     = text.NewRule("test.moved_again", text.Slot{Name: "test", Kind: text.Count})
	ruleMendPassed    = text.NewRule("grade.deadline_passed")
)

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
		out = append(out, Defect{ID: c.ID, Machine: u.Machine, Check: c.Check, Item: c.Item, Test: -1, Finding: c.Finding, Carried: true})
	}
	for i := range u.Sheet.Checks {
		c := &u.Sheet.Checks[i]
		for _, d := range u.pointDefects(c, o.House) {
			out = o.join(out, d)
		}
	}
	for _, d := range o.breakDefects(u) {
		if carried := len(u.Carried); carried > 0 && slices.ContainsFunc(out[:carried], func(c Defect) bool { return c.Check == d.Check && c.Item == d.Item }) {
			out = o.join(out, d)
		} else {
			out = worsen(out, o.dated(d))
		}
	}
	for i, r := range u.Round.Results {
		if r.Outcome != Failed {
			continue
		}
		out = append(out, Defect{ID: r.Meta.ID, Machine: o.owner(u, i).Machine, Test: i, By: r.Meta.By, At: r.Meta.At,
			Finding: defect.Finding{Extent: machine.Lost, Grade: defect.Halt, Reasons: []text.Reason{failure(u.Round.Plan.Tests[i], i, r)}}})
	}
	return out
}

// join adds d, or makes an older defect on the same point worse: an operator
// may grade worse, never better.
func (o *Outing) join(list []Defect, d Defect) []Defect {
	d = o.dated(d)
	for i := range list {
		old := &list[i]
		if !old.Carried || old.Check != d.Check || old.Item != d.Item {
			continue
		}
		if old.Finding.Grade != d.Finding.Grade && defect.Worse(old.Finding.Grade, d.Finding.Grade) == d.Finding.Grade {
			deadline := old.Finding.Deadline.Earlier(d.Finding.Deadline)
			restrictions := defect.Union(old.Finding.Restrictions, d.Finding.Restrictions)
			old.Finding = d.Finding
			old.Finding.Deadline, old.Finding.Restrictions = deadline, restrictions
		}
		return list
	}
	return append(list, d)
}

// dated gives a Mend without a deadline the house's own.
func (o *Outing) dated(d Defect) Defect {
	if d.Finding.Grade == defect.Mend && d.Finding.Deadline == (defect.Deadline{}) && o.House.MendDays > 0 {
		until := d.At.AddDate(0, 0, o.House.MendDays)
		d.Finding.Deadline.At = &until
	}
	return d
}

func failure(test interlock.Test, i int, r Result) text.Reason {
	switch {
	case test.Kind == interlock.Refusal:
		return ruleRefusalFailed.Says(i + 1)
	case r.Restarted:
		return ruleRestarted.Says(i + 1)
	case r.Seconds != nil && r.Limit > 0:
		return ruleStopSlow.Says(i+1, seconds(*r.Seconds), seconds(r.Limit))
	}
	return ruleStopFailed.Says(i + 1)
}

// pointDefects is what stands at one point: a fault, and each reading that is
// not sound.
func (u *UnitState) pointDefects(c *machine.Check, house defect.House) []Defect {
	if len(u.points[c.ID]) == 0 {
		return nil
	}
	var out []Defect
	look := func(item string) {
		g, ok := u.last(c.ID, item)
		if !ok {
			return
		}
		now, f := g.now(), g.Finding
		if g.Right != nil {
			f = u.grade(now, house)
		}
		if f.Grade != defect.Sound {
			out = append(out, Defect{ID: g.Meta.ID, Machine: u.Machine, Check: c.ID, Item: item, Fault: now.Fault,
				Test: -1, Note: now.Note, Value: now.Value, Finding: f, By: g.Meta.By, At: g.Meta.At})
		}
	}
	look("") // the point as a whole, or a fault found beside its readings
	for i := range c.Readings {
		look(c.Readings[i].ID)
	}
	return append(out, u.unevenness(c, house)...)
}

// unevenness is the defect of paired readings that differ too much.
func (u *UnitState) unevenness(c *machine.Check, house defect.House) []Defect {
	if c.Even == nil || len(u.Open(c.ID)) > 0 {
		return nil
	}
	values := map[string]text.Measure{}
	var latest Given
	for i := range c.Readings {
		r := &c.Readings[i]
		if g, ok := u.last(c.ID, r.ID); ok && g.now().Value != nil {
			values[r.ID], latest = g.now().Value.measure(r), g
		}
	}
	f := defect.OfUneven(c, values, defect.Context{House: house, Hours: u.Hours})
	if f.Grade == defect.Sound {
		return nil
	}
	return []Defect{{ID: latest.Meta.ID + ".even", Machine: u.Machine, Check: c.ID, Item: "even",
		Test: -1, Finding: f, By: latest.Meta.By, At: latest.Meta.At}}
}
