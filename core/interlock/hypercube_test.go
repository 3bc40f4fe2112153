package interlock

import (
	"math/rand/v2"
	"testing"
)

func TestSpread(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 8))
	for n := range 9 {
		for range 20 {
			v := newCosts(1 << n)
			for range 1 + r.IntN(3) {
				v[r.IntN(len(v))] = uint8(r.IntN(far + 1))
			}
			want := newCosts(len(v))
			for x := range v {
				for y, cost := range v {
					want[x] = min(want[x], plus(cost, distance(State(x), State(y))))
				}
			}
			v.spread()
			for x := range v {
				if v[x] != want[x] {
					t.Fatalf("%d switches, state %b: %d, want %d", n, x, v[x], want[x])
				}
			}
		}
	}
}
