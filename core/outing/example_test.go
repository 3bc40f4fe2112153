package outing_test

import (
	"fmt"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
)

// Example answers "Ready?" and asks what comes next.
func Example() {
	o := &outing.Outing{ID: "o-1", Status: outing.Open, Turns: []outing.Turn{{Operator: "ida"}}}
	crew := outingtest.Crew{}.Add(operator.Person{ID: "ida", Role: operator.Operator})
	said := record.Meta{ID: "r1", By: "ida", At: morning}
	events, err := outing.Decide(o, outing.Ready{Fit: "no"}, said, crew)
	fmt.Println(o.Stage(), err)
	o = o.Apply(said, events[0])
	_, err = outing.Decide(o, outing.Release{}, said, crew)
	fmt.Println(o.Stage(), err)
	// Output:
	// ready <nil>
	// ready refused by outing.not_fit
}
