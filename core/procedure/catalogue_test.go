package procedure

import (
	"slices"
	"strings"
	"testing"

	"vespers/core/machine/machinetest"
)

// TestEverySheetIsSound: on every sheet that ships no way through any procedure
// reaches a hazard, none ends where it cannot go on, and no step is there in vain.
func TestEverySheetIsSound(t *testing.T) {
	for _, r := range machinetest.Whole(t) {
		report := Check(r.Sheet)
		if !report.Complete {
			t.Errorf("%s: more than %d states", r.Sheet.ID, StatesMost)
		}
		for _, h := range report.Hazards {
			if !h.Holds {
				t.Errorf("%s: %s is reached: %s", r.Sheet.ID, h.ID, strings.Join(h.Path, " "))
			}
		}
		for _, d := range report.DeadEnds {
			t.Errorf("%s: %s cannot be answered because %v: %s", r.Sheet.ID, d.At, d.Because, strings.Join(d.Path, " "))
		}
		if len(report.NeverReached) > 0 {
			t.Errorf("%s: never reached: %v", r.Sheet.ID, report.NeverReached)
		}
	}
}

// TestNoProofIsEmpty: of every sheet, each hazard that applies is kept away by
// something: with its guards taken away the same check reaches it.
func TestNoProofIsEmpty(t *testing.T) {
	for _, r := range machinetest.Whole(t) {
		applies := 0
		for _, h := range Check(r.Sheet).Hazards {
			if !h.Applies {
				continue
			}
			applies++
			if len(h.Guards) == 0 || len(h.WithoutGuards) == 0 {
				t.Errorf("%s: nothing keeps %s away", r.Sheet.ID, h.ID)
				continue
			}
			without := check(r.Sheet, h.Guards, h.ID)
			found := without.Hazards[slices.IndexFunc(without.Hazards, func(o HazardFound) bool { return o.ID == h.ID })]
			if found.Holds {
				t.Errorf("%s: %s is not reached without %v", r.Sheet.ID, h.ID, h.Guards)
			}
			if len(found.Path) > len(h.WithoutGuards) {
				t.Errorf("%s: %s is reached by %v, later than by %v", r.Sheet.ID, h.ID, found.Path, h.WithoutGuards)
			}
		}
		least := 20
		switch {
		case r.Sheet.Power == "none":
			least = 1 + len(r.Sheet.Hazards) // nothing burns, starts or cuts
		case r.Sheet.Power == "battery" && !slices.Contains(r.Sheet.Fitted, "cutter"):
			least = 12
		}
		if applies < least {
			t.Errorf("%s: only %d hazards apply", r.Sheet.ID, applies)
		}
	}
}

// TestEveryProcedureCanBePlanned: from a machine that was walked round and stands
// as nobody knows, there is a way through every procedure and event.
func TestEveryProcedureCanBePlanned(t *testing.T) {
	passed := map[string]string{"walk": "passed", "refusals": "passed", "stops": "passed", "released": "passed"}
	for _, r := range machinetest.Whole(t) {
		for _, p := range r.Sheet.Procedures {
			if p.ID == "unload" { // it is loaded first, or comes on a trailer
				continue
			}
			plan := MakePlan(r.Sheet, p.ID, Given{Facts: passed})
			if plan.Impossible != "" || len(plan.Steps) == 0 || plan.Steps[len(plan.Steps)-1].Procedure != p.ID {
				t.Errorf("%s: %s: %+v", r.Sheet.ID, p.ID, plan)
			}
		}
		for _, e := range r.Sheet.Events {
			if plan := MakePlan(r.Sheet, eventID(e.ID), Given{Facts: passed}); plan.Impossible != "" {
				t.Errorf("%s: there is no way through %s", r.Sheet.ID, e.ID)
			}
		}
	}
}
