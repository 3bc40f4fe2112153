package evening

// Plans by rule, and the search through large evenings: a fixed count of steps, always
// the same ones.

import (
	"math"
	"slices"
)

// rule gives which of the jobs that may be put next is put.
type rule func(s *state, n next) float64 // the least is put

// rules are the plain ones: what can start first; what has most after it; both.
var rules = []rule{
	func(s *state, n next) float64 { return n.at },
	func(s *state, n next) float64 { return -s.y.ops[n.op].after - s.y.ops[n.op].minutes },
	func(s *state, n next) float64 { return n.at - s.y.ops[n.op].after },
	func(s *state, n next) float64 { return n.at + s.y.ops[n.op].minutes },
}

// greedy is the plan that a rule makes of machines shared so.
func (y *yard) greedy(owner []int, by rule) *schedule {
	s := y.begin(owner)
	var list []next
	for s.left > 0 {
		list = s.choices(list)
		best, least := 0, math.Inf(1)
		for i, n := range list {
			if cost := by(s, n); cost < least-same {
				best, least = i, cost
			}
		}
		s.put(list[best].op, list[best].at, list[best].unit)
	}
	return s.finished()
}

// searchSteps is how many plans are made of a large evening.
const searchSteps = 12000

// draw is a row of numbers that look like chance and are always the same.
type draw uint64

func (d *draw) n(below int) int {
	*d ^= *d << 13
	*d ^= *d >> 7
	*d ^= *d << 17
	return int(uint64(*d) % uint64(below))
}

// search is the best plan of a fixed count of steps: from the plan of the rules on, a
// machine given to somebody else, two changed over, or some jobs put sooner or later,
// kept where it is no worse.
func (y *yard) search(owner []int, steps int) *schedule {
	owner = slices.Clone(owner)
	var best *schedule
	weights := make([]float64, len(y.ops))
	for _, by := range rules {
		if s := y.greedy(owner, by); s.better(best) {
			best = s
		}
	}
	for i := range weights {
		weights[i] = -y.ops[i].after
	}
	by := func(_ *state, n next) float64 { return n.at + weights[n.op] }
	now := y.greedy(owner, by)
	least := y.bound()
	d := draw(88172645463325252)
	tried, put := slices.Clone(owner), slices.Clone(weights)
	for step := range steps {
		if best.close < least+same && step > steps/4 {
			break // it closes as soon as can be; a while for the sum
		}
		copy(tried, owner)
		copy(put, weights)
		y.change(&d, tried, weights)
		one := y.greedy(tried, by)
		if one.close > now.close+same || one.close > now.close-same && one.sum > now.sum+same {
			copy(weights, put)
			continue
		}
		now = one
		copy(owner, tried)
		if now.better(best) {
			best = now
		}
	}
	return best
}

// change changes one thing about a plan.
func (y *yard) change(d *draw, owner []int, weights []float64) {
	m := d.n(len(owner))
	switch d.n(4) {
	case 0:
		owner[m] = y.who[m][d.n(len(y.who[m]))]
	case 1:
		other := d.n(len(owner))
		if slices.Contains(y.who[m], owner[other]) && slices.Contains(y.who[other], owner[m]) {
			owner[m], owner[other] = owner[other], owner[m]
		}
	case 2: // all jobs of a machine sooner or later
		by := float64(d.n(41)-20) / 2
		for i := y.first[m]; i < y.first[m+1]; i++ {
			weights[i] += by
		}
	default:
		i := d.n(len(weights))
		weights[i] += float64(d.n(81)-40) / 2
	}
}

// share gives each machine, the longest first, to whoever is through first with it.
func (y *yard) share() []int {
	work := make([]float64, len(y.Machines))
	order := make([]int, len(y.Machines))
	for m := range y.Machines {
		order[m] = m
		for i := y.first[m]; i < y.first[m+1]; i++ {
			work[m] += y.ops[i].minutes
		}
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch { // the longest first
		case work[a] > work[b]:
			return -1
		case work[a] < work[b]:
			return 1
		}
		return 0
	})
	owner := make([]int, len(y.Machines))
	busy, _ := y.starting()
	for _, m := range order {
		p := y.who[m][0]
		for _, other := range y.who[m] {
			if max(busy[other], y.Machines[m].Arrives) < max(busy[p], y.Machines[m].Arrives)-same {
				p = other
			}
		}
		owner[m] = p
		busy[p] = max(busy[p], y.Machines[m].Arrives) + work[m]
	}
	return owner
}
