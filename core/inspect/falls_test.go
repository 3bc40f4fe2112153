package inspect

import (
	"testing"
	"time"

	"vespers/core/machine"
)

// TestFallsAgreesWithDue: a point is overdue from the moment on that the calendar says,
// and not before, whatever its interval.
func TestFallsAgreesWithDue(t *testing.T) {
	added := time.Date(2026, 3, 1, 4, 0, 0, 0, time.UTC)
	for _, every := range []machine.Interval{{Days: 1}, {Days: 7}, {Days: 30}, {Months: 1}, {Months: 12}, {Days: 400, Months: 6}, {Days: 3, Months: 1}} {
		c := &machine.Check{ID: "c", Every: &every}
		for _, last := range []time.Time{added, added.Add(-time.Minute), added.Add(9 * time.Hour), added.AddDate(0, 0, 12).Add(23 * time.Hour), added.AddDate(0, 0, 13).Add(-time.Millisecond)} {
			for _, looked := range []bool{true, false} {
				past := func(now time.Time) Past {
					p := Past{Added: Seen{At: last}, Looked: map[string]Seen{}}
					if looked {
						p.Looked["c"] = Seen{At: last}
					}
					p.Today = time.Date(now.Year(), now.Month(), now.Day(), 4, 0, 0, 0, time.UTC)
					if p.Today.After(now) {
						p.Today = p.Today.AddDate(0, 0, -1)
					}
					return p
				}
				at, ok := past(last.Add(time.Hour)).Falls(c)
				if !ok {
					t.Fatalf("%+v never falls due", every)
				}
				for _, now := range []time.Time{at, at.Add(time.Hour)} {
					if got := past(now).Due(c, 0, now); got != Overdue {
						t.Errorf("%+v, last %s: falls due %s, and is %s at %s", every, last, at, got, now)
					}
				}
				before := at.Add(-time.Second)
				if got := past(before).Due(c, 0, before); got == Overdue {
					t.Errorf("%+v, last %s: falls due %s, and is overdue before", every, last, at)
				}
				if again, _ := past(at.AddDate(0, 0, 3)).Falls(c); !again.Equal(at) {
					t.Errorf("%+v: seen later it falls due %s, not %s", every, again, at)
				}
			}
		}
	}
	for _, every := range []*machine.Interval{nil, {Hours: 50}} {
		if _, ok := (Past{}).Falls(&machine.Check{ID: "c", Every: every}); ok {
			t.Errorf("%+v falls due on a date", every)
		}
	}
}
