package outing_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
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
	"vespers/core/text"
	"vespers/core/walk"
)

var morning = outingtest.Morning

// runner says one thing after the other in an outing.
type runner struct {
	t    *testing.T
	o    *outing.Outing
	crew outingtest.Crew
	by   string // who speaks
	n    int
}

// newRunner begins an outing of one machine, "m", with nothing else against it
// than what it carries in. Ida has it; Maren is a lead, Ruth a technician.
func newRunner(t *testing.T, r machinetest.Resolved, carried ...outing.Carried) *runner {
	t.Helper()
	return runnerOf(t, outingtest.Begin(t, "ida", outingtest.Machine("m", r, carried...), nil))
}

func runnerOf(t *testing.T, o *outing.Outing) *runner {
	crew := outingtest.Crew{}.Add(
		outingtest.Schooled("ida", operator.Operator, o.Sheets()...),
		outingtest.Schooled("maren", operator.Lead, o.Sheets()...),
		outingtest.Schooled("ruth", operator.Technician, o.Sheets()...),
		outingtest.Schooled("otto", operator.Operator, o.Sheets()...),
		outingtest.Schooled("jonah", operator.Trainee, o.Sheets()...),
		outingtest.Schooled("osk", operator.Visitor, o.Sheets()...))
	return &runner{t: t, o: o, crew: crew, by: "ida"}
}

// who changes what is known of Ida.
func (r *runner) who(change func(*operator.Person)) {
	p := r.crew["ida"]
	change(&p)
	r.crew["ida"] = p
}

// u is the first machine as it stands now.
func (r *runner) u() *outing.UnitState { return r.o.Units[0] }

// try says something and takes in what it becomes.
func (r *runner) try(c outing.Command, supersedes ...string) error {
	r.n++
	return r.tryAt(morning.Add(time.Duration(r.n)*time.Second), c, supersedes...)
}

func (r *runner) tryAt(at time.Time, c outing.Command, supersedes ...string) error {
	meta := record.Meta{ID: fmt.Sprintf("r%04d-%d", r.n, at.Unix()), By: r.by, At: at}
	if len(supersedes) > 0 {
		meta.Supersedes = supersedes[0]
	}
	events, err := outing.Decide(r.o, c, meta, r.crew)
	for _, e := range events {
		r.o = r.o.Apply(meta, e)
	}
	return err
}

func (r *runner) must(c outing.Command, supersedes ...string) {
	r.t.Helper()
	if err := r.try(c, supersedes...); err != nil {
		r.t.Fatalf("%T %+v: %v", c, c, err)
	}
}

// home shuts down what is out, and ends the outing.
func (r *runner) home() {
	r.t.Helper()
	for r.o.Status != outing.Closed {
		c, at := outingtest.Home(r.o, morning.Add(time.Duration(r.n+1)*time.Second))
		r.n = max(r.n, int(at.Sub(morning).Seconds()))
		r.must(c)
	}
}

func (r *runner) next() { r.t.Helper(); r.must(outingtest.Next(r.o, r.now())) }

func (r *runner) refused(c outing.Command, rule text.Rule) {
	r.t.Helper()
	var refused *record.Refused
	if err := r.try(c); !errors.As(err, &refused) || refused.Reason.Rule != rule {
		r.t.Errorf("%T %+v: %v, want %s", c, c, err, rule)
	}
}

// until answers everything in order until the place looked for is reached.
func (r *runner) until(stop func() bool) {
	r.t.Helper()
	for r.open() || !stop() {
		c := outingtest.Next(r.o, r.now())
		if c == nil {
			r.t.Fatal("the verdict came before the place looked for")
		}
		if wait := outingtest.Wait(r.o, morning.Add(time.Duration(r.n)*time.Second)).Sub(morning); int(wait.Seconds()) > r.n {
			r.n = int(wait.Seconds()) + 1
		}
		r.must(c)
	}
}

// open reports whether a procedure is open on the first machine.
func (r *runner) open() bool { return r.u().Running(record.Meta{At: r.now()}) != "" }

func (r *runner) stage(name outing.Stage) func() bool {
	return func() bool { return r.o.Stage() == name }
}

func (r *runner) at(point string) func() bool {
	return func() bool {
		left := r.u().Left(machine.Cold)
		return r.o.Ready() != nil && len(left) > 0 && left[0].ID == point
	}
}

// read is a reading typed in its own unit.
func read(check string, r *machine.Reading, value float64) outing.Answer {
	return outing.Answer{Answer: outingtest.Typed("m", check, r, value)}
}

// test is what was seen in a test of machine m.
func test(number int, result string, seconds ...string) outing.Test {
	t := round.Test{Machine: "m", Attempt: 1, Test: number, Result: result}
	if len(seconds) > 0 {
		t.Seconds = seconds[0]
	}
	return outing.Test{Test: t}
}

func crank(attempt int, did string) outing.Crank {
	return outing.Crank{Crank: round.Crank{Machine: "m", Attempt: attempt, Did: did}}
}

func TestCleanOutingIsReleased(t *testing.T) {
	for _, s := range machinetest.All(t) {
		r := newRunner(t, s)
		r.until(r.stage(outing.StageVerdict))
		v := r.o.Judge(morning)
		if v.Outcome != outing.Clear || v.Grade != defect.Sound || len(v.Cleared) == 0 {
			t.Fatalf("%s: %+v", s.Sheet.ID, v)
		}
		r.must(outing.Release{})
		r.refused(outingtest.Sound("m", "seat_belt"), "outing.released_already")
		r.refused(outing.End{}, "outing.shut_down_first")
		r.home()
		r.refused(outing.End{}, "outing.closed")
	}
}

func TestOrderOfADay(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.refused(outingtest.Sound("m", "seat_belt"), "outing.ready_first")
	r.next()
	r.refused(outingtest.Sound("m", "blades"), "outing.setting_needed")
	r.refused(outingtest.Sound("m", "running_brake"), "outing.round_first")
	r.refused(outing.Answer{Answer: inspect.Answer{Machine: "m", Check: "wheel_right_rear", Item: "pressure", Answer: inspect.Sound}}, "reading.empty")
	r.refused(outingtest.Sound("m", "nothing"), "outing.unknown_point")
	r.refused(outingtest.Sound("x", "seat_belt"), "outing.unknown_machine")
	r.refused(outingtest.Fault("m", "seat_belt", "cord"), "outing.unknown_fault")
	r.refused(test(0, round.Good), "outing.walk_first")
	r.refused(outing.Release{}, "outing.not_clear")
}

// TestWhatAnOutingWentThrough: a stage is ticked when it lies behind and nothing
// of it was left out.
func TestWhatAnOutingWentThrough(t *testing.T) {
	s := machinetest.All(t)[0]
	for name, c := range map[string]struct {
		come func(r *runner)
		want []outing.Stage
	}{
		"begun":            {func(*runner) {}, nil},
		"in the walk":      {func(r *runner) { r.until(r.stage(outing.StageWalk)) }, []outing.Stage{outing.StageReady}},
		"in the round":     {func(r *runner) { r.until(r.stage(outing.StageRound)) }, []outing.Stage{outing.StageReady, outing.StageWalk}},
		"at running":       {func(r *runner) { r.until(r.stage(outing.StageRunning)) }, []outing.Stage{outing.StageReady, outing.StageWalk, outing.StageRound}},
		"through":          {func(r *runner) { r.until(r.stage(outing.StageVerdict)) }, outing.Stages()[:4]},
		"a test failed":    {func(r *runner) { r.until(r.stage(outing.StageRound)); r.next(); r.must(test(0, round.Bad)) }, []outing.Stage{outing.StageReady, outing.StageWalk}},
		"given up at once": {func(r *runner) { r.must(outing.End{}) }, nil},
	} {
		t.Run(name, func(t *testing.T) {
			r := newRunner(t, s)
			c.come(r)
			var got []outing.Stage
			for _, stage := range outing.Stages() {
				if r.o.Through(stage) {
					got = append(got, stage)
				}
			}
			if !slices.Equal(got, c.want) {
				t.Errorf("through %v, want %v", got, c.want)
			}
		})
	}
}

func TestReadingsAreChecked(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.next()
	hours, _ := s.Sheet.Check("hour_meter")
	for value, rule := range map[float64]text.Rule{99: "reading.hours_back", 400: "reading.hours_jump", -5: "reading.out_of_range", 1e9: "reading.out_of_range"} {
		t.Run(fmt.Sprint(value), func(t *testing.T) {
			r.refused(read("hour_meter", &hours.Readings[0], value), rule)
		})
	}
	tyre, _ := s.Sheet.Check("wheel_right_rear")
	for typed, rule := range map[string]text.Rule{"": "reading.empty", "1e9": "reading.not_a_number", "90 mm": "reading.wrong_unit", "abc": "reading.not_a_number"} {
		t.Run(typed, func(t *testing.T) {
			var refused *record.Refused
			if _, err := inspect.ParseValue(&tyre.Readings[0], typed, "kPa"); !errors.As(err, &refused) || refused.Reason.Rule != rule {
				t.Errorf("%q: %v, want %s", typed, err, rule)
			}
		})
	}
	v, err := inspect.ParseValue(&tyre.Readings[0], "13,5", "psi")
	if err != nil || v.Typed != "13,5" || v.Unit != "psi" {
		t.Errorf("typed value is not kept: %+v, %v", v, err)
	}
}

func TestSecondAnswerNeedsACorrection(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.next()
	r.must(outingtest.Fault("m", "seat_belt", "buckle"))
	first := r.u().Given("seat_belt", "")[0].Meta.ID
	if r.o.Judge(morning).Outcome != outing.Halted {
		t.Fatal("a buckle that does not hold is no Halt")
	}
	var refused *record.Refused
	if err := r.try(outingtest.Sound("m", "seat_belt")); !errors.As(err, &refused) || refused.Earlier == nil || refused.Earlier.Event.(inspect.Answered).Fault != "buckle" {
		t.Errorf("second answer: %v", err)
	}
	if err := r.try(outingtest.Sound("m", "seat_belt"), "somebody-elses"); err == nil {
		t.Error("a correction of another answer was taken")
	}
	back := outingtest.Sound("m", "seat_belt")
	for _, word := range []struct{ why, second, rule string }{{"", "", "outing.why_taken_back"}, {"", "ruth", "outing.why_taken_back"}, {"mistap", "", "outing.second_look"},
		{"mistap", "ida", "outing.second_look"}, {"mistap", "osk", "outing.second_look"}, {"mistap", "ghost", "outing.second_look"}} {
		back.Why, back.Second = word.why, word.second
		if err := r.try(back, first); !errors.As(err, &refused) || string(refused.Reason.Rule) != word.rule {
			t.Errorf("taken back with %+v: %v", word, err)
		}
	}
	back.Why, back.Second = "mistap", "ruth"
	r.must(back, first)
	if taken := r.u().TakenBack(); len(taken) != 1 || taken[0].Was.Fault != "buckle" || taken[0].Now.Second != "ruth" {
		t.Errorf("taken back: %+v", taken)
	}
	if r.o.Judge(morning).Outcome == outing.Halted || len(r.u().Given("seat_belt", "")) != 2 {
		t.Error("the mistap was not corrected, or not kept")
	}
}

func TestPutRight(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.until(r.at("wheel_right_rear"))
	c, _ := s.Sheet.Check("wheel_right_rear")
	low := read("wheel_right_rear", &c.Readings[0], 50)
	r.must(low)
	if d := r.o.Defects(); len(d) != 1 || d[0].Finding.Grade != defect.Mend {
		t.Fatalf("low tyre: %+v", d)
	}
	finding := r.u().Given("wheel_right_rear", "pressure")[0].Meta.ID
	good := read("wheel_right_rear", &c.Readings[0], 93).Answer
	r.refused(outing.PutRight{Finding: "other", Now: good}, "outing.not_the_last_answer")
	r.must(outing.PutRight{Finding: finding, Now: good})
	if d := r.o.Defects(); len(d) != 0 {
		t.Errorf("still standing: %+v", d)
	}
	if g := r.u().Given("wheel_right_rear", "pressure"); len(g) != 1 || g[0].Value.Quantity == g[0].Right.Now.Value.Quantity {
		t.Error("finding and second look are not both kept")
	}
}

func TestPutRightOnlyWhatTheSheetAllows(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.until(r.at("roll_bar"))
	r.must(outingtest.Fault("m", "roll_bar", "cracked"))
	r.refused(outing.PutRight{Finding: r.u().Given("roll_bar", "")[0].Meta.ID, Now: outingtest.Sound("m", "roll_bar").Answer}, "outing.not_put_right_here")
}

func TestUnevenTyresRestrictSlopes(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	for _, wheel := range []struct {
		check    string
		pressure float64
	}{{"wheel_right_rear", 82}, {"wheel_left_rear", 100}} {
		r.until(r.at(wheel.check))
		c, _ := s.Sheet.Check(wheel.check)
		r.must(read(wheel.check, &c.Readings[0], wheel.pressure))
	}
	r.until(r.stage(outing.StageVerdict))
	v := r.o.Judge(morning)
	if v.Outcome != outing.Clear || v.Grade != defect.Mend || v.Deadline.At == nil {
		t.Fatalf("%+v", v)
	}
	for _, use := range v.Cleared {
		if use.Use == "slope" {
			t.Error("cleared for slopes on uneven tyres")
		}
	}
}

func TestNotReachableComesAgain(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.until(r.at("chute"))
	r.must(outing.Answer{Answer: inspect.Answer{Machine: "m", Check: "chute", Answer: inspect.NotReached}})
	left := r.u().Left(machine.Cold)
	if left[0].ID == "chute" {
		t.Error("the point put off comes at once")
	}
	checks := 0
	for _, stop := range left {
		if stop.ID == "chute" {
			checks++
		}
	}
	if checks != 1 || r.o.Judge(morning).Outcome == outing.Clear {
		t.Errorf("the point put off stands %d times", checks)
	}
}

func TestFailedTestStaysFailed(t *testing.T) {
	s := machinetest.All(t)[1]
	r := newRunner(t, s)
	r.until(r.stage(outing.StageRound))
	r.refused(test(0, round.Good), "outing.circle_not_clear")
	r.next()
	r.refused(test(3, round.Good), "outing.test_not_next")
	r.refused(crank(1, "started"), "outing.not_time_to_start")
	r.must(test(0, round.Bad))
	r.refused(test(0, round.Good), "outing.failed_stays_failed")
	r.refused(test(1, round.Good), "outing.on_halt")
	if v := r.o.Judge(morning); v.Outcome != outing.Halted || v.Grade != defect.Halt {
		t.Errorf("%+v", v)
	}
}

func TestVoidRound(t *testing.T) {
	s := machinetest.All(t)[1]
	r := newRunner(t, s)
	r.until(func() bool { return r.u().Round.NeedsCrank() && r.o.Stage() == outing.StageRound })
	r.must(crank(1, "no"))
	v, u := r.o.Judge(morning), r.u()
	if v.Outcome != outing.Refusal || v.Grade != defect.Sound || u.Round.Next() != 0 || u.Round.Attempt != 2 {
		t.Fatalf("a flat battery: %s %s, next test %d of attempt %d", v.Outcome, v.Grade, u.Round.Next(), u.Round.Attempt)
	}
	r.refused(test(0, round.Good), "outing.circle_not_clear") // who looked at the battery was away
	r.must(outingtest.InPlace(r.u().Round))
	r.refused(test(0, round.Good), "outing.test_not_next") // of the attempt before
	r.until(r.stage(outing.StageVerdict))
	if r.o.Judge(morning).Outcome != outing.Clear {
		t.Error("the round done again does not count")
	}
}

func TestStops(t *testing.T) {
	s := machinetest.All(t)[0]
	at := func(kind string) *runner {
		r := newRunner(t, s)
		r.until(func() bool {
			round := r.u().Round
			return round.Runs && round.Next() < len(round.Plan.Tests) && round.Plan.Tests[round.Next()].Kind == kind
		})
		return r
	}
	for name, test := range map[string]struct {
		tries []round.Test
		want  round.Outcome
	}{
		"not moving before proves nothing":    {[]round.Test{{Result: round.NotBefore}}, round.Void},
		"void may be done again":              {[]round.Test{{Result: round.NotBefore}, {Result: round.Good, Seconds: "2"}}, round.Passed},
		"in time":                             {[]round.Test{{Result: round.Good, Seconds: "4.5"}}, round.Passed},
		"too late":                            {[]round.Test{{Result: round.Good, Seconds: "5.5"}}, round.Failed},
		"near":                                {[]round.Test{{Result: round.Good, Seconds: "4.8"}}, round.Near},
		"near, then in time":                  {[]round.Test{{Result: round.Good, Seconds: "5.2"}, {Result: round.Good, Seconds: "3"}}, round.Passed},
		"near twice counts on the worse side": {[]round.Test{{Result: round.Good, Seconds: "4.8"}, {Result: round.Good, Seconds: "4.8"}}, round.Failed},
		"moved on":                            {[]round.Test{{Result: round.Bad}}, round.Failed},
	} {
		t.Run(name, func(t *testing.T) {
			r := at(interlock.DriveStop)
			n := r.u().Round.Next()
			for _, try := range test.tries {
				try.Machine, try.Attempt, try.Test = "m", 1, n
				r.must(outing.Test{Test: try})
			}
			if got := r.u().Round.Results[n].Outcome; got != test.want {
				t.Errorf("%s, want %s", got, test.want)
			}
		})
	}
	r := at(interlock.DriveStop)
	r.refused(test(r.u().Round.Next(), round.Good), "outing.time_needed")
}

// TestOnlyTheFourWordsAreResults: a word that is none, or that a test does not
// ask for, records nothing.
func TestOnlyTheFourWordsAreResults(t *testing.T) {
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.until(r.stage(outing.StageRound))
	r.next()
	for _, word := range []string{"", "pass", "sound", "GOOD", round.Again, round.NotBefore} {
		r.refused(test(0, word), "outing.no_such_result")
	}
	r.until(func() bool { return r.u().Round.NeedsCrank() })
	for _, word := range []string{"", "yes", "bad"} {
		r.refused(crank(1, word), "outing.no_such_result")
	}
}

// TestWhoMayRelease: what the record lacks keeps the machine in; where it is
// schooling, nothing is started either.
func TestWhoMayRelease(t *testing.T) {
	long := morning.AddDate(-3, 0, 0)
	for name, test := range map[string]struct {
		family string
		change func(*operator.Person)
		rule   text.Rule
	}{
		"no manual":                   {"zero_turn", func(p *operator.Person) { p.Manuals = nil }, "ready.manual"},
		"old manual":                  {"zero_turn", func(p *operator.Person) { p.Manuals[0].Edition = "2019" }, "ready.old_manual"},
		"age not known":               {"petrol_chainsaw", func(p *operator.Person) { p.Born = "" }, "ready.age_unknown"},
		"too young":                   {"petrol_chainsaw", func(p *operator.Person) { p.Born = "2009-11-24" }, "ready.too_young"},
		"no practice":                 {"disc_chipper", func(p *operator.Person) { p.Qualifications = nil }, "ready.practice"},
		"practice of another machine": {"disc_chipper", func(p *operator.Person) { p.Qualifications[1].Sheet = "other" }, "ready.practice"},
		"practice long ago":           {"disc_chipper", func(p *operator.Person) { p.Qualifications[1].On = long }, "ready.refresher"},
	} {
		t.Run(name, func(t *testing.T) {
			m := outingtest.Machine("m", machinetest.Of(t, test.family))
			ida := outingtest.Schooled("ida", operator.Operator, m.Sheet)
			test.change(&ida)
			r := runnerOf(t, takenOut(t, m, ida))
			r.crew.Add(ida)
			r.until(r.stage(outing.StageVerdict))
			v := r.o.Judge(morning)
			if v.Outcome != outing.Refusal || v.Missing[0].Reason.Rule != test.rule || v.Grade != defect.Sound {
				t.Errorf("%+v", v.Missing)
			}
			if r.u().Round.Next() != 0 || r.o.MayStart() {
				t.Error("the round is offered to somebody who may not start the machine")
			}
			r.refused(outingTest(r), "outing.nothing_started")
			r.refused(outing.Release{}, "outing.not_clear")
		})
	}
}

// outingTest is the next test of the round.
func outingTest(r *runner) outing.Test {
	return outing.Test{Test: outingtest.GoodTest(r.u().Round, r.u().Round.Next())}
}

func TestCompanyAndConflicts(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "disc_chipper"))
	alone := outingtest.Ready(r.o)
	alone.Company, alone.ClearOf = "", nil
	r.must(alone)
	var rules []text.Rule
	for _, reason := range r.o.Unready(morning) {
		rules = append(rules, reason.Rule)
	}
	if !slices.Equal(rules, []text.Rule{"ready.company", "ready.conflict"}) {
		t.Errorf("alone and in chaps: %v", rules)
	}
	r = newRunner(t, machinetest.Of(t, "tracked_trencher"))
	unseen := outingtest.Ready(r.o)
	unseen.CheckIn = ""
	r.must(unseen)
	if !slices.ContainsFunc(r.o.Unready(morning), func(reason text.Reason) bool { return reason.Rule == "ready.check_in" }) {
		t.Error("trenching alone without a time to be looked for")
	}
}

func TestATraineesOutingNeedsASecondPerson(t *testing.T) {
	r := newRunner(t, machinetest.All(t)[0])
	r.who(func(p *operator.Person) { p.Role = operator.Trainee })
	r.until(r.stage(outing.StageVerdict))
	if v := r.o.Judge(morning); v.Outcome != outing.Clear {
		t.Fatalf("%+v", v.Missing)
	}
	gone := outingtest.Schooled("gone", operator.Lead)
	gone.Left = morning
	r.crew.Add(gone)
	for _, second := range []string{"", "ida", "osk", "jonah", "gone", "nobody"} {
		r.refused(outing.Release{Second: second}, "outing.second_person")
	}
	r.must(outing.Release{Second: "maren"})
	if r.o.Second != "maren" || r.o.Release.By != "ida" {
		t.Errorf("released by %s with %s", r.o.Release.By, r.o.Second)
	}
}

func TestTheJobIsRefusedNotTheMachine(t *testing.T) {
	s := machinetest.Of(t, "tracked_trencher")
	r := newRunner(t, s)
	r.who(func(p *operator.Person) { p.Qualifications = p.Qualifications[:2] }) // practice, but none on slopes
	r.until(r.stage(outing.StageVerdict))
	v := r.o.Judge(morning)
	refused := func(use string) bool {
		return slices.ContainsFunc(v.Refused, func(u outing.RefusedUse) bool { return u.Use == use })
	}
	if v.Outcome != outing.Clear || !refused("slope") || refused("near_public") {
		t.Errorf("without slope practice: %s, refused %+v", v.Outcome, v.Refused)
	}
}

func TestStartFromWhereIStand(t *testing.T) {
	for _, s := range machinetest.All(t) {
		for _, st := range s.Sheet.Loop.Stations {
			r := newRunner(t, s)
			r.next()
			for range 4 {
				r.next()
			}
			points := func() (n int) {
				for _, stop := range r.u().Left(machine.Cold) {
					if stop.Do == walk.Check {
						n++
					}
				}
				return n
			}
			before := points()
			r.must(outing.Reroute{Machine: "m", From: st.ID})
			if after := points(); after != before {
				t.Errorf("%s from %s: %d points left, %d before", s.Sheet.ID, st.ID, after, before)
			}
			r.until(r.stage(outing.StageVerdict))
			if v := r.o.Judge(morning); v.Outcome != outing.Clear {
				t.Errorf("%s from %s: %+v", s.Sheet.ID, st.ID, v.Missing)
			}
		}
	}
	s := machinetest.All(t)[0]
	r := newRunner(t, s)
	r.next()
	r.refused(outing.Reroute{Machine: "m", From: "moon"}, "sheet.unknown_reference")
}

func TestLimitsDependOnTheDay(t *testing.T) {
	s := machinetest.Of(t, "tracked_trencher")
	for choice, want := range map[string]machine.Extent{"dry": machine.Lost, "damp": machine.Sound, "wet": machine.Sound} {
		t.Run(choice, func(t *testing.T) {
			r := newRunner(t, s)
			r.until(r.at("teeth"))
			slack, _ := s.Sheet.Check("chain_slack")
			answer := read("chain_slack", &slack.Readings[0], 42)
			r.next()
			r.refused(answer, "outing.condition_first")
			r.must(outing.Tell{Conditioned: inspect.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: choice}})
			r.refused(outing.Tell{Conditioned: inspect.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: choice}}, "outing.already_answered") // as it was told
			r.must(answer)
			if given := r.u().Given("chain_slack", "slack"); given[0].Finding.Extent != want {
				t.Errorf("42 mm, soil %s: %s, want %s", choice, given[0].Finding.Extent, want)
			}
		})
	}
}

func TestAWarmMachineWaits(t *testing.T) {
	s := machinetest.Of(t, "disc_chipper")
	worked := morning.Add(-10 * time.Minute)
	warm := outingtest.Machine("m", s)
	warm.Worked = worked
	r := runnerOf(t, outingtest.Begin(t, "ida", warm, nil))
	r.until(func() bool {
		left := r.u().Left(machine.Cold)
		return r.o.Ready() != nil && (left[0].ID == "coolant" || left[0].ID == "hydraulic_oil")
	})
	if left := r.u().Left(machine.Cold); len(left) != 2 {
		t.Errorf("%d points left when only the warm ones are", len(left))
	}
	coolant, _ := s.Sheet.Check("coolant")
	r.refused(read("coolant", &coolant.Readings[0], 50), "outing.still_warm")
	if err := r.tryAt(worked.Add(30*time.Minute), read("coolant", &coolant.Readings[0], 50)); err != nil {
		t.Errorf("after half an hour: %v", err)
	}
}

func TestCarriedDefects(t *testing.T) {
	s := machinetest.All(t)[0]
	passed := morning.Add(-time.Hour)
	r := newRunner(t, s, outing.Carried{ID: "d1", Check: "deck_belt", Finding: defect.Finding{Grade: defect.Mend, Deadline: defect.Deadline{At: &passed}}})
	if v := r.o.Judge(morning); v.Outcome != outing.Halted {
		t.Errorf("a Mend past its deadline: %s", v.Outcome)
	}
	r = newRunner(t, s, outing.Carried{ID: "d1", Check: "seat_belt", Finding: defect.Finding{Grade: defect.Watch}})
	r.next()
	r.must(outingtest.Fault("m", "seat_belt", "frayed"))
	if d := r.o.Defects(); len(d) != 1 || d[0].ID != "d1" || d[0].Finding.Grade != defect.Halt {
		t.Errorf("the same point, worse: %+v", d)
	}
}

// TestNoReleaseWithoutCause answers in every order it can think of, right and
// wrong, and never finds an outing clear that should not be.
func TestNoReleaseWithoutCause(t *testing.T) {
	all := machinetest.All(t)
	random := rand.New(rand.NewPCG(24, 11))
	clear := 0
	for range 250 {
		s := all[random.IntN(len(all))]
		r := newRunner(t, s)
		wild := random.Float64() * 0.3
		for range 140 {
			c := outingtest.Next(r.o, r.now())
			if random.Float64() < wild {
				c = anything(random, r.o, s)
			}
			if c == nil {
				break
			}
			_ = r.try(c)
			check(t, r.o)
		}
		if r.o.Status == outing.Out {
			clear++ // released on the way
		} else if r.o.Judge(morning).Outcome == outing.Clear {
			clear++
			r.must(outing.Release{})
		} else if err := r.try(outing.Release{}); err == nil {
			t.Fatal("released without being clear")
		}
	}
	if clear == 0 {
		t.Error("nothing was ever clear: the test shows nothing")
	}
}

// anything is something said that may or may not fit.
func anything(random *rand.Rand, o *outing.Outing, s machinetest.Resolved) outing.Command {
	c := s.Sheet.Checks[random.IntN(len(s.Sheet.Checks))]
	item := inspect.Items(&c)[random.IntN(len(inspect.Items(&c)))]
	u := o.Units[0]
	words := []string{round.Good, round.Bad, round.Again, round.NotBefore, "", "fine"}
	switch random.IntN(9) {
	case 0:
		return outing.Answer{Answer: inspect.Answer{Machine: "m", Check: c.ID, Item: item, Answer: inspect.NotReached}}
	case 1:
		return outingtest.Fault("m", c.ID, c.Faults[random.IntN(len(c.Faults))].ID)
	case 2:
		if r, ok := c.Reading(item); ok {
			return read(c.ID, r, r.Range[0]+random.Float64()*(r.Range[1]-r.Range[0]))
		}
		return outingtest.Sound("m", c.ID)
	case 3:
		return outing.Test{Test: round.Test{Machine: "m", Attempt: u.Round.Attempt, Test: u.Round.Next(), Result: words[random.IntN(len(words))]}}
	case 4:
		return test(random.IntN(9), round.Good)
	case 5:
		return crank(u.Round.Attempt, []string{"no", "cranked", "started", ""}[random.IntN(4)])
	case 6:
		ready := outingtest.Ready(o)
		ready.Fit = []string{"yes", "yes", "no", ""}[random.IntN(4)]
		return ready
	case 7:
		if len(s.Sheet.Settings) == 0 {
			return outing.Tell{Conditioned: inspect.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: "wet"}}
		}
		st := s.Sheet.Settings[random.IntN(len(s.Sheet.Settings))]
		return outing.ChangeSetting{Set: inspect.Set{Machine: "m", Setting: st.ID, To: st.Ways[random.IntN(len(st.Ways))].ID}}
	}
	return outing.Release{}
}

// check looks at the outing without the judge: if it is clear, everything that
// has to be there is.
func check(t *testing.T, o *outing.Outing) {
	t.Helper()
	if o.Judge(morning).Outcome != outing.Clear {
		return
	}
	u := o.Units[0]
	for i := range u.Sheet.Checks {
		if open := u.Open(u.Sheet.Checks[i].ID); len(open) > 0 && u.Asks(u.Sheet.Checks[i].ID) {
			t.Fatalf("clear with %s unanswered", u.Sheet.Checks[i].ID)
		}
	}
	for i, r := range u.Round.Results {
		if r.Outcome != round.Passed {
			t.Fatalf("clear with test %d %q", i, r.Outcome)
		}
	}
	if !u.Round.Started && u.Sheet.HasEngine() {
		t.Fatal("clear without the engine having cranked")
	}
	for _, d := range o.Defects() {
		if d.Finding.Grade == defect.Halt {
			t.Fatalf("clear with a Halt at %s", d.Check)
		}
	}
	if !o.Ready().Fit {
		t.Fatal("clear with an operator who is not fit")
	}
	for _, s := range u.Sheet.Settings {
		if u.Stands(s.ID) != s.End {
			t.Fatalf("clear with %s %s", s.ID, u.Stands(s.ID))
		}
	}
}
