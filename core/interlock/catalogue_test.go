package interlock_test

import (
	"slices"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine/machinetest"
)

// TestRoundsOfTheCatalogue: every sheet's round is proved to be the smallest,
// every dangerous fault is either shown by a test of it or named as one that
// none can show, and what no round can show is what we know of.
func TestRoundsOfTheCatalogue(t *testing.T) {
	all := machinetest.All(t)
	known := map[string][]string{
		"tarnwood_chipper": {"run:on"},                 // the hood is not opened over a turning disc
		"mossgate_wheeled": {"upright:made", "run:on"}, // nobody tips a running machine: a technician's point
	}
	for _, r := range all {
		logic, _ := interlock.Of(r.Sheet)
		plan := logic.Plan()
		if !plan.TestsExact || plan.TestsAtLeast != len(plan.Tests) {
			t.Errorf("%s: %d tests, at least %d, exact %v", r.Sheet.ID, len(plan.Tests), plan.TestsAtLeast, plan.TestsExact)
		}
		var not []string
		for _, u := range plan.Uncatchable {
			not = append(not, u.Fault)
		}
		for _, f := range plan.Dangerous {
			shown := slices.ContainsFunc(plan.Tests, func(test interlock.Test) bool { return slices.Contains(test.Catches, f) })
			if shown == slices.Contains(not, f) {
				t.Errorf("%s: %s is shown by a test: %v, and named as one that cannot be: %v", r.Sheet.ID, f, shown, !shown)
			}
		}
		for _, f := range not {
			if !slices.Contains(known[r.Sheet.ID], f) {
				t.Errorf("%s: no round shows %s, and nobody knew", r.Sheet.ID, f)
			}
		}
		refusals := true
		for i, test := range plan.Tests {
			if test.Kind == interlock.Refusal && !refusals {
				t.Errorf("%s: test %d is a refusal after a stop", r.Sheet.ID, i+1)
			}
			refusals = refusals && test.Kind == interlock.Refusal
		}
		t.Logf("%s: %d tests for %d states, %d dangerous faults, not shown %v", r.Sheet.ID, len(plan.Tests), 1<<len(logic.Switches), len(plan.Dangerous), not)
	}
}
