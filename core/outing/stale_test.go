package outing_test

import (
	"testing"
	"time"

	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// TestYesterdaysLookSaysNothingToday: an outing that was not released by the end
// of its day takes no more answers and is not released; it can be given up. One
// that is out stays so.
func TestYesterdaysLookSaysNothingToday(t *testing.T) {
	four := time.Date(2026, 11, 25, 4, 0, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		at   time.Time
		over bool
	}{"the last minute": {four.Add(-time.Minute), false}, "four in the morning": {four, true}, "a month later": {four.AddDate(0, 1, 0), true}} {
		t.Run(name, func(t *testing.T) {
			r := newRunner(t, machinetest.All(t)[0])
			r.until(r.stage(outing.StageVerdict))
			v := r.o.Judge(c.at)
			if (v.Outcome == outing.Clear) == c.over || c.over && v.Missing[0].Reason.Rule != "outing.day_is_over" {
				t.Errorf("%s: %+v", v.Outcome, v.Missing)
			}
			if err := r.tryAt(c.at, outing.Release{}); (err == nil) == c.over {
				t.Errorf("released: %v", err)
			}
			if c.over {
				if err := r.tryAt(c.at, outingtest.Fault("m", "seat_belt", "buckle")); err == nil {
					t.Error("another answer was taken")
				}
			} else if v := r.o.Judge(c.at.AddDate(0, 0, 3)); v.Outcome != outing.Clear {
				t.Errorf("out, and three days later %s", v.Outcome)
			}
			for at := c.at; r.o.Status != outing.Closed; at = at.Add(time.Second) {
				var next outing.Command
				next, at = outingtest.Home(r.o, at)
				if err := r.tryAt(at, next); err != nil {
					t.Fatalf("it cannot be ended: %T %v", next, err)
				}
			}
		})
	}
}
