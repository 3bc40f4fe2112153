package yard_test

import (
	"testing"
	"time"

	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// TestEachDayAcrossTheOneBefore: the line turns by at least an eighth from one day that
// is mown to the next, the pass along the edge changes its way, and the day is one
// however often it is mown.
func TestEachDayAcrossTheOneBefore(t *testing.T) {
	day := time.Date(2026, 5, 4, 4, 0, 0, 0, time.UTC)
	var m yard.Mowing
	before, _ := m.On(day)
	seen := map[string]bool{before.ID: true}
	for n := 1; n <= 8; n++ {
		m = yard.Mowing{Days: n, Last: day}
		if again, ok := m.On(day); !ok || again != before {
			t.Errorf("day %d: mown along %v, and now %v", n, before, again)
		}
		if _, ok := m.On(day.AddDate(0, 0, -1)); ok {
			t.Error("nobody knows of an older day")
		}
		day = day.AddDate(0, 0, 1+n%3)
		next, ok := m.On(day)
		apart := (next.Degrees - before.Degrees + 180) % 180
		if !ok || apart < 45 || apart > 135 || next.Clockwise == before.Clockwise {
			t.Errorf("day %d: %v after %v", n, next, before)
		}
		before, seen[next.ID] = next, true
	}
	if _, ok := m.On(time.Time{}); ok || len(seen) != 4 {
		t.Errorf("%v", seen)
	}
}

// TestWhatMowsFineTurf: what cuts turf and was let out for it.
func TestWhatMowsFineTurf(t *testing.T) {
	released := func(family string, change func(*outing.Outing)) *outing.Outing {
		of := machinetest.Of(t, family)
		o := outingtest.Begin(t, "ida", outingtest.Machine("m", of), nil)
		o.Until = outingtest.Morning.Add(20 * time.Hour)
		v := outing.Verdict{Cleared: []outing.ClearedUse{{Use: "slope"}, {Use: "fine_turf"}}}
		o.Verdict = &v
		if change != nil {
			change(o)
		}
		return o
	}
	for name, c := range map[string]struct {
		o    *outing.Outing
		mows bool
	}{
		"a rider":       {released("zero_turn", nil), true},
		"a chipper":     {released("disc_chipper", nil), false},
		"not let out":   {released("zero_turn", func(o *outing.Outing) { o.Verdict = nil }), false},
		"not for turf":  {released("zero_turn", func(o *outing.Outing) { o.Verdict.Cleared = o.Verdict.Cleared[:1] }), false},
		"of no one day": {released("zero_turn", func(o *outing.Outing) { o.Until = time.Time{} }), false},
	} {
		if got := yard.MowsFineTurf(c.o); got != c.mows {
			t.Errorf("%s: %v", name, got)
		}
	}
}
