package interlock

// Every way through the smallest rounds: what is covered, where the controls
// stand, how many movements it took.

import "slices"

// A lattice holds the ways through the smallest rounds of tests: for every set
// of elements that the first tests of one can have covered, the fewest control
// movements with which the rest can be done, from every state of the controls.
type lattice struct {
	goal    *goal
	budget  int // tests in the whole round
	states  int
	field   *field
	engine  bool
	least   *coverer // any tests
	stopped *coverer // engages and stops only

	// width is how many nodes of one stage with as many tests are kept, those
	// that were reached with the fewest movements; 0 keeps all.
	width    int
	work     int // elementary steps left
	refusals stage
	stops    stage
}

// stage is the part of a round before or after the engine is started: the
// refusals, or the engages and stops.
type stage struct {
	nodes []node
	at    map[set]int
	stop  bool
}

type node struct {
	done  set
	used  int // tests done
	dead  bool
	edges []edge
	// cold and warm, where only the best nodes are kept, are the least cost of
	// standing here with the tests done: cold with the engine not started for
	// stops yet, warm after a stop test.
	cold, warm costs
	// on is the cost of the rest with the engine running, by where the controls
	// stand, worked out when asked for, or in the refusals with the engine off;
	// off the cost with the engine to be started first.
	on, off costs
	// begins is what the rest costs from where a next test begins, the cheapest
	// first.
	begins []priced
}

// priced is a state with the cost of the rest of the round from there.
type priced struct {
	at   State
	cost uint8
}

// edge leads to the node that a group's tests lead to.
type edge struct{ group, to int32 }

// workLimit bounds the elementary steps of one lattice, by the number of
// switches: with up to eight enough to finish, beyond that about a tenth of a
// second.
func workLimit(switches int) int {
	if switches <= 8 {
		return 8_000_000_000
	}
	return 40_000_000
}

// beam is how many nodes are kept side by side where all would be too many.
func beam(switches int) int {
	if switches <= 8 {
		return 24
	}
	return 3
}

// wholeMost is how many tests a round of a section with more than eight switches
// may have for all its orders to be looked through: each more doubles the work.
const wholeMost = 12

// search finds the ways through the rounds of budget tests. proved says that
// no such round needs fewer movements; the lattice is nil if the steps did not
// suffice for any round.
func (g *goal) search(budget int, least, stopped *coverer) (l *lattice, proved bool) {
	switches := len(g.bench.logic.Switches)
	l = &lattice{goal: g, budget: budget, states: 1 << switches, field: g.bench.field, engine: g.bench.logic.engine(),
		least: least, stopped: stopped, work: workLimit(switches)}
	if (switches <= 8 || budget <= wholeMost) && l.forward() {
		return l, l.price()
	}
	if switches > 8 {
		l.goal = g.thinned()
	}
	l.width, l.work = beam(switches), workLimit(switches)
	if l.forward() && l.price() {
		return l, false
	}
	return nil, false
}

// thinMost is how many tests of a group are kept where not all can be tried.
const thinMost = 24

// thinned keeps of each group the tests nearest to rest.
func (g *goal) thinned() *goal {
	thin := *g
	thin.groups = slices.Clone(g.groups)
	for i := range thin.groups {
		tests := slices.Clone(thin.groups[i].tests)
		sortBy(tests, func(a, b candidate) int {
			return distance(g.bench.logic.Rest, a.first()) - distance(g.bench.logic.Rest, b.first())
		})
		thin.groups[i].tests = tests[:min(thinMost, len(tests))]
	}
	return &thin
}

func (l *lattice) rest(done set) set { return l.goal.all.minus(done) }

// forward opens nodes in the order of tests used, so that none is opened
// before all that lead to it.
func (l *lattice) forward() bool {
	l.refusals, l.stops = stage{at: map[set]int{}}, stage{at: map[set]int{}, stop: true}
	start := &l.refusals.nodes[l.node(&l.refusals, set{}, 0)]
	if l.width > 0 {
		start.cold[l.goal.bench.logic.Rest] = 0
	}
	nextRefusal, nextStop := 0, 0
	for used := 0; used <= l.budget; used++ {
		l.trim(&l.refusals, nextRefusal)
		for ; nextRefusal < len(l.refusals.nodes) && l.refusals.nodes[nextRefusal].used == used; nextRefusal++ {
			if !l.open(&l.refusals, nextRefusal) {
				return false
			}
		}
		l.trim(&l.stops, nextStop)
		for ; nextStop < len(l.stops.nodes) && l.stops.nodes[nextStop].used == used; nextStop++ {
			if !l.open(&l.stops, nextStop) {
				return false
			}
		}
	}
	return true
}

func (l *lattice) node(s *stage, done set, used int) int {
	if i, ok := s.at[done]; ok {
		return i
	}
	s.at[done] = len(s.nodes)
	n := node{done: done, used: used}
	if l.width > 0 {
		n.cold, n.warm = newCosts(l.states), newCosts(l.states)
	}
	s.nodes = append(s.nodes, n)
	return len(s.nodes) - 1
}

// trim keeps the best of the nodes from first on.
func (l *lattice) trim(s *stage, first int) {
	if l.width == 0 || len(s.nodes)-first <= l.width {
		return
	}
	type ranked struct {
		node int
		cost uint8
	}
	var all []ranked
	for i := first; i < len(s.nodes); i++ {
		all = append(all, ranked{i, min(slices.Min(s.nodes[i].cold), slices.Min(s.nodes[i].warm))})
	}
	sortBy(all, func(a, b ranked) int { return int(a.cost) - int(b.cost) })
	for _, r := range all[l.width:] {
		s.nodes[r.node].dead = true
	}
}

// open finds the edges of a node: groups after which few enough tests can do
// what is left. It reports false when the steps are used up.
func (l *lattice) open(s *stage, i int) bool {
	n := s.nodes[i]
	rest := l.rest(n.done)
	if n.dead || rest.empty() {
		return true
	}
	enough, left := l.least, l.budget-n.used
	if s.stop {
		enough = l.stopped
	} else if l.stopped.within(rest, left) {
		j := l.node(&l.stops, n.done, n.used)
		l.stops.nodes[j].cold.lowerAll(n.cold)
	}
	reached := l.ready(s.stop, n)
	verdicts := map[set]bool{}
	for k := range l.goal.groups {
		g := &l.goal.groups[k]
		gain := g.covers.meet(rest)
		if g.stop != s.stop || gain.empty() || !g.needs.within(n.done) {
			continue
		}
		ok, seen := verdicts[gain]
		if !seen {
			ok = enough.within(rest.minus(gain), left-1)
			verdicts[gain] = ok
		}
		if !ok {
			continue
		}
		to := l.node(s, n.done.union(gain), n.used+1)
		s.nodes[i].edges = append(s.nodes[i].edges, edge{int32(k), int32(to)})
		if l.width > 0 {
			l.follow(s.stop, &s.nodes[to], g, reached)
		}
		l.work -= len(g.tests)
	}
	l.work -= len(l.goal.groups) + 2*l.states*len(l.goal.bench.logic.Switches)
	return l.work > 0 && !enough.exhausted()
}

// ready is the cost of having the controls so that a test can begin, by state:
// a lower limit, as if all could be come to. Only where the best nodes are kept,
// to choose them by.
func (l *lattice) ready(stop bool, n node) costs {
	if l.width == 0 {
		return nil
	}
	reached, cold := n.cold.clone(), n.cold.clone()
	if stop && l.engine {
		reached = newCosts(l.states)
		for x, cost := range n.warm {
			if l.runsOn(State(x)) {
				reached.lower(State(x), cost)
			} else {
				cold.lower(State(x), cost)
			}
		}
		cold.spread()
		for _, u := range l.field.starts {
			reached.lower(u, cold[u])
		}
	} else if stop {
		reached.lowerAll(n.warm)
	}
	reached.spread()
	return reached
}

// follow does each test of a group.
func (l *lattice) follow(stop bool, to *node, g *group, reached costs) {
	came := to.cold
	if stop {
		came = to.warm
	}
	for _, c := range g.tests {
		came.lower(c.end(), plus(reached[c.first()], c.moved()))
	}
}

// price works the costs out from the end of the round backwards. It reports
// whether they lead to an end.
func (l *lattice) price() bool {
	nowhere := newCosts(l.states)
	for i := len(l.stops.nodes) - 1; i >= 0; i-- {
		n := &l.stops.nodes[i]
		switch {
		case n.dead:
			n.on, n.off = nowhere, nowhere
		case l.engine:
			l.priceRunning(n)
		default:
			l.priceTests(&l.stops, n)
			n.off = n.on
		}
	}
	for i := len(l.refusals.nodes) - 1; i >= 0; i-- {
		n := &l.refusals.nodes[i]
		if n.dead {
			n.on = nowhere
			continue
		}
		l.priceTests(&l.refusals, n)
		if j, ok := l.stops.at[n.done]; ok {
			n.on.lowerAll(l.stops.nodes[j].off)
		}
	}
	return l.refusals.nodes[0].on[l.goal.bench.logic.Rest] < far
}

// priceTests prices a node where the controls may be moved at will: nothing
// runs, or nothing has to be kept running.
func (l *lattice) priceTests(s *stage, n *node) {
	n.on = newCosts(l.states)
	if l.rest(n.done).empty() {
		clear(n.on)
		return
	}
	for _, e := range n.edges {
		to := &s.nodes[e.to]
		for _, c := range l.goal.groups[e.group].tests {
			n.on.lower(c.first(), plus(l.after(to, c), c.moved()))
		}
	}
	n.on.spread()
}

// priceRunning prices a node after the engine was started: from each state in
// which it can be started again, and from any other when asked for.
func (l *lattice) priceRunning(n *node) {
	if l.rest(n.done).empty() {
		n.on, n.off = make(costs, l.states), make(costs, l.states)
		return
	}
	begins := newCosts(l.states)
	for _, e := range n.edges {
		to := &l.stops.nodes[e.to]
		for _, c := range l.goal.groups[e.group].tests {
			begins.lower(c.from, plus(l.after(to, c), c.moved()))
		}
	}
	for x, cost := range begins {
		if cost < far {
			n.begins = append(n.begins, priced{State(x), cost})
		}
	}
	sortBy(n.begins, func(a, b priced) int { return int(a.cost) - int(b.cost) })
	n.on, n.off = make(costs, l.states), newCosts(l.states)
	for x := range n.on {
		n.on[x] = unasked
	}
	for _, u := range l.field.starts {
		n.off[u] = n.direct(l.field, u)
	}
	n.off.spread()
}

// unasked marks a cost that nobody has asked for yet.
const unasked = 255

// direct is the cost of the rest from z without stopping the engine.
func (n *node) direct(f *field, z State) uint8 {
	best := uint8(far)
	within := f.within(z)
	for _, b := range n.begins {
		if b.cost >= best {
			break // the cheapest come first
		}
		if within.has(b.at) {
			best = min(best, plus(b.cost, distance(z, b.at)))
		}
	}
	return best
}

// running is the cost of the rest of the round with the engine running and the
// controls as in z. Where nothing is in reach it is switched off and started
// anew.
func (l *lattice) running(n *node, z State) uint8 {
	if n.on[z] == unasked {
		n.on[z] = min(n.direct(l.field, z), n.off[z])
	}
	return n.on[z]
}

// after is the cost of what is left when test c has led to a node: it may have
// ended with the engine stopped.
func (l *lattice) after(n *node, c candidate) uint8 {
	z := c.end()
	switch {
	case c.effect == watchCranks:
		return n.on[z]
	case l.runsOn(z):
		return l.running(n, z)
	}
	return n.off[z]
}

// runsOn reports whether after an engage or stop that ended in z no start is
// needed.
func (l *lattice) runsOn(z State) bool { return !l.engine || l.goal.bench.sound.runs.has(z) }
