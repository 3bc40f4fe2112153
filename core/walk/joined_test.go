package walk_test

import (
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/walk"
)

func byFamily(t *testing.T, family string) *machine.Sheet {
	t.Helper()
	all := machinetest.All(t)
	for _, r := range all {
		if r.Sheet.Family == family {
			return r.Sheet
		}
	}
	t.Fatalf("no %s", family)
	return nil
}

// TestJoinedTakesTheBetterOrder: both loops are walked whole, they meet where
// the two machines do, and the other order would cost more.
func TestJoinedTakesTheBetterOrder(t *testing.T) {
	tractor, boom := byFamily(t, "tractor"), byFamily(t, "boom_mower")
	carrier, implement, first := walk.Joined(tractor, boom, walk.Options{}, walk.Options{})
	for sheet, route := range map[*machine.Sheet][]walk.Stop{tractor: carrier, boom: implement} {
		t.Run(sheet.ID, func(t *testing.T) {
			n := 0
			for _, s := range route {
				if s.Do == walk.Check {
					n++
				}
			}
			if n != len(sheet.Checks) {
				t.Errorf("%s: %d of %d points", sheet.ID, n, len(sheet.Checks))
			}
		})
	}
	cost := func(implementFirst bool) float64 {
		if implementFirst {
			return walk.Cold(boom, walk.Options{End: "mount"}).Seconds + walk.Cold(tractor, walk.Options{Start: tractor.Hitch}).Seconds
		}
		return walk.Cold(tractor, walk.Options{End: tractor.Hitch}).Seconds + walk.Cold(boom, walk.Options{Start: "mount", End: "mount"}).Seconds +
			walk.Between(tractor, tractor.Hitch, tractor.OperatorPlace)/walk.Pace
	}
	if cost(first) > cost(!first) {
		t.Errorf("implement first is %v: %.1f s, the other way %.1f s", first, cost(first), cost(!first))
	}
	t.Logf("implement first: %v, %.0f s against %.0f s", first, cost(first), cost(!first))
}

// TestSecondsGained prints what planning gains over the order of the sheets.
func TestSecondsGained(t *testing.T) {
	all := machinetest.All(t)
	for _, r := range all {
		plan := walk.Cold(r.Sheet, walk.Options{})
		if !plan.Exact || plan.Seconds > plan.SheetOrder+1e-6 || plan.AtLeast > plan.Seconds+1e-6 {
			t.Errorf("%s: %.1f s, by the sheet %.1f s, exact %v", r.Sheet.ID, plan.Seconds, plan.SheetOrder, plan.Exact)
		}
		t.Logf("%s: %.0f s, %.0f s less than in the order of the sheet, %.0f m", r.Sheet.ID, plan.Seconds, plan.SheetOrder-plan.Seconds, plan.Metres)
	}
}

func TestRouteEndsWithWhatMustBeCold(t *testing.T) {
	sheet := byFamily(t, "disc_chipper")
	route := walk.Route(sheet, walk.Options{Hot: true, Minutes: 5})
	var cold []string
	for _, s := range route {
		if s.Do == walk.Check && s.Phase == machine.Cold {
			cold = append(cold, s.ID)
		}
	}
	tail := cold[len(cold)-2:]
	slices.Sort(tail)
	if !slices.Equal(tail, []string{"coolant", "hydraulic_oil"}) {
		t.Errorf("the walk ends with %v", tail)
	}
	if n := len(walk.Cold(sheet, walk.Options{Hot: true, Minutes: 25}).Later); n != 1 {
		t.Errorf("after 25 minutes %d points wait", n)
	}
}
