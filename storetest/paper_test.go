package storetest

import (
	"testing"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/demo"
)

// TestAPaperInTheBook: what was found on it stands against the machine from when it was
// written; it has not been looked at later for it, and was never out; rebuilt, all of it
// is the same.
func TestAPaperInTheBook(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	before, err := s.Machine(ctx, "ostiary")
	if err != nil {
		t.Fatal(err)
	}
	written := at.Add(-90 * time.Minute).In(zone).Truncate(time.Minute)
	done, err := say(s, "paper", "tobias", yard.CopyPaper{Code: yard.PaperCode("ostiary", before.Sheet), Day: written.Format("2006-01-02"), Time: written.Format("15:04")})
	if err != nil {
		t.Fatal(err)
	}
	o := done.Outing
	if _, err := say(s, "paper-fault", "tobias", in(o.ID, outingtest.Fault("ostiary", "chute", "spring"))); err != nil {
		t.Fatal(err)
	}
	for _, l := range o.Units[0].PaperLines() {
		if l.Check != nil && o.Units[0].IsMeter(l.Check.ID) {
			hours := outingtest.Typed("ostiary", l.Check.ID, &l.Check.Readings[0], before.Hours)
			if _, err := say(s, "paper-hours", "tobias", in(o.ID, outing.Answer{Answer: hours})); err != nil && before.HoursAt.Before(written) {
				t.Fatal(err)
			}
		}
	}
	until := at.Add(-30 * time.Minute).In(zone).Truncate(time.Minute)
	if _, err := say(s, "paper-end", "tobias", in(o.ID, outing.FinishPaper{Out: "yes", Until: until.Format("15:04")})); err != nil {
		t.Fatal(err)
	}
	defects, err := s.Defects(ctx, "ostiary", true)
	if err != nil || len(defects) == 0 {
		t.Fatal(len(defects), err)
	}
	found := defects[len(defects)-1]
	for _, d := range defects {
		if d.Point == "chute" {
			found = d
		}
	}
	if !found.FoundAt.Equal(written) || found.FoundBy != "tobias" {
		t.Errorf("found by %s at %v, written at %v", found.FoundBy, found.FoundAt, written)
	}
	after, err := s.Machine(ctx, "ostiary")
	if err != nil || after.Outing != "" || !after.Worked.Equal(until) && !after.Worked.Equal(before.Worked) || after.Worked.Before(until) || after.Stood != nil {
		t.Errorf("worked %v, in %q, left %v (%v)", after.Worked, after.Outing, after.Stood, err)
	}
	view, _ := s.View(ctx)
	for point, seen := range view.Past("ostiary").Looked {
		if seen.At.After(written) {
			t.Errorf("%s was looked at %v", point, seen.At)
		}
	}
	old := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if again := projections(t, s); !equal(old, again) {
		t.Error("a rebuild shows another yard")
	}
	whole(t, s)
}
