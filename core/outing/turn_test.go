package outing_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

// TestToWhomAnOutingIsHanded: somebody else, who works here and may have one.
func TestToWhomAnOutingIsHanded(t *testing.T) {
	for to, want := range map[string]string{"otto": "", "maren": "", "jonah": "", "ruth": "", "ida": "turn.to_whom", "osk": "turn.to_whom", "nobody": "turn.to_whom", "": "turn.to_whom", "left": "turn.to_whom"} {
		t.Run(to, func(t *testing.T) {
			r := newRunner(t, machinetest.All(t)[0])
			gone := outingtest.Schooled("left", operator.Operator)
			gone.Left = morning
			r.crew.Add(gone)
			if got := rule(r.try(outing.HandOver{To: to})); got != want {
				t.Errorf("to %q: %q, want %q", to, got, want)
			}
			if want == "" && (r.o.Operator() != to || r.o.Ready() != nil || len(r.o.Turns) != 2 || r.o.Now().Since.By != "ida") {
				t.Errorf("handed to %s: %+v", to, r.o.Now())
			}
		})
	}
}

// TestWhoIsCompany: somebody else who works here; and when somebody looks for
// the operator, by the clock.
func TestWhoIsCompany(t *testing.T) {
	for name, c := range map[string]struct {
		ready outing.Ready
		want  string
	}{
		"a colleague":         {outing.Ready{Fit: "yes", Company: "otto"}, ""},
		"a visitor":           {outing.Ready{Fit: "yes", Company: "osk"}, ""},
		"nobody":              {outing.Ready{Fit: "yes"}, ""},
		"oneself":             {outing.Ready{Fit: "yes", Company: "ida"}, "ready.company_who"},
		"somebody who left":   {outing.Ready{Fit: "yes", Company: "left"}, "ready.company_who"},
		"somebody unknown":    {outing.Ready{Fit: "yes", Company: "ghost"}, "ready.company_who"},
		"a time":              {outing.Ready{Fit: "yes", CheckIn: "10:30"}, ""},
		"midnight":            {outing.Ready{Fit: "yes", CheckIn: "00:00"}, ""},
		"the last minute":     {outing.Ready{Fit: "yes", CheckIn: "23:59"}, ""},
		"no time":             {outing.Ready{Fit: "yes", CheckIn: "24:00"}, "ready.check_in_time"},
		"half a time":         {outing.Ready{Fit: "yes", CheckIn: "10"}, "ready.check_in_time"},
		"a time with seconds": {outing.Ready{Fit: "yes", CheckIn: "10:30:00"}, "ready.check_in_time"},
		"soon":                {outing.Ready{Fit: "yes", CheckIn: "soon"}, "ready.check_in_time"},
		"no word on fitness":  {outing.Ready{}, "ready.fit_word"},
		"another word":        {outing.Ready{Fit: "on"}, "ready.fit_word"},
		"what was not shown":  {outing.Ready{Fit: "yes", Worn: []string{"crown"}}, "ready.not_shown"},
	} {
		t.Run(name, func(t *testing.T) {
			r := newRunner(t, machinetest.All(t)[0])
			gone := outingtest.Schooled("left", operator.Operator)
			gone.Left = morning
			r.crew.Add(gone)
			if got := rule(r.try(c.ready)); got != c.want {
				t.Errorf("%q, want %q", got, c.want)
			}
			if c.want == "" && (r.o.Ready().Company != c.ready.Company || r.o.Ready().CheckIn != c.ready.CheckIn) {
				t.Errorf("%+v", r.o.Ready())
			}
		})
	}
}

func TestWhoMayBeNamed(t *testing.T) {
	r := newRunner(t, machinetest.All(t)[0])
	gone := operator.Person{ID: "left", Left: morning}
	var ids []string
	for _, p := range r.o.Companions([]operator.Person{{ID: "ida"}, {ID: "otto"}, gone, {ID: "osk", Role: operator.Visitor}}) {
		ids = append(ids, p.ID)
	}
	if !slices.Equal(ids, []string{"otto", "osk"}) {
		t.Errorf("%v", ids)
	}
	for id, want := range map[string]bool{"ida": false, "otto": true, "maren": true, "jonah": false, "osk": false} {
		t.Run(id, func(t *testing.T) {
			if r.o.MayStandBy(r.crew[id]) != want {
				t.Errorf("%s may stand by: %v", id, !want)
			}
		})
	}
}

// TestProtectionOfTwoMachines: what one asks for always is asked for always.
func TestProtectionOfTwoMachines(t *testing.T) {
	one, two := machinetest.All(t)[0], machinetest.All(t)[1]
	one.Sheet.Protection = []machine.Protection{{ID: "eyes"}, {ID: "vest", For: []string{"road"}}, {ID: "lamp", For: []string{"dusk"}}}
	two.Sheet.Protection = []machine.Protection{{ID: "eyes", For: []string{"road"}}, {ID: "vest"}, {ID: "lamp", For: []string{"road"}}, {ID: "gloves"}}
	o := outingtest.Begin(t, "ida", outingtest.Machine("m", one), nil)
	other := outingtest.Begin(t, "ida", outingtest.Machine("n", two), nil)
	o.Units = append(o.Units, other.Units[0])
	got := map[string]int{}
	for _, p := range o.Protection() {
		got[p.ID] = len(p.For)
	}
	want := map[string]int{"eyes": 0, "vest": 0, "lamp": 2, "gloves": 0}
	for id, n := range want {
		if len(got) != len(want) || got[id] != n {
			t.Errorf("%s is for %d uses, want %d; %v", id, got[id], n, got)
		}
	}
}

// TestNothingForABreak: a machine whose sheet has nothing to look at has no
// break, and one of two leaves only the other.
func TestNothingForABreak(t *testing.T) {
	s := machinetest.All(t)[0]
	for i := range s.Sheet.Checks {
		s.Sheet.Checks[i].Break = false
	}
	r := newRunner(t, s)
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	if got := rule(r.try(outing.BeginBreak{})); got != "outing.nothing_for_a_break" || len(r.o.PlanBreak().Walks) != 0 {
		t.Errorf("%q", got)
	}
}

// TestAShortMove is no work: a machine that was out for less than a minute is as
// cold as it was.
func TestAShortMove(t *testing.T) {
	for out, want := range map[time.Duration]bool{59 * time.Second: false, 60 * time.Second: true, time.Hour: true} {
		t.Run(fmt.Sprint(out), func(t *testing.T) {
			r := newRunner(t, machinetest.All(t)[0])
			r.until(r.stage(outing.StageVerdict))
			began := morning.Add(2 * time.Hour)
			if err := r.tryAt(began, outing.Release{}); err != nil {
				t.Fatal(err)
			}
			if got := r.o.WorkedUntil(record.Meta{At: began.Add(out)}); got != want {
				t.Errorf("out for %v it worked: %v", out, got)
			}
			if !r.o.WorkedUntil(record.Meta{At: began.Add(out), Doubtful: true}) {
				t.Error("by a clock that was wrong it is called cold")
			}
		})
	}
}

// TestNoSlopeMeansNoWetSlope either, and nothing else.
func TestNoSlopeMeansNoWetSlope(t *testing.T) {
	s := machinetest.All(t)[0]
	s.Sheet.Uses = nil
	for _, use := range []string{"slope", "wet_slope", "road", "fine_turf"} {
		s.Sheet.Uses = append(s.Sheet.Uses, machine.Use{ID: use})
	}
	for restriction, forbids := range map[machine.Restriction][]string{machine.NoSlope: {"slope", "wet_slope"}, machine.NoRoad: {"road"}, machine.NoFineTurf: {"fine_turf"}} {
		t.Run(fmt.Sprint(restriction), func(t *testing.T) {
			r := newRunner(t, s, outing.Carried{ID: "d", Check: "gone", Finding: defect.Finding{Grade: defect.Mend, Extent: machine.Degraded, Restrictions: []machine.Restriction{restriction}}})
			r.until(r.stage(outing.StageVerdict))
			var not []string
			for _, u := range r.o.Judge(morning).Cleared {
				not = append(not, u.Use)
			}
			for _, use := range []string{"slope", "wet_slope", "road", "fine_turf"} {
				if slices.Contains(not, use) == slices.Contains(forbids, use) {
					t.Errorf("%s: cleared for %v", restriction, not)
				}
			}
		})
	}
}

// TestEachTurnIsWhoseItIs: the time out goes to whoever had the machine, not to who has
// it last.
func TestEachTurnIsWhoseItIs(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.n += 600
	r.until(r.stage(outing.StageVerdict))
	if r.o.RanBy("ida", r.now()) != 0 {
		t.Error("it was not out yet")
	}
	r.must(outing.Release{})
	released := r.now().Add(-time.Second)
	r.n += 1800
	r.must(outing.HandOver{To: "otto"})
	handed := r.now().Add(-time.Second)
	r.by = "otto"
	r.n += 600
	now := r.now()
	if a, b := r.o.RanBy("ida", now), r.o.RanBy("otto", now); a != handed.Sub(released) || b != now.Sub(handed) || r.o.RanBy("maren", now) != 0 {
		t.Errorf("ida %v, otto %v", a, b)
	}
	r.must(outingtest.Ready(r.o))
	r.follow("shutdown")
	r.n += 3600
	r.must(outing.End{})
	if b := r.o.RanBy("otto", r.now().Add(time.Hour)); b < 10*time.Minute || b > 20*time.Minute {
		t.Errorf("shut down, and it goes on counting: %v", b)
	}
}

// TestWhatOthersCouldReachIsProvedAgain: who has it after another says whether it was in
// sight; where it was not, its round and its release count no more, what failed does.
func TestWhatOthersCouldReachIsProvedAgain(t *testing.T) {
	handed := func(r *runner) outing.Ready {
		r.must(outing.HandOver{To: "otto"})
		r.by = "otto"
		c := outingtest.Ready(r.o)
		c.Watched = ""
		return c
	}
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	if r.o.AsksWatched() {
		t.Error("nobody had it before")
	}
	r.until(r.stage(outing.StageRound))
	early := handed(r)
	if r.o.AsksWatched() {
		t.Error("nothing of the round was run")
	}
	r.must(early)

	r = out(t, machinetest.Of(t, "zero_turn"))
	ready := handed(r)
	r.refused(ready, "ready.watched_word")
	ready.Watched = "perhaps"
	r.refused(ready, "ready.watched_word")
	ready.Watched = "yes"
	r.must(ready)
	if r.o.Status != outing.Out || !r.u().Round.Done() {
		t.Error("it was in sight, and counts no more")
	}

	r = out(t, machinetest.Of(t, "zero_turn"))
	ready = handed(r)
	ready.Watched = "no"
	r.must(ready)
	if r.o.Status != outing.Open || r.u().Round.Done() || r.u().Round.Attempt != 2 || r.o.Stage() != outing.StageRound {
		t.Errorf("%s at %s, attempt %d", r.o.Status, r.o.Stage(), r.u().Round.Attempt)
	}
	r.refused(outing.BeginProcedure{Machine: "m", Procedure: "work"}, "procedure.not_now")
	r.refused(outing.Release{}, "outing.not_clear")
	r.follow("shutdown") // somebody had left it running
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	if r.o.Status != outing.Out || r.o.RanBy("ida", r.now()) == 0 {
		t.Errorf("%s, ida %v", r.o.Status, r.o.RanBy("ida", r.now()))
	}
}
