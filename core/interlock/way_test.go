package interlock

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestWay compares with every order of the controls.
func TestWay(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 12))
	found, none, weighed := 0, 0, 0
	for range 1500 {
		l := compiled(t, random(r, 4))
		from, to := State(r.IntN(16)), State(r.IntN(16))
		running := r.IntN(2) == 0 && l.engine()
		s := slowly{l}
		held := func(x, y State) bool {
			for d, p := range l.drives {
				if s.effect(d, x) || s.effect(d, y) {
					if (x^y)&l.still&(l.permits[p].named|newField(l, l.with(nil), false).named(l.run)) != 0 {
						return true
					}
				}
			}
			return false
		}
		bound := running
		weight := func(order []int) (total int, ok bool) {
			running := bound
			x := from
			if running && !s.effect(watchRuns, x) {
				return 0, false
			}
			for _, i := range order {
				y := x ^ 1<<i
				if running && (!s.effect(watchRuns, y) || held(x, y)) {
					return 0, false
				}
				if x = y; x == to {
					break
				}
				kind := refusals
				if running {
					kind = stops
				}
				if l.nowhere[kind].has(x) {
					total += weighNever
				}
				if stay := l.places & (from | to); x&stay != stay {
					total += weighLeft
				}
				for d := range l.drives {
					if running && s.effect(d, x) {
						total += weighMoves
					}
				}
			}
			return total, true
		}
		var differ []int
		for i := range 4 {
			if (from^to)>>i&1 == 1 {
				differ = append(differ, i)
			}
		}
		var best []string
		least, possible := 0, false
		search := func() {
			permutations(differ, func(order []int) {
				if n, ok := weight(order); ok && (!possible || n < least) {
					least, possible, best = n, true, nil
					for _, i := range order {
						best = append(best, l.Switches[i])
					}
				}
			})
		}
		// Without an engine what moves may always move: nothing held is touched, where
		// some order does without.
		bound = running || !l.engine()
		if search(); !possible && !running {
			bound = false
			search()
		}
		order, ok := l.Way(l.Positions(from), l.Positions(to), running)
		if ok != possible || !slices.Equal(order, best) {
			t.Fatalf("way %v, %v; by trying %v, %v", order, ok, best, possible)
		}
		switch {
		case !ok:
			none++
		case least > 0:
			weighed++
		default:
			found++
		}
	}
	if found < 200 || none < 100 || weighed < 100 {
		t.Errorf("too few of a kind: %d ways, %d weighed, %d without", found, weighed, none)
	}
}

// permutations calls do with every order, the smallest first.
func permutations(items []int, do func([]int)) {
	var down func(done, left []int)
	down = func(done, left []int) {
		if len(left) == 0 {
			do(done)
			return
		}
		for i, n := range left {
			down(append(slices.Clip(done), n), append(slices.Clone(left[:i]), left[i+1:]...))
		}
	}
	down(nil, items)
}
