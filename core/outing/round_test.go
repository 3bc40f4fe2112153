package outing_test

import (
	"slices"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/walk"
	"vespers/demo"
)

// TestMovingAgainIsAHalt: what is latched and starts by itself when the control
// goes back fails the round for good.
func TestMovingAgainIsAHalt(t *testing.T) {
	s := sheetOf(t, "tracked_trencher")
	r := &runner{t: t, o: begin(t, s)}
	u := r.o.Units[0]
	r.until(ready(s), func() bool {
		return u.Round.Runs && u.Round.Next() < len(u.Round.Plan.Tests) && u.Round.Plan.Tests[u.Round.Next()].Return
	})
	n := u.Round.Next()
	in := u.Instruction(n)
	if in.Back.Switch != in.Act.Switch || in.Back.Made == in.Act.Made {
		t.Errorf("the control goes back: %+v after %+v", in.Back, in.Act)
	}
	took := 1.0
	r.must(outing.Tested{Machine: "m", Attempt: 1, Test: n, Before: true, Restarted: true, Seconds: &took})
	if v := r.o.Judge(morning); v.Outcome != outing.Halted || !slices.ContainsFunc(v.Halts, func(h text.Reason) bool { return h.Rule == "test.moved_again" }) {
		t.Errorf("verdict %+v", v)
	}
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: n, Before: true, Seconds: &took}, "outing.failed_stays_failed")
	if r.o.Units[0].Round.Results[n].Slow() {
		t.Error("a latch that starts again is taken for a slow stop")
	}
	logic, _ := interlock.Compile(s.Sheet.Interlock)
	d, err := logic.Diagnose(u.Observations())
	if err != nil || !slices.ContainsFunc(d.Suspects, func(names []string) bool { return len(names) == 1 && names[0] == "chain:restarts" }) {
		t.Errorf("suspects %v, %v", d.Suspects, err)
	}
}

// TestWhatTheRoundShowed: a failed refusal leads the search to the switch; a
// slow stop leads nowhere, because its contact did its work.
func TestWhatTheRoundShowed(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	u := r.o.Units[0]
	r.until(ready(s), r.stage(outing.StepRound))
	r.must(outing.Tested{Machine: "m", Attempt: 1, Test: 0})
	r.must(outing.Tested{Machine: "m", Attempt: 1, Test: 1, After: true})
	logic, _ := interlock.Compile(s.Sheet.Interlock)
	d, err := logic.Diagnose(u.Observations())
	if err != nil || len(u.Observations()) != 2 || len(d.Suspects) == 0 || len(d.Suspects[0]) != 1 {
		t.Errorf("%d observations, suspects %v, %v", len(u.Observations()), d.Suspects, err)
	}
	if got, test, ok := r.o.Test(u.Round.Results[1].Meta.ID); !ok || got != u || test != 1 {
		t.Errorf("the failed test is found as %d, %v", test, ok)
	}
	if len(r.o.Proofs()) != 0 {
		t.Error("a failed round proves a machine")
	}

	r = &runner{t: t, o: begin(t, s)}
	u = r.o.Units[0]
	r.until(ready(s), func() bool { return u.Round.Runs && u.StopWithin(u.Round.Next()) > 0 })
	n, took := u.Round.Next(), 9.0
	r.must(outing.Tested{Machine: "m", Attempt: 1, Test: n, Before: true, Seconds: &took})
	if !u.Round.Results[n].Slow() {
		t.Error("nine seconds is not slow")
	}
	times := r.o.StopTimes()
	if len(times) != 1 || times[0].Permit != "blades" || times[0].Seconds != 9 || times[0].Within != 5 {
		t.Errorf("stop times %+v", times)
	}
}

// joined begins an outing of the tractor with the boom mower on it, tested in
// one round.
func joined(t *testing.T) (*runner, *outing.UnitState, *outing.UnitState) {
	t.Helper()
	tractor, boom := sheetOf(t, "tractor"), sheetOf(t, "boom_mower")
	section, ok := interlock.Join(tractor.Sheet.Interlock, boom.Sheet.Interlock, boom.Sheet.Carrier.Drives)
	if !ok {
		t.Fatal("they cannot be joined")
	}
	logic, _ := interlock.Compile(section)
	first, second, _ := walk.Joined(tractor.Sheet, boom.Sheet, walk.Options{}, walk.Options{})
	started := outing.Started{Operator: "ida", Units: []outing.Unit{
		{Machine: "b", Name: "Boom", Sheet: boom.Hash, Route: second, Round: interlock.NoTests(), With: "t"},
		{Machine: "t", Name: "Tractor", Sheet: tractor.Hash, Hours: 50, Route: first, Round: logic.Plan(), Joined: &section},
	}}
	o, err := outing.Begin("o", outing.Meta{ID: "start", By: "ida", At: morning}, started, func(hash string) (*machine.Sheet, error) {
		if hash == boom.Hash {
			return boom.Sheet, nil
		}
		return tractor.Sheet, nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return &runner{t: t, o: o}, o.Unit("t"), o.Unit("b")
}

func TestCarrierAndImplementInOneRound(t *testing.T) {
	r, tractor, boom := joined(t)
	who := ready(sheetOf(t, "tractor"))
	r.until(who, func() bool { return len(tractor.Left(machine.Cold)) == 0 || len(boom.Left(machine.Cold)) == 0 })
	// One walk alone does not open the round.
	r.refused(outing.Tested{Machine: "t", Attempt: 1, Test: 0}, "outing.walk_first")
	r.until(who, r.stage(outing.StepRound))
	if r.o.At(outing.StepRound) != tractor {
		t.Fatal("the round is not the tractor's")
	}
	ofBoom := 0
	r.until(who, func() bool {
		if n := tractor.Round.Next(); n < len(tractor.Round.Results) && tractor.Round.Plan.Tests[n].Permit == "rotor" {
			ofBoom++
			in := tractor.Instruction(n)
			if in.Act.Do.EN == "" {
				t.Errorf("test %d has no words for its act", n)
			}
		}
		return r.o.Stage() == outing.StepRunning || r.o.Stage() == "verdict"
	})
	if ofBoom == 0 {
		t.Error("the boom was not tested")
	}
	if proofs := r.o.Proofs(); len(proofs) != 2 {
		t.Errorf("proved: %+v", proofs)
	}
}

// TestAFailedRotorIsTheBoomsDefect, and a machine that stands still in its own
// walk-around stops the joined round.
func TestAFailedRotorIsTheBoomsDefect(t *testing.T) {
	r, tractor, boom := joined(t)
	who := ready(sheetOf(t, "tractor"))
	next := func(permit string) func() bool {
		return func() bool {
			n := tractor.Round.Next()
			return tractor.Round.Runs && n < len(tractor.Round.Results) && tractor.Round.Plan.Tests[n].Permit == permit
		}
	}
	r.until(who, next("rotor"))
	n := tractor.Round.Next()
	r.must(outing.Tested{Machine: "t", Attempt: 1, Test: n, Before: true, After: true})
	defects := r.o.Defects()
	if len(defects) != 1 || defects[0].Machine != boom.Machine || defects[0].Test != n {
		t.Errorf("defects %+v", defects)
	}
	if u, test, ok := r.o.Test(defects[0].ID); !ok || u != tractor || test != n {
		t.Error("the defect does not lead back to its test")
	}

	r, tractor, _ = joined(t)
	r.until(who, next("pto"))
	n = tractor.Round.Next()
	r.must(outing.Tested{Machine: "t", Attempt: 1, Test: n, Before: true, After: true})
	if defects := r.o.Defects(); len(defects) != 1 || defects[0].Machine != "t" {
		t.Errorf("a failed shaft: %+v", defects)
	}
}

// TestWordsLeadThroughEveryRound follows the instructions of every sheet with
// nothing but the controls they name, and finds the controls as each test wants
// them.
func TestWordsLeadThroughEveryRound(t *testing.T) {
	for _, s := range sheets(t) {
		r := &runner{t: t, o: begin(t, s)}
		u := r.o.Units[0]
		logic, _ := interlock.Compile(s.Sheet.Interlock)
		at := map[string]bool{}
		if !logic.None {
			at = logic.Positions(logic.Rest)
		}
		move := func(changes []outing.Change) {
			for _, c := range changes {
				if at[c.Switch] == c.Made {
					t.Errorf("%s: %s is moved to where it stands", s.Sheet.ID, c.Switch)
				}
				at[c.Switch] = c.Made
			}
		}
		matches := func(want map[string]bool) bool {
			for id, made := range want {
				if at[id] != made {
					return false
				}
			}
			return true
		}
		r.until(ready(s), r.stage(outing.StepRound))
		for r.o.Stage() == outing.StepRound {
			if u.Round.NeedsCrank() {
				in := u.StartInstruction()
				move(in.Set)
				if !matches(in.At) {
					t.Errorf("%s: the engine is started with the controls at %v", s.Sheet.ID, at)
				}
			} else {
				n := u.Round.Next()
				in := u.Instruction(n)
				move(in.Restart)
				move(in.Set)
				if in.Was != nil {
					if !matches(in.Was) {
						t.Errorf("%s test %d: before the act the controls stand at %v, want %v", s.Sheet.ID, n+1, at, in.Was)
					}
					move([]outing.Change{in.Act})
				}
				if !matches(in.At) {
					t.Errorf("%s test %d: controls at %v, want %v", s.Sheet.ID, n+1, at, in.At)
				}
				if u.Round.Plan.Tests[n].Return {
					move([]outing.Change{in.Back})
				}
			}
			r.must(demo.Next(r.o, ready(s)))
		}
	}
}
