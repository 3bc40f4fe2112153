package walk

// The search for the shortest walk.

// exactPairs is up to how many different (spot, needs) pairs the search goes on
// until the least is proved. Beyond it, it ends after searchSteps nodes.
const (
	exactPairs  = 12
	searchSteps = 2_000
)

// search finds a walk of least cost: first what the least is, by looking at
// nodes in the order of what a walk through them costs at least; then the walk,
// along nodes that lie on such walks, always by the smallest id.
func (p *problem) search() Plan {
	if len(p.checks) > most || len(p.settings) > 15 || len(p.spots) > 60 {
		return p.fallback(p.bound(p.look(p.begin(), nil)))
	}
	first := p.look(p.begin(), nil)
	s := newSearcher(p, first)
	limit := searchSteps
	if p.pairs <= exactPairs {
		limit = -1
	}
	least, found := s.forward(limit)
	if !found {
		return p.fallback(s.queue[0].least)
	}
	plan := p.plan(s.trace(first, least))
	plan.Exact, plan.AtLeast = true, plan.Seconds
	return plan
}

// fallback is the best of a few walks that are not proved to be the best, with
// what was proved: a bound on the ways and changes.
func (p *problem) fallback(least int64) Plan {
	steps := p.plain()
	_, cost, _ := p.measure(steps)
	for _, other := range [][]step{p.greedy(false), p.greedy(true), p.inSheetOrder(p.order)} {
		if _, c, _ := p.measure(other); c < cost && p.keeps(other) {
			steps, cost = other, c
		}
	}
	plan := p.plan(steps)
	looks := int64(0)
	for i := range p.checks {
		looks += p.checks[i].cost
	}
	plan.AtLeast = float64((looks+least)>>10<<10) / unitsASecond
	plan.Exact = looks+least >= cost
	return plan
}

// keeps reports whether a walk looks at everything, in an order the sheet
// allows.
func (p *problem) keeps(steps []step) bool {
	var done bits
	n := 0
	for _, s := range steps {
		if s.check >= 0 {
			if !p.checks[s.check].after.within(done) {
				return false
			}
			done.add(s.check)
			n++
		}
	}
	return n == len(p.checks)
}

type searcher struct {
	*problem
	queue  frontier
	number map[node]int32 // of each node that was come by
	known  []known        // by that number
}

// known is what is known of a node.
type known struct {
	node
	cost   int64 // least found from the start
	closed bool
}

func newSearcher(p *problem, first node) *searcher {
	s := &searcher{problem: p, number: map[node]int32{}}
	s.better(first, 0)
	return s
}

// better notes a way to a node, if none is known that is as short.
func (s *searcher) better(to node, cost int64) {
	i, ok := s.number[to]
	switch {
	case !ok:
		i = int32(len(s.known))
		s.number[to] = i
		s.known = append(s.known, known{node: to, cost: cost})
	case s.known[i].cost <= cost:
		return
	default:
		s.known[i].cost, s.known[i].closed = cost, false
	}
	s.queue.push(entry{i, cost + s.bound(to)})
}

// cost is the least that is known to a node; ok is false where it was not come by.
func (s *searcher) cost(n node) (cost int64, ok bool) {
	i, ok := s.number[n]
	if !ok {
		return 0, false
	}
	return s.known[i].cost, true
}

// forward returns the least cost, of ways and changes, and whether it was
// found within the limit of nodes (none if negative). All nodes that lie on a
// walk of least cost are known then.
func (s *searcher) forward(limit int) (least int64, found bool) {
	for len(s.queue) > 0 {
		if found && s.queue[0].least > least {
			return least, true
		}
		if limit == 0 {
			return 0, false
		}
		e := s.queue.pop()
		if s.known[e.number].closed {
			continue
		}
		s.known[e.number].closed = true
		at := s.known[e.number]
		limit--
		if s.complete(at.node) {
			if total := at.cost + s.distance[at.spot][s.end]; !found || total < least {
				least, found = total, true
			}
			continue
		}
		s.moves(at.node, func(to node, _ step, cost int64) { s.better(to, at.cost+cost) })
	}
	return least, found
}

// moves calls try with every node that can come next: a setting changed, or a
// spot gone to where something can be looked at, with all that can be looked
// at there.
func (p *problem) moves(n node, try func(to node, first step, cost int64)) {
	for s := range p.settings {
		one := &p.settings[s]
		for way := range one.ways {
			if way == n.ways.of(s) || !p.useful(n, s, way) {
				continue
			}
			to := node{spot: uint8(one.spot), ways: n.ways.with(s, way), done: n.done}
			// What can be looked at on the spot before the change is.
			before := p.look(node{spot: uint8(one.spot), ways: n.ways, done: n.done}, nil)
			if before.done != n.done {
				continue // reached by the move that looks first
			}
			try(p.look(to, nil), step{setting: s, way: way, check: -1}, p.distance[n.spot][one.spot]+one.costs[way])
		}
	}
	var seen [64]bool
	left := p.all.minus(n.done)
	for i, ok := left.next(0); ok; i, ok = left.next(i + 1) {
		spot := p.checks[i].spot
		if seen[spot] || !p.open(n, i) {
			continue
		}
		seen[spot] = true
		to := p.look(node{spot: uint8(spot), ways: n.ways, done: n.done}, nil)
		try(to, step{setting: -1, check: i}, p.distance[n.spot][spot])
	}
}

// useful reports whether setting s is wanted to stand so: by a point still to
// be looked at, or in the end.
func (p *problem) useful(n node, s, way int) bool {
	if way == p.settings[s].end {
		return true
	}
	return !p.wanted[s][way].within(n.done)
}

// trace is the walk of least cost that comes first.
func (s *searcher) trace(first node, least int64) []step {
	ahead := map[node]*best{}
	var steps []step
	s.look(s.begin(), func(i int) { steps = append(steps, step{setting: -1, check: i}) })
	at, left := first, least
	for {
		b := s.ahead(at, left, ahead)
		if b.end {
			return steps
		}
		if b.move.check < 0 {
			steps = append(steps, b.move)
		}
		start := node{spot: b.to.spot, ways: b.to.ways, done: at.done}
		s.look(start, func(i int) { steps = append(steps, step{setting: -1, check: i}) })
		left -= b.cost
		at = b.to
	}
}

// best is how a walk goes on from a node at the least cost.
type best struct {
	possible bool
	end      bool
	move     step
	to       node
	cost     int64
}

// ahead finds how a walk goes on from n if only left may be spent: by the
// smallest id. No way costs nothing, so that this ends.
func (s *searcher) ahead(n node, left int64, known map[node]*best) *best {
	if b, ok := known[n]; ok {
		return b
	}
	b := &best{}
	known[n] = b
	if s.bound(n) > left {
		return b
	}
	if s.complete(n) {
		b.possible = s.distance[n.spot][s.end] <= left
		b.end = b.possible
		return b
	}
	from, _ := s.cost(n)
	s.moves(n, func(to node, move step, cost int64) {
		if cost > left {
			return
		}
		if total, ok := s.cost(to); !ok || total != from+cost {
			return
		}
		next := s.ahead(to, left-cost, known)
		if !next.possible {
			return
		}
		if !b.possible || s.name(move) < s.name(b.move) {
			*b = best{possible: true, move: move, to: to, cost: cost}
		}
	})
	return b
}

func (p *problem) name(s step) string {
	if s.check >= 0 {
		return p.checks[s.check].id
	}
	return p.settings[s.setting].id + "=" + p.settings[s.setting].ways[s.way]
}

// frontier orders nodes by what a walk through them costs at least: a heap, typed,
// because this is where the search spends its time.
type frontier []entry

type entry struct {
	number int32
	least  int64
}

func (f *frontier) push(e entry) {
	*f = append(*f, e)
	q := *f
	for i := len(q) - 1; i > 0; {
		up := (i - 1) / 2
		if q[up].least <= q[i].least {
			break
		}
		q[up], q[i] = q[i], q[up]
		i = up
	}
}

func (f *frontier) pop() entry {
	q := *f
	first, last := q[0], len(q)-1
	q[0] = q[last]
	q = q[:last]
	for i := 0; ; {
		least := i
		for _, down := range [2]int{2*i + 1, 2*i + 2} {
			if down < len(q) && q[down].least < q[least].least {
				least = down
			}
		}
		if least == i {
			break
		}
		q[i], q[least] = q[least], q[i]
		i = least
	}
	*f = q
	return first
}
