package yard_test

import (
	"slices"
	"testing"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/round"
	"vespers/core/yard"
)

// mechanic is a technician who may start everything.
func mechanic(w *town) {
	p := outingtest.Schooled("ruth", operator.Technician, w.sheet().Sheet)
	p.Name = "Ruth"
	w.people["ruth"] = p
}

// at puts a defect of a point on a machine.
func (w *town) holds(machineID, point, fault string, grade defect.Grade) string {
	id := w.found(machineID, grade, nil)
	d := w.defects[id]
	d.Point, d.Fault, d.Test = point, fault, -1
	w.defects[id] = d
	return id
}

// prove answers everything of a repair in order, as far as stop.
func (w *town) prove(id string, stop func(o *outing.Outing) bool) *outing.Outing {
	for range 300 {
		o := w.outings[id]
		c := outingtest.Next(o, w.at)
		if c == nil || stop != nil && stop(o) {
			return o
		}
		w.at = outingtest.Wait(o, w.at)
		w.must("ruth", yard.InOuting{Outing: id, Command: c})
	}
	w.t.Fatal("it does not end")
	return nil
}

// TestAMendIsProved at its point and nowhere else, and is signed.
func TestAMendIsProved(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "air_filter", "torn", defect.Mend)
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "A nail", Work: "New filter", Parts: "Filter", Replaced: []string{"air_filter"}})
	o := w.outings[w.machine("Verger").Outing]
	if o == nil || o.Repair == nil || !slices.Equal(o.Repair.Points, []string{"air_filter"}) || len(o.Units[0].Round.Results) != 0 {
		t.Fatalf("%+v", o)
	}
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "outing.ready_first")
	w.refused("ida", yard.TakeOut{Machine: verger}, "take_out.taken")
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outingtest.Ready(o)})
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "release.points_open")
	w.prove(o.ID, nil)
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Release{}}, "repair.no_release")
	w.refused("ida", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "who.not_your_role")
	w.refused("maren", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "who.not_your_role")
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}})
	if w.defects[id].Open || w.machine("Verger").Outing != "" || w.outings[o.ID].End.How != outing.EndMended {
		t.Errorf("%+v %+v", w.defects[id], w.outings[o.ID].End)
	}
	closed := w.said[0].Event.(yard.DefectClosed)
	if closed.Proof != o.ID || closed.Parts != "Filter" || !slices.Equal(closed.Replaced, []string{"air_filter"}) {
		t.Errorf("%+v", closed)
	}
}

// TestAPointThatIsStillNotInOrder is not signed; put right it is.
func TestAPointThatIsStillNotInOrder(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "chute", "spring", defect.Halt)
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Eye broken", Work: "New spring"})
	o := w.outings[w.machine("Verger").Outing]
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outingtest.Ready(o)})
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outingtest.Fault(verger, "chute", "missing")})
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "repair.found_again")
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outing.End{}})
	if !w.defects[id].Open {
		t.Error("given up, and closed")
	}
}

// TestASafetyDeviceIsProvedByItsRound: a Halt on one closes only when the tests passed
// that cover it.
func TestASafetyDeviceIsProvedByItsRound(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "chute", "spring", defect.Halt)
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Eye broken", Work: "New spring"})
	o := w.outings[w.machine("Verger").Outing]
	whole, _ := outing.Plan("", interlock.Section(o.Units[0].Sheet))
	if len(o.Units[0].Round.Results) != len(whole.Tests) {
		t.Fatalf("%d of %d tests", len(o.Units[0].Round.Results), len(whole.Tests))
	}
	o = w.prove(o.ID, func(o *outing.Outing) bool { return o.Units[0].Round.Runs && o.Units[0].Round.Left() == 1 })
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "release.tests_open")
	w.prove(o.ID, nil)
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}})
	if w.defects[id].Open {
		t.Error("signed, and open")
	}
}

// TestWhatAFailedTestAsksFor: after the repair of what a test showed, every test is
// repeated that shows one of its faults; a test that fails again is not signed.
func TestWhatAFailedTestAsksFor(t *testing.T) {
	w, id := failed(t, interlock.EngineStop)
	mechanic(w)
	first := w.outings[w.defects[id].Outing]
	_, test, _ := first.Test(id)
	catches := first.Units[0].Round.Plan.Tests[test].Catches
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Switch bridged", Work: "New switch"})
	o := w.outings[w.machine("Verger").Outing]
	plan := o.Units[0].Round.Plan
	for _, one := range first.Units[0].Round.Plan.Tests {
		shows := slices.ContainsFunc(one.Catches, func(f string) bool { return slices.Contains(catches, f) })
		repeated := slices.ContainsFunc(plan.Tests, func(p interlock.Test) bool {
			return p.Kind == one.Kind && p.Permit == one.Permit && slices.Equal(p.Catches, one.Catches)
		})
		if shows && !repeated {
			t.Errorf("%s %s is not repeated", one.Kind, one.Catches)
		}
	}
	o = w.prove(o.ID, func(o *outing.Outing) bool {
		r := o.Units[0].Round
		_, _, starting := outingtest.Step(o.Units[0], w.at)
		return !starting && r.Step() == round.StepTest && r.Plan.Tests[r.Next()].Kind == interlock.EngineStop
	})
	r := o.Units[0].Round
	w.must("ruth", yard.InOuting{Outing: o.ID, Command: outing.Test{Test: round.Test{Machine: o.Units[0].Machine, Attempt: r.Attempt, Test: r.Next(), Result: round.Bad}}})
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "repair.test_failed")
	if w.outings[o.ID].Judge(w.at).Outcome != outing.Halted {
		t.Error("a test failed again, and it is no Halt")
	}
}

// TestWhatHandsWereAt is looked at and tested again: points, switches, and what is due
// after a repair near by.
func TestWhatHandsWereAt(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	id := w.holds(verger, "blades", "bent", defect.Halt)
	c := yard.BeginRepair{Defects: []string{id}, Cause: "A stone", Work: "New blades", Touched: []string{"seat", "deck_belt"}, Replaced: []string{"blades"}}
	r, tests, err := c.Repeated(w, w.people["ruth"], w.at)
	if err != nil || !slices.Equal(r.Touched, []string{"deck_belt", "blades"}) || !slices.Contains(r.Points, "blade_torque") {
		t.Errorf("%+v %v", r, err)
	}
	if tests == 0 || !slices.Contains(r.Controls, "seat") {
		t.Errorf("%d tests for %v", tests, r.Controls)
	}
	c.Touched = []string{"nowhere"}
	w.refused("ruth", c, "repair.no_such_place")
	other := w.holds(w.machine("Sexton").ID, "blades", "bent", defect.Halt)
	c.Touched, c.Defects = nil, []string{id, other}
	w.refused("ruth", c, "repair.of_one_machine")
	w.refused("ruth", yard.BeginRepair{Cause: "x", Work: "y"}, "yard.no_such_defect")
	w.refused("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "x"}, "defect.cause_and_work")
}

// TestAnotherHaltStays: what is not mended with it is carried, and nothing is started
// while it stands.
func TestAnotherHaltStays(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	verger := w.machine("Verger").ID
	mended, stays := w.holds(verger, "chute", "spring", defect.Halt), w.holds(verger, "fuel_system", "leak", defect.Halt)
	w.must("ruth", yard.BeginRepair{Defects: []string{mended}, Cause: "Eye broken", Work: "New spring"})
	o := w.outings[w.machine("Verger").Outing]
	w.prove(o.ID, func(o *outing.Outing) bool { return o.Stage() == outing.StageRound })
	if c := outingtest.Next(w.outings[o.ID], w.at); c != nil {
		if rule := w.rule("ruth", yard.InOuting{Outing: o.ID, Command: c}); rule == "" {
			t.Error("started with a fuel leak")
		}
	}
	w.refused("ruth", yard.InOuting{Outing: o.ID, Command: outing.Sign{}}, "release.tests_open")
	if !w.defects[stays].Open {
		t.Error("closed with it")
	}
}

// TestWhatHasNothingToRepeat closes at once: its point is on no sheet any more.
func TestWhatHasNothingToRepeat(t *testing.T) {
	w := newTown(t)
	mechanic(w)
	id := w.holds(w.machine("Verger").ID, "gone", "gone", defect.Watch)
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "None", Work: "None"})
	if w.defects[id].Open || w.machine("Verger").Outing != "" {
		t.Errorf("%+v", w.defects[id])
	}
}
