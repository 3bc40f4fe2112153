package storetest

// What was filled, and in which direction fine turf is mown, as pages read it.

import (
	"strconv"
	"testing"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/store"
)

// TestWhatWasFilledIsKept: a line of the log for each fill, one that is put right in its
// place; the meter, and when it was read; all of it the same after a rebuild.
func TestWhatWasFilledIsKept(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	before, err := s.Yard(ctx)
	if err != nil {
		t.Fatal(err)
	}
	zone, err := time.LoadLocation(before.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	*at = yard.DayStart(*at, zone).AddDate(0, 0, 1).Add(3 * time.Hour) // a whole day lies before
	o := take(t, s, "fuel", "tobias", "verger", "")
	if _, err := say(s, "fuel-ready-1", "tobias", in(o.ID, outingtest.Ready(o))); err != nil {
		t.Fatal(err)
	}
	*at = at.Add(time.Hour)
	known, _ := s.Machine(ctx, "verger")
	for _, c := range []struct{ id, litres, supersedes string }{{"fuel-fill-001", "4", ""}, {"fuel-fill-002", "3", "fuel-fill-001"}, {"fuel-fill-003", "2", ""}} {
		e := store.Entry{ID: c.id, Person: "tobias", Supersedes: c.supersedes}
		if _, err := s.Do(ctx, e, in(o.ID, outing.Fill{Machine: "verger", Litres: c.litres, ToMark: "yes", Hours: strconv.FormatFloat(known.Hours+0.1, 'f', -1, 64)})); err != nil {
			t.Fatal(c.id, err)
		}
	}
	check := func(s *store.Store) {
		t.Helper()
		log, err := s.Fills(ctx, "verger")
		if err != nil || len(log) != 2 || log[0].Litres != 3 || log[1].Litres != 2 || log[0].PersonName != "Tobias Fennimar" || !log[0].ToMark || !log[0].Read {
			t.Errorf("%+v %v", log, err)
		}
		m, _ := s.Machine(ctx, "verger")
		if m.Hours != known.Hours+0.1 || m.HoursAt.Unix() != at.Unix() {
			t.Errorf("the meter stands at %v since %v, %v", m.Hours, m.HoursAt, *at)
		}
	}
	check(s)
	finish(t, s, o.ID, time.Hour, at)
	mown := func() (n int) {
		t.Helper()
		y, err := s.Yard(ctx)
		if err != nil {
			t.Fatal(err)
		}
		return y.Mowing.Days - before.Mowing.Days
	}
	day := mown()
	if day > 1 {
		t.Errorf("one day is %d", day)
	}
	again := take(t, s, "fuel-2", "tobias", "verger", "")
	finish(t, s, again.ID, time.Hour, at)
	if mown() != day {
		t.Error("the same day counts twice")
	}
	*at = at.AddDate(0, 0, 1)
	tomorrow := take(t, s, "fuel-3", "tobias", "verger", "")
	finish(t, s, tomorrow.ID, time.Hour, at)
	if mown() != day+1 {
		t.Errorf("another day, and %d", mown())
	}
	was, _ := plain.Yard(ctx)
	if err := plain.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if is, _ := plain.Yard(ctx); is.Mowing != was.Mowing {
		t.Errorf("rebuilt: %+v, was %+v", is.Mowing, was.Mowing)
	}
	if log, _ := plain.Fills(ctx, "verger"); len(log) != 2 {
		t.Errorf("rebuilt: %+v", log)
	}
}
