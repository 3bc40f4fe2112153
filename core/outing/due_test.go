package outing_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

// cared is a rider of whose points one is for a technician, one for trained
// people and one daily, as it was looked at yesterday; the technician's by hours.
func cared(t *testing.T, hours float64) outing.Machine {
	m := outingtest.Machine("m", machinetest.Of(t, "zero_turn"))
	sheet := *m.Sheet
	sheet.Checks = slices.Clone(sheet.Checks)
	for i := range sheet.Checks {
		c := &sheet.Checks[i]
		c.Every, c.Who, c.Mandatory = nil, "", false
		switch c.ID {
		case "spindles":
			c.Every, c.Who, c.Mandatory = &machine.Interval{Hours: 50}, machine.ByTechnician, true
		case "hardware":
			c.Every, c.Who = &machine.Interval{Hours: 50}, machine.ByTrained
		case "lamps":
			c.Every = &machine.Interval{Days: 1}
		}
	}
	m.Sheet, m.Hours = &sheet, hours
	last := inspect.Seen{At: morning.AddDate(0, 0, -1), Hours: 60}
	m.Past = inspect.Past{Looked: map[string]inspect.Seen{"spindles": last, "hardware": last, "lamps": last}, Added: last, Today: morning.Add(-2 * time.Hour)}
	for i, n := range sheet.Numbers {
		if n.ID == "warm_up" {
			sheet.Numbers = slices.Delete(slices.Clone(sheet.Numbers), i, i+1)
		}
	}
	return m
}

func takenOut(t *testing.T, m outing.Machine, who operator.Person) *outing.Outing {
	t.Helper()
	return begun(t, who, m, nil)
}

// begun is an outing of somebody's, with nothing measured by chance and no engine
// to warm up.
func begun(t *testing.T, who operator.Person, m outing.Machine, carrier *outing.Machine) *outing.Outing {
	t.Helper()
	started, err := outing.Compose("o", who, defect.DefaultHouse(), m, carrier, outing.Plan, morning)
	if err != nil {
		t.Fatal(err)
	}
	sheets := map[string]*machine.Sheet{m.Hash: m.Sheet}
	if carrier != nil {
		sheets[carrier.Hash] = carrier.Sheet
	}
	for i := range started.Units {
		started.Units[i].Spots = nil
	}
	o, err := outing.Begin("o", record.Meta{ID: "start", By: who.ID, At: morning}, started, func(key string) (*machine.Sheet, error) { return sheets[key], nil })
	if err != nil {
		t.Fatal(err)
	}
	return o
}

// TestWhoIsAskedWhat: what is due and theirs; a technician a little before.
func TestWhoIsAskedWhat(t *testing.T) {
	schooled := func(role operator.Role) func(*machine.Sheet) operator.Person {
		return func(s *machine.Sheet) operator.Person { return outingtest.Schooled("ida", role, s) }
	}
	fresh := func(*machine.Sheet) operator.Person { return operator.Person{ID: "ida", Role: operator.Operator} }
	for name, c := range map[string]struct {
		hours                  float64
		who                    func(*machine.Sheet) operator.Person
		spindles, nuts, noting bool
	}{
		"nothing due":                      {90, schooled(operator.Operator), false, false, false},
		"due: an operator":                 {110, schooled(operator.Operator), false, true, true},
		"due: a lead":                      {110, schooled(operator.Lead), false, true, true},
		"due: who has not practised":       {110, fresh, false, false, true},
		"due: a trainee":                   {110, schooled(operator.Trainee), false, false, true},
		"due: a technician":                {110, schooled(operator.Technician), true, true, true},
		"soon due: an operator":            {105, schooled(operator.Operator), false, false, false},
		"soon due: a technician":           {105, schooled(operator.Technician), true, false, false},
		"not yet soon due: a technician":   {104.9, schooled(operator.Technician), false, false, false},
		"the meter went back: nothing due": {50, schooled(operator.Technician), false, false, false},
	} {
		t.Run(name, func(t *testing.T) {
			m := cared(t, c.hours)
			u := takenOut(t, m, c.who(m.Sheet)).Units[0]
			for id, want := range map[string]bool{"spindles": c.spindles, "hardware": c.nuts, "lamps": true, "seat_belt": true} {
				if u.Asks(id) != want {
					t.Errorf("%s is asked for: %v", id, !want)
				}
			}
			if overdue := slices.Contains(u.Overdue, "spindles"); overdue != c.noting {
				t.Errorf("overdue: %v", u.Overdue)
			}
		})
	}
}

// TestOverdueForATechnicianKeepsItIn until one has looked; the operator's walk
// ends without it, and is not asked.
func TestOverdueForATechnicianKeepsItIn(t *testing.T) {
	m := cared(t, 110)
	r := runnerOf(t, takenOut(t, m, outingtest.Schooled("ida", operator.Operator, m.Sheet)))
	r.until(r.stage(outing.StageVerdict))
	v := r.o.Judge(morning)
	if v.Outcome != outing.Refusal || len(v.Missing) != 1 || v.Missing[0].Reason.Rule != "release.care_overdue" || v.Missing[0].Check != "spindles" {
		t.Fatalf("%s: %+v", v.Outcome, v.Missing)
	}
	r.refused(outing.PutRight{Finding: "none", Now: inspect.Answer{Machine: "m", Check: "spindles"}}, "who.looks_at_this")
	for _, set := range []inspect.Set{{Machine: "m", Setting: "lead", To: "off"}, {Machine: "m", Setting: "front_end", To: "lifted"}} {
		r.must(outing.ChangeSetting{Set: set})
	}
	play, _ := r.u().Sheet.Check("spindles")
	r.refused(read("spindles", &play.Readings[0], 1), "who.looks_at_this")
	r.by = "ruth"
	r.must(outing.TakeOver{})
	if !r.u().Asks("spindles") || len(r.u().Left(machine.Cold)) == 0 {
		t.Fatal("the technician who takes over is not asked for it")
	}
	r.until(r.stage(outing.StageVerdict))
	if missing := r.o.Judge(morning).Missing; len(missing) > 0 {
		t.Errorf("still missing: %+v", missing)
	}
}

// TestWhoTakesOverIsNotAskedForAnothersPoints: a technician's walk goes on with
// an operator, without what was for the technician; what was overdue is missing.
func TestWhoTakesOverIsNotAskedForAnothersPoints(t *testing.T) {
	m := cared(t, 110)
	tess, ida := outingtest.Schooled("tess", operator.Technician, m.Sheet), outingtest.Schooled("ida", operator.Operator, m.Sheet)
	o := takenOut(t, m, tess)
	crew := outingtest.Crew{}.Add(tess, ida)
	if !o.Units[0].Asks("spindles") {
		t.Fatal("the technician is not asked")
	}
	events, err := outing.Decide(o, outing.TakeOver{}, record.Meta{ID: "a", By: "ida", At: morning}, crew)
	if err != nil {
		t.Fatal(err)
	}
	after := o.Apply(record.Meta{ID: "a", By: "ida", At: morning}, events[0])
	if after.Units[0].Asks("spindles") || !after.Units[0].Asks("hardware") || !o.Units[0].Asks("spindles") {
		t.Errorf("asked for spindles %v, wheel nuts %v; before %v", after.Units[0].Asks("spindles"), after.Units[0].Asks("hardware"), o.Units[0].Asks("spindles"))
	}
	if !slices.Contains(after.Units[0].Overdue, "spindles") {
		t.Error("what was overdue is forgotten")
	}
}
