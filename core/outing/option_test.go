package outing_test

import (
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/walk"
)

// whole is a machine of a family as it is taken out, with its options; the key
// says what a lead, or the last outing, said of them.
func whole(t *testing.T, id, family string, known machine.Chosen) outing.Machine {
	t.Helper()
	for _, r := range machinetest.Whole(t) {
		if r.Sheet.Family == family {
			m := outingtest.Machine(id, r)
			m.Hash, m.Sheet = machine.Key(r.Hash, known), r.Sheet.With(known)
			return m
		}
	}
	t.Fatal("no sheet of family", family)
	return outing.Machine{}
}

// says is "Ready?" with how the options of m stand.
func says(o *outing.Outing, id string, ways machine.Chosen) outing.Ready {
	c := outingtest.Ready(o)
	if c.Options == nil {
		c.Options = map[string]machine.Chosen{}
	}
	c.Options[id] = ways
	return c
}

// TestWhatTheOperatorTellsChangesTheWalk: with a bagger on nobody is asked for
// the chute, and it is cleared for less; each option has to be told, by a way
// there is, and who is not fit is asked nothing more.
func TestWhatTheOperatorTellsChangesTheWalk(t *testing.T) {
	m := whole(t, "m", "zero_turn", nil)
	begin := func() *runner {
		return runnerOf(t, takenOut(t, m, outingtest.Schooled("ida", operator.Operator, m.Sheet)))
	}
	slope := func(r *runner) float64 {
		for _, u := range r.u().Sheet.Uses {
			if u.ID == "slope" {
				return *u.Limit
			}
		}
		return 0
	}
	for name, c := range map[string]struct {
		way             string
		asked, unasked  []string
		limit           float64
		planned, refits bool
	}{
		"the chute":  {"chute", []string{"chute"}, []string{"bagger", "mulch_plate"}, 15, true, true},
		"the bagger": {"bagger", []string{"bagger"}, []string{"chute", "mulch_plate"}, 10, true, true},
		"the plate":  {"mulch", []string{"mulch_plate"}, []string{"chute", "bagger"}, 15, true, true},
	} {
		t.Run(name, func(t *testing.T) {
			r := begin()
			if way := r.o.Told()[0].Way; way != "" {
				t.Errorf("it is said to be %s before anybody said so", way)
			}
			r.must(says(r.o, "m", machine.Chosen{"discharge": c.way}))
			for _, id := range c.asked {
				if !r.u().Asks(id) || r.u().Check(id) == nil {
					t.Errorf("%s is not asked for", id)
				}
			}
			for _, id := range c.unasked {
				if r.u().Asks(id) || r.u().Check(id) != nil {
					t.Errorf("%s is asked for", id)
				}
			}
			if slope(r) != c.limit {
				t.Errorf("cleared for %v°", slope(r))
			}
			if told := r.o.Told(); len(told) != 1 || told[0].Way != c.way {
				t.Errorf("told: %+v", told)
			}
			stops := map[string]int{}
			for _, stop := range r.u().Route {
				if stop.Do == walk.Check {
					stops[stop.ID]++
				}
			}
			for id, n := range stops {
				if n != 1 || r.u().Check(id) == nil {
					t.Errorf("%s stands on the route %d times", id, n)
				}
			}
		})
	}
	r := begin()
	r.refused(says(r.o, "m", nil), "ready.option_needed")
	r.refused(says(r.o, "m", machine.Chosen{"discharge": ""}), "ready.option_needed")
	r.refused(says(r.o, "m", machine.Chosen{"discharge": "hopper"}), "ready.unknown_option")
	r.must(outing.Ready{Fit: "no"})
}

// TestToldAgainKeepsWhatWasAnswered: who takes over tells it another way; what was
// looked at stays, the new point is asked for, and nothing found is told away.
func TestToldAgainKeepsWhatWasAnswered(t *testing.T) {
	m := whole(t, "m", "zero_turn", machine.Chosen{"discharge": "chute"})
	r := runnerOf(t, takenOut(t, m, outingtest.Schooled("ida", operator.Operator, m.Sheet)))
	if way := r.o.Told()[0].Way; way != "chute" {
		t.Errorf("known from the last time, and offered is %q", way)
	}
	r.must(says(r.o, "m", machine.Chosen{"discharge": "chute"}))
	route := r.u().Route
	r.must(says(r.o, "m", machine.Chosen{"discharge": "chute"}))
	if !slices.Equal(route, r.u().Route) {
		t.Error("the same way planned another route")
	}
	r.must(outingtest.Fault("m", "chute", "spring"))
	found := r.u().Given("chute", "")[0].Meta.ID
	r.must(outingtest.Sound("m", "roll_bar"))
	r.by = "otto"
	r.must(outing.TakeOver{})
	r.refused(says(r.o, "m", machine.Chosen{"discharge": "bagger"}), "ready.option_has_finding")
	r.must(says(r.o, "m", machine.Chosen{"discharge": "chute"}))
	back := outingtest.Sound("m", "chute")
	back.Why, back.Second = "the other machine's", "ruth"
	r.must(back, found)
	r.must(says(r.o, "m", machine.Chosen{"discharge": "bagger"}))
	if !r.u().Asks("bagger") || len(r.u().Open("roll_bar")) != 0 {
		t.Error("the new point is not asked for, or an answer is lost")
	}
	r.until(r.stage(outing.StageVerdict))
	if v := r.o.Judge(morning); v.Outcome != outing.Clear {
		t.Errorf("%s: %+v", v.Outcome, v.Missing)
	}
}

// TestACarriedMachineTellsToo: the boom's counterweight is told, and the joined
// round is planned anew with both.
func TestACarriedMachineTellsToo(t *testing.T) {
	boom, tractor := whole(t, "boom", "boom_mower", nil), whole(t, "tractor", "tractor", nil)
	o := begun(t, outingtest.Schooled("ida", operator.Operator, boom.Sheet, tractor.Sheet), boom, &tractor)
	r := runnerOf(t, o)
	tests := len(o.Unit("tractor").Round.Plan.Tests)
	r.must(says(r.o, "boom", machine.Chosen{"counterweight": "off"}))
	if u := r.o.Unit("boom"); u.Asks("counterweight") || u.Sheet.Chosen()["head"] != "flail" || !u.Asks("flails") {
		t.Error("the counterweight is asked for that is not there, or the head is another")
	}
	if u := r.o.Unit("tractor"); u.Joined == nil || len(u.Round.Plan.Tests) != tests || tests == 0 {
		t.Errorf("the joined round has %d tests, it had %d", len(u.Round.Plan.Tests), tests)
	}
	r.until(r.stage(outing.StageVerdict))
	for _, use := range r.o.Judge(morning).Cleared {
		if use.Use == "slope" && (use.Limit == nil || use.Limit.Quantity.Value > 0.08) {
			t.Errorf("cleared for %+v without a counterweight", use.Limit)
		}
	}
}
