package outing_test

import (
	"slices"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/review"
	"vespers/core/round"
	"vespers/core/text"
)

// TestMovingAgainIsAHalt: what is latched and starts by itself when the control
// goes back fails the round for good.
func TestMovingAgainIsAHalt(t *testing.T) {
	s := machinetest.Of(t, "disc_chipper")
	r := newRunner(t, s)
	r.until(func() bool {
		u := r.u()
		return u.Round.Runs && u.Round.Next() < len(u.Round.Plan.Tests) && u.Round.Plan.Tests[u.Round.Next()].Return
	})
	n := r.u().Round.Next()
	in := r.u().Round.Now()
	if in.Back.Switch != in.Act.Switch || in.Back.Made == in.Act.Made {
		t.Errorf("the control goes back: %+v after %+v", in.Back, in.Act)
	}
	r.must(test(n, round.Again, "1"))
	if v := r.o.Judge(morning); v.Outcome != outing.Halted || !slices.ContainsFunc(v.Halts, func(h text.Reason) bool { return h.Rule == "test.moved_again" }) {
		t.Errorf("verdict %+v", v)
	}
	r.refused(test(n, round.Good, "1"), "outing.failed_stays_failed")
	if r.o.Units[0].Round.Results[n].Slow() {
		t.Error("a latch that starts again is taken for a slow stop")
	}
	logic, _ := interlock.Of(s.Sheet)
	d, err := logic.Diagnose(r.u().Round.Observations())
	if err != nil || !slices.ContainsFunc(d.Suspects, func(names []string) bool { return len(names) == 1 && names[0] == "feed:restarts" }) {
		t.Errorf("suspects %v, %v", d.Suspects, err)
	}
}

// TestWhatTheRoundShowed: a failed refusal leads the search to the switch; a
// slow stop leads nowhere, because its contact did its work.
func TestWhatTheRoundShowed(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.until(r.stage(outing.StageRound))
	r.next()
	r.must(test(0, round.Good))
	r.must(test(1, round.Bad))
	logic, _ := interlock.Of(s.Sheet)
	d, err := logic.Diagnose(r.u().Round.Observations())
	if err != nil || len(r.u().Round.Observations()) != 2 || len(d.Suspects) == 0 || len(d.Suspects[0]) != 1 {
		t.Errorf("%d observations, suspects %v, %v", len(r.u().Round.Observations()), d.Suspects, err)
	}
	if got, test, ok := r.o.Test(r.u().Round.Results[1].Meta.ID); !ok || got != r.u() || test != 1 {
		t.Errorf("the failed test is found as %d, %v", test, ok)
	}
	if len(review.Proofs(r.o)) != 0 {
		t.Error("a failed round proves a machine")
	}

	r = newRunner(t, s)
	r.until(func() bool { return r.u().Round.Runs && r.u().Round.StopWithin(r.u().Round.Next()) > 0 })
	n := r.u().Round.Next()
	r.must(test(n, round.Good, "9"))
	if !r.u().Round.Results[n].Slow() {
		t.Error("nine seconds is not slow")
	}
	times := review.StopTimes(r.o)
	if len(times) != 1 || times[0].Permit != "blades" || times[0].Seconds != 9 || times[0].Within != 5 {
		t.Errorf("stop times %+v", times)
	}
}

// joined begins an outing of the tractor with the boom mower on it, tested in
// one round.
func joined(t *testing.T) *runner {
	t.Helper()
	tractor := outingtest.Machine("t", machinetest.Of(t, "tractor"))
	r := runnerOf(t, outingtest.Begin(t, "ida", outingtest.Machine("b", machinetest.Of(t, "boom_mower")), &tractor))
	if r.o.Unit("t").Joined == nil || r.o.Unit("b").With != "t" || r.o.Main().Machine != "b" {
		t.Fatal("they are not tested in one round")
	}
	return r
}

func TestCarrierAndImplementInOneRound(t *testing.T) {
	r := joined(t)
	tractor := func() *outing.UnitState { return r.o.Unit("t") }
	r.until(func() bool {
		return r.o.Ready() != nil && (len(tractor().Left(machine.Cold)) == 0 || len(r.o.Unit("b").Left(machine.Cold)) == 0)
	})
	// One walk alone does not open the round.
	r.refused(outing.Test{Test: round.Test{Machine: "t", Attempt: 1, Result: round.Good}}, "outing.walk_first")
	r.until(r.stage(outing.StageRound))
	if r.o.At(outing.StageRound) != tractor() {
		t.Fatal("the round is not the tractor's")
	}
	ofBoom := 0
	r.until(func() bool {
		one := tractor().Round
		if n := one.Next(); n < len(one.Results) && one.Plan.Tests[n].Permit == "rotor" {
			ofBoom++
			if one.Step() == round.StepTest && one.Now().Act.Do.EN == "" {
				t.Errorf("test %d has no words for its act", n)
			}
		}
		return r.o.Stage() == outing.StageRunning || r.o.Stage() == outing.StageVerdict
	})
	if ofBoom == 0 {
		t.Error("the boom was not tested")
	}
	if proofs := review.Proofs(r.o); len(proofs) != 2 {
		t.Errorf("proved: %+v", proofs)
	}
}

// TestAFailedRotorIsTheBoomsDefect, and a machine that stands still in its own
// walk-around stops the joined round.
func TestAFailedRotorIsTheBoomsDefect(t *testing.T) {
	for permit, owner := range map[string]string{"rotor": "b", "pto": "t"} {
		t.Run(permit, func(t *testing.T) {
			r := joined(t)
			r.until(func() bool {
				one := r.o.Unit("t").Round
				n := one.Next()
				return one.Runs && n < len(one.Results) && one.Plan.Tests[n].Permit == permit
			})
			n := r.o.Unit("t").Round.Next()
			r.must(outing.Test{Test: round.Test{Machine: "t", Attempt: 1, Test: n, Result: round.Bad}})
			defects := r.o.Defects()
			if len(defects) != 1 || defects[0].Machine != owner || defects[0].Test != n {
				t.Errorf("defects %+v", defects)
			}
			if u, test, ok := r.o.Test(defects[0].ID); !ok || u.Machine != "t" || test != n {
				t.Error("the defect does not lead back to its test")
			}
		})
	}
}
