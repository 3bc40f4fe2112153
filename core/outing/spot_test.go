package outing_test

import (
	"fmt"
	"reflect"
	"testing"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

func TestSpotsAreFewAndToldAgain(t *testing.T) {
	rider, saw, trencher, none := machinetest.Of(t, "zero_turn").Sheet, machinetest.Of(t, "petrol_chainsaw").Sheet, machinetest.Of(t, "tracked_trencher").Sheet, &machine.Sheet{ID: "cart"}
	chosen := map[string]int{}
	every := func(int, *machine.Check) bool { return true }
	for i := range 200 {
		seed := fmt.Sprintf("o-%d", i)
		spots := outing.Spots(seed, []*machine.Sheet{rider, saw, none, trencher}, every)
		if !reflect.DeepEqual(spots, outing.Spots(seed, []*machine.Sheet{rider, saw, none, trencher}, every)) {
			t.Fatal("the same seed chose other points")
		}
		n := 0
		for _, s := range spots {
			n += len(s)
			for _, id := range s {
				chosen[id]++
			}
		}
		if n > 2 || len(spots[2]) != 0 {
			t.Fatalf("%s: %v", seed, spots)
		}
	}
	if len(chosen) < 3 {
		t.Errorf("only %v are ever chosen", chosen)
	}
	for id, n := range chosen {
		if n < 35 || n > 100 {
			t.Errorf("%s comes up %d times of 200", id, n)
		}
	}
}

// TestAChosenPointIsMeasured: it is not ticked, it grades like any reading, and
// the sheet that others share is as it was.
func TestAChosenPointIsMeasured(t *testing.T) {
	s := machinetest.Of(t, "zero_turn")
	before := len(s.Sheet.Checks)
	started, err := outing.Compose("o", outingtest.Schooled("ida", operator.Operator, s.Sheet), defect.DefaultHouse(), outingtest.Machine("m", s), nil, outing.Plan, morning)
	if err != nil {
		t.Fatal(err)
	}
	started.Units[0].Spots = []string{"castors"}
	o, err := outing.Begin("o", record.Meta{ID: "start", By: "ida", At: morning}, started, func(string) (*machine.Sheet, error) { return s.Sheet, nil })
	if err != nil {
		t.Fatal(err)
	}
	r := runnerOf(t, o)
	r.until(r.at("castors"))
	r.refused(outingtest.Sound("m", "castors"), "reading.empty")
	c, _ := o.Units[0].Sheet.Check("castors")
	play, _ := c.Reading("play")
	r.must(read("castors", play, 6))
	if d := r.o.Defects(); len(d) != 1 || d[0].Item != "play" {
		t.Errorf("defects %+v", d)
	}
	shared, _ := s.Sheet.Check("castors")
	if len(shared.Readings) != 0 || len(s.Sheet.Checks) != before {
		t.Error("the shared sheet was changed")
	}
	r = newRunner(t, s)
	r.until(r.at("castors"))
	r.must(outingtest.Sound("m", "castors"))
}
