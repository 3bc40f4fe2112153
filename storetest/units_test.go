package storetest

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/text"
	"vespers/core/yard"
	"vespers/store"
)

// finish answers everything in order, releases, and brings the machines home.
func finish(t *testing.T, s *store.Store, id string, out time.Duration, at *time.Time) {
	t.Helper()
	o, answer := release(t, s, id, at)
	*at = at.Add(out)
	for o.Status != outing.Closed {
		var c outing.Command
		c, *at = outingtest.Home(o, *at)
		o = answer(c)
	}
}

// release answers everything in order and releases; answer goes on from there.
func release(t *testing.T, s *store.Store, id string, at *time.Time) (o *outing.Outing, answer func(outing.Command) *outing.Outing) {
	t.Helper()
	n := 0
	answer = func(c outing.Command) *outing.Outing {
		t.Helper()
		n++
		done, err := say(s, fmt.Sprintf("%s-%03d", id, n), "tobias", in(id, c))
		if err != nil {
			t.Fatalf("%T: %v", c, err)
		}
		return done.Outing
	}
	o, err := s.Outing(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	for c := outingtest.Next(o, *at); c != nil; c = outingtest.Next(o, *at) {
		*at = outingtest.Wait(o, *at)
		o = answer(c)
	}
	return answer(outing.Release{}), answer
}

// later is the yard by a clock that the test moves.
func later(s *store.Store) (*store.Store, *time.Time) {
	at := time.Now().Add(time.Hour)
	return s.WithClock(func() time.Time { return at }), &at
}

func known(t *testing.T, s *store.Store, person string) operator.Readiness {
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
	for carrier, want := range map[string]text.Rule{"": "take_out.needs_carrier", "crozier": "take_out.needs_carrier", "verger": "take_out.needs_carrier", "nothing": "yard.no_such_machine"} {
		t.Run(carrier, func(t *testing.T) {
			if _, err := say(s, "with-"+carrier, "tobias", yard.TakeOut{Machine: "crozier", Carrier: carrier, Both: true}); refusedBy(err) != want {
				t.Errorf("carried by %q: %v, want %v", carrier, err, want)
			}
		})
	}
	o := take(t, s, "with-tractor", "tobias", "crozier", "archdeacon")
	if len(o.Units) != 2 || o.Main().Machine != "crozier" {
		t.Fatalf("%d machines", len(o.Units))
	}
	if _, err := say(s, "tractor-too", "ines", yard.TakeOut{Machine: "archdeacon", Both: true}); refusedBy(err) != "take_out.taken" {
		t.Errorf("the carrier was taken out as well: %v", err)
	}
	finish(t, s, o.ID, time.Hour, at)
	for _, id := range []string{"crozier", "archdeacon"} {
		m, err := s.Machine(ctx, id)
		if err != nil || m.Outing != "" || !m.Worked.Equal(at.Truncate(time.Millisecond)) {
			t.Errorf("%s after coming home: in %q, worked %v (now %v), %v", id, m.Outing, m.Worked, *at, err)
		}
		past, err := s.Past(ctx, id, 5)
		if err != nil || len(past) == 0 || past[0].ID != o.ID {
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
	*at = time.Date(at.Year(), at.Month(), at.Day()+1, 20, 0, 0, 0, time.UTC) // an evening, whenever the test is run
	out := func(id string) *outing.UnitState {
		t.Helper()
		return take(t, s, id, "tobias", "verger", "").Units[0]
	}
	if u := out("first"); u.Worked != nil || len(u.Before) == 0 {
		t.Errorf("looked at by a technician and never out: %v, %d readings", u.Worked, len(u.Before))
	}
	if _, err := say(s, "first-end", "tobias", in("o-first", outing.End{})); err != nil {
		t.Fatal(err)
	}
	if u := out("second"); u.Worked != nil {
		t.Errorf("never out: %v", u.Worked)
	}
	// It works into the small hours: a new day begins at four, with the oil warm.
	*at = time.Date(at.Year(), at.Month(), at.Day()+1, 2, 10, 0, 0, time.UTC)
	finish(t, s, "o-second", 2*time.Hour, at)
	*at = at.Add(5 * time.Minute)
	u := out("third")
	if u.Worked == nil {
		t.Fatal("it worked for two hours, and nobody knows")
	}
	oil, _ := u.Sheet.Check("drive_oil")
	// From when it was set off, a few steps before it was home.
	if due := u.CoolAt(oil).Sub(*at); due > 15*time.Minute || due < 14*time.Minute+45*time.Second {
		t.Errorf("oil is looked at in %v", due)
	}
	left := u.Left(machine.Cold)
	if last := left[len(left)-1]; last.ID != "drive_oil" {
		t.Errorf("what must be cold comes last; last is %s", last.ID)
	}
	if b := u.ReadBefore("hour_meter", "hours"); b == nil || b.Value.Typed == "" {
		t.Errorf("the hours read last time: %+v", b)
	}
	if _, err := say(s, "give-up", "tobias", in("o-third", outing.End{})); err != nil {
		t.Fatal(err)
	}
	*at = at.Add(12 * time.Hour)
	if u := out("fourth"); u.Worked != nil {
		t.Error("still warm the next morning")
	}
}

func TestThePersonsRecord(t *testing.T) {
	s, _ := wrenfield(t)
	before := known(t, s, "jonah")
	if before.Born == nil || before.Born.Year() != 2009 || len(before.Qualifications) != 0 {
		t.Fatalf("%+v", before)
	}
	until := time.Now().AddDate(1, 0, 0).Format(time.DateOnly)
	for range 2 { // the same id twice is one record
		if _, err := say(s, "licence-1", "maren", yard.SawShown{Person: "jonah", Kind: operator.Licence, Until: until}); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := say(s, "born-1", "maren", yard.SawBorn{Person: "jonah", Born: "2007-04-21", Was: "2009-04-21"}); err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "born-2", "maren", yard.SawBorn{Person: "jonah", Born: "2001-04-21", Was: "2009-04-21"}); refusedBy(err) != "vouch.changed_meanwhile" {
		t.Errorf("a page that was older than the record: %v", err)
	}
	after := known(t, s, "jonah")
	if len(after.Qualifications) != 1 || after.Qualifications[0].Until.Format(time.DateOnly) != until || after.Born.Year() != 2007 {
		t.Errorf("%+v", after)
	}
	if _, err := say(s, "back-1", "maren", yard.Withdraw{Person: "jonah", Record: "licence-1", Why: "the licence was his brother's"}); err != nil {
		t.Fatal(err)
	}
	if after := known(t, s, "jonah"); len(after.Qualifications) != 0 {
		t.Errorf("what was taken back still counts: %+v", after)
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
	give := func(key string, c outing.Command) (store.Done, error) { return say(s, key, "ines", in(id, c)) }
	if _, err := give("n-ready", fit); err != nil {
		t.Fatal(err)
	}
	done, err := give("n-found", outingtest.Fault("verger", "castors", "grease"))
	if err != nil {
		t.Fatal(err)
	}
	found := done.Record
	noted := func(n inspect.Noted) outing.Command { return outing.Note{Noted: n} }
	if _, err := give("n-noted", noted(inspect.Noted{Machine: "verger", Check: "castors", Finding: found.ID, Photo: one})); err != nil {
		t.Fatal(err)
	}
	for name, bad := range map[string]inspect.Noted{
		"nothing in it":        {Machine: "verger", Check: "castors", Finding: found.ID},
		"of another finding":   {Machine: "verger", Check: "castors", Finding: "other", Note: "x"},
		"of a sound point":     {Machine: "verger", Check: "seat_belt", Finding: found.ID, Note: "x"},
		"of another machine":   {Machine: "sexton", Check: "castors", Finding: found.ID, Note: "x"},
		"of a point not there": {Machine: "verger", Check: "moon", Finding: found.ID, Note: "x"},
		"that is too long":     {Machine: "verger", Check: "castors", Finding: found.ID, Note: strings.Repeat("ñ", 501)},
		"with a broken letter": {Machine: "verger", Check: "castors", Finding: found.ID, Note: "a\xff"},
	} {
		t.Run(name, func(t *testing.T) {
			if _, err := give("n-bad-"+name[:4]+name[len(name)-4:], noted(bad)); refusedBy(err) == "" {
				t.Errorf("a note %s: %v", name, err)
			}
		})
	}
	if _, err := give("n-long", noted(inspect.Noted{Machine: "verger", Check: "castors", Finding: found.ID, Note: strings.Repeat("ñ", 500)})); err != nil {
		t.Errorf("a long note is cut or refused: %v", err)
	}
	o, err := s.Outing(ctx, id)
	if err != nil || len(o.Units[0].Notes(found.ID)) != 2 || o.Units[0].Notes(found.ID)[0].Photo != one {
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
	give := func(s *store.Store, key string, c outing.Command) error {
		_, err := say(s, key, "ines", in(id, c))
		return err
	}
	if err := give(s, "r-ready", fit); err != nil {
		t.Fatal(err)
	}
	sound := func(check string) outing.Command { return outingtest.Sound("verger", check) }
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
		t.Run(name, func(t *testing.T) {
			o, err := yard.Outing(ctx, id)
			if err != nil || len(o.Units[0].Given("seat_belt", "")) != 1 || len(o.Units[0].Given("roll_bar", "")) != 1 {
				t.Errorf("%s: belt %d, bar %d, %v", name, len(o.Units[0].Given("seat_belt", "")), len(o.Units[0].Given("roll_bar", "")), err)
			}
		})
	}
	if len(held.Units[0].Given("seat_belt", "")) != 0 {
		t.Error("an outing that was handed out changed afterwards")
	}
}
