package interlock

// The round of a machine: tests, order, how to set each up, what it catches.

import "slices"

// Plan is a round of tests: the required ones and the fewest others that
// together show every dangerous fault that an allowed test can show.
type Plan struct {
	Tests []Test `json:"tests"`
	// TestsExact: no smaller round does the same. Else TestsAtLeast is a
	// number that no round can go below.
	TestsExact   bool `json:"tests_exact"`
	TestsAtLeast int  `json:"tests_at_least"`
	// Movements counts the controls moved from rest to the end of the round;
	// MovementsExact: no order of no such round needs fewer.
	Movements      int           `json:"movements"`
	MovementsExact bool          `json:"movements_exact"`
	Dangerous      []string      `json:"dangerous"`
	Uncatchable    []Uncatchable `json:"uncatchable"`
	Pairs          Pairs         `json:"pairs"`
}

// Uncatchable is a dangerous fault that no round can show: Forbidden when a
// test would show it but for a state the sheet rules out, Unseen when none
// would.
type Uncatchable struct {
	Fault  string `json:"fault"`
	Reason string `json:"reason"`
}

// Why a fault cannot be caught.
const (
	Forbidden = "forbidden"
	Unseen    = "unseen"
)

// NoTests is the plan of a machine that has nothing to be tested by itself.
func NoTests() Plan {
	return Plan{Tests: []Test{}, Dangerous: []string{}, Uncatchable: []Uncatchable{}, TestsExact: true, MovementsExact: true}
}

// Plan computes the round. The same section always gives the same plan.
func (l *Logic) Plan() Plan {
	plan := NoTests()
	if l.None {
		return plan
	}
	b := newBench(l)
	g := newGoal(b)
	for _, f := range b.dangerous {
		plan.Dangerous = append(plan.Dangerous, f.name)
	}
	plan.Uncatchable = b.uncatchable(g.catchable)
	var tests []candidate
	least := newCoverer(g.all.count(), g.sets(false))
	budget, exact, atLeast := least.smallest(g.all)
	plan.TestsExact, plan.TestsAtLeast = exact, atLeast
	tests, plan.MovementsExact = g.round(least, budget, exact)
	plan.Movements = b.movements(tests)
	for _, c := range tests {
		plan.Tests = append(plan.Tests, b.test(c))
	}
	plan.Pairs = b.pairs(tests)
	return plan
}

// round chooses and orders the tests. Where the smallest cover is not proved it
// looks only through the rounds of the one that was found; where even these are
// too many it takes the nearest test each time.
func (g *goal) round(least *coverer, budget int, exact bool) (tests []candidate, proved bool) {
	if !exact {
		least.steps = coverSteps
		cover := least.pick(g.all, budget)
		g = &goal{bench: g.bench, all: g.all, required: g.required, place: g.place, groups: g.chosen(cover)}
		least, budget = newCoverer(g.all.count(), g.sets(false)), len(cover)
	}
	l, proved := g.search(budget, least, newCoverer(g.all.count(), g.sets(true)))
	if l == nil {
		return g.nearest(), false
	}
	return l.path(), proved && exact
}

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

// nearest takes, from where the controls stand, always the test that needs the
// fewest movements next.
func (g *goal) nearest() []candidate {
	var tests []candidate
	w := walker{bench: g.bench, at: g.bench.logic.Rest}
	var done set
	for _, stops := range []bool{false, true} {
		for {
			var best candidate
			var gain set
			cost := -1
			for _, one := range g.groups {
				if one.stop != stops || one.covers.within(done) || !one.needs.within(done) {
					continue
				}
				for _, c := range one.tests {
					if n := w.cost(c); cost < 0 || n < cost {
						best, gain, cost = c, one.covers, n
					}
				}
			}
			if cost < 0 {
				break
			}
			w.do(best)
			done = done.union(gain)
			tests = append(tests, best)
		}
	}
	return tests
}

// movements counts the controls moved in a round, in the order given.
func (b *bench) movements(tests []candidate) int {
	w := walker{bench: b, at: b.logic.Rest}
	total := 0
	for _, c := range tests {
		total += w.cost(c)
		w.do(c)
	}
	return total
}

// walker goes through a round: where the controls stand and whether the engine
// runs.
type walker struct {
	bench   *bench
	at      State
	running bool
}

// cost is the number of controls to move to do c next; an engine that does not
// run is started first, in the state that costs least.
func (w *walker) cost(c candidate) int {
	if c.effect == watchCranks {
		return distance(w.at, c.to)
	}
	u, _ := w.startFor(c)
	return distance(w.at, u) + distance(u, c.from) + c.moved()
}

// startFor is the state in which the engine is started before c; need is false
// where it runs already or there is none, and the state is where the controls
// stand.
func (w *walker) startFor(c candidate) (u State, need bool) {
	if c.effect == watchCranks || w.running || !w.bench.logic.engine() {
		return w.at, false
	}
	best, found := State(0), false
	for _, u := range w.bench.cold {
		n, m := distance(w.at, u)+distance(u, c.from), distance(w.at, best)+distance(best, c.from)
		if !found || n < m || n == m && word(u) < word(best) {
			best, found = u, true
		}
	}
	return best, true
}

func (w *walker) do(c candidate) {
	w.at = c.end()
	w.running = c.effect != watchCranks && w.bench.sound.runs.has(w.at)
}

// uncatchable lists the dangerous faults that no allowed test shows.
func (b *bench) uncatchable(catchable set) []Uncatchable {
	out := []Uncatchable{}
	var free set
	for i, f := range b.dangerous {
		if catchable.has(i) {
			continue
		}
		if free.empty() {
			b.each(true, func(_ candidate, catches set) { free = free.union(catches) })
		}
		reason := Unseen
		if free.has(i) {
			reason = Forbidden
		}
		out = append(out, Uncatchable{Fault: f.name, Reason: reason})
	}
	return out
}

// StartState is the state nearest to rest, allowed in stops, in which the
// engine cranks and runs; ok is false if there is none or no engine.
func (l *Logic) StartState() (positions map[string]bool, ok bool) {
	if l.None || !l.engine() {
		return nil, false
	}
	b := &bench{logic: l, sound: l.with(nil)}
	b.cold = b.starts(false)
	w := walker{bench: b, at: l.Rest}
	if len(b.cold) == 0 {
		return l.Positions(0), false
	}
	u, _ := w.startFor(candidate{from: l.Rest})
	return l.Positions(u), true
}
