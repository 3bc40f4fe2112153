package storetest

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
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/yard"
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
	if _, err := s.Backup(ctx, filepath.Join(dir, "copy")); err != nil {
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

// say lets somebody say something under an id.
func say(s *store.Store, id, who string, c yard.Command) (store.Done, error) {
	return s.Do(ctx, store.Entry{ID: id, Person: who}, c)
}

// in is something said in an outing.
func in(outingID string, c outing.Command) yard.Command {
	return yard.InOuting{Outing: outingID, Command: c}
}

// take takes a machine out under an id, and gives its outing.
func take(t *testing.T, s *store.Store, id, who, machine, carrier string) *outing.Outing {
	t.Helper()
	done, err := say(s, id, who, yard.TakeOut{Machine: machine, Carrier: carrier, Both: true})
	if err != nil {
		t.Fatal(err)
	}
	return done.Outing
}

func start(t *testing.T, s *store.Store, machine string) string {
	t.Helper()
	return take(t, s, "start-"+machine, "ines", machine, "").ID
}

// refusedBy is the rule that refused something, or "".
func refusedBy(err error) text.Rule {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return refused.Reason.Rule
	}
	return ""
}

// fit is the answer to "Ready?" of somebody with nothing on.
var fit = outing.Ready{Fit: "yes", Options: map[string]machine.Chosen{"verger": chute, "sexton": chute, "ostiary": chute, "almoner": chute, "precentor": chute, "cantor": chute, "thurifer": chute, "beadle": chute}}

var chute = machine.Chosen{"discharge": "chute"}

// own are settings that somebody may choose.
var own = yard.SetOwn{Language: "es", Units: "metric", Theme: "auto"}

// whole fails the test where anything in the yard's file is not as it was
// written.
func whole(t *testing.T, s *store.Store) store.Report {
	t.Helper()
	r, err := s.Verify(ctx)
	if err != nil || len(r.Problems) > 0 {
		t.Errorf("%v: %v", err, r.Problems)
	}
	return r
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
	if r := whole(t, s); r.Records < 200 {
		t.Errorf("chain of %d records", r.Records)
	}
}

func TestSameIDTwice(t *testing.T) {
	s, _ := wrenfield(t)
	id := start(t, s, "verger")
	first, err := say(s, "answer-0001", "ines", in(id, fit))
	if err != nil {
		t.Fatal(err)
	}
	again, err := say(s, "answer-0001", "ines", in(id, fit))
	if err != nil || again.Record.Seq != first.Record.Seq {
		t.Errorf("the same answer again: record %d, %v; want %d", again.Record.Seq, err, first.Record.Seq)
	}
	var conflict *store.Conflict
	if _, err := say(s, "answer-0001", "ines", in(id, outing.Ready{Fit: "no"})); !errors.As(err, &conflict) || conflict.Earlier.Seq != first.Record.Seq {
		t.Errorf("the same id with another answer: %v", err)
	}
	if _, err := say(s, "answer-0001", "tobias", in(id, fit)); !errors.As(err, &conflict) {
		t.Errorf("the same id by somebody else: %v", err)
	}
}

func TestHaltStaysIn(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	for _, who := range []string{"maren", "ines", "ruth"} {
		var refused *record.Refused
		if _, err := say(s, "take-"+who, who, yard.TakeOut{Machine: "beadle", Both: true}); !errors.As(err, &refused) || refused.Reason.Rule != "take_out.on_halt" || refused.Reason.Args[0].Plain != "Tobias Fennimar" {
			t.Fatalf("%s took out a machine on Halt: %v %+v", who, err, refused)
		}
	}
	d, err := s.Defects(ctx, "beadle", true)
	if err != nil {
		t.Fatal(err)
	}
	mend(t, s, at, "close-1", yard.BeginRepair{Defects: []string{d[0].ID}, Cause: "switch taped", Work: "new switch"})
	start(t, s, "beadle")
	if _, err := say(s, "second", "tobias", yard.TakeOut{Machine: "beadle", Both: true}); refusedBy(err) != "take_out.taken" {
		t.Errorf("taken out twice: %v", err)
	}
}

func TestClosingAHaltEndsItsOuting(t *testing.T) {
	s, _ := wrenfield(t)
	s, at := later(s)
	id := start(t, s, "verger")
	if _, err := say(s, "a-ready", "ines", in(id, fit)); err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "a-belt", "ines", in(id, outingtest.Fault("verger", "seat_belt", "buckle"))); err != nil {
		t.Fatal(err)
	}
	d, err := s.Defects(ctx, "verger", true)
	if err != nil || len(d) != 1 || d[0].Finding.Grade != defect.Halt {
		t.Fatalf("defects %+v, %v", d, err)
	}
	mend(t, s, at, "close-belt", yard.BeginRepair{Defects: []string{d[0].ID}, Cause: "worn", Work: "new belt"})
	m, err := s.Machine(ctx, "verger")
	if err != nil || m.Outing != "" || m.Grade != defect.Sound {
		t.Errorf("machine after the repair: %+v, %v", m, err)
	}
	if o, err := s.Outing(ctx, id); err != nil || o.Status != outing.Closed {
		t.Errorf("the outing that found it is %s, %v", o.Status, err)
	}
	if _, err := say(s, "close-again", "ruth", yard.BeginRepair{Defects: []string{d[0].ID}, Cause: "worn", Work: "new belt"}); refusedBy(err) != "defect.closed_already" {
		t.Errorf("closed twice: %v", err)
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
	if _, err := say(s, "adopt", "maren", yard.AdoptSheet{Machine: "verger", Sheet: r.Hash}); err != nil {
		t.Fatal(err)
	}
	if o, err := s.Outing(ctx, id); err != nil || len(o.Units[0].Sheet.Checks) == 5 {
		t.Errorf("the outing under way changed its sheet: %v", err)
	}
	if _, err := say(s, "end", "ines", in(id, outing.End{})); err != nil {
		t.Fatal(err)
	}
	take(t, s, "next", "ines", "verger", "")
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
		if _, err := say(watched, id, "ines", own); err != nil {
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
	whole(t, s)
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
				_, err := say(each, fmt.Sprintf("both-%d-%d", i, n), "ines", own)
				errs <- err
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
	whole(t, s)
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
	if r, err := s.Verify(ctx); err != nil || len(r.Problems) == 0 || r.Records != 3 {
		t.Errorf("a forged record was found at %d: %v, %v", r.Records, r.Problems, err)
	}
}

func TestBackupWhileRunning(t *testing.T) {
	s, path := wrenfield(t)
	to := filepath.Join(filepath.Dir(path), "backup")
	if _, err := s.Backup(ctx, to); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Backup(ctx, to); err == nil {
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
		_, err = say(s, fmt.Sprintf("fill-%d", n), "ines", own)
	}
	if !errors.Is(err, store.ErrFull) {
		t.Fatalf("a full disk says %v", err)
	}
	whole(t, s)
	if err := s.LimitPages(ctx, 1<<30); err != nil {
		t.Fatal(err)
	}
	if _, err := say(s, "after", "ines", own); err != nil {
		t.Errorf("after room was made: %v", err)
	}
}

func TestDayBeginsAtFour(t *testing.T) {
	y := store.Yard{Settings: yard.Settings{Timezone: "America/Bogota"}}
	at := func(day, hour int) time.Time { return time.Date(2026, 11, day, hour, 0, 0, 0, y.Location()) }
	for _, test := range []struct{ t, want time.Time }{{at(24, 3), at(23, 4)}, {at(24, 4), at(24, 4)}, {at(24, 23), at(24, 4)}} {
		t.Run(fmt.Sprint(test.t), func(t *testing.T) {
			if got := y.DayStart(test.t.UTC()); !got.Equal(test.want) {
				t.Errorf("belongs to %v, want %v", got, test.want)
			}
		})
	}
}
