package interlock

// The way through the lattice with the fewest movements.

import "cmp"

// A step is a place in the round that the lattice allows: after the tests done
// so far, on the way through the states of the test in hand.
type step struct {
	stop    bool // in the engages and stops, the engine started
	running bool
	node    int
	at      State
	// pending is the states of the test in hand still to be gone through.
	pending [4]State
	left    int
	tests   *taken
}

// taken is the tests of a step, the last first.
type taken struct {
	test   candidate
	before *taken
}

// key is what decides how a step can go on.
type key struct {
	stop, running bool
	node          int
	at            State
	pending       [4]State
	left          int
}

func (s step) key() key { return key{s.stop, s.running, s.node, s.at, s.pending, s.left} }

// path is, of the rounds with the fewest movements, the one whose states come
// first when written as 0/1 words; then as compare says.
func (l *lattice) path() []candidate {
	front := []step{{at: l.goal.bench.logic.Rest}}
	for {
		var next []step
		at := map[key]int{}
		best := uint16(0)
		var ended *taken
		for _, s := range front {
			if l.ended(s) && (ended == nil || l.compare(s.tests, ended) < 0) {
				ended = s.tests
			}
			if s.left == 0 && l.ended(s) && s.tests == nil {
				return nil // nothing to test
			}
			l.onward(s, func(n step) {
				w := word(n.at)
				switch {
				case len(next) == 0 || w < best:
					next, best = next[:0], w
					clear(at)
				case w > best:
					return
				}
				k := n.key()
				if i, ok := at[k]; ok {
					if l.compare(n.tests, next[i].tests) < 0 {
						next[i] = n
					}
					return
				}
				at[k] = len(next)
				next = append(next, n)
			})
		}
		if ended != nil {
			return ended.list()
		}
		front = next
	}
}

func (l *lattice) ended(s step) bool {
	nodes := l.refusals.nodes
	if s.stop {
		nodes = l.stops.nodes
	}
	return s.left == 0 && l.rest(nodes[s.node].done).empty()
}

// onward calls try with every step that follows s in a round of least cost.
func (l *lattice) onward(s step, try func(step)) {
	if s.left > 0 {
		s.at = s.pending[0]
		copy(s.pending[:], s.pending[1:])
		s.left--
		try(s)
		return
	}
	if !s.stop {
		n := &l.refusals.nodes[s.node]
		cost := int(n.on[s.at])
		for _, e := range n.edges {
			to := &l.refusals.nodes[e.to]
			for _, c := range l.goal.groups[e.group].tests {
				if distance(s.at, c.to)+int(to.on[c.to]) == cost {
					try(step{node: int(e.to), at: c.to, tests: &taken{c, s.tests}})
				}
			}
		}
		j, ok := l.stops.at[n.done]
		if !ok || int(l.stops.nodes[j].off[s.at]) != cost {
			return
		}
		s.stop, s.node, s.running = true, j, !l.engine
	}
	l.onwardStop(s, try)
}

// onwardStop goes on by an engage or stop. The engine is started first where it
// does not run, and again where a test cannot be come to while it does.
func (l *lattice) onwardStop(s step, try func(step)) {
	n := &l.stops.nodes[s.node]
	cost := int(n.off[s.at])
	if s.running {
		cost = int(l.running(n, s.at))
	}
	for _, e := range n.edges {
		to := &l.stops.nodes[e.to]
		for _, c := range l.goal.groups[e.group].tests {
			rest := c.moved() + int(l.after(to, c))
			if s.running && l.field.reaches(s.at, c.from) {
				if distance(s.at, c.from)+rest == cost {
					l.onward(l.doing(e, c, s.tests), try)
				}
				continue
			}
			for _, u := range l.field.starts {
				if distance(s.at, u)+distance(u, c.from)+rest == cost && l.field.reaches(u, c.from) {
					l.onward(l.doing(e, c, s.tests, u), try)
				}
			}
		}
	}
}

// doing is a step at the beginning of test c, with the start that comes first.
func (l *lattice) doing(e edge, c candidate, before *taken, start ...State) step {
	next := step{stop: true, running: l.runsOn(c.end()), node: int(e.to), tests: &taken{c, before}}
	for _, u := range start {
		next.push(u)
	}
	next.push(c.from)
	next.push(c.to)
	if c.back {
		next.push(c.from)
	}
	return next
}

func (s *step) push(x State) {
	s.pending[s.left] = x
	s.left++
}

func (t *taken) list() []candidate {
	var out []candidate
	for ; t != nil; t = t.before {
		out = append(out, t.test)
	}
	for i, j := 0, len(out)-1; i < j; i, j = i+1, j-1 {
		out[i], out[j] = out[j], out[i]
	}
	return out
}

// compare orders rounds through the same states test by test: refusals before
// engages before stops, then by the sheet's order of permits, then without
// return first.
func (l *lattice) compare(x, y *taken) int {
	a, b := x.list(), y.list()
	for i := range min(len(a), len(b)) {
		if d := a[i].compare(b[i], l.goal.bench.logic); d != 0 {
			return d
		}
	}
	return 0
}

func (c candidate) compare(o candidate, l *Logic) int {
	if d := cmp.Or(cmp.Compare(c.kind(), o.kind()), cmp.Compare(l.permitOf(c.effect), l.permitOf(o.effect))); d != 0 || c.back == o.back {
		return d
	}
	if o.back {
		return -1
	}
	return 1
}
