package round_test

import (
	"fmt"
	"testing"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/round"
)

// fan is a machine with a fan behind a guard; its round is written by hand: a
// refusal, the guard tried, and the engine stopped.
func fan(t *testing.T, more func(*round.Setup)) *runner {
	section := machine.Interlock{
		Switches: []machine.Switch{{ID: "brake"}, {ID: "guard"}, {ID: "lever"}},
		Permits: []machine.Permit{
			{ID: "start", Kind: "start", When: "brake"}, {ID: "run", Kind: "run", When: "brake"},
			{ID: "fan", Kind: "drive", When: "guard && !lever", TestSpeed: machine.Full},
		},
		Required: []machine.RequiredTest{{Kind: "engage", Permit: "fan", From: map[string]bool{"guard": false}, To: map[string]bool{"guard": false, "lever": false}, Speed: machine.Half}},
	}
	at := func(brake, guard, lever bool) map[string]bool {
		return map[string]bool{"brake": brake, "guard": guard, "lever": lever}
	}
	plan := interlock.Plan{Start: at(true, true, true), Tests: []interlock.Test{
		{Kind: interlock.Refusal, Permit: "start", To: at(false, true, true)},
		{Kind: interlock.Engage, Permit: "fan", From: at(true, false, true), To: at(true, false, false)},
		{Kind: interlock.EngineStop, Permit: "run", From: at(true, true, true), To: at(false, true, true)},
	}}
	setup := round.Setup{Machine: "m", Plan: plan, Section: &section, Engine: true, Edition: round.Edition}
	if more != nil {
		more(&setup)
	}
	return &runner{t: t, State: round.Begin(setup)}
}

// goTo does everything as it should be until a step comes.
func (r *runner) goTo(step round.Step, test int) *runner {
	r.t.Helper()
	for n := 0; n < 20; n++ {
		if r.Step() == step && (step != round.StepTest || r.Next() == test) {
			return r
		}
		r.good()
	}
	r.t.Fatalf("no %s", step)
	return r
}

// TestTheStepsOfARound in their order, and that each is taken in its turn only.
func TestTheStepsOfARound(t *testing.T) {
	r := fan(t, nil)
	want := []round.Step{round.StepBegin, round.StepTest, round.StepStart, round.StepTest, round.StepTest, round.StepShow, round.StepPutBack, round.StepOver}
	for i, step := range want {
		if r.Step() != step || r.Done() != (step == round.StepOver) {
			t.Fatalf("step %d is %s, want %s; done %v", i, r.Step(), step, r.Done())
		}
		_, begin := r.Begin(round.BeginRound{Attempt: 1, Clear: "yes"})
		_, show := r.Show(round.Show{Attempt: 1, Permit: "fan", Moved: "yes"}, now)
		_, back := r.PutBack(round.PutThingsBack{Attempt: 1})
		for name, one := range map[round.Step]error{round.StepBegin: begin, round.StepShow: show, round.StepPutBack: back} {
			if (one == nil) != (name == step) {
				t.Errorf("%s at %s: %v", name, step, one)
			}
		}
		if step != round.StepOver {
			r.good()
		}
	}
	for name, err := range map[string]error{
		"begin of another attempt":  second(fan(t, nil).Begin(round.BeginRound{Attempt: 2, Clear: "yes"})),
		"begin without a word":      second(fan(t, nil).Begin(round.BeginRound{Attempt: 1})),
		"show of another drive":     second(fan(t, nil).goTo(round.StepShow, 0).Show(round.Show{Attempt: 1, Permit: "disc", Moved: "yes"}, now)),
		"show without a word":       second(fan(t, nil).goTo(round.StepShow, 0).Show(round.Show{Attempt: 1, Permit: "fan", Moved: "maybe"}, now)),
		"show of another attempt":   second(fan(t, nil).goTo(round.StepShow, 0).Show(round.Show{Attempt: 2, Permit: "fan", Moved: "yes"}, now)),
		"put back, another attempt": second(fan(t, nil).goTo(round.StepPutBack, 0).PutBack(round.PutThingsBack{Attempt: 2})),
	} {
		if err == nil {
			t.Errorf("%s was taken", name)
		}
	}
	empty := round.Begin(round.Setup{Section: &machine.Interlock{}, Edition: round.Edition})
	if empty.Step() != round.StepOver || !empty.Done() {
		t.Error("a machine without tests has something to do")
	}
}

func second[T any](_ T, err error) error { return err }

// TestAnEngageComesTo, by what was seen, and when.
func TestAnEngageComesTo(t *testing.T) {
	for result, want := range map[string]struct {
		outcome        round.Outcome
		halts          bool
		atFrom, after  bool // as they are observed
		observedAtFrom bool
	}{
		round.Good:      {round.Passed, false, false, false, false},
		round.Bad:       {round.Failed, true, false, true, false},
		round.NotBefore: {round.Failed, true, true, false, true},
	} {
		t.Run(result, func(t *testing.T) {
			r := fan(t, nil).goTo(round.StepTest, 1)
			c := round.Test{Machine: "m", Attempt: 1, Test: 1, Result: result}
			if r.Halts(c) != want.halts {
				t.Errorf("halts: %v", r.Halts(c))
			}
			r.want(r.test(1, result), "")
			if got := r.Results[1]; got.Outcome != want.outcome || got.Early != want.observedAtFrom {
				t.Errorf("%+v", got)
			}
			o := r.Observations()
			last := o[len(o)-1]
			if *last.AtFrom != want.atFrom || (last.Observed == nil) != want.observedAtFrom || last.Observed != nil && *last.Observed != want.after {
				t.Errorf("observed %+v", last)
			}
			if _, err := r.Logic().Diagnose(o); err != nil {
				t.Errorf("no observation: %v", err)
			}
			if want.outcome == round.Failed {
				if f := r.Failure(1); f.Rule != "test.moved_when_it_must_not" || *f.Args[0].Count != 2 || r.Step() != round.StepOver {
					t.Errorf("%+v, then %s", f, r.Step())
				}
			}
		})
	}
	r := fan(t, nil).goTo(round.StepTest, 1)
	r.want(r.test(1, round.Again), "outing.no_such_result")
}

// TestAMistapIsARecordAndNoResult: of a word that halts, in its turn.
func TestAMistapIsARecordAndNoResult(t *testing.T) {
	for _, c := range []struct {
		test   int
		result string
		taken  bool
	}{
		{0, round.Bad, true}, {0, round.Good, false}, {0, round.NotBefore, false}, {1, round.Bad, true}, {1, round.NotBefore, true}, {1, round.Good, false},
		{2, round.Bad, true}, {2, round.NotBefore, false}, {2, "", false},
	} {
		t.Run(fmt.Sprint(c.test, c.result), func(t *testing.T) {
			r := fan(t, nil).goTo(round.StepTest, c.test)
			e, err := r.Mistap(round.Test{Machine: "m", Attempt: 1, Test: c.test, Result: c.result})
			if (err == nil) != c.taken {
				t.Fatalf("%v", err)
			}
			if !c.taken {
				return
			}
			if e.Test != c.test || e.Result != c.result || e.Machine != "m" || e.Attempt != 1 {
				t.Errorf("%+v", e)
			}
			after, ok := r.Apply(record.Meta{ID: "x"}, e)
			if !ok || after.Step() != r.Step() || after.Next() != r.Next() || len(after.History) != len(r.History) {
				t.Error("a mistap changed the round")
			}
		})
	}
	r := fan(t, nil).goTo(round.StepTest, 1)
	if _, err := r.Mistap(round.Test{Machine: "m", Attempt: 1, Test: 2, Result: round.Bad}); err == nil {
		t.Error("a mistap of another test")
	}
	if r.Halts(round.Test{Test: 3, Result: round.Bad}) || r.Halts(round.Test{Test: -1, Result: round.Bad}) {
		t.Error("a test that is none halts")
	}
}

// TestWhatDoesNotMoveProvesNothing, until it is seen to move.
func TestWhatDoesNotMoveProvesNothing(t *testing.T) {
	r := fan(t, nil).goTo(round.StepShow, 0)
	if r.Unshown() != "fan" || r.Done() {
		t.Fatalf("unshown %q", r.Unshown())
	}
	in := r.Now()
	if in.Permit != "fan" || in.Speed != machine.Full || in.At["lever"] || !in.At["guard"] {
		t.Errorf("%+v", in)
	}
	show := func(moved string) {
		e, err := r.Show(round.Show{Machine: "m", Attempt: 1, Permit: "fan", Moved: moved}, now)
		r.want(r.take(e, err), "")
	}
	show("no")
	if r.WouldNotMove != "fan" || r.Step() != round.StepShow || r.Done() {
		t.Errorf("would not move: %q, then %s", r.WouldNotMove, r.Step())
	}
	show("yes")
	if r.WouldNotMove != "" || r.Unshown() != "" || r.Step() != round.StepPutBack {
		t.Errorf("moved: %q, %q, then %s", r.WouldNotMove, r.Unshown(), r.Step())
	}
	// A void attempt forgets what was seen to move.
	r = fan(t, nil).goTo(round.StepTest, 1)
	r.Moved = []string{"fan"}
	r.State, _ = r.Apply(record.Meta{}, round.Cranked{Attempt: 1})
	if len(r.Moved) != 0 || r.Begun || r.Step() != round.StepBegin {
		t.Errorf("%v, %s", r.Moved, r.Step())
	}
}

// TestAStopShowsThatADriveMoves: it need not be let move once more; a stop that
// was not right shows nothing.
func TestAStopShowsThatADriveMoves(t *testing.T) {
	for result, unshown := range map[string]string{round.Good: "", round.Bad: "fan"} {
		t.Run(result, func(t *testing.T) {
			r := fan(t, func(s *round.Setup) {
				s.Plan.Tests[2].Kind, s.Plan.Tests[2].Permit = interlock.DriveStop, "fan"
				s.Plan.Tests[2].From["lever"], s.Plan.Tests[2].To = false, s.Plan.Start
			}).goTo(round.StepTest, 2)
			if r.Unshown() != "fan" {
				t.Fatalf("unshown %q before it was seen", r.Unshown())
			}
			r.want(r.test(2, result), "")
			if r.Unshown() != unshown {
				t.Errorf("unshown %q, want %q", r.Unshown(), unshown)
			}
		})
	}
}

// TestStartingIsOfTheStartPermit, and of no other that stands before it.
func TestStartingIsOfTheStartPermit(t *testing.T) {
	r := fan(t, func(s *round.Setup) {
		section := *s.Section
		p := section.Permits
		section.Permits = []machine.Permit{p[2], p[1], p[0]}
		s.Section = &section
	}).goTo(round.StepStart, 0)
	if in := r.Now(); in.Permit != "start" || !in.Start {
		t.Errorf("%+v", in)
	}
}

// TestNearInTheFirstEdition: near twice failed there too.
func TestNearInTheFirstEdition(t *testing.T) {
	r := fan(t, func(s *round.Setup) {
		s.Edition = 1
		section := *s.Section
		section.Permits = append([]machine.Permit{}, section.Permits...)
		section.Permits[2].StopWithin = 5
		s.Section = &section
		s.Plan.Tests[2].Kind, s.Plan.Tests[2].Permit = interlock.DriveStop, "fan"
		s.Plan.Tests[2].From["lever"], s.Plan.Tests[2].To = false, s.Plan.Start
	}).goTo(round.StepTest, 2)
	for n, c := range []struct {
		seconds string
		want    round.Outcome
	}{{"4.9", round.Near}, {"4.9", round.Failed}} {
		r.want(r.test(2, round.Good, c.seconds), "")
		if got := r.Results[2].Outcome; got != c.want {
			t.Errorf("time %d: %s, want %s", n+1, got, c.want)
		}
	}
}

// TestSpeedsAndWarmingUp: the manual's speed before the permit's, idle for an
// engage and half for a stop where neither says; above idle waits.
func TestSpeedsAndWarmingUp(t *testing.T) {
	warm := func(s *round.Setup) { s.WarmUp = time.Minute }
	bare := func(s *round.Setup) {
		warm(s)
		section := *s.Section
		section.Required = nil
		section.Permits = append([]machine.Permit{}, section.Permits...)
		section.Permits[2].TestSpeed = ""
		s.Section = &section
	}
	permits := func(s *round.Setup) { bare(s); s.Section.Permits[2].TestSpeed = machine.Creep }
	first := func(s *round.Setup) { warm(s); s.Edition = 1 }
	for name, c := range map[string]struct {
		setup func(*round.Setup)
		step  round.Step
		test  int
		speed machine.Speed
		waits bool
	}{
		"the manual's":              {warm, round.StepTest, 1, machine.Half, true},
		"an engage by itself":       {bare, round.StepTest, 1, machine.Idle, false},
		"the permit's":              {permits, round.StepTest, 1, machine.Creep, false},
		"a stop by itself":          {bare, round.StepTest, 2, machine.Half, true},
		"a drive let move":          {warm, round.StepShow, 0, machine.Full, true},
		"a drive let creep":         {permits, round.StepShow, 0, machine.Creep, false},
		"a refusal":                 {warm, round.StepTest, 0, "", false},
		"no warm-up":                {nil, round.StepTest, 1, machine.Half, false},
		"by the rules of the first": {first, round.StepTest, 1, machine.Half, false},
		"putting back":              {warm, round.StepPutBack, 0, "", false},
	} {
		t.Run(name, func(t *testing.T) {
			r := fan(t, c.setup)
			clock := now
			for n := 0; n < 20 && !(r.Step() == c.step && (c.step != round.StepTest || r.Next() == c.test)); n++ {
				before := r.StartedAt
				r.goodAt(clock)
				if r.StartedAt != before {
					r.StartedAt = now
				}
				clock = now.Add(2 * time.Minute)
			}
			if got := r.Now().Speed; got != c.speed {
				t.Errorf("speed %q, want %q", got, c.speed)
			}
			r.StartedAt = now
			for after, cold := range map[time.Duration]bool{0: true, time.Minute - 1: true, time.Minute: false, time.Hour: false} {
				until, waits := r.Warming(now.Add(after))
				if waits != (cold && c.waits) || waits && !until.Equal(now.Add(time.Minute)) {
					t.Errorf("after %v: waits %v until %v", after, waits, until)
				}
				if c.step == round.StepTest && c.waits {
					_, err := r.Test(round.Test{Attempt: 1, Test: c.test, Result: round.Good}, now.Add(after))
					if (rule(err) == "outing.warming_up") != cold {
						t.Errorf("after %v: %v", after, err)
					}
				}
				if c.step == round.StepShow && c.waits {
					_, err := r.Show(round.Show{Attempt: 1, Permit: "fan", Moved: "yes"}, now.Add(after))
					if (rule(err) == "outing.warming_up") != cold {
						t.Errorf("after %v: %v", after, err)
					}
				}
			}
		})
	}
}

// goodAt is good at another time of day.
func (r *runner) goodAt(at time.Time) {
	was := now
	now = at
	defer func() { now = was }()
	r.good()
}

// TestWhatAnEngineStopStops: the drives that move when it stops have their
// times, in the second edition of the rules.
func TestWhatAnEngineStopStops(t *testing.T) {
	r := fan(t, func(s *round.Setup) {
		section := *s.Section
		section.Permits = append([]machine.Permit{}, section.Permits...)
		section.Permits[2].StopWithin = 7
		s.Section = &section
		s.Plan.Tests[2].From["lever"], s.Plan.Tests[2].To["lever"] = false, false
	})
	if got := r.StopWithin(2); got != 7 || r.StopWithin(0) != 0 || r.StopWithin(1) != 0 {
		t.Errorf("limits %v, %v, %v", r.StopWithin(0), r.StopWithin(1), got)
	}
	if r.Clear(7) != 6.7 {
		t.Errorf("clear below %v", r.Clear(7))
	}
	r.Edition = 1
	if r.StopWithin(2) != 0 {
		t.Error("the first edition timed no engine stop")
	}
}

// TestCautionsStandAtTheirTest: the manual's and that of what moves.
func TestCautionsStandAtTheirTest(t *testing.T) {
	say := func(s string) (out machine.Switch) { out.Caution.EN = s; return out }
	r := fan(t, func(s *round.Setup) {
		section := *s.Section
		section.Required = append([]machine.RequiredTest{}, section.Required...)
		section.Permits = append([]machine.Permit{}, section.Permits...)
		section.Switches = append([]machine.Switch{}, section.Switches...)
		section.Required[0].Caution, section.Permits[2].Caution = say("tried").Caution, say("turns").Caution
		section.Switches[2].Caution = say("reach").Caution
		s.Section = &section
	}).goTo(round.StepTest, 1)
	in := r.Now()
	if len(in.Cautions) != 2 || in.Cautions[0].EN != "tried" || in.Cautions[1].EN != "turns" || in.Act.Caution.EN != "reach" {
		t.Errorf("%+v, %+v", in.Cautions, in.Act)
	}
	if c := r.goTo(round.StepTest, 2).Now().Cautions; len(c) != 0 {
		t.Errorf("%+v", c)
	}
	r = fan(t, nil).goTo(round.StepTest, 1)
	if c := r.Now().Cautions; len(c) != 0 {
		t.Errorf("empty ones are told: %+v", c)
	}
}
