package outings

import (
	"slices"
	"testing"

	"vespers/core/defect"
	"vespers/draw"
)

// TestMarksNumberTheWalk: each place has the number of the next visit to it, which
// stays as the walk goes on; a place left and come back to is visited twice.
func TestMarksNumberTheWalk(t *testing.T) {
	walk := func(open ...bool) []visit {
		places := []string{"rear", "rear", "engine", "front", "rear"}
		var out []visit
		for i, o := range open {
			out = append(out, visit{places[i], o})
		}
		return out
	}
	for name, test := range map[string]struct {
		points []visit
		here   string
		found  map[string]defect.Grade
		want   []draw.Mark
	}{
		"the beginning":               {walk(true, true, true, true, true), "rear", nil, []draw.Mark{{Spot: "rear", State: "here", Number: 1}, {Spot: "engine", State: "ahead", Number: 2}, {Spot: "front", State: "ahead", Number: 3}}},
		"the second point of a place": {walk(false, true, true, true, true), "rear", nil, []draw.Mark{{Spot: "rear", State: "here", Number: 1}, {Spot: "engine", State: "ahead", Number: 2}, {Spot: "front", State: "ahead", Number: 3}}},
		"on the way":                  {walk(false, false, true, true, true), "engine", nil, []draw.Mark{{Spot: "rear", State: "ahead", Number: 4}, {Spot: "engine", State: "here", Number: 2}, {Spot: "front", State: "ahead", Number: 3}}},
		"done, a Watch and a Halt": {walk(false, false, false, false, false), "", map[string]defect.Grade{"engine": defect.Watch, "front": defect.Halt, "rear": defect.Sound},
			[]draw.Mark{{Spot: "rear", State: "done"}, {Spot: "engine", State: "noted"}, {Spot: "front", State: "fault"}}},
		"found, and something left there": {walk(false, true, false, false, false), "", map[string]defect.Grade{"rear": defect.Halt}, []draw.Mark{{Spot: "rear", State: "ahead", Number: 1}, {Spot: "engine", State: "done"}, {Spot: "front", State: "done"}}},
		"nothing":                         {nil, "rear", nil, nil},
	} {
		t.Run(name, func(t *testing.T) {
			if got := mapMarks(test.points, test.here, test.found); !slices.Equal(got, test.want) {
				t.Errorf("%+v, want %+v", got, test.want)
			}
		})
	}
}
