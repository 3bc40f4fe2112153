package outing_test

// What a strike asks for, and how often an engine is tried.

import (
	"slices"
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/record"
)

// struckAndStill is a machine that struck something at its work and was shut off for it.
func struckAndStill(t *testing.T, of machinetest.Resolved) *runner {
	t.Helper()
	r := out(t, of)
	r.must(outing.Happen{Machine: "m", Event: "struck"})
	r.refused(outing.BeginBreak{}, "procedure.end_event_first")
	r.through()
	return r
}

// TestStruckAndLookedOver: every machine that says what to look over after a strike goes
// on once all of that was found sound, and not before.
func TestStruckAndLookedOver(t *testing.T) {
	seen := 0
	for _, of := range alone(t) {
		event := func(e machine.Event) bool { return e.ID == "struck" && len(e.Look) > 0 }
		if !slices.ContainsFunc(of.Sheet.Events, event) {
			continue
		}
		seen++
		r := struckAndStill(t, of)
		due := r.o.LookDue()
		if len(due) != 1 || r.o.Judge(r.now()).Outcome != outing.Halted {
			t.Fatalf("%s: %d to look over", of.Sheet.ID, len(due))
		}
		r.must(outing.BeginBreak{})
		asked := map[string]bool{}
		for len(r.o.BreakLeft()) > 0 {
			if r.o.Judge(r.now()).Outcome != outing.Halted {
				t.Fatalf("%s: it goes on before all was looked over", of.Sheet.ID)
			}
			at := r.o.BreakLeft()[0]
			asked[at.Check.ID] = true
			r.must(good(at))
		}
		for _, id := range due[0].Event.Look {
			if _, has := r.u().Sheet.Check(id); has && !asked[id] {
				t.Errorf("%s: %s was not looked at", of.Sheet.ID, id)
			}
		}
		if d := r.o.Defects(); len(d) != 0 || len(r.o.LookDue()) != 0 {
			t.Errorf("%s: all sound, and %+v stands", of.Sheet.ID, d)
		}
	}
	if seen < 3 {
		t.Errorf("%d machines say what to look over", seen)
	}
}

// TestStruckAndFoundOtherwise: a fault, or a point that could not be reached, and the
// strike stands; a later look that finds all sound takes it away, and what was found
// stays. A second strike is looked over anew.
func TestStruckAndFoundOtherwise(t *testing.T) {
	r := struckAndStill(t, machinetest.Of(t, "zero_turn"))
	r.must(outing.BeginBreak{})
	first := r.o.BreakLeft()[0]
	r.must(outing.AnswerBreak{Answer: inspect.Answer{Machine: "m", Check: first.Check.ID, Item: first.Item, Answer: inspect.NotReached}})
	for range len(r.o.BreakLeft()) - 1 {
		r.must(good(r.o.BreakLeft()[0]))
	}
	if len(r.o.LookDue()) != 1 {
		t.Error("a point was not reached, and it goes on")
	}
	r.must(outing.AnswerBreak{Answer: inspect.Answer{Machine: "m", Check: first.Check.ID, Answer: inspect.Fault, Fault: first.Check.Faults[0].ID}})
	if len(r.o.BreakLeft()) != 0 || len(r.o.LookDue()) != 1 || len(r.o.Defects()) != 2 {
		t.Errorf("%d left, %d due, %d stand", len(r.o.BreakLeft()), len(r.o.LookDue()), len(r.o.Defects()))
	}
	again := func() {
		r.must(outing.BeginBreak{})
		for len(r.o.BreakLeft()) > 0 {
			r.must(good(r.o.BreakLeft()[0]))
		}
	}
	again()
	if d := r.o.Defects(); len(r.o.LookDue()) != 0 || len(d) != 1 || d[0].Check != first.Check.ID {
		t.Errorf("after a clean look %+v", d)
	}
	r.must(outing.Happen{Machine: "m", Event: "struck"})
	r.through()
	if len(r.o.LookDue()) != 1 {
		t.Error("an older look answers for a new strike")
	}
	again()
	if len(r.o.LookDue()) != 0 {
		t.Error("the second strike stands")
	}
	r.must(outing.Happen{Machine: "m", Event: "charge_lamp"}) // nothing is looked over for that
	r.through()
	if len(r.o.LookDue()) != 0 {
		t.Errorf("%+v is to be looked over", r.o.LookDue())
	}
	r.must(outing.BeginBreak{}) // the ordinary one
	if after := r.o.Break().After; len(after) != 0 {
		t.Errorf("a break looks over %v", after)
	}
}

// TestTheStarterRests: a try that does not start it is counted, and the next is refused
// until the starter has rested; that it would not crank needs no rest.
func TestTheStarterRests(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.o.Order = 2 // its engine is not started by its procedure
	atStart := func() bool { return r.o.Stage() == outing.StageRound && r.u().Round.NeedsCrank() }
	r.until(atStart)
	for i := range 4 {
		r.must(crank(1, "cranked"))
		if r.u().Round.Tried != i+1 || r.u().Round.TriedOut() != (i == 3) {
			t.Errorf("after %d tries: %d, out %v", i+1, r.u().Round.Tried, r.u().Round.TriedOut())
		}
		r.refused(crank(1, "started"), "outing.starter_rests")
		r.n += int(r.u().Round.Rest/time.Second) - 4
		r.refused(crank(1, "started"), "outing.starter_rests")
		r.n += 3
	}
	r.must(crank(1, "started"))
	if r.u().Round.Tried != 0 {
		t.Error("it runs, and tries are counted still")
	}
	r = newRunner(t, machinetest.Of(t, "zero_turn"))
	r.o.Order = 2
	r.until(atStart)
	r.must(crank(1, "no"))
	r.until(atStart)
	r.must(crank(2, "started"))
}

// TestTriesOfTheStartProcedure are counted from when it last ran.
func TestTriesOfTheStartProcedure(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.follow("shutdown")
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "start"})
	for tries := 0; tries < 4; {
		turn, open := r.u().Live(record.Meta{At: r.now()}).Turn(r.now())
		if !open {
			t.Fatal("the start ended")
		}
		answer := turn.Answers[0]
		if turn.Step.ID == "crank" || turn.Step.ID == "crank_again" {
			answer = "no"
			tries++
		}
		if !turn.Until.IsZero() {
			r.n += int(turn.Until.Sub(r.now()).Seconds()) + 1
		}
		r.must(outing.AnswerStep{Machine: "m", Procedure: "start", Step: turn.Step.ID, Answer: answer})
		if r.u().Tried() != tries || r.u().TriedOut() != (tries == 4) {
			t.Errorf("%d tries are counted as %d", tries, r.u().Tried())
		}
	}
	r.through()
	if r.u().Tried() != 0 {
		t.Error("it runs, and tries are counted still")
	}
}
