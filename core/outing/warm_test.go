package outing_test

import (
	"errors"
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/walk"
)

// TestEveryMachineStartedWarm: of each sheet, what has to be cold comes last and
// waits, with the time; everything else goes on; once it has cooled the walk ends
// as on any morning.
func TestEveryMachineStartedWarm(t *testing.T) {
	waited := 0
	for _, s := range machinetest.All(t) {
		worked := morning.Add(-5 * time.Minute)
		warm := outingtest.Machine("m", s)
		warm.Worked = worked
		r := runnerOf(t, outingtest.Begin(t, "ida", warm, nil))
		var refused *record.Refused
		for r.o.Stage() == outing.StageReady || r.o.Stage() == outing.StageWalk {
			if err := r.tryAt(morning, outingtest.Next(r.o, morning)); errors.As(err, &refused) {
				break
			} else if err != nil {
				t.Fatal(s.Sheet.ID, err)
			}
		}
		u := r.u()
		asksForCold := 0
		for i := range s.Sheet.Checks {
			if s.Sheet.Checks[i].Cool > 5 {
				asksForCold++
			}
		}
		if asksForCold == 0 {
			if refused != nil {
				t.Errorf("%s: %s, though nothing has to be cold", s.Sheet.ID, refused.Reason.Rule)
			}
			continue
		}
		if refused == nil || refused.Reason.Rule != inspect.RuleHot {
			t.Errorf("%s: %v; want a wait", s.Sheet.ID, refused)
			continue
		}
		waited++
		// What is left has to cool, or comes after something that has to.
		for _, stop := range u.Left(machine.Cold) {
			c, ok := s.Sheet.Check(stop.ID)
			if stop.Do == walk.Check && ok && c.Cool == 0 && len(c.After) == 0 {
				t.Errorf("%s: %s could be looked at while the machine cools", s.Sheet.ID, c.ID)
			}
		}
		at := morning.Add(10 * time.Hour)
		for r.o.Stage() != outing.StageVerdict {
			at = outingtest.Wait(r.o, at)
			if err := r.tryAt(at, outingtest.Next(r.o, at)); err != nil {
				t.Fatal(s.Sheet.ID, err)
			}
		}
		if v := r.o.Judge(at); v.Outcome != outing.Clear {
			t.Errorf("%s, cooled: %+v", s.Sheet.ID, v.Missing)
		}
	}
	if waited < 4 {
		t.Errorf("only %d sheets have anything to wait for", waited)
	}
}
