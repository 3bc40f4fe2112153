package outing_test

// The start of a round by the start procedure.

import (
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/round"
)

func startsBySteps(r *runner) func() bool {
	return func() bool { return r.o.StartsRound(r.u()) }
}

// TestTheRoundIsStartedAsAnyOther: every machine with an engine, by the questions of its
// start procedure; what the controls of the round say is not asked again, and the belt
// that is off for it not asked for.
func TestTheRoundIsStartedAsAnyOther(t *testing.T) {
	for _, of := range alone(t) {
		if !of.Sheet.HasEngine() {
			continue
		}
		t.Run(of.Sheet.ID, func(t *testing.T) {
			r := newRunner(t, of)
			r.until(startsBySteps(r))
			r.refused(crank(r.u().Round.Attempt, "started"), "outing.start_by_procedure")
			r.refused(outing.BeginProcedure{Machine: "m", Procedure: "work"}, "procedure.round_runs")
			asked := r.follow("start")
			for _, never := range []string{"belt", "belt_on", "brake_set", "brake_on", "neutral", "cutter_off", "brooms_off", "clutch_out"} {
				if slices.Contains(asked, never) && tellsOf(of.Sheet, never) {
					t.Errorf("%s is asked, and the round knows it", never)
				}
			}
			for _, always := range []string{"clear_of_fuel", "look_round"} {
				if !slices.Contains(asked, always) {
					t.Errorf("%s is not asked: %v", always, asked)
				}
			}
			if rd := r.u().Round; !rd.Runs || rd.Step() == round.StepStart {
				t.Fatalf("it runs, and the round is at %s", rd.Step())
			}
			if _, cold := r.u().Round.Warming(r.now()); cold {
				t.Error("warmed up by its procedure, and the round waits again")
			}
			r.until(r.stage(outing.StageVerdict))
			r.must(outing.Release{})
			if stands := r.u().Live(record.Meta{At: r.now()}).Stands(); stands["engine"] != "running" {
				t.Errorf("released with its engine %s", stands["engine"])
			}
		})
	}
}

// tellsOf reports whether a control of the round says what a step would make.
func tellsOf(s *machine.Sheet, step string) bool {
	facts := machine.Facts{}
	for _, sw := range s.Interlock.Switches {
		for fact, is := range sw.Makes {
			facts[fact] = is
		}
	}
	for _, p := range s.Procedures {
		for _, st := range p.Steps {
			if p.ID != "start" || st.ID != step {
				continue
			}
			for fact, is := range st.Makes {
				if facts[fact] != is {
					return false
				}
			}
			return true
		}
	}
	return false
}

// TestATryIsTheRounds: no is a crank that did not start it; that it would not crank ends
// the procedure and makes the refusals void.
func TestATryIsTheRounds(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.until(startsBySteps(r))
	begin := func() {
		r.must(outing.BeginProcedure{Machine: "m", Procedure: "start"})
		for {
			turn, _ := r.u().Live(record.Meta{At: r.now()}).Turn(r.now())
			if turn.Step.ID == "crank" {
				return
			}
			r.must(outing.AnswerStep{Machine: "m", Procedure: "start", Step: turn.Step.ID, Answer: turn.Answers[0]})
		}
	}
	begin()
	r.must(outing.AnswerStep{Machine: "m", Procedure: "start", Step: "crank", Answer: "no"})
	if rd := r.u().Round; rd.Tried != 1 || !rd.Started || rd.Runs || rd.Attempt != 1 || r.u().Tried() != 1 {
		t.Errorf("it cranked: %+v", rd.Tried)
	}
	// Left in the middle it is begun again, and the round waits for it.
	r.must(outing.LeaveProcedure{Machine: "m", Procedure: "start"})
	if !r.o.StartsRound(r.u()) {
		t.Error("the round goes on without its engine")
	}
	begin()
	r.must(crank(1, "no"))
	if rd := r.u().Round; !rd.WouldNotCrank || rd.Attempt != 2 || rd.Step() != round.StepBegin || r.open() {
		t.Errorf("void, attempt %d at %s, open %v", rd.Attempt, rd.Step(), r.open())
	}
	r.until(r.stage(outing.StageVerdict))
	if v := r.o.Judge(r.now()); v.Outcome != outing.Clear {
		t.Errorf("%+v", v)
	}
	if n := len(r.u().Round.History); n <= len(r.u().Round.Results) {
		t.Errorf("%d results are kept", n)
	}
}

// TestOlderOutingsAreStartedByAWord: an outing that began before goes on as it began.
func TestOlderOutingsAreStartedByAWord(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.o.Order = 2
	r.until(func() bool { return r.o.Stage() == outing.StageRound && r.u().Round.NeedsCrank() })
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "start"}, "procedure.round_runs")
	r.must(crank(1, "started"))
	if !r.u().Round.Runs {
		t.Error("it does not run")
	}
}
