package walk

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"vespers/core/machine"
)

// TestTheFallbackIsAsGoodAsItWas: walks too large for a proof are as short as
// they are known to be, and what is proved of them is no less. A change that
// makes one better writes the new number here.
func TestTheFallbackIsAsGoodAsItWas(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 14))
	for i, known := range []struct{ best, nearest, yield, least int64 }{
		{786916, 966963200036, 971264000036, 381916}, {770750, 947097600033, 947507200033, 399250}, {1006666, 1236992000045, 1321984000050, 437666},
		{771250, 960204800030, 947712000030, 408416}, {1002916, 1232384000039, 1240166400039, 433250},
	} {
		s := randomSheet(r, 12, 10, 4, 60)
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			p := newProblem(s, Options{})
			cost := func(steps []step) int64 { _, c, _ := p.measure(steps); return c }
			plan := p.search()
			got := struct{ best, nearest, yield, least int64 }{int64(plan.Seconds * 1000), cost(p.greedy(false)), cost(p.greedy(true)), int64(plan.AtLeast * 1000)}
			if got != known {
				t.Errorf("%d, %d, %d, %d; known are %+v", got.best, got.nearest, got.yield, got.least, known)
			}
		})
	}
}

// TestOfEqualWalksTheFirst: points on one spot are looked at by their ids, in
// whatever order the sheet names them.
func TestOfEqualWalksTheFirst(t *testing.T) {
	s := &machine.Sheet{Loop: machine.Loop{Length: 8, Stations: []machine.Station{{ID: "rear"}, {ID: "left", At: 2}, {ID: "front", At: 4}, {ID: "right", At: 6}}}, OperatorPlace: "rear"}
	for _, id := range []string{"d", "b", "a", "c"} {
		s.Checks = append(s.Checks, machine.Check{ID: id, Phase: machine.Cold, At: "front", Seconds: 5, Needs: map[string]string{}})
	}
	for _, at := range []string{"right", "left"} { // either way round is as long
		s.Checks = append(s.Checks, machine.Check{ID: "x_" + at, Phase: machine.Cold, At: at, Seconds: 5, Needs: map[string]string{}})
	}
	var ids []string
	for _, stop := range Cold(s, Options{}).Stops {
		ids = append(ids, stop.ID)
	}
	if got := strings.Join(ids, " "); got != "x_left a b c d x_right" {
		t.Errorf("%s", got)
	}
	if !slices.IsSorted(ids[1:5]) {
		t.Errorf("%v", ids)
	}
}
