package interlock

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"vespers/core/machine"
)

// slowRound is a round found by trying every order of every set of tests.
type slowRound struct {
	movements int
	words     []uint16
	permits   []int
	returns   []bool
}

func (r slowRound) compare(o slowRound) int {
	if r.movements != o.movements {
		return r.movements - o.movements
	}
	if c := slices.Compare(r.words, o.words); c != 0 {
		return c
	}
	if c := slices.Compare(r.permits, o.permits); c != 0 {
		return c
	}
	return slices.CompareFunc(r.returns, o.returns, func(a, b bool) int {
		switch {
		case a == b:
			return 0
		case b:
			return -1
		}
		return 1
	})
}

// bestRound tries every sequence of so many different legal tests that covers
// need and holds the required ones in their order. It gives up, with ok false,
// after many sequences.
func bestRound(b *bench, need set, required []candidate, k int) (best slowRound, ok bool) {
	var all []candidate
	var catches []set
	b.each(false, func(c candidate, s set) { all, catches = append(all, c), append(catches, s) })
	same := func(x, y candidate) bool {
		return x.effect == y.effect && x.from == y.from && x.to == y.to && x.back == y.back
	}
	most := 0
	for _, s := range catches {
		most = max(most, s.meet(need).count())
	}
	found, tried := false, 0
	used := make([]bool, len(all))
	var down func(n int, at State, running, stops bool, covered set, waiting []candidate, r slowRound)
	down = func(n int, at State, running, stops bool, covered set, waiting []candidate, r slowRound) {
		if tried++; tried > 3_000_000 {
			return
		}
		if found && r.movements > best.movements {
			return
		}
		left := need.minus(covered).count()
		if n == k {
			if left == 0 && len(waiting) == 0 && (!found || r.compare(best) < 0) {
				best, found = r, true
			}
			return
		}
		if left > most*(k-n) || len(waiting) > k-n {
			return
		}
		for i, c := range all {
			refusal := c.effect == watchCranks
			if used[i] || refusal && stops {
				continue
			}
			wait := waiting
			j := slices.IndexFunc(waiting, func(o candidate) bool { return same(c, o) })
			if j >= 0 {
				if slices.ContainsFunc(waiting[:j], func(o candidate) bool { return (o.effect == watchCranks) == refusal }) {
					continue
				}
				wait = slices.Delete(slices.Clone(waiting), j, j+1)
			}
			starts := []State{at}
			needs := !refusal && !running && b.logic.engine()
			if needs {
				starts = b.starts(false)
			}
			used[i] = true
			for _, u := range starts {
				next := slowRound{movements: r.movements, words: slices.Clip(r.words), permits: append(slices.Clip(r.permits), b.logic.permitOf(c.effect)), returns: append(slices.Clip(r.returns), c.back)}
				here := at
				through := func(x State) {
					next.movements += distance(here, x)
					next.words = append(next.words, word(x))
					here = x
				}
				if needs {
					through(u)
				}
				if !refusal {
					through(c.from)
				}
				through(c.to)
				if c.back {
					through(c.from)
				}
				down(n+1, here, !refusal && b.sound.runs.has(here), !refusal, covered.union(catches[i]), wait, next)
			}
			used[i] = false
		}
	}
	down(0, b.logic.Rest, false, false, set{}, required, slowRound{})
	return best, found && tried <= 3_000_000
}

// TestLeastMovements compares the order of the planner with every order of
// every smallest set.
func TestLeastMovements(t *testing.T) {
	r := rand.New(rand.NewPCG(19, 4))
	compared := 0
	for range 400 {
		section := random(r, 1+r.IntN(3))
		if r.IntN(2) == 0 {
			section.Required = someRequired(r, section)
		}
		l := compiled(t, section)
		plan := l.Plan()
		if !plan.TestsExact || !plan.MovementsExact {
			t.Fatalf("a small plan is not exact: %+v", section)
		}
		b := newBench(l)
		g := newGoal(b)
		want, ok := bestRound(b, g.catchable, g.required, len(plan.Tests))
		if !ok {
			continue
		}
		compared++
		if got := written(b, plan); got.compare(want) != 0 || plan.Movements != want.movements {
			t.Fatalf("got %+v\nwant %+v\nof %+v", got, want, section)
		}
	}
	if compared < 200 {
		t.Errorf("only %d rounds were small enough to compare", compared)
	}
}

// written goes through a plan as it was printed.
func written(b *bench, plan Plan) slowRound {
	var r slowRound
	w := walker{bench: b, at: b.logic.Rest}
	for _, one := range plan.Tests {
		c, _ := b.find(machine.RequiredTest{Kind: one.Kind, Permit: one.Permit, From: one.From, To: one.To, Return: one.Return})
		r.movements += w.cost(c)
		if u, need := w.startFor(c); need {
			r.words = append(r.words, word(u))
		}
		if c.effect != watchCranks {
			r.words = append(r.words, word(c.from))
		}
		r.words = append(r.words, word(c.to))
		if c.back {
			r.words = append(r.words, word(c.from))
		}
		r.permits, r.returns = append(r.permits, b.logic.permitOf(c.effect)), append(r.returns, c.back)
		w.do(c)
	}
	return r
}

// someRequired picks one or two legal tests of the section.
func someRequired(r *rand.Rand, section machine.Interlock) []machine.RequiredTest {
	l, _ := Compile(section)
	b := newBench(l)
	var all []candidate
	b.each(false, func(c candidate, _ set) { all = append(all, c) })
	var out []machine.RequiredTest
	for range 1 + r.IntN(2) {
		if len(all) > 0 {
			one := b.test(all[r.IntN(len(all))])
			out = append(out, machine.RequiredTest{Kind: one.Kind, Permit: one.Permit, From: one.From, To: one.To, Return: one.Return})
		}
	}
	return out
}

// TestEightSwitches: up to eight switches and four drives both numbers are
// proved.
func TestEightSwitches(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 4))
	for i := range 60 {
		section := random(r, 8)
		for d := len(section.Permits); d < 6; d++ {
			section.Permits = append(section.Permits, machine.Permit{ID: fmt.Sprintf("e%d", d), Kind: "drive", When: randomExpr(r, 8, 3).String(), Latched: r.IntN(2) == 0})
		}
		plan := compiled(t, section).Plan()
		if !plan.TestsExact || !plan.MovementsExact {
			t.Errorf("section %d: %d tests, exact %v, movements exact %v: %+v", i, len(plan.Tests), plan.TestsExact, plan.MovementsExact, section)
		}
	}
}
