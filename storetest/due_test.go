package storetest

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/store"
)

// dueOn is how the points of a machine stand that are for others than its
// operator.
func dueOn(t *testing.T, s *store.Store, id string, now time.Time) map[string]inspect.Due {
	t.Helper()
	view, check := s.View(ctx)
	m, ok := view.Machine(id)
	if !ok {
		t.Fatal("no machine", id)
	}
	out := map[string]inspect.Due{}
	for _, d := range yard.DueOn(view, m, now) {
		out[d.Check.ID] = d.State
	}
	if err := check(); err != nil {
		t.Fatal(err)
	}
	return out
}

// TestWhatIsDueIsLookedAtAndComesAgain: a technician takes a machine out and is
// asked; then nothing is due until the meter has gone on; a repair asks for what
// must be looked at after one, and so do the first hours after yesterday's. The
// records alone tell the same.
func TestWhatIsDueIsLookedAtAndComesAgain(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	before := dueOn(t, s, "ostiary", *at)
	if before["blade_width"] != inspect.DueNow || before["spindles"] != inspect.DueNow {
		t.Fatalf("never looked at, and not due: %v", before)
	}
	o := take(t, s, "service", "ruth", "ostiary", "")
	for n := 0; o.Stage() == outing.StageReady || o.Stage() == outing.StageWalk; n++ {
		done, err := say(s, fmt.Sprintf("service-%03d", n), "ruth", in(o.ID, outingtest.Next(o, *at)))
		if err != nil {
			t.Fatal(err)
		}
		o = done.Outing
	}
	if !o.Units[0].Asks("blade_width") {
		t.Fatal("the technician was not asked")
	}
	if _, err := say(s, "service-end", "ruth", in(o.ID, outing.End{})); err != nil {
		t.Fatal(err)
	}
	if after := dueOn(t, s, "ostiary", *at); len(after) > 0 {
		t.Errorf("looked at, and still due: %v", after)
	}
	// Looked at in the same day: nobody is asked again for what is daily.
	second := take(t, s, "second", "tobias", "ostiary", "")
	for _, stop := range second.Units[0].Route {
		if c := second.Units[0].Check(stop.ID); c != nil && c.Every != nil && c.Phase != machine.Running {
			t.Errorf("%s is asked for again", c.ID)
		}
	}
	if second.Units[0].Asks("seat_belt") != true || len(second.Units[0].Left(machine.Cold)) == 0 {
		t.Error("what is looked at every time is not asked for")
	}
	if _, err := say(s, "second-end", "tobias", in(second.ID, outing.End{})); err != nil {
		t.Fatal(err)
	}
	m, err := s.Machine(ctx, "ostiary")
	if err != nil {
		t.Fatal(err)
	}
	hours := func(more float64) string { return fmt.Sprintf("%.1f", m.Hours+more) }
	if _, err := say(s, "meter-1", "maren", yard.SetMeter{Machine: "ostiary", Hours: hours(25), Reason: "read on the terrace"}); err != nil {
		t.Fatal(err)
	}
	if due := dueOn(t, s, "ostiary", *at); due["blade_width"] != inspect.Overdue || due["belt_tension"] != inspect.DueNow || due["spindles"] != "" {
		t.Errorf("after 25 hours: %v", due)
	}
	if _, err := say(s, "meter-2", "maren", yard.SetMeter{Machine: "ostiary", Hours: "3", Reason: "new meter", Exchanged: true}); err != nil {
		t.Fatal(err)
	}
	if due := dueOn(t, s, "ostiary", *at); due["blade_width"] != inspect.Overdue || due["spindles"] != "" {
		t.Errorf("a new meter: %v", due)
	}
	third := take(t, s, "third", "tobias", "ostiary", "")
	if !slices.Contains(third.Units[0].Overdue, "blade_width") {
		t.Error("overdue, and the operator is not kept in")
	}
	if done, err := say(s, "third-ready", "tobias", in(third.ID, outingtest.Next(third, *at))); err != nil {
		t.Fatal(err)
	} else {
		third = done.Outing
	}
	if _, err := say(s, "third-fault", "tobias", in(third.ID, outingtest.Fault("ostiary", "chute", "spring"))); err != nil {
		t.Fatal(err)
	}
	defects, err := s.Defects(ctx, "ostiary", true)
	if err != nil || len(defects) != 1 {
		t.Fatal(len(defects), err)
	}
	*at = at.Add(time.Hour)
	mend(t, s, at, "repair", yard.BeginRepair{Defects: []string{defects[0].ID}, Cause: "eye broken", Work: "new spring"})
	if due := dueOn(t, s, "ostiary", *at); due["blade_torque"] != inspect.DueNow || due["belt_tension"] != inspect.DueNow || due["battery_voltage"] != "" {
		t.Errorf("after a repair: %v", due)
	}
	old := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if again := projections(t, s); !equal(old, again) {
		t.Error("a rebuild shows another yard")
	}
}
