package yard_test

import (
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/yard"
)

// change changes a defect of the town.
func (w *town) change(id string, do func(*yard.Defect)) {
	d := w.defects[id]
	do(&d)
	w.defects[id] = d
}

// TestTheDesk: what keeps machines in first, the oldest Halt first; then what runs out
// before tomorrow is over, the first first; then what limits, and the rest.
func TestTheDesk(t *testing.T) {
	w := newTown(t)
	verger, sexton := w.machine("Verger").ID, w.machine("Sexton").ID
	ago := func(id string, hours int) {
		w.change(id, func(d *yard.Defect) { d.FoundAt = w.at.Add(-time.Duration(hours) * time.Hour) })
	}
	until := func(id string, hours float64, days int, not ...machine.Restriction) {
		w.change(id, func(d *yard.Defect) {
			at := w.at.Add(time.Duration(days)*24*time.Hour + time.Hour)
			d.Finding.Deadline, d.Finding.Restrictions = defect.Deadline{At: &at}, not
			if hours > 0 {
				d.Finding.Deadline.Hours = &hours
			}
		})
	}
	watch := w.holds(verger, "blades", "nicks", defect.Watch)
	limited := w.holds(sexton, "tracking", "pulls", defect.Mend)
	until(limited, 0, 5, machine.NoSlope)
	soon := w.holds(verger, "grease", "broken", defect.Mend)
	until(soon, 0, 1)
	byHours := w.holds(verger, "hydraulic_leaks", "weep", defect.Mend)
	until(byHours, 101.5, 6)
	past := w.holds(sexton, "lamps", "broken", defect.Mend)
	until(past, 99, 6)
	ago(past, 3)
	young := w.holds(verger, "chute", "tied", defect.Halt)
	ago(young, 1)
	old := w.holds(sexton, "chute", "tied", defect.Halt)
	ago(old, 70)
	var got []string
	for _, d := range yard.Desk(w, w.at) {
		got = append(got, d.ID)
	}
	if want := []string{old, past, young, byHours, soon, limited, watch}; strings.Join(got, " ") != strings.Join(want, " ") {
		t.Errorf("%v, want %v", got, want)
	}
	for _, d := range yard.Desk(w, w.at) {
		switch d.ID {
		case byHours:
			if d.Left == nil || *d.Left != 1.5 || d.Until == nil || d.Blocks != yard.RunsOut {
				t.Errorf("%+v", d)
			}
		case past:
			if d.Grade != defect.Halt || d.Left != nil {
				t.Errorf("a Mend past its hours: %+v", d)
			}
		}
	}
	mechanic(w)
	w.must("ruth", yard.BeginRepair{Defects: []string{old}, Cause: "Wire", Work: "Wire off"})
	for _, d := range yard.Desk(w, w.at) {
		if (d.Proving != "") != (d.ID == old) || d.ID == old && d.Hand != "ruth" {
			t.Errorf("%+v", d)
		}
	}
}

// TestTerms: a lead eases or tightens a Mend, with a reason, never a Halt, nor beyond
// what any Mend may stand.
func TestTerms(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "hydraulic_leaks", "weep", defect.Mend)
	w.change(id, func(d *yard.Defect) {
		h := 102.0
		d.Finding.Deadline.Hours = &h
		d.Finding.Restrictions = []machine.Restriction{machine.NoFineTurf}
	})
	day := func(days int) string { return w.at.AddDate(0, 0, days).Format("2006-01-02T15:04") }
	ok := yard.SetTerms{Defect: id, Until: day(9), Hours: "120", Not: []string{"no_road"}, Why: "The fitting is ordered"}
	for _, who := range []string{"ida", "ruth", "jonah", "osk"} {
		w.refused(who, ok, "who.not_your_role")
	}
	for rule, change := range map[string]func(*yard.SetTerms){
		"yard.no_such_defect":       func(c *yard.SetTerms) { c.Defect = "none" },
		"person.why":                func(c *yard.SetTerms) { c.Why = " " },
		"terms.until_when":          func(c *yard.SetTerms) { c.Until = day(-1) },
		"terms.too_long":            func(c *yard.SetTerms) { c.Until = day(61) },
		"terms.hours_behind":        func(c *yard.SetTerms) { c.Hours = "99" },
		"machine.hours_needed":      func(c *yard.SetTerms) { c.Hours = "many" },
		"terms.no_such_restriction": func(c *yard.SetTerms) { c.Not = []string{"no_fun"} },
	} {
		c := ok
		change(&c)
		if got := w.rule("maren", c); got != rule && !(rule == "person.why" && got != "") {
			t.Errorf("%q, want %q", got, rule)
		}
	}
	c := ok
	c.Until = "tomorrow"
	w.refused("maren", c, "terms.until_when")
	w.must("maren", ok)
	f := w.defects[id].Finding
	if *f.Deadline.Hours != 120 || len(f.Restrictions) != 1 || f.Restrictions[0] != machine.NoRoad || f.Grade != defect.Mend {
		t.Errorf("%+v", f)
	}
	set := w.said[0].Event.(outing.TermsSet)
	if *set.Was.Hours != 102 || set.WasNot[0] != machine.NoFineTurf || set.Why == "" {
		t.Errorf("%+v", set)
	}
	for _, grade := range []defect.Grade{defect.Watch, defect.Halt} {
		w.refused("maren", yard.SetTerms{Defect: w.holds(verger, "chute", "tied", grade), Until: day(3), Why: "x"}, "terms.only_a_mend")
	}
	w.change(id, func(d *yard.Defect) { h := 99.0; d.Finding.Deadline.Hours = &h })
	w.refused("maren", ok, "terms.only_a_mend") // past its hours it is a Halt
}

// TestTermsWhileItIsOut hold for the outing too, and what is found after them adds.
func TestTermsWhileItIsOut(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "hydraulic_leaks", "weep", defect.Mend)
	far := w.at.AddDate(0, 0, 5)
	w.change(id, func(d *yard.Defect) { d.Finding.Deadline.At = &far })
	w.must("ruth", yard.TakeOut{Machine: verger})
	near := w.at.Add(2 * time.Hour).Truncate(time.Minute)
	w.must("maren", yard.SetTerms{Defect: id, Until: near.Format("2006-01-02T15:04"), Not: []string{"no_slope"}, Why: "It drips in the sun"})
	o := w.outings[w.machine("Verger").Outing]
	f := o.Defects()[0].Finding
	if !f.Deadline.At.Equal(near) || len(f.Restrictions) != 1 || f.Restrictions[0] != machine.NoSlope {
		t.Errorf("%+v", f)
	}
	if o.Judge(near.Add(time.Second)).Outcome != outing.Halted {
		t.Error("past what the lead said, and no Halt")
	}
}
