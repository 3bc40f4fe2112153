package outing_test

// What is copied from paper: from when it counts, who may, and what it never does.

import (
	"errors"
	"strconv"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/round"
)

// copying is a paper of yesterday at seven that Ida copies in.
func copying(t *testing.T, sheet machinetest.Resolved, change func(*outing.Machine), carried ...outing.Carried) *runner {
	m := outingtest.Machine("m", sheet, carried...)
	if change != nil {
		change(&m)
	}
	ida := outingtest.Schooled("ida", operator.Operator, sheet.Sheet)
	started, err := outing.ComposePaper("o", ida, defect.House{Edition: defect.Edition}, m, outing.Plan, outing.Paper{Code: "AAAA-AAAA", Written: written}, morning)
	if err != nil {
		t.Fatal(err)
	}
	o, err := outing.Begin("o", record.Meta{ID: "started", By: "ida", At: morning}, started, func(string) (*machine.Sheet, error) { return sheet.Sheet, nil })
	if err != nil {
		t.Fatal(err)
	}
	return runnerOf(t, o)
}

var written = time.Date(2026, 11, 23, 7, 0, 0, 0, time.UTC)

// TestAPaperReleasesNothing: all of it copied as good, by who wrote it, it clears
// nothing, proves nothing and is never out; only what is copied is said in it.
func TestAPaperReleasesNothing(t *testing.T) {
	r := copying(t, daily(t), nil)
	for name, c := range r.sayings() {
		switch name {
		case "answer", "tell the day", "copy a test", "finish the paper", "end":
			continue
		}
		if got := r.rule(c); got != "paper.only_copied" && got != "turn.yours_already" && got != "who.not_your_role" {
			t.Errorf("%s: %q", name, got)
		}
	}
	lines := r.u().PaperLines()
	numbers, tests := 0, 0
	for _, l := range lines {
		if l.Number > 0 {
			if numbers++; l.Number != numbers {
				t.Fatalf("line %d is numbered %d", numbers, l.Number)
			}
		}
		switch {
		case l.Check != nil:
			if l.Check.WhoLooks() == machine.ByTechnician || l.Check.Every != nil && l.Check.Every.Days != 1 {
				t.Errorf("%s stands on the paper", l.Check.ID)
			}
			for _, item := range inspect.Items(l.Check) {
				if reading, ok := l.Check.Reading(item); ok {
					r.tell(l.Check)
					r.must(read(l.Check.ID, reading, outingtest.Good(r.u(), reading)))
				} else {
					r.must(outingtest.Sound("m", l.Check.ID))
				}
			}
		case l.Told != nil && l.Told.Test >= 0:
			tests++
			r.must(outing.CopyTest{Copy: round.Copy{Machine: "m", Test: l.Told.Test, Result: round.Good, Seconds: "1"}})
		}
	}
	if tests != len(r.u().Round.Plan.Tests) || tests == 0 {
		t.Errorf("%d tests stand on the paper, %d are in the round", tests, len(r.u().Round.Plan.Tests))
	}
	if v := r.o.Judge(morning); v.Outcome == outing.Clear || r.o.Through(outing.StageRound) || r.u().Round.Done() {
		t.Errorf("it is %s, its round done: %v", v.Outcome, r.u().Round.Done())
	}
	if halts, missing := r.o.AsOnPaper(r.crew["ida"]); len(halts)+len(missing) > 0 {
		t.Errorf("a good paper comes to %v %v", halts, missing)
	}
	if r.rule(outing.FinishPaper{}) != "paper.say_whether_out" {
		t.Error("it is finished without a word whether it went out")
	}
	for _, until := range []string{"", "25:00", "noon", "06:59"} { // the last would be this morning at the end of a long night
		if got := r.rule(outing.FinishPaper{Out: "yes", Until: until}); got != "paper.home_when" {
			t.Errorf("home at %q: %q", until, got)
		}
	}
	for hours, want := range map[string]string{"many": "paper.hours_at_home", "-1": "paper.hours_at_home", "12": "reading.hours_back", "190": "reading.hours_faster"} {
		if got := r.rule(outing.FinishPaper{Out: "yes", Until: "15:00", Hours: hours}); got != want {
			t.Errorf("home with %s: %q, want %q", hours, got, want)
		}
	}
	for _, c := range []outing.FinishPaper{{Out: "no", Until: "15:00"}, {Out: "no", Hours: "104"}} {
		if got := r.rule(c); got != "paper.stayed_in_and_home" {
			t.Errorf("%+v: %q", c, got)
		}
	}
	r.must(outing.FinishPaper{Out: "yes", Until: "15:00", Hours: "104"})
	if e := r.o.End; e == nil || e.How != outing.EndPaper || *e.Hours != 104 || !e.Worked.Equal(written.Add(8*time.Hour)) || r.o.WorkedUntil(r.o.Home) {
		t.Errorf("it ended %+v", r.o.End)
	}
}

// rule is what refuses a command, or "".
func (r *runner) rule(c outing.Command) string {
	r.t.Helper()
	err := r.try(c)
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	if err != nil {
		r.t.Fatal(err)
	}
	return ""
}

// tell tells what the limits at a point hang on.
func (r *runner) tell(c *machine.Check) {
	if wants := r.u().Wants(c); wants != nil {
		r.must(outing.Tell{Conditioned: inspect.Conditioned{Machine: "m", Condition: wants.ID, Choice: wants.Choices[0].ID}})
	}
}

// TestWhatAPaperFinds: counts from when it was written, a test that failed is a Halt, an
// empty line keeps it in, and what is there only becomes worse.
func TestWhatAPaperFinds(t *testing.T) {
	r := copying(t, daily(t), nil)
	r.must(outingtest.Fault("m", "seat_belt", seatBelt(r)))
	found := r.o.Defects()
	if len(found) != 1 || !found[0].At.Equal(written) || found[0].Finding.Grade == defect.Sound {
		t.Fatalf("found %+v", found)
	}
	if got := r.rule(outingtest.Sound("m", "seat_belt")); got != "outing.already_answered" {
		t.Errorf("a fault is copied over: %q", got)
	}
	if got := r.rule(outing.CopyTest{Copy: round.Copy{Machine: "m", Test: 999, Result: round.Good}}); got != "outing.no_such_test" {
		t.Errorf("a test that is none: %q", got)
	}
	if got := r.rule(outing.CopyTest{Copy: round.Copy{Machine: "m", Result: "fine"}}); got != "outing.no_such_result" {
		t.Errorf("a result that is none: %q", got)
	}
	test := outing.CopyTest{Copy: round.Copy{Machine: "m", Test: 0, Result: round.Good, Seconds: "1"}}
	r.must(test)
	if got := r.rule(test); got != "outing.test_not_next" {
		t.Errorf("copied twice: %q", got)
	}
	test.Result = round.Bad // looked at again: it is worse
	r.must(test)
	test.Result = round.Good
	if got := r.rule(test); got != "outing.failed_stays_failed" {
		t.Errorf("better again: %q", got)
	}
	if halts, missing := r.o.AsOnPaper(r.crew["ida"]); len(halts) == 0 || len(missing) == 0 {
		t.Errorf("it comes to %v %v", halts, missing)
	}
	for _, d := range r.o.Defects() {
		if d.Test == 0 && (d.Finding.Grade != defect.Halt || !d.At.Equal(written)) {
			t.Errorf("a failed test is %+v", d)
		}
	}
}

// seatBelt is a fault of the seat belt.
func seatBelt(r *runner) string {
	c, _ := r.u().Sheet.Check("seat_belt")
	return c.Faults[0].ID
}

// TestAStopOnPaper: is timed, and one that cannot be told from its limit counts as late.
func TestAStopOnPaper(t *testing.T) {
	timed := func(r *runner) (test int, limit float64) {
		for i := range r.u().Round.Plan.Tests {
			if limit := r.u().Round.StopWithin(i); limit > 0 {
				return i, limit
			}
		}
		t.Fatal("nothing is timed")
		return 0, 0
	}
	for _, c := range []struct {
		off  float64
		want round.Outcome
	}{{-1, round.Passed}, {-0.2, round.Failed}, {0.2, round.Failed}, {2, round.Failed}} {
		r := copying(t, daily(t), nil)
		test, limit := timed(r)
		for _, typed := range []string{"", "soon", "-1"} {
			if got := r.rule(outing.CopyTest{Copy: round.Copy{Machine: "m", Test: test, Result: round.Good, Seconds: typed}}); got != "outing.time_needed" {
				t.Errorf("a stop in %q: %q", typed, got)
			}
		}
		r.must(outing.CopyTest{Copy: round.Copy{Machine: "m", Test: test, Result: round.Good, Seconds: strconv.FormatFloat(limit+c.off, 'f', 2, 64)}})
		if got := r.u().Round.Results[test].Outcome; got != c.want {
			t.Errorf("%g of %g is %s, want %s", limit+c.off, limit, got, c.want)
		}
	}
}

// TestAMeterReadLater: is known better than by the paper.
func TestAMeterReadLater(t *testing.T) {
	r := copying(t, daily(t), func(m *outing.Machine) { m.HoursAt = written.Add(time.Hour) })
	for _, l := range r.u().PaperLines() {
		if l.Check != nil && r.u().IsMeter(l.Check.ID) {
			if got := r.rule(read(l.Check.ID, &l.Check.Readings[0], 100)); got != "paper.meter_read_later" {
				t.Errorf("an old meter reading: %q", got)
			}
			return
		}
	}
	t.Fatal("no meter on the paper")
}

// TestThePaperOfARound: tells every test once, in its turn, each as the round itself would
// tell it then.
func TestThePaperOfARound(t *testing.T) {
	for _, sheet := range machinetest.All(t) {
		id, r := sheet.Sheet.ID, copying(t, sheet, nil)
		s := round.Begin(r.u().Round.Setup)
		next := 0
		for _, told := range s.Whole() {
			if told.Test < 0 {
				continue
			}
			if told.Test != next {
				t.Errorf("%s: test %d is told where %d comes", id, told.Test, next)
			}
			if test := s.Plan.Tests[told.Test]; test.Kind != interlock.Refusal && test.From[told.Now.Act.Switch] == test.To[told.Now.Act.Switch] {
				t.Errorf("%s: test %d moves %q, which is none of its switches", id, told.Test, told.Now.Act.Switch)
			}
			next++
		}
		if next != len(s.Plan.Tests) {
			t.Errorf("%s: %d of %d tests are told", id, next, len(s.Plan.Tests))
		}
	}
}
