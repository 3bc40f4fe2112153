package outing_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/walk"
	"vespers/demo"
)

var morning = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

func sheets(t *testing.T) []catalogue.Resolved {
	t.Helper()
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// begin starts an outing on a sheet with nothing against the machine.
func begin(t *testing.T, r catalogue.Resolved, carried ...outing.Carried) *outing.Outing {
	t.Helper()
	logic, _ := interlock.Compile(r.Sheet.Interlock)
	started := outing.Started{Operator: "ida", House: defect.DefaultHouse(), Units: []outing.Unit{{
		Machine: "m", Name: "Verger", Sheet: r.Hash, Hours: 100, Route: walk.Route(r.Sheet, walk.Options{}), Round: logic.Plan(), Carried: carried}}}
	o, err := outing.Begin("o", outing.Meta{ID: "start", By: "ida", At: morning}, started, func(string) (*machine.Sheet, error) { return r.Sheet, nil })
	if err != nil {
		t.Fatal(err)
	}
	return o
}

var born = time.Date(1988, 9, 30, 0, 0, 0, 0, time.UTC)

func ready(r catalogue.Resolved) operator.Readiness {
	practised := morning.AddDate(0, -3, 0)
	return operator.Readiness{Role: operator.Operator, Born: &born, Manuals: []operator.ManualRead{{Sheet: r.Sheet.ID, Edition: r.Sheet.Edition, Language: text.English}},
		Qualifications: []operator.Qualification{{Kind: operator.Practice, Sheet: r.Sheet.ID, On: practised}, {Kind: operator.SlopePractice, Sheet: r.Sheet.ID, On: practised}, {Kind: operator.Licence, On: practised}}}
}

// sheetOf is the catalogue's sheet of a family.
func sheetOf(t *testing.T, family string) catalogue.Resolved {
	t.Helper()
	for _, r := range sheets(t) {
		if r.Sheet.Family == family {
			return r
		}
	}
	t.Fatalf("no sheet of family %s", family)
	return catalogue.Resolved{}
}

type runner struct {
	t *testing.T
	o *outing.Outing
	n int
}

// try offers an event and applies it if it is accepted.
func (r *runner) try(e outing.Event, supersedes ...string) error {
	r.n++
	meta := outing.Meta{ID: fmt.Sprintf("r%04d", r.n), By: "ida", At: morning.Add(time.Duration(r.n) * time.Second)}
	if len(supersedes) > 0 {
		meta.Supersedes = supersedes[0]
	}
	if err := r.o.Accept(meta, e); err != nil {
		return err
	}
	r.o.Apply(meta, e)
	return nil
}

func (r *runner) must(e outing.Event, supersedes ...string) {
	r.t.Helper()
	if err := r.try(e, supersedes...); err != nil {
		r.t.Fatalf("%s: %v", e.Kind(), err)
	}
}

func (r *runner) refused(e outing.Event, rule text.Rule) {
	r.t.Helper()
	var refused *outing.Refused
	if err := r.try(e); !errors.As(err, &refused) || refused.Reason.Rule != rule {
		r.t.Errorf("%s %+v: %v, want %s", e.Kind(), e, err, rule)
	}
}

// until answers everything in order until the stage, or the point, is reached.
func (r *runner) until(who operator.Readiness, stop func() bool) {
	r.t.Helper()
	for !stop() {
		e := demo.Next(r.o, who)
		if e == nil {
			r.t.Fatal("the verdict came before the place looked for")
		}
		r.must(e)
	}
}

func (r *runner) stage(name string) func() bool { return func() bool { return r.o.Stage() == name } }

func (r *runner) at(point string) func() bool {
	return func() bool {
		left := r.o.Units[0].Left(machine.Cold)
		return r.o.Ready != nil && len(left) > 0 && left[0].ID == point
	}
}

func TestCleanOutingIsReleased(t *testing.T) {
	for _, s := range sheets(t) {
		r := &runner{t: t, o: begin(t, s)}
		r.until(ready(s), r.stage("verdict"))
		v := r.o.Judge(morning)
		if v.Outcome != outing.Clear || v.Grade != defect.Sound || len(v.Cleared) == 0 {
			t.Fatalf("%s: %+v", s.Sheet.ID, v)
		}
		r.must(outing.Released{Verdict: v})
		r.refused(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerSound}, "outing.released_already")
		r.must(outing.Ended{How: outing.EndHome})
		r.refused(outing.Ended{How: outing.EndHome}, "outing.closed")
	}
}

func TestOrderOfADay(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.refused(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerSound}, "outing.ready_first")
	r.must(demo.Next(r.o, ready(s)))
	r.refused(outing.Answered{Machine: "m", Check: "blades", Answer: outing.AnswerSound}, "outing.setting_needed")
	r.refused(outing.Answered{Machine: "m", Check: "running_brake", Answer: outing.AnswerSound}, "outing.round_first")
	r.refused(outing.Answered{Machine: "m", Check: "tyre_pressure", Item: "rear_left", Answer: outing.AnswerSound}, "reading.empty")
	r.refused(outing.Answered{Machine: "m", Check: "nothing", Answer: outing.AnswerSound}, "outing.unknown_point")
	r.refused(outing.Answered{Machine: "x", Check: "seat_belt", Answer: outing.AnswerSound}, "outing.unknown_machine")
	r.refused(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerFault, Fault: "cord"}, "outing.unknown_fault")
	r.refused(outing.Tested{Machine: "m", Attempt: 1}, "outing.walk_first")
	r.refused(outing.Released{}, "outing.not_clear")
}

func TestReadingsAreChecked(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.must(demo.Next(r.o, ready(s)))
	hours, _ := s.Sheet.Check("hour_meter")
	for value, rule := range map[float64]text.Rule{99: "reading.hours_back", 400: "reading.hours_jump", -5: "reading.out_of_range", 1e9: "reading.out_of_range"} {
		r.refused(outing.Answered{Machine: "m", Check: "hour_meter", Item: "hours", Answer: outing.AnswerReading, Value: demo.Value(&hours.Readings[0], value)}, rule)
	}
	tyre, _ := s.Sheet.Check("tyre_pressure")
	for typed, rule := range map[string]text.Rule{"": "reading.empty", "1e9": "reading.not_a_number", "90 mm": "reading.wrong_unit", "abc": "reading.not_a_number"} {
		var refused *outing.Refused
		if _, err := outing.ParseValue(&tyre.Readings[0], typed, "kPa"); !errors.As(err, &refused) || refused.Reason.Rule != rule {
			t.Errorf("%q: %v, want %s", typed, err, rule)
		}
	}
	v, err := outing.ParseValue(&tyre.Readings[0], "13,5", "psi")
	if err != nil || v.Typed != "13,5" || v.Unit != "psi" {
		t.Errorf("typed value is not kept: %+v, %v", v, err)
	}
}

func TestSecondAnswerNeedsACorrection(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.must(demo.Next(r.o, ready(s)))
	r.must(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerFault, Fault: "buckle"})
	first := r.o.Units[0].Given("seat_belt", "")[0].Meta.ID
	if r.o.Judge(morning).Outcome != outing.Halted {
		t.Fatal("a buckle that does not hold is no Halt")
	}
	var refused *outing.Refused
	if err := r.try(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerSound}); !errors.As(err, &refused) || refused.Earlier == nil || refused.Earlier.Fault != "buckle" {
		t.Errorf("second answer: %v", err)
	}
	if err := r.try(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerSound}, "somebody-elses"); err == nil {
		t.Error("a correction of another answer was taken")
	}
	r.must(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerSound}, first)
	if r.o.Judge(morning).Outcome == outing.Halted || len(r.o.Units[0].Given("seat_belt", "")) != 2 {
		t.Error("the mistap was not corrected, or not kept")
	}
}

func TestPutRight(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.at("tyre_pressure"))
	c, _ := s.Sheet.Check("tyre_pressure")
	low := outing.Answered{Machine: "m", Check: "tyre_pressure", Item: "rear_right", Answer: outing.AnswerReading, Value: demo.Value(&c.Readings[0], 50)}
	r.must(low)
	if d := r.o.Defects(); len(d) != 1 || d[0].Finding.Grade != defect.Mend {
		t.Fatalf("low tyre: %+v", d)
	}
	finding := r.o.Units[0].Given("tyre_pressure", "rear_right")[0].Meta.ID
	good := low
	good.Value = demo.Value(&c.Readings[0], 93)
	r.refused(outing.PutRight{Machine: "m", Check: "tyre_pressure", Item: "rear_right", Finding: "other", Now: good}, "outing.not_the_last_answer")
	r.must(outing.PutRight{Machine: "m", Check: "tyre_pressure", Item: "rear_right", Finding: finding, Now: good})
	if d := r.o.Defects(); len(d) != 0 {
		t.Errorf("still standing: %+v", d)
	}
	if g := r.o.Units[0].Given("tyre_pressure", "rear_right"); len(g) != 1 || g[0].Value.Quantity == g[0].Right.Now.Value.Quantity {
		t.Error("finding and second look are not both kept")
	}
}

func TestPutRightOnlyWhatTheSheetAllows(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.at("roll_bar"))
	r.must(outing.Answered{Machine: "m", Check: "roll_bar", Answer: outing.AnswerFault, Fault: "cracked"})
	r.refused(outing.PutRight{Machine: "m", Check: "roll_bar", Finding: r.o.Units[0].Given("roll_bar", "")[0].Meta.ID,
		Now: outing.Answered{Machine: "m", Check: "roll_bar", Answer: outing.AnswerSound}}, "outing.not_put_right_here")
}

func TestUnevenTyresRestrictSlopes(t *testing.T) {
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.at("tyre_pressure"))
	c, _ := s.Sheet.Check("tyre_pressure")
	for i, v := range []float64{82, 175, 175, 100} {
		r.must(outing.Answered{Machine: "m", Check: "tyre_pressure", Item: c.Readings[i].ID, Answer: outing.AnswerReading, Value: demo.Value(&c.Readings[i], v)})
	}
	r.until(ready(s), r.stage("verdict"))
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
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.at("chute"))
	r.must(outing.Answered{Machine: "m", Check: "chute", Answer: outing.AnswerNotReached})
	left := r.o.Units[0].Left(machine.Cold)
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
	s := sheets(t)[1]
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), r.stage(outing.StepRound))
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: 3}, "outing.test_not_next")
	r.refused(outing.Cranked{Machine: "m", Attempt: 1, Cranked: true, Started: true}, "outing.not_time_to_start")
	r.must(outing.Tested{Machine: "m", Attempt: 1, Test: 0, After: true})
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: 0}, "outing.failed_stays_failed")
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: 1}, "outing.on_halt")
	if v := r.o.Judge(morning); v.Outcome != outing.Halted || v.Grade != defect.Halt {
		t.Errorf("%+v", v)
	}
}

func TestVoidRound(t *testing.T) {
	s := sheets(t)[1]
	r := &runner{t: t, o: begin(t, s)}
	u := r.o.Units[0]
	r.until(ready(s), func() bool { return u.Round.NeedsCrank() && r.o.Stage() == outing.StepRound })
	r.must(outing.Cranked{Machine: "m", Attempt: 1})
	v := r.o.Judge(morning)
	if v.Outcome != outing.Refusal || v.Grade != defect.Sound || u.Round.Next() != 0 || u.Round.Attempt != 2 {
		t.Fatalf("a flat battery: %s %s, next test %d of attempt %d", v.Outcome, v.Grade, u.Round.Next(), u.Round.Attempt)
	}
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: 0}, "outing.test_not_next")
	r.until(ready(s), r.stage("verdict"))
	if r.o.Judge(morning).Outcome != outing.Clear {
		t.Error("the round done again does not count")
	}
}

func TestStops(t *testing.T) {
	s := sheets(t)[0]
	at := func(kind string) *runner {
		r := &runner{t: t, o: begin(t, s)}
		u := r.o.Units[0]
		r.until(ready(s), func() bool {
			return u.Round.Runs && u.Round.Next() < len(u.Round.Plan.Tests) && u.Round.Plan.Tests[u.Round.Next()].Kind == kind
		})
		return r
	}
	seconds := func(v float64) *float64 { return &v }
	limit := 5.0
	for _, test := range []struct {
		name  string
		tries []outing.Tested
		want  outing.Outcome
	}{
		{"not moving before proves nothing", []outing.Tested{{}}, outing.Void},
		{"void may be done again", []outing.Tested{{}, {Before: true, Seconds: seconds(2)}}, outing.Passed},
		{"in time", []outing.Tested{{Before: true, Seconds: seconds(limit - 0.5)}}, outing.Passed},
		{"too late", []outing.Tested{{Before: true, Seconds: seconds(limit + 0.5)}}, outing.Failed},
		{"near", []outing.Tested{{Before: true, Seconds: seconds(limit - 0.2)}}, outing.Near},
		{"near, then in time", []outing.Tested{{Before: true, Seconds: seconds(limit + 0.2)}, {Before: true, Seconds: seconds(3)}}, outing.Passed},
		{"near twice counts on the worse side", []outing.Tested{{Before: true, Seconds: seconds(limit - 0.2)}, {Before: true, Seconds: seconds(limit - 0.2)}}, outing.Failed},
		{"moved on", []outing.Tested{{Before: true, After: true}}, outing.Failed},
	} {
		r := at(interlock.DriveStop)
		n := r.o.Units[0].Round.Next()
		for _, e := range test.tries {
			e.Machine, e.Attempt, e.Test = "m", 1, n
			r.must(e)
		}
		if got := r.o.Units[0].Round.Results[n].Outcome; got != test.want {
			t.Errorf("%s: %s, want %s", test.name, got, test.want)
		}
	}
	r := at(interlock.DriveStop)
	r.refused(outing.Tested{Machine: "m", Attempt: 1, Test: r.o.Units[0].Round.Next(), Before: true}, "outing.time_needed")
}

func TestWhoMayRelease(t *testing.T) {
	young, long := morning.AddDate(-17, 0, 0), morning.AddDate(-3, 0, 0)
	for _, test := range []struct {
		name, family string
		change       func(*operator.Readiness)
		rule         text.Rule
	}{
		{"visitor", "zero_turn", func(r *operator.Readiness) { r.Role = operator.Visitor }, "ready.role"},
		{"no manual", "zero_turn", func(r *operator.Readiness) { r.Manuals = nil }, "ready.manual"},
		{"old manual", "zero_turn", func(r *operator.Readiness) { r.Manuals[0].Edition = "2019" }, "ready.old_manual"},
		{"age not known", "petrol_chainsaw", func(r *operator.Readiness) { r.Born = nil }, "ready.age_unknown"},
		{"too young", "petrol_chainsaw", func(r *operator.Readiness) { r.Born = &young }, "ready.too_young"},
		{"no practice", "disc_chipper", func(r *operator.Readiness) { r.Qualifications = nil }, "ready.practice"},
		{"practice of another machine", "disc_chipper", func(r *operator.Readiness) { r.Qualifications[0].Sheet = "other" }, "ready.practice"},
		{"practice long ago", "disc_chipper", func(r *operator.Readiness) { r.Qualifications[0].On = long }, "ready.refresher"},
	} {
		s := sheetOf(t, test.family)
		who := ready(s)
		test.change(&who)
		r := &runner{t: t, o: begin(t, s)}
		r.until(who, r.stage("verdict"))
		v := r.o.Judge(morning)
		if v.Outcome != outing.Refusal || len(v.Missing) != 1 || v.Missing[0].Reason.Rule != test.rule || v.Grade != defect.Sound {
			t.Errorf("%s: %+v", test.name, v.Missing)
		}
	}
}

func TestCompanyAndConflicts(t *testing.T) {
	s := sheetOf(t, "disc_chipper")
	r := &runner{t: t, o: begin(t, s)}
	who := ready(s)
	who.Fit = true
	for _, p := range s.Sheet.Protection {
		who.Worn = append(who.Worn, p.ID)
	}
	r.must(outing.Readied{Readiness: who})
	var rules []text.Rule
	for _, reason := range r.o.Unready(morning) {
		rules = append(rules, reason.Rule)
	}
	if !slices.Equal(rules, []text.Rule{"ready.company", "ready.conflict"}) {
		t.Errorf("alone and in chaps: %v", rules)
	}
	trench := sheetOf(t, "tracked_trencher")
	r = &runner{t: t, o: begin(t, trench)}
	r.must(outing.Readied{Readiness: ready(trench)})
	if !slices.ContainsFunc(r.o.Unready(morning), func(reason text.Reason) bool { return reason.Rule == "ready.check_in" }) {
		t.Error("trenching alone without a time to be looked for")
	}
}

func TestATraineesOutingNeedsASecondPerson(t *testing.T) {
	s := sheets(t)[0]
	who := ready(s)
	who.Role = operator.Trainee
	r := &runner{t: t, o: begin(t, s)}
	r.until(who, r.stage("verdict"))
	v := r.o.Judge(morning)
	if v.Outcome != outing.Clear {
		t.Fatalf("%+v", v.Missing)
	}
	r.refused(outing.Released{Verdict: v}, "outing.second_person")
	r.refused(outing.Released{Verdict: v, Second: "ida"}, "outing.second_person")
	r.must(outing.Released{Verdict: v, Second: "maren"})
}

func TestTheJobIsRefusedNotTheMachine(t *testing.T) {
	s := sheetOf(t, "tracked_trencher")
	who := ready(s)
	who.Qualifications = who.Qualifications[:1] // practice, but none on slopes
	r := &runner{t: t, o: begin(t, s)}
	r.until(who, r.stage("verdict"))
	v := r.o.Judge(morning)
	refused := func(use string) bool {
		return slices.ContainsFunc(v.Refused, func(u outing.RefusedUse) bool { return u.Use == use })
	}
	if v.Outcome != outing.Clear || !refused("slope") || refused("near_public") {
		t.Errorf("without slope practice: %s, refused %+v", v.Outcome, v.Refused)
	}
}

func TestStartFromWhereIStand(t *testing.T) {
	for _, s := range sheets(t) {
		for _, st := range s.Sheet.Loop.Stations {
			r := &runner{t: t, o: begin(t, s)}
			r.must(demo.Next(r.o, ready(s)))
			for range 4 {
				r.must(demo.Next(r.o, ready(s)))
			}
			u := r.o.Units[0]
			points := func() (n int) {
				for _, stop := range u.Left(machine.Cold) {
					if stop.Do == walk.Check {
						n++
					}
				}
				return n
			}
			before := points()
			r.must(outing.Rerouted{Machine: "m", From: st.ID, Route: u.RouteFrom(st.ID, morning)})
			if after := points(); after != before {
				t.Errorf("%s from %s: %d points left, %d before", s.Sheet.ID, st.ID, after, before)
			}
			r.until(ready(s), r.stage("verdict"))
			if v := r.o.Judge(morning); v.Outcome != outing.Clear {
				t.Errorf("%s from %s: %+v", s.Sheet.ID, st.ID, v.Missing)
			}
		}
	}
	s := sheets(t)[0]
	r := &runner{t: t, o: begin(t, s)}
	r.must(demo.Next(r.o, ready(s)))
	r.refused(outing.Rerouted{Machine: "m", From: "moon", Route: r.o.Units[0].Route}, "sheet.unknown_reference")
	r.refused(outing.Rerouted{Machine: "m", From: "front", Route: r.o.Units[0].Route[1:]}, "outing.unknown_point")
}

func TestLimitsDependOnTheDay(t *testing.T) {
	s := sheetOf(t, "tracked_trencher")
	for choice, want := range map[string]machine.Extent{"dry": machine.Lost, "damp": machine.Sound, "wet": machine.Sound} {
		r := &runner{t: t, o: begin(t, s)}
		r.until(ready(s), r.at("teeth"))
		slack, _ := s.Sheet.Check("chain_slack")
		answer := outing.Answered{Machine: "m", Check: "chain_slack", Item: "slack", Answer: outing.AnswerReading, Value: demo.Value(&slack.Readings[0], 42)}
		r.must(demo.Next(r.o, ready(s)))
		r.refused(answer, "outing.condition_first")
		r.must(outing.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: choice})
		r.refused(outing.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: choice}, "outing.already_answered")
		r.must(answer)
		if given := r.o.Units[0].Given("chain_slack", "slack"); given[0].Finding.Extent != want {
			t.Errorf("42 mm, soil %s: %s, want %s", choice, given[0].Finding.Extent, want)
		}
	}
}

func TestAWarmMachineWaits(t *testing.T) {
	s := sheetOf(t, "disc_chipper")
	worked := morning.Add(-10 * time.Minute)
	logic, _ := interlock.Compile(s.Sheet.Interlock)
	started := outing.Started{Operator: "ida", House: defect.DefaultHouse(), Units: []outing.Unit{{Machine: "m", Name: "Verger", Sheet: s.Hash, Hours: 100,
		Route: walk.Route(s.Sheet, walk.Options{Hot: true, Minutes: 10}), Round: logic.Plan(), Worked: &worked}}}
	o, err := outing.Begin("o", outing.Meta{ID: "start", By: "ida", At: morning}, started, func(string) (*machine.Sheet, error) { return s.Sheet, nil })
	if err != nil {
		t.Fatal(err)
	}
	r := &runner{t: t, o: o}
	r.until(ready(s), func() bool {
		left := o.Units[0].Left(machine.Cold)
		return o.Ready != nil && (left[0].ID == "coolant" || left[0].ID == "hydraulic_oil")
	})
	if left := o.Units[0].Left(machine.Cold); len(left) != 2 {
		t.Errorf("%d points left when only the warm ones are", len(left))
	}
	coolant, _ := s.Sheet.Check("coolant")
	r.refused(outing.Answered{Machine: "m", Check: "coolant", Item: "level", Answer: outing.AnswerReading, Value: demo.Value(&coolant.Readings[0], 50)}, "outing.still_warm")
	meta := outing.Meta{ID: "later", By: "ida", At: worked.Add(30 * time.Minute)}
	if err := o.Accept(meta, outing.Answered{Machine: "m", Check: "coolant", Item: "level", Answer: outing.AnswerReading, Value: demo.Value(&coolant.Readings[0], 50)}); err != nil {
		t.Errorf("after half an hour: %v", err)
	}
}

func TestCarriedDefects(t *testing.T) {
	s := sheets(t)[0]
	passed := morning.Add(-time.Hour)
	r := &runner{t: t, o: begin(t, s, outing.Carried{ID: "d1", Check: "deck_belt", Finding: defect.Finding{Grade: defect.Mend, Deadline: defect.Deadline{At: &passed}}})}
	if v := r.o.Judge(morning); v.Outcome != outing.Halted {
		t.Errorf("a Mend past its deadline: %s", v.Outcome)
	}
	r = &runner{t: t, o: begin(t, s, outing.Carried{ID: "d1", Check: "seat_belt", Finding: defect.Finding{Grade: defect.Watch}})}
	r.must(demo.Next(r.o, ready(s)))
	r.must(outing.Answered{Machine: "m", Check: "seat_belt", Answer: outing.AnswerFault, Fault: "frayed"})
	if d := r.o.Defects(); len(d) != 1 || d[0].ID != "d1" || d[0].Finding.Grade != defect.Halt {
		t.Errorf("the same point, worse: %+v", d)
	}
}

// TestNoReleaseWithoutCause answers in every order it can think of, right and
// wrong, and never finds an outing clear that should not be.
func TestNoReleaseWithoutCause(t *testing.T) {
	all := sheets(t)
	random := rand.New(rand.NewPCG(24, 11))
	clear := 0
	for range 250 {
		s := all[random.IntN(len(all))]
		r := &runner{t: t, o: begin(t, s)}
		wild := random.Float64() * 0.3
		for range 140 {
			var e outing.Event
			if random.Float64() > wild {
				if e = demo.Next(r.o, ready(s)); e == nil {
					break
				}
			} else {
				e = anything(random, r.o, s)
			}
			_ = r.try(e)
			check(t, r.o)
		}
		if r.o.Status == outing.Out {
			clear++ // released on the way
		} else if r.o.Judge(morning).Outcome == outing.Clear {
			clear++
			r.must(outing.Released{Verdict: r.o.Judge(morning)})
		} else if err := r.try(outing.Released{}); err == nil {
			t.Fatal("released without being clear")
		}
	}
	if clear == 0 {
		t.Error("nothing was ever clear: the test shows nothing")
	}
}

// anything is an answer that may or may not fit.
func anything(random *rand.Rand, o *outing.Outing, s catalogue.Resolved) outing.Event {
	c := s.Sheet.Checks[random.IntN(len(s.Sheet.Checks))]
	item := outing.Items(&c)[random.IntN(len(outing.Items(&c)))]
	u := o.Units[0]
	switch random.IntN(9) {
	case 0:
		return outing.Answered{Machine: "m", Check: c.ID, Item: item, Answer: outing.AnswerNotReached}
	case 1:
		return outing.Answered{Machine: "m", Check: c.ID, Answer: outing.AnswerFault, Fault: c.Faults[random.IntN(len(c.Faults))].ID}
	case 2:
		if r, ok := c.Reading(item); ok {
			return outing.Answered{Machine: "m", Check: c.ID, Item: item, Answer: outing.AnswerReading, Value: demo.Value(r, r.Range[0]+random.Float64()*(r.Range[1]-r.Range[0]))}
		}
		return outing.Answered{Machine: "m", Check: c.ID, Answer: outing.AnswerSound}
	case 3:
		return outing.Tested{Machine: "m", Attempt: u.Round.Attempt, Test: u.Round.Next(), Before: random.IntN(2) == 0, After: random.IntN(4) == 0}
	case 4:
		return outing.Tested{Machine: "m", Attempt: 1, Test: random.IntN(9), Before: true}
	case 5:
		cranked := random.IntN(2) == 0
		return outing.Cranked{Machine: "m", Attempt: u.Round.Attempt, Cranked: cranked, Started: cranked && random.IntN(2) == 0}
	case 6:
		w := ready(s)
		w.Fit = random.IntN(3) > 0
		return outing.Readied{Readiness: w}
	case 7:
		if len(s.Sheet.Settings) == 0 {
			return outing.Conditioned{Machine: "m", Condition: "soil_wetness", Choice: "wet"}
		}
		st := s.Sheet.Settings[random.IntN(len(s.Sheet.Settings))]
		return outing.Set{Machine: "m", Setting: st.ID, To: st.Ways[random.IntN(len(st.Ways))].ID}
	}
	return outing.Released{}
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
		if open := u.Open(u.Sheet.Checks[i].ID); len(open) > 0 {
			t.Fatalf("clear with %s unanswered", u.Sheet.Checks[i].ID)
		}
	}
	for i, r := range u.Round.Results {
		if r.Outcome != outing.Passed {
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
	if !o.Ready.Fit {
		t.Fatal("clear with an operator who is not fit")
	}
	for _, s := range u.Sheet.Settings {
		if u.Stands[s.ID] != s.End {
			t.Fatalf("clear with %s %s", s.ID, u.Stands[s.ID])
		}
	}
}
