package interlock

// The way through the lattice with the fewest movements.

import "cmp"

// A step is a place in the round that the lattice allows: after the tests done
// so far, on the way through the states of the test in hand.
type step struct {
	stop    bool // in the stop tests, the engine started
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
// first when written as 0/1 words; then by the sheet's order of permits; then
// without return first.
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

func (l *lattice) onwardStop(s step, try func(step)) {
	n := &l.stops.nodes[s.node]
	from, cost := []State{s.at}, int(n.on[s.at])
	if !s.running {
		from, cost = l.starts, int(n.off[s.at])
	}
	for _, u := range from {
		there := distance(s.at, u)
		if there+int(n.on[u]) != cost {
			continue
		}
		for _, e := range n.edges {
			to := &l.stops.nodes[e.to]
			for _, c := range l.goal.groups[e.group].tests {
				if there+distance(u, c.from)+c.moved()+int(l.after(to, c)) != cost {
					continue
				}
				next := step{stop: true, running: l.runsOn(c.end()), node: int(e.to), tests: &taken{c, s.tests}}
				if !s.running {
					next.push(u)
				}
				next.push(c.from)
				next.push(c.to)
				if c.back {
					next.push(c.from)
				}
				l.onward(next, try)
			}
		}
	}
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

// compare orders rounds through the same states: by the sheet's order of
// permits, then without return first.
func (l *lattice) compare(x, y *taken) int {
	a, b := x.list(), y.list()
	for i := range min(len(a), len(b)) {
		if d := cmp.Compare(l.goal.bench.logic.permitOf(a[i].effect), l.goal.bench.logic.permitOf(b[i].effect)); d != 0 {
			return d
		}
	}
	for i := range min(len(a), len(b)) {
		if a[i].back != b[i].back {
			if b[i].back {
				return -1
			}
			return 1
		}
	}
	return 0
}
