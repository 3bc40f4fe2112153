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
	Movements      int  `json:"movements"`
	MovementsExact bool `json:"movements_exact"`
	// Start is how the controls stand when the engine is started first; nil
	// where no test needs that.
	Start       map[string]bool `json:"start"`
	Dangerous   []string        `json:"dangerous"`
	Uncatchable []Uncatchable   `json:"uncatchable"`
	Pairs       Pairs           `json:"pairs"`
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
	w := newWalker(b)
	for _, c := range tests {
		plan.Tests = append(plan.Tests, b.test(c))
		if u, need := w.startFor(c); need && plan.Start == nil {
			plan.Start = l.Positions(u)
		}
		plan.Movements += w.cost(c)
		w.do(c)
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
	w := newWalker(g.bench)
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

// walker goes through a round: where the controls stand and whether the engine
// runs.
type walker struct {
	*bench
	at      State
	running bool
}

func newWalker(b *bench) *walker { return &walker{bench: b, at: b.logic.Rest} }

// cost is the number of controls to move to do c next; the engine is started
// first where that is needed, in the state that costs least.
func (w *walker) cost(c candidate) int {
	if c.effect == watchCranks {
		return distance(w.at, c.to)
	}
	u, _ := w.startFor(c)
	return distance(w.at, u) + distance(u, c.from) + c.moved()
}

// startFor is the state in which the engine is started before c; need is false
// where it runs already and the test can be come to while it does, or there is
// none to start, and the state is where the controls stand.
func (w *walker) startFor(c candidate) (u State, need bool) {
	if c.effect == watchCranks || !w.logic.engine() || w.running && w.field.reaches(w.at, c.from) {
		return w.at, false
	}
	best, found := State(0), false
	for _, u := range w.field.starts {
		if !w.field.reaches(u, c.from) {
			continue
		}
		n, m := distance(w.at, u)+distance(u, c.from), distance(w.at, best)+distance(best, c.from)
		if !found || n < m || n == m && word(u) < word(best) {
			best, found = u, true
		}
	}
	if !found {
		return w.at, false
	}
	return best, true
}

func (w *walker) do(c candidate) { w.leave(c, c.end()) }

// leave puts the walker where a test ended.
func (w *walker) leave(c candidate, at State) {
	w.at = at
	w.running = c.effect != watchCranks && w.sound.runs.has(at)
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
			newField(b.logic, b.sound, true).each(func(c candidate) { free = free.union(b.catches(c)) })
		}
		reason := Unseen
		if free.has(i) {
			reason = Forbidden
		}
		out = append(out, Uncatchable{Fault: f.name, Reason: reason})
	}
	return out
}

// StartState is the state nearest to rest in which an engine may be started; ok
// is false if there is none or no engine.
func (l *Logic) StartState() (positions map[string]bool, ok bool) {
	if l.None || !l.engine() {
		return nil, false
	}
	starts := newField(l, l.with(nil), false).starts
	if len(starts) == 0 {
		return l.Positions(l.Rest), false
	}
	nearest := slices.MinFunc(starts, func(u, v State) int {
		if d := distance(l.Rest, u) - distance(l.Rest, v); d != 0 {
			return d
		}
		return int(word(u)) - int(word(v))
	})
	return l.Positions(nearest), true
}
