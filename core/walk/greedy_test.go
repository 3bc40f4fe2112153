package walk

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

// TestTheShortestTour against trying every order of the points, each way round.
func TestTheShortestTour(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 400 {
		p := &problem{loop: int64(10 + r.IntN(30))}
		from, to := r.Int64N(p.loop), r.Int64N(p.loop)
		others := make([]int64, r.IntN(4))
		for i := range others {
			others[i] = r.Int64N(p.loop)
		}
		want := int64(1 << 40)
		var try func(at, walked int64, left []int64)
		try = func(at, walked int64, left []int64) {
			if len(left) == 0 {
				want = min(want, walked+p.round(at, to))
			}
			for i, next := range left {
				try(next, walked+p.round(at, next), slices.Delete(slices.Clone(left), i, i+1))
			}
		}
		try(from, 0, others)
		if got := p.tour(from, to, others); got != want {
			t.Fatalf("from %d by %v to %d on a loop of %d: %d, by trying %d", from, others, to, p.loop, got, want)
		}
	}
}

// TestReachSaysWhatItCosts: the steps it says bring about what it returns, for
// what it reckons; said or not, it is the same.
func TestReachSaysWhatItCosts(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for range 300 {
		p := newProblem(randomSheet(r, 3+r.IntN(4), r.IntN(3), r.IntN(3), 1+r.IntN(8)), Options{})
		n := p.look(p.begin(), nil)
		for i := range p.checks {
			if n.done.has(i) || !p.checks[i].after.within(n.done) {
				continue
			}
			var steps []step
			to, cost := p.reach(n, i, func(s step) { steps = append(steps, s) })
			silent, same := p.reach(n, i, nil)
			if silent != to || same != cost {
				t.Fatal("reaching in silence is another way")
			}
			at, walked, done, ways := n.spot, int64(0), n.done, n.ways
			for _, s := range steps {
				if s.check >= 0 {
					walked += p.distance[at][p.checks[s.check].spot]
					at = uint8(p.checks[s.check].spot)
					done.add(s.check)
					continue
				}
				one := p.settings[s.setting]
				walked += p.distance[at][one.spot] + one.costs[s.way]
				at, ways = uint8(one.spot), ways.with(s.setting, s.way)
			}
			if walked != cost || done != to.done || ways != to.ways || at != to.spot || !to.done.has(i) {
				t.Fatalf("it costs %d, reckoned %d", walked, cost)
			}
		}
	}
}

// TestGreedyWalksCanBeWalked: everything is looked at in an order the sheet
// allows, settings end as they must, and no walk is better than the best.
func TestGreedyWalksCanBeWalked(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	nearest, best := 0, 0
	for range 200 {
		p := newProblem(randomSheet(r, 3+r.IntN(3), r.IntN(3), r.IntN(3), 1+r.IntN(6)), Options{})
		least := brute(p)
		looks := int64(0)
		for _, c := range p.checks {
			looks += c.cost
		}
		for _, steps := range [][]step{p.greedy(false), p.greedy(true)} {
			ways := p.begin().ways
			for _, s := range steps {
				if s.setting >= 0 {
					ways = ways.with(s.setting, s.way)
				}
			}
			for s, one := range p.settings {
				if ways.of(s) != one.end {
					t.Fatalf("%s does not end as it must", one.id)
				}
			}
			_, cost, _ := p.measure(steps)
			cost -= looks
			if !p.keeps(steps) || cost < least {
				t.Fatalf("keeps %v, cost %d, the best is %d", p.keeps(steps), cost, least)
			}
			best++
			if cost == least {
				nearest++
			}
		}
	}
	// It is only used where the search gives up; it would be of no use there if
	// it were far off here.
	if nearest*10 < best*4 {
		t.Errorf("%d of %d greedy walks are the best", nearest, best)
	}
	t.Logf("%d of %d greedy walks are the best", nearest, best)
}

// TestWhatKeepsTheOrder of a sheet, and what does not.
func TestWhatKeepsTheOrder(t *testing.T) {
	p := &problem{checks: []check{{id: "a"}, {id: "b"}, {id: "c"}}}
	p.checks[1].after.add(0)
	see := func(list ...int) (steps []step) {
		for _, i := range list {
			steps = append(steps, step{setting: -1, check: i})
		}
		return steps
	}
	for _, c := range []struct {
		steps []step
		want  bool
	}{
		{see(0, 1, 2), true}, {see(2, 0, 1), true}, {see(0, 2, 1), true},
		{see(1, 0, 2), false}, {see(0, 1), false}, {see(), false}, {see(2, 1, 0), false},
		{append(see(0), append([]step{{setting: 0, check: -1}}, see(1, 2)...)...), true},
	} {
		t.Run(fmt.Sprintf("%+v", c.steps), func(t *testing.T) {
			if got := p.keeps(c.steps); got != c.want {
				t.Errorf("keeps the order: %v", got)
			}
		})
	}
}

// TestWholeNumbers: a metre and the seconds in which it is walked weigh the same.
func TestWholeNumbers(t *testing.T) {
	if fromMetres(Pace) != fromSeconds(1) || fromMetres(1) != unitsAMetre || fromSeconds(10) != 10*fromSeconds(1) {
		t.Errorf("%d %d", fromMetres(Pace), fromSeconds(1))
	}
}
