package storetest

import (
	"fmt"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
	"vespers/demo"
	"vespers/store"
)

// mend does what a technician does about a defect: tells it, proves the machine again
// with everything in order, and signs.
func mend(t *testing.T, s *store.Store, at *time.Time, id string, c yard.BeginRepair) {
	t.Helper()
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	if end := yard.DayStart(*at, zone).AddDate(0, 0, 1); end.Sub(*at) < 3*time.Hour {
		*at = end.Add(time.Minute) // nobody proves a repair past the end of the day
	}
	done, err := say(s, id, "ruth", c)
	if err != nil {
		t.Fatal(err)
	}
	o := done.Outing
	for n := 0; o != nil && o.Status == outing.Open; n++ {
		*at = outingtest.Wait(o, at.Add(5*time.Second))
		command := outingtest.Next(o, *at)
		if command == nil {
			command = outing.Sign{}
		}
		if done, err = say(s, fmt.Sprintf("%s-%03d", id, n), "ruth", in(o.ID, command)); err != nil {
			t.Fatalf("%T: %v", command, err)
		}
		if _, signed := command.(outing.Sign); signed {
			return
		}
		o = done.Outing
	}
}

// TestWhatWasMendedAndComesBack: a repair is proved and signed, the machine goes out;
// the same fault some outings later has not held, and is one grade worse. Rebuilt, all
// of it is the same.
func TestWhatWasMendedAndComesBack(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	find := func(id string) defect.Finding {
		o := take(t, s, id, "tobias", "verger", "")
		if _, err := say(s, id+"-r", "tobias", in(o.ID, outingtest.Next(o, *at))); err != nil {
			t.Fatal(err)
		}
		done, err := say(s, id+"-f", "tobias", in(o.ID, outingtest.Fault("verger", "air_filter", "cover_loose")))
		if err != nil {
			t.Fatal(err)
		}
		found := done.Outing.Defects()
		if len(found) != 1 {
			t.Fatalf("%+v", found)
		}
		return found[0].Finding
	}
	if f := find("first"); f.Grade != defect.Mend {
		t.Fatalf("%+v", f)
	}
	list, err := s.Defects(ctx, "verger", true)
	if err != nil || len(list) != 1 {
		t.Fatal(list, err)
	}
	id := list[0].ID
	if _, err := say(s, "early", "ruth", yard.BeginRepair{Defects: []string{id}, Cause: "A clip", Work: "New clip"}); refusedBy(err) != "take_out.taken" {
		t.Errorf("mended under somebody's hands: %v", err)
	}
	o, err := s.Machine(ctx, "verger")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "give-up", "tobias", in(o.Outing, outing.End{})); err != nil {
		t.Fatal(err)
	}
	mend(t, s, at, "mend", yard.BeginRepair{Defects: []string{id}, Cause: "A clip", Work: "New clip", Replaced: []string{"air_filter"}})
	d, err := s.Defect(ctx, id)
	if err != nil || d.Open || d.CloserName != "Ruth Akindale" {
		t.Fatalf("%+v %v", d, err)
	}
	*at = at.Add(20 * time.Hour)
	f := find("again")
	if f.Grade != defect.Mend || f.Reasons[0].Rule == "grade.did_not_hold" {
		t.Errorf("what wears stops at a Mend: %s %v", f.Grade, f.Reasons)
	}
	o, _ = s.Machine(ctx, "verger")
	memory, err := s.Memory(ctx, "verger")
	if err != nil || memory.Begun < 2 {
		t.Fatalf("%+v %v", memory, err)
	}
	held, err := s.Outing(ctx, o.Outing)
	if err != nil {
		t.Fatal(err)
	}
	past := held.Units[0].History
	work := past[len(past)-1]
	if work.Work != defect.Replaced || work.Ago != 1 || work.Check != "air_filter" {
		t.Errorf("%+v", past)
	}
	before := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if again := projections(t, s); !equal(before, again) {
		t.Error("a rebuild shows another yard")
	}
}
