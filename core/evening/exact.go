package evening

// The best plan, proved: every way to share the machines among the people, the most
// promising first, and for each every order that could be better than the best so far.

import (
	"cmp"
	"slices"
)

// shares is one way to share the machines, and what no plan of it can go below.
type shares struct {
	owner      []int
	close, sum float64
}

// proofsMost is how many steps all proofs of an evening may take, some ten seconds. What a
// yard does at night takes a hundredth; six machines whose every job fights for one of two
// places may take more, and are then not exact.
const proofsMost = 4_000_000

// unsettled is from how many ways to share on the best plan so far is searched for before
// they are proved.
const (
	unsettled   = 24
	polishSteps = 1500
)

// exact is a plan that closes as soon as can be and, among those, has the least sum of
// going home; proved is false where that took too long.
func (y *yard) exact() (best *schedule, proved bool) {
	all := y.everyShare()
	for _, one := range all {
		for _, rule := range rules {
			if s := y.greedy(one.owner, rule); s.better(best) {
				best = s
			}
		}
	}
	least := y.bound()
	open := 0
	for _, one := range all {
		if one.close < best.close+same && one.sum < best.sum-same || one.close < best.close-same {
			open++
		}
	}
	if open > unsettled {
		if s := y.search(best.owner, polishSteps/y.haste); s.better(best) {
			best = s
		}
	}
	steps := proofsMost / y.haste
	slices.SortStableFunc(all, func(a, b shares) int { return cmp.Or(cmp.Compare(a.close, b.close), cmp.Compare(a.sum, b.sum)) })
	for _, one := range all { // closing time alone
		if best.close < least+same {
			break
		}
		if one.close < best.close-same {
			best = y.prove(one.owner, best, false, &steps)
		}
	}
	slices.SortStableFunc(all, func(a, b shares) int { return cmp.Compare(a.sum, b.sum) })
	for _, one := range all {
		if one.close < best.close+same && one.sum < best.sum-same {
			best = y.prove(one.owner, best, true, &steps)
		}
	}
	return best, steps > 0
}

// everyShare lists every way to share the machines, people who may do the same counted
// as one.
func (y *yard) everyShare() (out []shares) {
	owner := make([]int, len(y.Machines))
	used := make([]int, len(y.people))
	var share func(m int)
	share = func(m int) {
		if m == len(owner) {
			one := shares{owner: slices.Clone(owner)}
			p := proof{state: y.begin(one.owner)}
			one.close, one.sum = p.bounds()
			out = append(out, one)
			return
		}
		for _, p := range y.who[m] {
			if used[p] == 0 && y.idleBefore(p, used) {
				continue // as good as the one before, who has nothing either
			}
			owner[m] = p
			used[p]++
			share(m + 1)
			used[p]--
		}
	}
	share(0)
	return out
}

// idleBefore reports whether somebody before a person could stand in their place, and has
// nothing yet.
func (y *yard) idleBefore(p int, used []int) bool {
	for q := y.alike[p]; q < p; q++ {
		if y.alike[q] == y.alike[p] && used[q] == 0 {
			return true
		}
	}
	return false
}

// proof is a search through the orders of one way to share.
type proof struct {
	*state
	best  *schedule
	sums  bool                 // the closing time is the best there is; now the sum
	seen  map[uint64][]float64 // by what is done, when everybody and everything was free
	steps *int                 // left
	lists [][]next
	ends  []float64
	now   []float64
	bounding
}

// prove looks for a better plan of one way to share, through all that could be better.
func (y *yard) prove(owner []int, best *schedule, sums bool, steps *int) *schedule {
	p := &proof{state: y.begin(owner), best: best, sums: sums, steps: steps, seen: map[uint64][]float64{}, lists: make([][]next, len(y.ops))}
	p.dive(0)
	return p.best
}

// worth reports whether plans from here may be better than the best so far.
func (p *proof) worth() bool {
	close, sum := p.bounds()
	if !p.sums {
		return close < p.best.close-same
	}
	return close < p.best.close+same && sum < p.best.sum-same
}

func (p *proof) dive(depth int) {
	if p.left == 0 {
		if s := p.finished(); s.better(p.best) {
			p.best = s
		}
		return
	}
	if *p.steps--; *p.steps <= 0 || !p.worth() || p.known() {
		return
	}
	list := p.choices(p.lists[depth])
	p.lists[depth] = list
	slices.SortStableFunc(list, func(a, b next) int {
		return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(p.y.ops[b.op].after, p.y.ops[a.op].after))
	})
	for _, n := range list {
		if p.turned(n.op) {
			continue
		}
		u := p.put(n.op, n.at, n.unit)
		p.dive(depth + 1)
		p.take(u)
	}
}

// known reports whether what is left was looked through already, from where everybody
// and everything was free no later.
func (p *proof) known() bool {
	key := uint64(0)
	for _, d := range p.done {
		key = key<<jobsMost | d
	}
	now := append(p.now[:0], p.people...)
	for _, units := range p.places {
		from := len(now)
		if now = append(now, units...); len(units) > 1 {
			slices.Sort(now[from:])
		}
	}
	p.now = now
	before := p.seen[key]
	for i := 0; i < len(before); i += len(now) {
		if noLater(before[i:i+len(now)], now) {
			return true
		}
	}
	p.seen[key] = append(before, now...)
	return false
}

// noLater reports whether each of some times is no later than its like.
func noLater(these, those []float64) bool {
	for i := range these {
		if these[i] > those[i]+same {
			return false
		}
	}
	return true
}
