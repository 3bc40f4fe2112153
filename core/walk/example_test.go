package walk_test

import (
	"fmt"

	"vespers/core/machine"
	"vespers/core/walk"
)

// Example plans a walk: from where the operator stands, round the machine and back;
// as long either way, the order of ids decides.
func Example() {
	sheet := &machine.Sheet{
		OperatorPlace: "rear",
		Loop:          machine.Loop{Length: 8, Stations: []machine.Station{{ID: "rear", At: 0}, {ID: "left", At: 2}, {ID: "front", At: 4}}},
		Checks: []machine.Check{
			{ID: "chute", Phase: machine.Cold, At: "front", Seconds: 5},
			{ID: "tyre", Phase: machine.Cold, At: "left", Seconds: 5},
			{ID: "fuel_cap", Phase: machine.Cold, At: "rear", Seconds: 5},
		},
	}
	for _, stop := range walk.Route(sheet, walk.Options{}) {
		fmt.Println(stop.ID, stop.At)
	}
	// Output:
	// fuel_cap rear
	// chute front
	// tyre left
}
