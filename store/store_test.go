package store_test

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"sync"
	"testing"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/demo"
	"vespers/store"
)

var ctx = context.Background()

// filled is the demo yard as bytes, made once.
var filled = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "vespers")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	s, err := store.Open(ctx, filepath.Join(dir, "yard"))
	if err != nil {
		return nil, err
	}
	defer s.Close()
	sheets, err := catalogue.All()
	if err != nil {
		return nil, err
	}
	for _, r := range sheets {
		if err := s.AddSheet(ctx, r); err != nil {
			return nil, err
		}
	}
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		return nil, err
	}
	if err := s.Backup(ctx, filepath.Join(dir, "copy")); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, "copy"))
})

// wrenfield opens the demo yard in a new file.
func wrenfield(t *testing.T) (*store.Store, string) {
	t.Helper()
	data, err := filled()
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(t.TempDir(), "yard.vespers")
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
	return open(t, path), path
}

func open(t *testing.T, path string) *store.Store {
	t.Helper()
	s, err := store.Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func start(t *testing.T, s *store.Store, machine string) string {
	t.Helper()
	id := "o-" + machine
	if _, err := s.StartOuting(ctx, store.Entry{ID: "start-" + machine, Person: "ines"}, id, machine, ""); err != nil {
		t.Fatal(err)
	}
	return id
}

func fixed(e outing.Event) func(*outing.Outing, time.Time) (outing.Event, error) {
	return func(*outing.Outing, time.Time) (outing.Event, error) { return e, nil }
}

// projections is everything that pages show of a yard.
func projections(t *testing.T, s *store.Store) any {
	t.Helper()
	var all []any
	add := func(v any, err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
		all = append(all, v)
	}
	machines, err := s.Machines(ctx)
	add(machines, err)
	people, err := s.People(ctx)
	add(people, err)
	yard, err := s.Yard(ctx)
	add(yard, err)
	today, err := s.Today(ctx, time.Time{}.AddDate(1990, 0, 0))
	add(today, err)
	for _, m := range machines {
		d, err := s.Defects(ctx, m.ID, false)
		add(d, err)
		for _, one := range d {
			trials, err := s.Trials(ctx, one.ID)
			add(trials, err)
		}
	}
	proofs, err := s.Proofs(ctx)
	add(proofs, err)
	var ids []string
	for _, m := range machines {
		ids = append(ids, m.ID)
	}
	times, err := s.StopTimes(ctx, ids...)
	add(times, err)
	patterns, err := s.Patterns(ctx, time.Time{}, 1000)
	add(patterns, err)
	return all
}

func TestRebuildFindsTheSame(t *testing.T) {
	s, _ := wrenfield(t)
	before := projections(t, s)
	if err := s.Rebuild(ctx); err != nil {
		t.Fatal(err)
	}
	if after := projections(t, s); !reflect.DeepEqual(before, after) {
		t.Errorf("projections differ from the records:\n%+v\n%+v", before, after)
	}
	if n, err := s.Verify(ctx); err != nil || n < 200 {
		t.Errorf("chain of %d records: %v", n, err)
	}
}

func TestSameIDTwice(t *testing.T) {
	s, _ := wrenfield(t)
	id := start(t, s, "verger")
	e := store.Entry{ID: "answer-0001", Person: "ines", Request: []byte("fit=yes")}
	ready := outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}
	first, _, err := s.Answer(ctx, id, e, fixed(ready))
	if err != nil {
		t.Fatal(err)
	}
	again, _, err := s.Answer(ctx, id, e, fixed(ready))
	if err != nil || again.Seq != first.Seq {
		t.Errorf("the same answer again: record %d, %v; want %d", again.Seq, err, first.Seq)
	}
	e.Request = []byte("fit=no")
	var conflict *store.Conflict
	if _, _, err := s.Answer(ctx, id, e, fixed(ready)); !errors.As(err, &conflict) || conflict.Earlier.Seq != first.Seq {
		t.Errorf("the same id with another answer: %v", err)
	}
}

func TestHaltStaysIn(t *testing.T) {
	s, _ := wrenfield(t)
	var halt *store.OnHalt
	for _, who := range []string{"maren", "ines", "ruth"} {
		_, err := s.StartOuting(ctx, store.Entry{ID: "take-" + who, Person: who}, "o-"+who, "beadle", "")
		if !errors.As(err, &halt) || halt.Defects[0].FinderName != "Tobias Fennimar" {
			t.Fatalf("%s took out a machine on Halt: %v", who, err)
		}
	}
	if err := s.CloseDefect(ctx, store.Entry{ID: "close-1", Person: "ruth"}, store.DefectClosed{Defect: halt.Defects[0].ID, Cause: "switch taped", Work: "new switch"}); err != nil {
		t.Fatal(err)
	}
	start(t, s, "beadle")
	var taken *store.Taken
	if _, err := s.StartOuting(ctx, store.Entry{ID: "second", Person: "tobias"}, "o-2", "beadle", ""); !errors.As(err, &taken) || taken.Operator != "ines" {
		t.Errorf("taken out twice: %v", err)
	}
}

func TestClosingAHaltEndsItsOuting(t *testing.T) {
	s, _ := wrenfield(t)
	id := start(t, s, "verger")
	answer := func(key string, e outing.Event) {
		t.Helper()
		if _, _, err := s.Answer(ctx, id, store.Entry{ID: key, Person: "ines"}, fixed(e)); err != nil {
			t.Fatal(err)
		}
	}
	answer("a-ready", outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}})
	answer("a-belt", outing.Answered{Machine: "verger", Check: "seat_belt", Answer: outing.AnswerFault, Fault: "buckle"})
	d, err := s.Defects(ctx, "verger", true)
	if err != nil || len(d) != 1 || d[0].Grade != defect.Halt {
		t.Fatalf("defects %+v, %v", d, err)
	}
	if err := s.CloseDefect(ctx, store.Entry{ID: "close-belt", Person: "ruth"}, store.DefectClosed{Defect: d[0].ID, Cause: "worn", Work: "new belt"}); err != nil {
		t.Fatal(err)
	}
	m, err := s.Machine(ctx, "verger")
	if err != nil || m.Outing != "" || m.Grade != defect.Sound {
		t.Errorf("machine after the repair: %+v, %v", m, err)
	}
	before := projections(t, s)
	if err := s.Rebuild(ctx); err != nil || !reflect.DeepEqual(before, projections(t, s)) {
		t.Errorf("rebuild after a repair: %v", err)
	}
}

func TestSheetEditedBetweenOutings(t *testing.T) {
	s, _ := wrenfield(t)
	id := start(t, s, "verger")
	o, err := s.Outing(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	edited := *o.Units[0].Sheet
	edited.Edition = "2027-1"
	edited.Checks = edited.Checks[:5]
	r, err := catalogue.Resolve(&edited)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.AddSheet(ctx, r); err != nil {
		t.Fatal(err)
	}
	if err := s.Record(ctx, store.Entry{ID: "adopt", Person: "maren"}, store.SheetAdopted{Machine: "verger", Sheet: r.Hash}); err != nil {
		t.Fatal(err)
	}
	if o, err := s.Outing(ctx, id); err != nil || len(o.Units[0].Sheet.Checks) == 5 {
		t.Errorf("the outing under way changed its sheet: %v", err)
	}
	if _, _, err := s.Answer(ctx, id, store.Entry{ID: "end", Person: "ines"}, fixed(outing.Ended{How: outing.EndGivenUp})); err != nil {
		t.Fatal(err)
	}
	if _, err := s.StartOuting(ctx, store.Entry{ID: "next", Person: "ines"}, "o-next", "verger", ""); err != nil {
		t.Fatal(err)
	}
	if o, err := s.Outing(ctx, "o-next"); err != nil || len(o.Units[0].Sheet.Checks) != 5 {
		t.Errorf("the next outing has the old sheet: %v", err)
	}
}

func TestClock(t *testing.T) {
	s, _ := wrenfield(t)
	now := time.Now().Add(time.Minute)
	watched := s.WithClock(func() time.Time { return now })
	set := func(id string) store.Record {
		t.Helper()
		if err := watched.Record(ctx, store.Entry{ID: id, Person: "ines"}, store.PersonSet{ID: "ines", Language: text.Spanish, Units: "metric", Theme: "auto"}); err != nil {
			t.Fatal(err)
		}
		r, err := s.Newest(ctx)
		if err != nil {
			t.Fatal(err)
		}
		return r
	}
	first := set("clock-1")
	now = now.Add(-time.Hour)
	if back := set("clock-2"); back.Clock != "clamped" || back.At.Before(first.At) {
		t.Errorf("a clock that jumps back: %q, %v before %v", back.Clock, back.At, first.At)
	}
	if _, err := s.Verify(ctx); err != nil {
		t.Error(err)
	}
}

func TestTwoProcessesOnOneFile(t *testing.T) {
	s, path := wrenfield(t)
	other := open(t, path)
	var wait sync.WaitGroup
	errs := make(chan error, 200)
	for i, each := range []*store.Store{s, other} {
		wait.Add(1)
		go func() {
			defer wait.Done()
			for n := range 40 {
				errs <- each.Record(ctx, store.Entry{ID: fmt.Sprintf("both-%d-%d", i, n), Person: "ines"}, store.PersonSet{ID: "ines", Language: text.Spanish, Units: "metric", Theme: "auto"})
			}
		}()
	}
	wait.Wait()
	close(errs)
	for err := range errs {
		if err != nil {
			t.Fatal(err)
		}
	}
	if _, err := s.Verify(ctx); err != nil {
		t.Error(err)
	}
}

func TestRecordsAreNeverChanged(t *testing.T) {
	s, _ := wrenfield(t)
	for _, change := range []string{"UPDATE record SET person='x' WHERE seq=3", "DELETE FROM record WHERE seq=3"} {
		if _, err := s.Sessions().ExecContext(ctx, change); err == nil {
			t.Errorf("%s went through", change)
		}
	}
	if _, err := s.Sessions().ExecContext(ctx, "DROP TRIGGER record_never_changes"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Sessions().ExecContext(ctx, "UPDATE record SET person='x' WHERE seq=3"); err != nil {
		t.Fatal(err)
	}
	if n, err := s.Verify(ctx); err == nil || n != 3 {
		t.Errorf("a forged record was found at %d: %v", n, err)
	}
}

func TestBackupWhileRunning(t *testing.T) {
	s, path := wrenfield(t)
	to := filepath.Join(filepath.Dir(path), "backup")
	if err := s.Backup(ctx, to); err != nil {
		t.Fatal(err)
	}
	if err := s.Backup(ctx, to); err == nil {
		t.Error("a backup overwrote another")
	}
	if b := open(t, to); !reflect.DeepEqual(projections(t, s), projections(t, b)) {
		t.Error("the backup is another yard")
	}
}

func TestFullDisk(t *testing.T) {
	s, _ := wrenfield(t)
	if err := s.LimitPages(ctx, 1); err != nil {
		t.Fatal(err)
	}
	var err error
	for n := 0; err == nil && n < 2000; n++ {
		err = s.Record(ctx, store.Entry{ID: fmt.Sprintf("fill-%d", n), Person: "ines"}, store.PersonSet{ID: "ines", Language: text.Spanish, Units: "metric", Theme: "auto"})
	}
	if !errors.Is(err, store.ErrFull) {
		t.Fatalf("a full disk says %v", err)
	}
	if _, err := s.Verify(ctx); err != nil {
		t.Error(err)
	}
	if err := s.LimitPages(ctx, 1<<30); err != nil {
		t.Fatal(err)
	}
	if err := s.Record(ctx, store.Entry{ID: "after", Person: "ines"}, store.PersonSet{ID: "ines", Language: text.Spanish, Units: "metric", Theme: "auto"}); err != nil {
		t.Errorf("after room was made: %v", err)
	}
}

func TestPINs(t *testing.T) {
	s, _ := wrenfield(t)
	now := time.Now()
	s = s.WithClock(func() time.Time { return now })
	if right, err := s.CheckPIN(ctx, "ines", "2608"); !right || err != nil {
		t.Fatalf("right PIN: %v, %v", right, err)
	}
	var paused *store.Paused
	for i, want := range []bool{false, false, true, true} {
		right, err := s.CheckPIN(ctx, "ines", "0000")
		if right || errors.As(err, &paused) != want {
			t.Errorf("wrong PIN %d: %v, %v", i+1, right, err)
		}
	}
	if right, err := s.CheckPIN(ctx, "ines", "2608"); right || !errors.As(err, &paused) {
		t.Errorf("right PIN in the pause: %v, %v", right, err)
	}
	first := paused.Until.Sub(now)
	now = paused.Until.Add(time.Second)
	if _, err := s.CheckPIN(ctx, "ines", "0000"); !errors.As(err, &paused) || paused.Until.Sub(now) <= first {
		t.Errorf("the pause does not grow: %v", err)
	}
	now = paused.Until.Add(time.Second)
	if right, err := s.CheckPIN(ctx, "ines", "2608"); !right || err != nil {
		t.Errorf("right PIN after the pause: %v, %v", right, err)
	}
	for _, bad := range []string{"", "123", "123456789", "12a4", "１２３４"} {
		if err := s.SetPIN(ctx, store.Entry{ID: "pin-" + bad, Person: "maren"}, "ines", bad); !errors.Is(err, store.ErrPIN) {
			t.Errorf("PIN %q: %v", bad, err)
		}
	}
}

func TestDayBeginsAtFour(t *testing.T) {
	y := store.Yard{Timezone: "America/Bogota"}
	at := func(day, hour int) time.Time { return time.Date(2026, 11, day, hour, 0, 0, 0, y.Location()) }
	for _, test := range []struct{ t, want time.Time }{{at(24, 3), at(23, 4)}, {at(24, 4), at(24, 4)}, {at(24, 23), at(24, 4)}} {
		if got := y.DayStart(test.t.UTC()); !got.Equal(test.want) {
			t.Errorf("%v belongs to %v, want %v", test.t, got, test.want)
		}
	}
}
