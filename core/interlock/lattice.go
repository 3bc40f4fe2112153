package interlock

import "slices"

// A lattice holds, for every set of elements that the first tests of a smallest
// round can have covered, the fewest control movements with which the rest of
// the round can be done, from every state of the controls.
type lattice struct {
	goal    *goal
	budget  int // tests in the whole round
	states  int
	starts  []State
	engine  bool
	least   *coverer // any tests
	stopped *coverer // stop tests only

	refusals stage
	stops    stage
	work     int // elementary steps left
}

// stage is the part of a round before or after the engine is started.
type stage struct {
	nodes []node
	at    map[set]int
	stop  bool
}

type node struct {
	done  set
	used  int // tests done
	edges []edge
	// on is the cost with the engine running, or in a refusal with the engine
	// off; off the cost with the engine to be started first.
	on, off costs
}

// edge leads to the node that a group's tests lead to.
type edge struct{ group, to int }

// workLimit bounds the elementary steps of one lattice, by the number of
// switches: what up to eight need is always done, beyond that about a tenth of
// a second.
func workLimit(switches int) int {
	if switches <= 8 {
		return 6_000_000_000
	}
	return 150_000_000
}

// build makes the lattice of every smallest round of the given groups; ok is
// false if it is too large.
func (g *goal) lattice(groups []group, budget int, least, stopped *coverer) (*lattice, bool) {
	l := &lattice{goal: &goal{bench: g.bench, all: g.all, groups: groups, place: g.place, required: g.required}, budget: budget,
		states: 1 << len(g.bench.logic.Switches), starts: g.bench.cold, engine: g.bench.logic.engine(), least: least, stopped: stopped,
		refusals: stage{at: map[set]int{}}, stops: stage{at: map[set]int{}, stop: true}, work: workLimit(len(g.bench.logic.Switches))}
	l.refusals.node(set{}, 0)
	for i := 0; i < len(l.refusals.nodes); i++ {
		if !l.open(&l.refusals, i, least) {
			return nil, false
		}
	}
	// Stops may begin wherever stops alone can do the rest. Nodes come in the
	// order of tests used, so that none is opened before all that lead to it.
	next := 0
	for used := 0; used <= budget; used++ {
		for _, n := range l.refusals.nodes {
			if n.used == used && (l.rest(n.done).empty() || stopped.within(l.rest(n.done), budget-used)) {
				l.stops.node(n.done, used)
			}
		}
		for ; next < len(l.stops.nodes) && l.stops.nodes[next].used == used; next++ {
			if !l.open(&l.stops, next, stopped) {
				return nil, false
			}
		}
	}
	if least.exhausted() || stopped.exhausted() {
		return nil, false
	}
	l.price()
	return l, true
}

func (l *lattice) rest(done set) set { return l.goal.all.minus(done) }

func (s *stage) node(done set, used int) int {
	if i, ok := s.at[done]; ok {
		return i
	}
	s.at[done] = len(s.nodes)
	s.nodes = append(s.nodes, node{done: done, used: used})
	return len(s.nodes) - 1
}

// open finds the edges of a node: groups after which few enough tests can do
// what is left.
func (l *lattice) open(s *stage, i int, enough *coverer) bool {
	done, used := s.nodes[i].done, s.nodes[i].used
	rest := l.rest(done)
	verdicts := map[set]bool{}
	for k, g := range l.goal.groups {
		gain := g.covers.meet(rest)
		if g.stop != s.stop || gain.empty() || !g.needs.within(done) {
			continue
		}
		ok, seen := verdicts[gain]
		if !seen {
			ok = enough.within(rest.minus(gain), l.budget-used-1)
			verdicts[gain] = ok
		}
		if ok {
			to := s.node(done.union(gain), used+1)
			s.nodes[i].edges = append(s.nodes[i].edges, edge{k, to})
			l.work -= len(g.tests)
		}
	}
	l.work -= len(l.goal.groups) + 3*l.states*len(l.goal.bench.logic.Switches)
	return l.work > 0 && !enough.exhausted()
}

// price works the costs out from the end of the round backwards.
func (l *lattice) price() {
	for i := len(l.stops.nodes) - 1; i >= 0; i-- {
		n := &l.stops.nodes[i]
		if l.rest(n.done).empty() {
			n.on = make(costs, l.states)
			n.off = n.on
			continue
		}
		n.on = newCosts(l.states)
		for _, e := range n.edges {
			to := &l.stops.nodes[e.to]
			for _, c := range l.goal.groups[e.group].tests {
				n.on.lower(c.from, uint16(c.moved())+l.after(to, c.end()))
			}
		}
		n.on.spread()
		n.off = n.on
		if l.engine {
			n.off = newCosts(l.states)
			for _, u := range l.starts {
				n.off[u] = n.on[u]
			}
			n.off.spread()
		}
	}
	for i := len(l.refusals.nodes) - 1; i >= 0; i-- {
		n := &l.refusals.nodes[i]
		if l.rest(n.done).empty() {
			n.on = make(costs, l.states)
			continue
		}
		n.on = newCosts(l.states)
		for _, e := range n.edges {
			to := &l.refusals.nodes[e.to]
			for _, c := range l.goal.groups[e.group].tests {
				n.on.lower(c.to, to.on[c.to])
			}
		}
		n.on.spread()
		if j, ok := l.stops.at[n.done]; ok {
			for x, cost := range l.stops.nodes[j].off {
				n.on.lower(State(x), cost)
			}
		}
	}
}

// after is the cost of what is left when a stop test has ended in state z: the
// engine may have stopped.
func (l *lattice) after(n *node, z State) uint16 {
	if l.running(z) {
		return n.on[z]
	}
	return n.off[z]
}

func (l *lattice) running(z State) bool { return !l.engine || l.goal.bench.sound.runs.has(z) }

// movements is the least for the whole round, from rest.
func (l *lattice) movements() int { return int(l.refusals.nodes[0].on[l.goal.bench.logic.Rest]) }

// chosen keeps only the groups of a cover that has been found, with all their
// tests.
func (g *goal) chosen(cover []set) []group {
	var out []group
	for _, one := range g.groups {
		if slices.Contains(cover, one.covers) {
			out = append(out, one)
		}
	}
	return out
}
