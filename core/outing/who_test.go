package outing_test

import (
	"errors"
	"slices"
	"strconv"
	"strings"
	"testing"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/round"
)

// places are where an outing can be, each with what Ida, whose it is, may say
// there and what answers everything else: the rule of a day, written down a
// second time. A command that is not named is refused by the rule under "".
var places = []struct {
	name  string
	reach func(r *runner)
	says  map[string]string
}{
	{"not asked yet", func(*runner) {}, map[string]string{
		"": "outing.ready_first", "ready": "", "hand over": "", "end": "", "answer at a break": "outing.not_out", "begin a break": "outing.not_out", "begin a procedure": "outing.ready_first", "link": "outing.ready_first", "read the meter": "outing.ready_first", "check in": "check_in.none_is_due", "seek": "check_in.none_is_due"}},
	{"not fit", func(r *runner) { r.must(outing.Ready{Fit: "no"}) }, map[string]string{
		"": "outing.not_fit", "ready": "", "hand over": "", "end": "", "answer at a break": "outing.not_out", "begin a break": "outing.not_out", "begin a procedure": "outing.not_fit", "link": "outing.not_fit", "read the meter": "outing.not_fit", "check in": "check_in.none_is_due", "seek": "check_in.none_is_due"}},
	{"on the walk", func(r *runner) { r.until(r.at("wheel_right_rear")); r.lowTyre() }, map[string]string{
		"": "", "crank": "outing.walk_first", "test": "outing.walk_first", "begin the round": "outing.walk_first", "let it move": "outing.walk_first", "put back": "outing.walk_first", "mistap": "outing.walk_first", "release": "outing.not_clear", "answer at a break": "outing.not_out", "begin a break": "outing.not_out"}},
	{"before the round", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageRound))
	}, map[string]string{
		"": "", "answer": "outing.round_first", "crank": "outing.not_time_to_start", "test": "outing.circle_not_clear", "mistap": "outing.circle_not_clear", "let it move": "outing.test_not_next", "put back": "outing.test_not_next", "release": "outing.not_clear", "reroute": "outing.no_walk_left", "answer at a break": "outing.not_out", "begin a break": "outing.not_out"}},
	{"in the round", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageRound))
		r.next()
	}, map[string]string{
		"": "", "answer": "outing.round_first", "crank": "outing.not_time_to_start", "begin the round": "outing.test_not_next", "let it move": "outing.test_not_next", "put back": "outing.test_not_next", "release": "outing.not_clear", "reroute": "outing.no_walk_left", "answer at a break": "outing.not_out", "begin a break": "outing.not_out", "begin a procedure": "procedure.round_runs"}},
	{"at the running checks", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageRunning))
	}, map[string]string{
		"": "", "crank": "outing.not_time_to_start", "test": "outing.test_not_next", "begin the round": "outing.test_not_next", "let it move": "outing.test_not_next", "put back": "outing.test_not_next", "mistap": "outing.test_not_next", "release": "outing.not_clear", "reroute": "outing.no_walk_left", "answer at a break": "outing.not_out", "begin a break": "outing.not_out"}},
	{"at the verdict", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageVerdict))
	}, map[string]string{
		"": "", "answer": "outing.already_answered", "crank": "outing.not_time_to_start", "test": "outing.test_not_next", "begin the round": "outing.test_not_next", "let it move": "outing.test_not_next", "put back": "outing.test_not_next", "mistap": "outing.test_not_next", "reroute": "outing.no_walk_left", "answer at a break": "outing.not_out", "begin a break": "outing.not_out"}},
	{"out", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageVerdict))
		r.must(outing.Release{})
	}, map[string]string{
		"": "outing.released_already", "hand over": "", "begin a break": "", "expect": "", "end": "outing.shut_down_first", "leave on site": "outing.shut_down_first", "answer at a break": "outing.not_in_break"}},
	{"at a break", func(r *runner) {
		r.until(r.at("wheel_right_rear"))
		r.lowTyre()
		r.until(r.stage(outing.StageVerdict))
		r.must(outing.Release{})
		r.must(outing.BeginBreak{})
	}, map[string]string{
		"": "outing.released_already", "hand over": "", "begin a break": "outing.break_not_done", "expect": "", "end": "outing.shut_down_first", "leave on site": "outing.shut_down_first", "answer at a break": ""}},
	{"home", func(r *runner) { r.must(outing.End{}) }, map[string]string{"": "outing.closed"}},
}

// inProcedures is what answers what is said of procedures, where a place does not
// name it: whatever happened is always taken, and nothing is open.
var inProcedures = map[string]string{"begin a procedure": "", "answer a step": "procedure.not_open", "leave a procedure": "procedure.not_open", "something happened": "", "check in": "", "read the meter": "", "seek": "check_in.not_missed", "plan": "", "link": "", "leave on site": "leave.never_out", "expect": "expect.not_out", "copy a test": "paper.not_one", "finish the paper": "paper.not_one"}

// lowTyre leaves a finding that can be put right on the walk.
func (r *runner) lowTyre() {
	c, _ := r.u().Sheet.Check("wheel_right_rear")
	r.must(read("wheel_right_rear", &c.Readings[0], 50))
}

// sayings are every command of an outing, as sensible as it can be where the
// outing is.
func (r *runner) sayings() map[string]outing.Command {
	u := r.u()
	sayings := map[string]outing.Command{
		"ready":              outingtest.Ready(r.o),
		"take over":          outing.TakeOver{},
		"hand over":          outing.HandOver{To: "otto"},
		"answer":             outingtest.Sound("m", "seat_belt"),
		"put right":          outing.PutRight{Finding: "none", Now: inspect.Answer{Machine: "m"}},
		"note":               outing.Note{Noted: inspect.Noted{Machine: "m", Finding: "none", Note: "By the tap"}},
		"reroute":            outing.Reroute{Machine: "m", From: u.Sheet.Loop.Stations[0].ID},
		"crank":              crank(1, "started"),
		"test":               outing.Test{Test: outingtest.GoodTest(u.Round, min(u.Round.Next(), len(u.Round.Plan.Tests)-1))},
		"begin the round":    outingtest.InPlace(u.Round),
		"let it move":        outing.Show{Show: round.Show{Machine: "m", Attempt: 1, Permit: "blades", Moved: "yes"}},
		"put back":           outing.PutBack{PutThingsBack: round.PutThingsBack{Machine: "m", Attempt: 1}},
		"mistap":             outing.Mistap{Test: round.Test{Machine: "m", Attempt: 1, Test: min(u.Round.Next(), len(u.Round.Plan.Tests)-1), Result: round.Bad}},
		"release":            outing.Release{},
		"begin a break":      outing.BeginBreak{},
		"answer at a break":  outing.AnswerBreak{Answer: outingtest.Sound("m", "seat_belt").Answer},
		"end":                outing.End{},
		"leave on site":      outing.Leave{Where: "Lower terrace", Secured: "Chocked, key with me", Why: "Fog", Fetches: "otto"},
		"link":               outing.Link{Machine: "m", How: outing.On},
		"begin a procedure":  outing.BeginProcedure{Machine: "m", Procedure: "shutdown"},
		"answer a step":      outing.AnswerStep{Machine: "m", Procedure: "shutdown", Step: "brake", Answer: "done"},
		"leave a procedure":  outing.LeaveProcedure{Machine: "m", Procedure: "shutdown"},
		"expect":             outing.Expect{Home: "11:00"},
		"check in":           outing.CheckIn{Next: "11:00"},
		"seek":               outing.Seek{Who: "otto"},
		"read the meter":     outing.ReadMeter{Machine: "m", Hours: strconv.FormatFloat(u.HoursNow(), 'f', -1, 64)},
		"something happened": outing.Happen{Machine: "m", Event: "hurt"},
		"copy a test":        outing.CopyTest{Copy: round.Copy{Machine: "m", Result: round.Good, Seconds: "1"}},
		"finish the paper":   outing.FinishPaper{Out: "no"},
		"plan":               outing.Intend{Uses: []string{"fine_turf"}, Hours: "2"},
		"make worse":         outing.Worsen{Worsened: inspect.Worsened{Machine: "m", Finding: "none", Grade: defect.Halt}},
	}
	tyres, _ := u.Sheet.Check("wheel_right_rear")
	if tyre := &tyres.Readings[0]; len(u.Given(tyres.ID, tyre.ID)) > 0 {
		finding := u.Given(tyres.ID, tyre.ID)[0].Meta.ID
		sayings["put right"] = outing.PutRight{Finding: finding, Now: outingtest.Typed("m", tyres.ID, tyre, outingtest.Good(u, tyre))}
		sayings["note"] = outing.Note{Noted: inspect.Noted{Machine: "m", Check: tyres.ID, Item: tyre.ID, Finding: finding, Note: "By the tap"}}
		sayings["make worse"] = outing.Worsen{Worsened: inspect.Worsened{Machine: "m", Check: tyres.ID, Item: tyre.ID, Finding: finding, Grade: defect.Halt}}
	}
	if left := append(u.Left(machine.Cold), u.Left(machine.Running)...); len(left) > 0 && r.o.Ready() != nil {
		for _, stop := range left {
			if c := u.Check(stop.ID); c != nil && len(c.Readings) == 0 && len(c.Needs) == 0 {
				sayings["answer"] = outingtest.Sound("m", c.ID)
				break
			}
		}
	}
	for _, s := range u.Sheet.Settings {
		for _, way := range s.Ways {
			if way.ID != u.Stands(s.ID) {
				sayings["change a setting"] = outing.ChangeSetting{Set: inspect.Set{Machine: "m", Setting: s.ID, To: way.ID}}
			}
		}
	}
	for _, c := range u.Sheet.Conditions {
		sayings["tell the day"] = outing.Tell{Conditioned: inspect.Conditioned{Machine: "m", Condition: c.ID, Choice: c.Choices[0].ID}}
	}
	if n := len(r.o.Breaks); n > 0 {
		if at := r.o.BreakLeft(); len(at) > 0 {
			sayings["answer at a break"] = good(at[0])
		}
	}
	return sayings
}

// whoSays is the rule about whose an outing is, written down a second time.
func whoSays(saying string, role operator.Role, own, here bool) string {
	const strange, role_, others = "who.nobody_here", "who.not_your_role", "who.anothers_outing"
	switch {
	case !here:
		return strange
	case own && saying == "take over":
		return "turn.yours_already"
	case saying == "seek" && role == operator.Lead:
		return ""
	case saying == "seek":
		return role_
	case role == operator.Visitor:
		return role_ // a visitor has no outing and ends nobody's
	case own || saying == "take over":
		return ""
	case role == operator.Lead && (saying == "hand over" || saying == "end" || saying == "leave on site"):
		return ""
	}
	return others
}

func rule(err error) string {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return string(refused.Reason.Rule)
	}
	if err != nil {
		return err.Error()
	}
	return ""
}

// daily is a mower of which something depends on the day, so that there is
// everything to say.
func daily(t *testing.T) machinetest.Resolved {
	mower := machinetest.All(t)[0]
	mower.Sheet.Conditions = machinetest.Of(t, "tracked_trencher").Sheet.Conditions
	return mower
}

// TestWhoMaySayWhatWhere: every command, by everybody, to their own outing and
// to another's, at every place an outing can be.
func TestWhoMaySayWhatWhere(t *testing.T) {
	for _, place := range places {
		t.Run(place.name, func(t *testing.T) {
			sheet := daily(t)
			for _, role := range append(operator.Roles(), "") {
				for _, own := range []bool{true, false} {
					for _, here := range []bool{true, false} {
						who(t, sheet, place.reach, place.says, role, own, here)
					}
				}
			}
		})
	}
}

// who begins an outing that is brought to a place, and lets somebody say
// everything there. A role of "" is nobody the yard knows.
func who(t *testing.T, sheet machinetest.Resolved, reach func(*runner), says map[string]string, role operator.Role, own, here bool) {
	base := newRunner(t, sheet)
	reach(base)
	speaker := "ida"
	if !own {
		speaker = "otto"
	}
	base.by = speaker
	p := base.crew[speaker]
	p.Role = role
	if !here {
		p.Left = morning
	}
	base.crew[speaker] = p
	if role == "" {
		delete(base.crew, speaker)
		here = false
	}
	to := "ruth"
	for saying, command := range base.sayings() {
		if h, is := command.(outing.HandOver); is {
			h.To = to
			command = h
		}
		r := *base
		got, want := rule(r.try(command)), whoSays(saying, role, own, here)
		switch {
		case want != "":
		case r.o.Status == outing.Closed && base.o.Status == outing.Closed:
			want = "outing.closed"
		case saying == "take over" && !own:
			if ready := base.o.Ready(); ready != nil && !ready.Fit {
				want = "turn.a_lead_hands_it_over"
			}
		case saying == "hand over" || saying == "end" && says[saying] == "":
		default:
			var named bool
			if want, named = says[saying]; !named {
				want, named = inProcedures[saying]
			}
			if !named {
				want = says[""]
			}
			if want == "" && saying == "release" && role == operator.Trainee {
				want = "outing.second_person"
			}
		}
		if got != want {
			t.Errorf("%s (own %v, here %v) says %q: %q, want %q", role, own, here, saying, got, want)
		}
		if got != "" && strings.HasPrefix(got, "who.") && (len(r.o.Turns) != len(base.o.Turns) || r.o.Status != base.o.Status) {
			t.Errorf("%s was refused %q and it happened", role, saying)
		}
	}
}

// TestEveryCommandIsSaid: the table above leaves none out.
func TestEveryCommandIsSaid(t *testing.T) {
	r := newRunner(t, daily(t))
	var acts []operator.Act
	for _, c := range r.sayings() {
		acts = append(acts, c.Act())
	}
	for _, a := range []operator.Act{operator.Work, operator.Release, operator.End, operator.TakeOver, operator.HandOver} {
		if !slices.Contains(acts, a) {
			t.Errorf("nobody says anything that is %s", a)
		}
	}
	if len(r.sayings()) != 33 {
		t.Error("a command was added: say it at every place")
	}
}
