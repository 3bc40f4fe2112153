package interlock

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestStepsMoveAsPlanned adds up the controls moved when a round is gone
// through step by step.
func TestStepsMoveAsPlanned(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 21))
	for range 100 {
		l := compiled(t, random(r, 2+r.IntN(4)))
		plan := l.Plan()
		moved := 0
		for i, step := range l.Steps(plan.Tests) {
			test := plan.Tests[i]
			at := l.StateOf(step.At)
			if step.Start != nil {
				if step.Running || test.Kind == Refusal {
					t.Fatalf("test %d starts a running engine, or a refusal starts one", i)
				}
				moved += distance(at, l.StateOf(step.Start))
				at = l.StateOf(step.Start)
			}
			if test.From != nil {
				moved += distance(at, l.StateOf(test.From))
				at = l.StateOf(test.From)
			}
			moved += distance(at, l.StateOf(test.To))
			if test.Return {
				moved += distance(l.StateOf(test.To), l.StateOf(test.From))
			}
		}
		if moved != plan.Movements {
			t.Fatalf("%d controls moved, the plan says %d", moved, plan.Movements)
		}
	}
}

// TestWay compares with every order of the controls.
func TestWay(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 12))
	found, none := 0, 0
	for range 400 {
		section := random(r, 4)
		l := compiled(t, section)
		from, to := State(r.IntN(16)), State(r.IntN(16))
		running := r.IntN(2) == 0
		runs := l.with(nil).runs
		reach := 0
		if running {
			reach = 1
		}
		fine := func(order []int) bool {
			x := from
			for _, i := range order {
				x ^= 1 << i
				if x != to && (l.nowhere[reach].has(x) || running && !runs.has(x)) {
					return false
				}
			}
			return true
		}
		var differ []int
		for i := range 4 {
			if (from^to)>>i&1 == 1 {
				differ = append(differ, i)
			}
		}
		var best []int
		permutations(differ, func(order []int) {
			if best == nil && fine(order) {
				best = slices.Clone(order)
			}
		})
		order, ok := l.Way(l.Positions(from), l.Positions(to), running)
		if ok != (best != nil || len(differ) == 0) {
			t.Fatalf("way %v, %v; by trying %v", order, ok, best)
		}
		if !ok {
			none++
			continue
		}
		found++
		for i, n := range best {
			if order[i] != l.Switches[n] {
				t.Fatalf("way %v, want %v", order, best)
			}
		}
	}
	if found < 50 || none < 20 {
		t.Errorf("too few of a kind: %d ways, %d without", found, none)
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

// TestBlocked: every way out works and none is shorter; every suspect explains
// what is seen.
func TestBlocked(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for range 300 {
		l := compiled(t, random(r, 4))
		s := slowly{l}
		x := State(r.IntN(16))
		for _, seen := range []Symptom{Dead, NoStart, Dies} {
			watch := watchRuns
			if seen == Dead {
				watch = watchCranks
			}
			got := l.Blocked(seen, "", l.Positions(x))
			if s.effect(watch, x) != (len(got.Changes) == 0) && len(got.Changes) > 0 {
				t.Fatalf("changes %v where the controls stand right", got.Changes)
			}
			for _, change := range got.Changes {
				y := x
				for _, m := range change {
					y ^= 1 << l.index(m.Switch)
				}
				if !s.effect(watch, y) || !s.effect(watchRuns, y) || l.nowhere[1].has(y) || distance(x, y) != len(got.Changes[0]) {
					t.Fatalf("%v is no way out of %v", change, l.Positions(x))
				}
				for z := range State(16) {
					if distance(x, z) < len(change) && s.effect(watch, z) && s.effect(watchRuns, z) && !l.nowhere[1].has(z) {
						t.Fatalf("%v is nearer than %v", l.Positions(z), change)
					}
				}
			}
			for _, f := range l.faults() {
				explains := s.effect(watch, x) && f.contact >= 0 && !s.effect(watch, x, f)
				if explains != slices.Contains(got.Suspects, f.name) {
					t.Fatalf("%s explains it: %v, suspects %v", f.name, explains, got.Suspects)
				}
			}
		}
	}
}

func TestBlockedZeroTurn(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	at := l.Positions(l.Rest)
	at["brake"] = false
	if got := l.Blocked(Dead, "", at); len(got.Changes) != 1 || len(got.Changes[0]) != 1 || got.Changes[0][0] != (Move{"brake", true}) {
		t.Errorf("brake released: %+v", got)
	}
	at["brake"] = true
	if got := l.Blocked(Dead, "", at); len(got.Changes) != 0 || !slices.Equal(got.Suspects, []string{"brake:broken", "cutters:broken", "lever_l:broken", "lever_r:broken"}) {
		t.Errorf("all set: %+v", got)
	}
	if got := l.Blocked(NoDrive, "blades", at); len(got.Changes) != 1 || got.Changes[0][0] != (Move{"cutters", false}) {
		t.Errorf("blades: %+v", got)
	}
}
