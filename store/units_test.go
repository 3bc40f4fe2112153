package store_test

import (
	"errors"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/demo"
	"vespers/store"
)

// finish answers everything in order, releases, and brings the machines home.
func finish(t *testing.T, s *store.Store, id string, who operator.Readiness, out time.Duration, at *time.Time) {
	t.Helper()
	n := 0
	answer := func(e outing.Event) {
		t.Helper()
		n++
		if _, _, err := s.Answer(ctx, id, store.Entry{ID: id + "-" + string(rune('a'+n/26)) + string(rune('a'+n%26)), Person: "tobias"}, fixed(e)); err != nil {
			t.Fatalf("%s: %v", e.Kind(), err)
		}
	}
	for {
		o, err := s.Outing(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		e := demo.Next(o, who)
		if e == nil {
			v := o.Judge(*at)
			if v.Outcome != outing.Clear {
				t.Fatalf("not clear: %+v %+v", v.Halts, v.Missing)
			}
			answer(outing.Released{Verdict: v})
			break
		}
		answer(e)
	}
	*at = at.Add(out)
	answer(outing.Ended{How: outing.EndHome})
}

// later is the yard by a clock that the test moves.
func later(s *store.Store) (*store.Store, *time.Time) {
	at := time.Now().Add(time.Hour)
	return s.WithClock(func() time.Time { return at }), &at
}

func record(t *testing.T, s *store.Store, person string) operator.Readiness {
	t.Helper()
	p, err := s.Person(ctx, person)
	if err != nil {
		t.Fatal(err)
	}
	return p.Readiness()
}

func TestAnImplementGoesOutWithItsCarrier(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	for carrier, want := range map[string]error{"": store.ErrNeedsCarrier, "crozier": store.ErrNeedsCarrier, "verger": store.ErrNeedsCarrier, "nothing": store.ErrNotFound} {
		if _, err := s.StartOuting(ctx, store.Entry{ID: "with-" + carrier, Person: "tobias"}, "o-x"+carrier, "crozier", carrier); !errors.Is(err, want) {
			t.Errorf("carried by %q: %v, want %v", carrier, err, want)
		}
	}
	if _, err := s.StartOuting(ctx, store.Entry{ID: "with-tractor", Person: "tobias"}, "o-boom", "crozier", "archdeacon"); err != nil {
		t.Fatal(err)
	}
	o, err := s.Outing(ctx, "o-boom")
	if err != nil || len(o.Units) != 2 || o.Main().Machine != "crozier" {
		t.Fatalf("%d machines, %v", len(o.Units), err)
	}
	var taken *store.Taken
	if _, err := s.StartOuting(ctx, store.Entry{ID: "tractor-too", Person: "ines"}, "o-tractor", "archdeacon", ""); !errors.As(err, &taken) || taken.Operator != "tobias" {
		t.Errorf("the carrier was taken out as well: %v", err)
	}
	finish(t, s, "o-boom", record(t, s, "tobias"), time.Hour, at)
	for _, id := range []string{"crozier", "archdeacon"} {
		m, err := s.Machine(ctx, id)
		if err != nil || m.Outing != "" || !m.Worked.Equal(at.Truncate(time.Millisecond)) {
			t.Errorf("%s after coming home: in %q, worked %v (now %v), %v", id, m.Outing, m.Worked, *at, err)
		}
		past, err := s.Past(ctx, id, 5)
		if err != nil || len(past) != 1 || past[0].ID != "o-boom" {
			t.Errorf("past of %s: %+v, %v", id, past, err)
		}
	}
	before := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if after := projections(t, s); !equal(before, after) {
		t.Error("a rebuild shows another yard")
	}
}

func TestWarmth(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	take := func(id string) *outing.UnitState {
		t.Helper()
		if _, err := s.StartOuting(ctx, store.Entry{ID: "take-" + id, Person: "tobias"}, id, "verger", ""); err != nil {
			t.Fatal(err)
		}
		o, err := s.Outing(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		return o.Units[0]
	}
	who := record(t, s, "tobias")
	if u := take("o-first"); u.Worked != nil || u.Before != nil {
		t.Errorf("never out, and yet: %v, %d readings", u.Worked, len(u.Before))
	}
	finish(t, s, "o-first", who, 30*time.Second, at)
	if u := take("o-second"); u.Worked != nil || len(u.Before) == 0 {
		t.Errorf("moved across the yard only: %v, %d readings of last time", u.Worked, len(u.Before))
	}
	finish(t, s, "o-second", who, 2*time.Hour, at)
	*at = at.Add(5 * time.Minute)
	u := take("o-third")
	if u.Worked == nil {
		t.Fatal("it worked for two hours, and nobody knows")
	}
	oil, _ := u.Sheet.Check("drive_oil")
	if due := u.CoolAt(oil).Sub(*at).Round(time.Second); due != 15*time.Minute {
		t.Errorf("oil is looked at in %v", due)
	}
	left := u.Left(machine.Cold)
	if last := left[len(left)-1]; last.ID != "drive_oil" {
		t.Errorf("what must be cold comes last; last is %s", last.ID)
	}
	if b := u.ReadBefore("hour_meter", "hours"); b == nil || b.Value.Typed == "" {
		t.Errorf("the hours read last time: %+v", b)
	}
	if _, _, err := s.Answer(ctx, "o-third", store.Entry{ID: "give-up", Person: "tobias"}, fixed(outing.Ended{How: outing.EndGivenUp})); err != nil {
		t.Fatal(err)
	}
	*at = at.Add(12 * time.Hour)
	if u := take("o-fourth"); u.Worked != nil {
		t.Error("still warm the next morning")
	}
}

func TestThePersonsRecord(t *testing.T) {
	s, _ := wrenfield(t)
	before := record(t, s, "jonah")
	if before.Born == nil || before.Born.Year() != 2009 || len(before.Qualifications) != 0 {
		t.Fatalf("%+v", before)
	}
	until := time.Now().AddDate(1, 0, 0).Truncate(time.Second)
	q := operator.Qualification{Kind: operator.Licence, On: time.Now().Truncate(time.Second), Until: &until, By: "maren"}
	for range 2 { // the same id twice is one record
		if err := s.Record(ctx, store.Entry{ID: "licence-1", Person: "maren"}, store.QualificationRecorded{Person: "jonah", Qualification: q}); err != nil {
			t.Fatal(err)
		}
	}
	if err := s.Record(ctx, store.Entry{ID: "born-1", Person: "maren"}, store.BornRecorded{Person: "jonah", Born: "2007-04-21"}); err != nil {
		t.Fatal(err)
	}
	after := record(t, s, "jonah")
	if len(after.Qualifications) != 1 || !after.Qualifications[0].Until.Equal(until) || after.Born.Year() != 2007 {
		t.Errorf("%+v", after)
	}
	shown := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if !equal(shown, projections(t, s)) {
		t.Error("a rebuild shows another record")
	}
}

func TestPhotosAreKeptOnce(t *testing.T) {
	s, _ := wrenfield(t)
	one, err := s.AddPhoto(ctx, []byte("a picture"))
	if err != nil {
		t.Fatal(err)
	}
	if again, err := s.AddPhoto(ctx, []byte("a picture")); err != nil || again != one {
		t.Errorf("the same picture is %s and %s, %v", one, again, err)
	}
	if body, err := s.Photo(ctx, one); err != nil || string(body) != "a picture" {
		t.Errorf("%q, %v", body, err)
	}
	if _, err := s.Photo(ctx, "none"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a picture that is not there: %v", err)
	}
	id := start(t, s, "verger")
	give := func(key string, e outing.Event) (store.Record, error) {
		r, _, err := s.Answer(ctx, id, store.Entry{ID: key, Person: "ines"}, fixed(e))
		return r, err
	}
	if _, err := give("n-ready", outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}); err != nil {
		t.Fatal(err)
	}
	found, err := give("n-found", outing.Answered{Machine: "verger", Check: "tyre_condition", Answer: outing.AnswerFault, Fault: "worn"})
	if err != nil {
		t.Fatal(err)
	}
	noted := outing.Noted{Machine: "verger", Check: "tyre_condition", Finding: found.ID, Photo: one}
	if _, err := give("n-noted", noted); err != nil {
		t.Fatal(err)
	}
	for name, bad := range map[string]outing.Noted{
		"nothing in it":        {Machine: "verger", Check: "tyre_condition", Finding: found.ID},
		"of another finding":   {Machine: "verger", Check: "tyre_condition", Finding: "other", Note: "x"},
		"of a sound point":     {Machine: "verger", Check: "seat_belt", Finding: found.ID, Note: "x"},
		"of another machine":   {Machine: "sexton", Check: "tyre_condition", Finding: found.ID, Note: "x"},
		"of a point not there": {Machine: "verger", Check: "moon", Finding: found.ID, Note: "x"},
	} {
		var refused *outing.Refused
		if _, err := give("n-bad-"+name[:4]+name[len(name)-4:], bad); !errors.As(err, &refused) {
			t.Errorf("a note %s: %v", name, err)
		}
	}
	o, err := s.Outing(ctx, id)
	if err != nil || len(o.Units[0].Notes(found.ID)) != 1 || o.Units[0].Notes(found.ID)[0].Photo != one {
		t.Errorf("notes: %+v, %v", o.Units[0].Notes(found.ID), err)
	}
}

// TestMineAndTheRest: the band over every page and the day's own page speak of
// the same outings.
func TestMineAndTheRest(t *testing.T) {
	s, _ := wrenfield(t)
	since := time.Now().Add(-6 * time.Hour)
	all, err := s.Today(ctx, since)
	if err != nil {
		t.Fatal(err)
	}
	for _, who := range []string{"tobias", "ines", "lucia", "maren"} {
		mine, n, err := s.TodayOf(ctx, since, who)
		if err != nil || n != len(all) {
			t.Errorf("%s: %d outings, the day has %d, %v", who, n, len(all), err)
		}
		for _, o := range all {
			want := o.Operator == who || o.Status == outing.Open && o.Outcome == outing.Halted
			if got := slices.ContainsFunc(mine, func(m store.OutingRow) bool { return m.ID == o.ID }); got != want {
				t.Errorf("%s, outing of %s: %v, want %v", who, o.MachineName, got, want)
			}
		}
	}
}

// TestWhatIsRememberedIsWhatIsRecorded: an answer refused or repeated leaves the
// remembered outing as the records say.
func TestWhatIsRememberedIsWhatIsRecorded(t *testing.T) {
	s, path := wrenfield(t)
	id := start(t, s, "verger")
	give := func(s *store.Store, key string, e outing.Event) error {
		_, _, err := s.Answer(ctx, id, store.Entry{ID: key, Person: "ines", Request: []byte(e.Kind())}, fixed(e))
		return err
	}
	if err := give(s, "r-ready", outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}); err != nil {
		t.Fatal(err)
	}
	sound := func(check string) outing.Answered {
		return outing.Answered{Machine: "verger", Check: check, Answer: outing.AnswerSound}
	}
	held, err := s.Outing(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if give(s, "r-belt", sound("seat_belt")) != nil || give(s, "r-belt", sound("seat_belt")) != nil {
		t.Fatal("the same answer twice")
	}
	if give(s, "r-belt-2", sound("seat_belt")) == nil {
		t.Fatal("answered twice under two ids")
	}
	other := open(t, path) // another process on the same file
	if err := give(other, "r-bar", sound("roll_bar")); err != nil {
		t.Fatal(err)
	}
	for name, yard := range map[string]*store.Store{"here": s, "there": other} {
		o, err := yard.Outing(ctx, id)
		if err != nil || len(o.Units[0].Given("seat_belt", "")) != 1 || len(o.Units[0].Given("roll_bar", "")) != 1 {
			t.Errorf("%s: belt %d, bar %d, %v", name, len(o.Units[0].Given("seat_belt", "")), len(o.Units[0].Given("roll_bar", "")), err)
		}
	}
	if len(held.Units[0].Given("seat_belt", "")) != 0 {
		t.Error("an outing that was handed out changed afterwards")
	}
}
