package interlock_test

import (
	"slices"
	"strings"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
)

func sheetNamed(t *testing.T, id string) machine.Interlock {
	t.Helper()
	all := machinetest.All(t)
	for _, r := range all {
		if r.Sheet.ID == id {
			return r.Sheet.Interlock
		}
	}
	t.Fatalf("no sheet %s", id)
	return machine.Interlock{}
}

// TestTractorAndBoom: joined, the two need no more tests than apart, and the
// rotor is stopped by what stops the tractor's drive too.
func TestTractorAndBoom(t *testing.T) {
	tractor, boom := sheetNamed(t, "hollin_tractor"), sheetNamed(t, "hollin_boom")
	joined, ok := interlock.Join(tractor, boom, "pto")
	if !ok {
		t.Fatal("they cannot be joined")
	}
	compile := func(s machine.Interlock) *interlock.Logic { l, _ := interlock.Compile(s); return l }
	logic := compile(joined)
	plan, apart := logic.Plan(), len(compile(tractor).Plan().Tests)+len(compile(boom).Plan().Tests)
	if len(plan.Tests) > apart || !plan.TestsExact || !plan.MovementsExact {
		t.Errorf("%d tests joined, %d apart, exact %v %v", len(plan.Tests), apart, plan.TestsExact, plan.MovementsExact)
	}
	for _, u := range plan.Uncatchable {
		t.Logf("not caught: %s (%s)", u.Fault, u.Reason)
	}
	if !interlock.OfImplement(tractor, "rotor") || interlock.OfImplement(tractor, "pto") {
		t.Error("the rotor is the boom's, the shaft the tractor's")
	}
	for i, test := range plan.Tests {
		t.Logf("%d %s %s from %v to %v catches %v", i+1, test.Kind, test.Permit, test.From, test.To, test.Catches)
	}
}

func TestJoinRenames(t *testing.T) {
	carrier := machine.Interlock{
		Switches: []machine.Switch{{ID: "seat"}, {ID: "off"}},
		Permits:  []machine.Permit{{ID: "run", Kind: "run", When: "seat"}, {ID: "shaft", Kind: "drive", When: "!off"}},
	}
	implement := machine.Interlock{
		Switches: []machine.Switch{{ID: "off"}, {ID: "door"}},
		Permits:  []machine.Permit{{ID: "shaft", Kind: "drive", When: "!off && (door || off)", Latched: true, LatchedBy: []string{"off", "door"}}},
		Never:    []machine.Never{{State: "!door && off"}},
		Required: []machine.RequiredTest{{Kind: "drive_stop", Permit: "shaft", From: map[string]bool{"off": false, "door": true}, To: map[string]bool{"off": true, "door": true}}},
	}
	// In the joined section the carrier's shaft has to be on as well.
	implement.Required = nil
	joined, ok := interlock.Join(carrier, implement, "shaft")
	if !ok {
		t.Fatal("they cannot be joined")
	}
	var ids []string
	for _, s := range joined.Switches {
		ids = append(ids, s.ID)
	}
	if strings.Join(ids, " ") != "seat off i_off door" {
		t.Errorf("switches %v", ids)
	}
	last := joined.Permits[2]
	if last.ID != "i_shaft" || last.When != "(!off) && (!i_off && (door || i_off))" || !slices.Equal(last.LatchedBy, []string{"i_off", "door"}) {
		t.Errorf("permit %+v", last)
	}
	if joined.Never[0].State != "!door && i_off" {
		t.Errorf("never %v", joined.Never)
	}
	if implement.Permits[0].LatchedBy[0] != "off" {
		t.Error("joining changed the implement's own sheet")
	}
	if _, ok := interlock.Join(carrier, implement, "pump"); ok {
		t.Error("joined by a drive that the carrier has not")
	}
	implement.Permits = append(implement.Permits, machine.Permit{ID: "go", Kind: "start", When: "door"})
	if _, ok := interlock.Join(carrier, implement, "shaft"); ok {
		t.Error("joined with an implement that has an engine")
	}
}
