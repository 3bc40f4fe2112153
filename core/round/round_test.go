package round_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/record"
	"vespers/core/round"
)

var now = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

// runner says one thing after the other in a round.
type runner struct {
	t *testing.T
	round.State
	n int
}

// mower is the round of a mower: refusals, then stops of the engine and of
// blades that have five seconds.
func mower(t *testing.T) *runner {
	section := machinetest.All(t)[0].Sheet.Interlock
	return begun(t, section, true)
}

func of(t *testing.T, section machine.Interlock, engine bool) *runner {
	logic, problems := interlock.Compile(section)
	if logic == nil {
		t.Fatal(problems)
	}
	return &runner{t: t, State: round.Begin(round.Setup{Machine: "m", Plan: logic.Plan(), Section: &section, Engine: engine, Edition: round.Edition})}
}

// begun is a round in which somebody is in place.
func begun(t *testing.T, section machine.Interlock, engine bool) *runner {
	r := of(t, section, engine)
	r.begin()
	return r
}

func (r *runner) begin() {
	r.t.Helper()
	e, err := r.Begin(round.BeginRound{Machine: "m", Attempt: r.Attempt, Clear: "yes"})
	r.want(r.take(e, err), "")
}

func rule(err error) string {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	return ""
}

func (r *runner) take(e record.Event, err error) string {
	if err != nil {
		return rule(err)
	}
	r.n++
	after, ok := r.Apply(record.Meta{ID: fmt.Sprintf("r%d", r.n)}, e)
	if !ok {
		r.t.Errorf("%T is of the round and was not taken for one", e)
	}
	r.State = after
	return ""
}

func (r *runner) test(number int, result string, seconds ...string) string {
	c := round.Test{Machine: "m", Attempt: r.Attempt, Test: number, Result: result, Seconds: strings.Join(seconds, "")}
	e, err := r.Test(c, now)
	return r.take(e, err)
}

func (r *runner) turn(did string) string {
	e, err := r.Crank(round.Crank{Machine: "m", Attempt: r.Attempt, Did: did}, time.Time{})
	return r.take(e, err)
}

func (r *runner) want(got, want string) {
	r.t.Helper()
	if got != want {
		r.t.Errorf("%q, want %q", got, want)
	}
}

// good does the next thing as it should be.
func (r *runner) good() {
	r.t.Helper()
	switch {
	case r.Step() == round.StepBegin:
		r.begin()
	case r.Step() == round.StepShow:
		e, err := r.Show(round.Show{Machine: "m", Attempt: r.Attempt, Permit: r.Unshown(), Moved: "yes"}, now)
		r.want(r.take(e, err), "")
	case r.Step() == round.StepPutBack:
		e, err := r.PutBack(round.PutThingsBack{Machine: "m", Attempt: r.Attempt})
		r.want(r.take(e, err), "")
	case r.NeedsCrank():
		r.want(r.turn("started"), "")
	case r.StopWithin(r.Next()) > 0:
		r.want(r.test(r.Next(), round.Good, "1.5"), "")
	default:
		r.want(r.test(r.Next(), round.Good), "")
	}
}

// to does what comes before the first test of a kind.
func (r *runner) to(kind string) int {
	r.t.Helper()
	for r.Next() < len(r.Plan.Tests) {
		if i := r.Next(); r.Plan.Tests[i].Kind == kind && (kind == interlock.Refusal || r.Runs) {
			return i
		}
		r.good()
	}
	r.t.Fatalf("no %s", kind)
	return 0
}

func TestACleanRound(t *testing.T) {
	for _, sheet := range machinetest.All(t) {
		t.Run(sheet.Sheet.ID, func(t *testing.T) {
			r := of(t, interlock.Section(sheet.Sheet), sheet.Sheet.HasEngine())
			if len(r.Plan.Tests) > 0 && (r.Done() || r.Left() != len(r.Plan.Tests)) {
				t.Error("done before it began")
			}
			for n := 0; !r.Done() && n < 60; n++ {
				r.good()
			}
			if !r.Done() || r.Left() != 0 || r.FailedTest() != -1 || r.Next() != len(r.Plan.Tests) || r.NeedsCrank() || len(r.History) != len(r.Plan.Tests) {
				t.Errorf("%+v", r.Results)
			}
			if o := r.Observations(); len(o) != len(r.Plan.Tests) {
				t.Errorf("%d observations", len(o))
			}
		})
	}
}

// TestWhatIsNoResult: a word that is missing, unknown, or not of this test
// records nothing.
func TestWhatIsNoResult(t *testing.T) {
	for _, word := range []string{"", "GOOD", "it_cranked", "passed", "true"} {
		mower(t).want(mower(t).test(0, word), "outing.no_such_result")
		r := mower(t)
		r.to(interlock.EngineStop)
		r.want(r.test(r.Next(), word), "outing.no_such_result")
		r = mower(t)
		for !r.NeedsCrank() {
			r.good()
		}
		r.want(r.turn(word), "outing.no_such_result")
		if r.Started || r.Attempt != 1 {
			t.Errorf("%q was taken", word)
		}
	}
	r := mower(t)
	r.want(r.test(0, round.NotBefore), "outing.no_such_result") // nothing has to run before a refusal
	r.want(r.test(0, round.Again), "outing.no_such_result")
	for r.to(interlock.DriveStop); r.Plan.Tests[r.Next()].Return; r.to(interlock.DriveStop) {
		r.good()
	}
	r.want(r.test(r.Next(), round.Again, "1"), "outing.no_such_result") // nothing is put back
}

func TestInTurn(t *testing.T) {
	r := mower(t)
	r.want(r.turn("started"), "outing.not_time_to_start")
	r.want(r.test(1, round.Good), "outing.test_not_next")
	r.want(r.test(-1, round.Good), "outing.test_not_next")
	r.want(r.test(99, round.Good), "outing.test_not_next")
	old := r.Attempt
	r.Attempt = 2
	e, err := r.State.Test(round.Test{Attempt: 1, Test: 0, Result: round.Good}, now)
	r.want(r.take(e, err), "outing.test_not_next")
	r.Attempt = old
	for r.Next() < r.Refusals() {
		r.good()
	}
	if !r.NeedsCrank() {
		t.Fatal("the refusals are done and nothing is to be started")
	}
	r.want(r.test(r.Next(), round.Good), "outing.not_time_to_start")
	r.want(r.turn("cranked"), "") // it cranks and does not start
	if !r.Started || r.Runs || !r.NeedsCrank() {
		t.Errorf("started %v, runs %v", r.Started, r.Runs)
	}
	r.want(r.turn("started"), "")
	r.want(r.turn("started"), "outing.not_time_to_start")
	for !r.Done() {
		r.good()
	}
	r.want(r.test(len(r.Plan.Tests), round.Good), "outing.test_not_next")
}

// TestAFlatBatteryProvesNothing: refusals are done again, what failed stays.
func TestAFlatBatteryProvesNothing(t *testing.T) {
	r := mower(t)
	for r.Next() < r.Refusals() {
		r.good()
	}
	n, before := r.Refusals(), r.State
	r.want(r.turn("no"), "")
	if r.Attempt != 2 || r.Next() != 0 || !r.WouldNotCrank || r.Started || r.Runs || len(r.History) != n || r.Left() != len(r.Plan.Tests) {
		t.Errorf("attempt %d, next %d", r.Attempt, r.Next())
	}
	if before.Next() != n || before.Attempt != 1 {
		t.Error("the round before was changed")
	}
	for r.Next() < n {
		r.good()
	}
	r.want(r.turn("cranked"), "")
	if r.WouldNotCrank || !r.Started {
		t.Error("it cranked")
	}
	r = mower(t)
	r.want(r.test(0, round.Bad), "")
	r.State, _ = r.Apply(record.Meta{}, round.Cranked{Attempt: 1})
	if r.FailedTest() != 0 {
		t.Error("a failed test was forgotten with the attempt")
	}
}

// TestWhatAStopComesTo, by what was seen and how long it took.
func TestWhatAStopComesTo(t *testing.T) {
	type try struct{ result, seconds string }
	limit := func(r *runner) float64 { return r.StopWithin(r.Next()) }
	for name, c := range map[string]struct {
		tries []try
		over  float64 // the seconds of the last try, beyond the limit
		want  round.Outcome
		rule  string // of the failure
	}{
		"in time":                      {[]try{{round.Good, ""}}, -2, round.Passed, ""},
		"near the limit, within":       {[]try{{round.Good, ""}}, -0.3, round.Near, ""},
		"near the limit, beyond":       {[]try{{round.Good, ""}}, 0.3, round.Near, ""},
		"just clear of it":             {[]try{{round.Good, ""}}, -0.31, round.Passed, ""},
		"too late":                     {[]try{{round.Good, ""}}, 0.31, round.Failed, "test.stopped_too_late"},
		"near, and near again, within": {[]try{{round.Good, "5.1"}, {round.Good, ""}}, -0.2, round.Failed, "test.stopped_too_late"},
		"near, then just clear":        {[]try{{round.Good, "5.1"}, {round.Good, ""}}, -0.31, round.Passed, ""},
		"it moved on":                  {[]try{{round.Bad, ""}}, -4, round.Failed, "test.did_not_stop"},
		"it was not moving":            {[]try{{round.NotBefore, ""}}, -4, round.Void, ""},
		"not moving, then in time":     {[]try{{round.NotBefore, ""}, {round.Good, ""}}, -2, round.Passed, ""},
		"near, not moving, near":       {[]try{{round.Good, "5.2"}, {round.NotBefore, ""}, {round.Good, ""}}, 0.2, round.Failed, "test.stopped_too_late"},
		"near, not moving, clear":      {[]try{{round.Good, "5.2"}, {round.NotBefore, ""}, {round.Good, ""}}, -0.4, round.Passed, ""},
		"near, and just touching":      {[]try{{round.Good, "5.1"}, {round.Good, ""}}, -0.3, round.Failed, "test.stopped_too_late"},
	} {
		t.Run(name, func(t *testing.T) {
			r := mower(t)
			for r.to(interlock.DriveStop); limit(r) != 5; r.to(interlock.DriveStop) {
				r.good()
			}
			i := r.Next()
			for n, tr := range c.tries {
				if n == len(c.tries)-1 {
					tr.seconds = fmt.Sprintf("%.2f", 5+c.over)
				}
				r.want(r.test(i, tr.result, tr.seconds), "")
			}
			got := r.Results[i]
			if got.Outcome != c.want || got.Limit != 5 {
				t.Fatalf("%s at a limit of %v", got.Outcome, got.Limit)
			}
			if c.want != round.Failed {
				if r.FailedTest() != -1 || got.Slow() {
					t.Error("it counts as failed")
				}
				return
			}
			if f := r.Failure(i); *f.Args[0].Count != i+1 {
				t.Errorf("test %d is told as %d", i+1, *f.Args[0].Count)
			}
			if r.FailedTest() != i || string(r.Failure(i).Rule) != c.rule || got.Slow() != (c.rule == "test.stopped_too_late") {
				t.Errorf("%s, slow %v", r.Failure(i).Rule, got.Slow())
			}
			r.want(r.test(i, round.Good, "1"), "outing.failed_stays_failed")
		})
	}
	r := mower(t)
	for r.to(interlock.DriveStop); limit(r) != 5; r.to(interlock.DriveStop) {
		r.good()
	}
	for _, typed := range []string{"", "soon", "-1", "3600", "1e1"} {
		r.want(r.test(r.Next(), round.Good, typed), "outing.time_needed")
	}
	for _, typed := range []string{"0", "0.39"} {
		r.want(r.test(r.Next(), round.Good, typed), "outing.too_quick_to_tap")
	}
	r.want(r.test(r.Next(), round.Good, "0.4"), "")
}

// TestALimitOfLessThanASecond is a limit all the same.
func TestALimitOfLessThanASecond(t *testing.T) {
	section := machine.Interlock{
		Switches: []machine.Switch{{ID: "brake"}, {ID: "lever"}},
		Permits:  []machine.Permit{{ID: "start", Kind: "start", When: "brake"}, {ID: "run", Kind: "run", When: "brake"}, {ID: "chain", Kind: "drive", When: "lever", StopWithin: 0.8}},
	}
	for seconds, want := range map[string]round.Outcome{"": "", "0.2": "", "0.4": round.Passed, "0.5": round.Near, "0.7": round.Near, "2": round.Failed} {
		t.Run(seconds, func(t *testing.T) {
			r := of(t, section, true)
			i := r.to(interlock.DriveStop)
			r.test(i, round.Good, seconds)
			if got := r.Results[i].Outcome; got != want {
				t.Errorf("%q s of 0.8: %q, want %q", seconds, got, want)
			}
		})
	}
}

// TestStartedWithNothingToStop: where no stop follows, it is started as it
// stands ready to.
func TestStartedWithNothingToStop(t *testing.T) {
	section := machine.Interlock{Switches: []machine.Switch{{ID: "brake"}}, Permits: []machine.Permit{{ID: "start", Kind: "start", When: "brake"}, {ID: "run", Kind: "run", When: "true"}}}
	r := of(t, section, true)
	for !r.NeedsCrank() {
		r.good()
	}
	if in := r.Now(); !in.Start || !in.At["brake"] || len(in.Set) != 1 || in.Set[0].Switch != "brake" || !in.Set[0].Made {
		t.Errorf("%+v", in)
	}
}

func TestWhatFails(t *testing.T) {
	r := mower(t)
	r.want(r.test(0, round.Bad), "")
	if f := r.Failure(0); f.Rule != "test.cranked_when_it_must_not" || *f.Args[0].Count != 1 {
		t.Errorf("%+v", f)
	}
	if !r.HasFailed(0) || r.HasFailed(1) || r.HasFailed(-1) || r.HasFailed(len(r.Results)) {
		t.Error("what failed is not what failed")
	}
	r = mower(t)
	i := r.to(interlock.EngineStop)
	r.want(r.test(i, round.Bad), "")
	if f := r.Failure(i); f.Rule != "test.did_not_stop" || *f.Args[0].Count != i+1 {
		t.Errorf("%+v", f)
	}
	o := r.Observations()
	last := o[len(o)-1]
	if last.AtFrom == nil || !*last.AtFrom || last.Observed == nil || !*last.Observed || o[0].AtFrom != nil || *o[0].Observed {
		t.Errorf("%+v", o)
	}
}

// latched is a machine whose drive stays off once it stopped, until its lever
// was let go and taken again.
func latched(t *testing.T) *runner {
	for _, s := range machinetest.All(t) {
		r := of(t, interlock.Section(s.Sheet), s.Sheet.HasEngine())
		for _, test := range r.Plan.Tests {
			if test.Return {
				return r
			}
		}
	}
	t.Skip("no machine has a latch")
	return nil
}

// TestMovingAgain by itself, where a control was put back, is a failure of its
// own, and tells something else to whoever looks for the switch.
func TestMovingAgain(t *testing.T) {
	r := latched(t)
	for r.Next() < len(r.Plan.Tests) && (!r.Plan.Tests[r.Next()].Return || !r.Runs && r.Engine) {
		r.good()
	}
	i := r.Next()
	in := r.Now()
	if in.Act.Switch == "" || in.Back.Switch != in.Act.Switch || in.Back.Made == in.Act.Made {
		t.Errorf("%+v, back %+v", in.Act, in.Back)
	}
	before := r.State
	r.want(r.test(i, round.Again, "1"), "")
	if f := r.Failure(i); f.Rule != "test.moved_again" || *f.Args[0].Count != i+1 || r.Results[i].Slow() || !r.Results[i].Restarted {
		t.Errorf("%+v", r.Results[i])
	}
	o := r.Observations()
	if last := o[len(o)-1]; last.Restarted == nil || !*last.Restarted || *last.Observed {
		t.Errorf("%+v", last)
	}
	good := runner{t: t, State: before}
	good.good()
	o = good.Observations()
	if last := o[len(o)-1]; last.Restarted == nil || *last.Restarted {
		t.Errorf("%+v", last)
	}
}

func TestAnImplementHasNoKey(t *testing.T) {
	section := machinetest.All(t)[0].Sheet.Interlock
	r := of(t, section, false)
	if r.NeedsCrank() {
		t.Error("an implement is started")
	}
	for n := 0; !r.Done() && n < 40; n++ {
		r.good()
	}
	if !r.Done() || r.NeedsCrank() {
		t.Error("its round is not done")
	}
	if _, ok := r.Apply(record.Meta{}, nothing{}); ok {
		t.Error("an event of something else was taken in")
	}
}

type nothing struct{}

func (nothing) Kind() string { return "nothing" }

// Example runs the first test of a mower's round and says what is left.
func Example() {
	section := machine.Interlock{
		Switches: []machine.Switch{{ID: "seat"}, {ID: "brake"}},
		Permits:  []machine.Permit{{ID: "start", Kind: "start", When: "brake"}, {ID: "run", Kind: "run", When: "seat || brake"}},
	}
	logic, _ := interlock.Compile(section)
	r := round.Begin(round.Setup{Machine: "m", Plan: logic.Plan(), Section: &section, Engine: true})
	e, err := r.Test(round.Test{Machine: "m", Attempt: 1, Test: 0, Result: round.Good}, now)
	r, _ = r.Apply(record.Meta{ID: "r1"}, e)
	fmt.Println(err, r.Results[0].Outcome, len(r.Results)-r.Left())
	// Output: <nil> passed 1
}
