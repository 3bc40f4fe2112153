package interlock_test

import (
	"fmt"

	"vespers/core/interlock"
	"vespers/core/machine"
)

// Example plans the smallest round of a machine with a seat, a brake and a blade
// switch.
func Example() {
	logic, _ := interlock.Compile(machine.Interlock{
		Switches: []machine.Switch{{ID: "seat"}, {ID: "brake"}, {ID: "blade"}},
		Permits: []machine.Permit{
			{ID: "start", Kind: "start", When: "brake && !blade"},
			{ID: "run", Kind: "run", When: "seat || brake && !blade"},
			{ID: "blades", Kind: "drive", When: "blade"},
		},
	})
	plan := logic.Plan()
	for _, test := range plan.Tests {
		fmt.Println(test.Kind, test.Permit)
	}
	// Output:
	// refusal start
	// drive_stop blades
	// engine_stop run
}
