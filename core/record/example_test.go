package record_test

import (
	"fmt"

	"vespers/core/inspect"
	"vespers/core/record"
)

// Example reads an event back as it stands in a file of the first edition.
func Example() {
	e, err := record.Decode(1, "point_answered", []byte(`{"machine":"verger","check":"seat_belt","answer":"sound"}`))
	fmt.Println(e.(inspect.Answered).Check, err)
	_, err = record.Decode(99, "point_answered", nil)
	fmt.Println(err)
	// Output:
	// seat_belt <nil>
	// record: format 99 is not known here; this program reads up to 2
}
