package outing_test

import (
	"testing"
	"time"

	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// cleaned shuts a machine down and cleans it, each answer so long after the one before; a
// wait takes as long as it does.
func cleaned(t *testing.T, pace func(step string) time.Duration) map[string]float64 {
	t.Helper()
	r := outUnder(t, "triplex", nil)
	r.follow("shutdown")
	r.must(outing.BeginProcedure{Machine: "m", Procedure: "clean"})
	for {
		c, at, open := outingtest.Step(r.u(), r.now())
		if !open {
			return r.u().Spent()
		}
		answer := c.(outing.AnswerStep)
		if at = at.Add(pace(answer.Step)); at.Sub(r.now()) > 0 {
			r.n = int(at.Sub(morning).Seconds()) - 1
		}
		if err := r.try(c); err != nil { // nobody was at it for too long
			r.must(outing.BeginProcedure{Machine: "m", Procedure: "clean"})
		}
	}
}

// TestHowLongChoresTook: from answer to answer, waits left out; what somebody left and
// came back to tells nothing.
func TestHowLongChoresTook(t *testing.T) {
	if !machinetest.Of(t, "triplex").Sheet.Metered() {
		t.Fatal("another machine now")
	}
	steady := cleaned(t, func(string) time.Duration { return 20 * time.Second })
	air, wash := steady[outing.ChoreAir], steady[outing.ChoreWash]
	if air < 20 || wash < 40 || air > 400 || wash > 400 || len(steady) != 2 {
		t.Errorf("%v: the wait is in it, or a step is not", steady)
	}
	slow := cleaned(t, func(string) time.Duration { return 40 * time.Second })
	if slow[outing.ChoreAir] < air*1.5 || slow[outing.ChoreWash] < wash*1.5 {
		t.Errorf("twice as slow: %v against %v", slow, steady)
	}
	left := false
	away := cleaned(t, func(step string) time.Duration {
		if step == "water_off" && !left {
			left = true
			return 11 * time.Minute
		}
		return 20 * time.Second
	})
	if len(away) != 0 || !left {
		t.Errorf("somebody went away while it dripped: %v", away)
	}
}
