package outing_test

import (
	"slices"
	"testing"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/text"
	"vespers/core/unit"
)

// TestARestrictionStaysWithItsMachine: what the tractor carries against it is no
// reason against the boom, and the other way round; together they are cleared
// for what neither is kept from.
func TestARestrictionStaysWithItsMachine(t *testing.T) {
	for name, c := range map[string]struct{ tractor, boom []outing.Carried }{
		"on the tractor": {[]outing.Carried{{ID: "d", Check: "x", Finding: defect.Finding{Grade: defect.Mend, Extent: machine.Degraded, Restrictions: []machine.Restriction{machine.NoRoad}}}}, nil},
		"on the boom":    {nil, []outing.Carried{{ID: "d", Check: "x", Finding: defect.Finding{Grade: defect.Mend, Extent: machine.Degraded, Restrictions: []machine.Restriction{machine.NoRoad}}}}},
		"on neither":     {},
	} {
		t.Run(name, func(t *testing.T) {
			one, two := machinetest.Of(t, "tractor"), machinetest.Of(t, "boom_mower")
			one.Sheet.Uses, two.Sheet.Uses = []machine.Use{{ID: "road"}, {ID: "dusk"}}, []machine.Use{{ID: "road"}, {ID: "dusk"}}
			tractor := outingtest.Machine("t", one, c.tractor...)
			r := runnerOf(t, outingtest.Begin(t, "ida", outingtest.Machine("b", two, c.boom...), &tractor))
			r.until(r.stage(outing.StageVerdict))
			v := r.o.Judge(morning)
			var cleared []string
			for _, u := range v.Cleared {
				cleared = append(cleared, u.Use)
			}
			if want := len(c.tractor)+len(c.boom) == 0; slices.Contains(cleared, "road") != want || !slices.Contains(cleared, "dusk") {
				t.Errorf("cleared for %v", cleared)
			}
			reasons := 0
			for _, u := range v.Refused {
				if u.Use == "road" {
					reasons += len(u.Because)
				}
			}
			if reasons != len(c.tractor)+len(c.boom) {
				t.Errorf("%d reasons against the road", reasons)
			}
		})
	}
}

// TestWhatIsMissingIsSaid by the rule that asks for it, place by place.
func TestWhatIsMissingIsSaid(t *testing.T) {
	missing := func(r *runner) (rules []text.Rule) {
		for _, m := range r.o.Judge(morning).Missing {
			rules = append(rules, m.Reason.Rule)
		}
		return rules
	}
	want := func(r *runner, rule text.Rule) {
		t.Helper()
		if rules := missing(r); !slices.Contains(rules, rule) {
			t.Errorf("%v, without %s", rules, rule)
		}
	}
	r := newRunner(t, machinetest.All(t)[0])
	r.o.Order = 2 // its engine is not started by its procedure
	want(r, "release.points_open")
	r.until(r.stage(outing.StageRound))
	want(r, "release.tests_open")
	r.until(func() bool { return r.u().Round.NeedsCrank() && r.o.Stage() == outing.StageRound })
	want(r, "release.tests_open")
	r.must(crank(1, "no"))
	want(r, "release.round_void")
	r.until(func() bool { return r.u().Round.NeedsCrank() && r.o.Stage() == outing.StageRound })
	r.must(crank(2, "cranked"))
	if slices.Contains(missing(r), "release.round_void") {
		t.Error("it cranked, and the round is void")
	}
	r.until(r.stage(outing.StageVerdict))
	if rules := missing(r); len(rules) != 0 {
		t.Errorf("%v", rules)
	}
}

// TestTheSmallerLimitCounts of two machines that go out together, whichever has
// it.
func TestTheSmallerLimitCounts(t *testing.T) {
	for _, limits := range [][2]float64{{15, 10}, {10, 15}, {10, 10}} {
		one, two := machinetest.Of(t, "tractor"), machinetest.Of(t, "boom_mower")
		one.Sheet.Uses, two.Sheet.Uses = []machine.Use{{ID: "slope", Limit: &limits[0], Unit: "°"}}, []machine.Use{{ID: "slope", Limit: &limits[1], Unit: "°"}}
		tractor := outingtest.Machine("t", one)
		r := runnerOf(t, outingtest.Begin(t, "ida", outingtest.Machine("b", two), &tractor))
		r.until(r.stage(outing.StageVerdict))
		v := r.o.Judge(morning)
		if len(v.Cleared) != 1 || v.Cleared[0].Limit == nil {
			t.Fatalf("%+v", v.Cleared)
		}
		u, _ := unit.Find("°")
		if got := u.In(v.Cleared[0].Limit.Quantity); got < 9.99 || got > 10.01 {
			t.Errorf("%v: up to %v", limits, got)
		}
	}
}

// TestHowAnOutingEnds: brought home if it was out, given up if not.
func TestHowAnOutingEnds(t *testing.T) {
	r := newRunner(t, machinetest.All(t)[0])
	r.must(outing.End{})
	if r.o.End.How != outing.EndGivenUp {
		t.Errorf("never out, it ended as %s", r.o.End.How)
	}
	r = newRunner(t, machinetest.All(t)[0])
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	r.home()
	if r.o.End.How != outing.EndHome {
		t.Errorf("out, it ended as %s", r.o.End.How)
	}
}
