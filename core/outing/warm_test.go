package outing_test

import (
	"errors"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/walk"
	"vespers/demo"
)

// TestEveryMachineStartedWarm: of each sheet, what has to be cold comes last and
// waits, with the time; everything else goes on; once it has cooled the walk ends
// as on any morning.
func TestEveryMachineStartedWarm(t *testing.T) {
	waited := 0
	for _, s := range sheets(t) {
		worked := morning.Add(-5 * time.Minute)
		cold := begin(t, s)
		unit := cold.Units[0].Unit
		unit.Worked = &worked
		unit.Route = walk.Route(s.Sheet, walk.Options{Hot: true, Minutes: 5})
		o, err := outing.Begin("o", outing.Meta{ID: "start", By: "ida", At: morning}, outing.Started{Operator: "ida", House: cold.House, Units: []outing.Unit{unit}},
			func(string) (*machine.Sheet, error) { return s.Sheet, nil })
		if err != nil {
			t.Fatal(err)
		}
		at, n := morning, 0
		take := func(e outing.Event) error {
			n++
			meta := outing.Meta{ID: s.Sheet.ID + string(rune('a'+n)), By: "ida", At: at}
			if err := o.Accept(meta, e); err != nil {
				return err
			}
			o.Apply(meta, e)
			return nil
		}
		var refused *outing.Refused
		for o.Stage() == outing.StepReady || o.Stage() == outing.StepWalk {
			if err := take(demo.Next(o, ready(s))); errors.As(err, &refused) {
				break
			} else if err != nil {
				t.Fatal(s.Sheet.ID, err)
			}
		}
		u := o.Units[0]
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
		if refused == nil || refused.Reason.Rule != outing.RuleHot {
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
		at = morning.Add(10 * time.Hour)
		for o.Stage() != "verdict" {
			if err := take(demo.Next(o, ready(s))); err != nil {
				t.Fatal(s.Sheet.ID, err)
			}
		}
		if v := o.Judge(at); v.Outcome != outing.Clear {
			t.Errorf("%s, cooled: %+v", s.Sheet.ID, v.Missing)
		}
	}
	if waited < 4 {
		t.Errorf("only %d sheets have anything to wait for", waited)
	}
}
