package interlock

import (
	"math/bits"
	"slices"
)

// Plan is a round of tests: the required ones and the fewest others that
// together show every dangerous fault that an allowed test can show.
type Plan struct {
	Tests []Test `json:"tests"`
	// TestsExact: no smaller round does the same. Else TestsAtLeast is a
	// number that no round can go below.
	TestsExact   bool          `json:"tests_exact"`
	TestsAtLeast int           `json:"tests_at_least"`
	Movements    int           `json:"movements"`
	Dangerous    []string      `json:"dangerous"`
	Uncatchable  []Uncatchable `json:"uncatchable"`
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

// Plan computes the round. The same section always gives the same plan.
func (l *Logic) Plan() Plan {
	plan := Plan{Tests: []Test{}, Dangerous: []string{}, Uncatchable: []Uncatchable{}, TestsExact: true}
	if l.None {
		return plan
	}
	b := newBench(l)
	plan.Dangerous = append(plan.Dangerous, b.dangerous...)

	chosen, done := b.requiredTests()
	catchable := b.reach(false)
	plan.Uncatchable = b.uncatchable(catchable)

	need := catchable.minus(done)
	options := undominated(b.options(need))
	sets := make([]set, len(options))
	for i, o := range options {
		sets[i] = o.catches.meet(need)
	}
	picked, exact, least := cover(need, sets)
	for _, i := range picked {
		chosen = append(chosen, options[i])
	}
	plan.TestsExact, plan.TestsAtLeast = exact, least+len(l.required)
	ordered, movements := b.inOrder(chosen)
	plan.Movements = movements
	for _, c := range ordered {
		c.catches = b.catches(c)
		plan.Tests = append(plan.Tests, b.test(c))
	}
	return plan
}

// catches is everything c shows, not only what the planner still needed.
func (b *bench) catches(c candidate) set {
	switch {
	case c.effect == watchCranks:
		return b.cranks[c.to]
	case c.effect == watchRuns:
		return b.runs[c.from].meet(b.runs[c.to])
	}
	s := b.moves[c.effect][c.from].meet(b.moves[c.effect][c.to])
	if c.back {
		s.add(b.latches[c.effect])
	}
	return s
}

func (b *bench) requiredTests() ([]candidate, set) {
	var chosen []candidate
	var done set
	for i, r := range b.logic.required {
		c, _ := b.find(r)
		c.required = i + 1
		chosen = append(chosen, c)
		done = done.union(c.catches)
	}
	return chosen, done
}

// reach is every fault that some test shows.
func (b *bench) reach(free bool) set {
	var s set
	b.each(free, func(c candidate) { s = s.union(c.catches) })
	return s
}

func (b *bench) uncatchable(catchable set) []Uncatchable {
	out := []Uncatchable{}
	var free set
	for i, name := range b.dangerous {
		if catchable.has(i) {
			continue
		}
		if free.empty() {
			free = b.reach(true)
		}
		reason := Unseen
		if free.has(i) {
			reason = Forbidden
		}
		out = append(out, Uncatchable{Fault: name, Reason: reason})
	}
	return out
}

// options keeps, for every different set of needed faults that a test can
// show, the one test nearest to rest.
func (b *bench) options(need set) []candidate {
	best := map[set]candidate{}
	b.each(false, func(c candidate) {
		c.catches = c.catches.meet(need)
		if c.catches.empty() {
			return
		}
		if old, ok := best[c.catches]; !ok || b.compare(c, old) < 0 {
			best[c.catches] = c
		}
	})
	out := make([]candidate, 0, len(best))
	for _, c := range best {
		out = append(out, c)
	}
	slices.SortFunc(out, b.compare)
	return out
}

// compare orders tests: nearer to rest first, then by the positions written as
// 0/1 words in the sheet's order of switches, then by permit, then without
// return.
func (b *bench) compare(x, y candidate) int {
	far := func(c candidate) int {
		if c.effect == watchCranks {
			return distance(b.logic.Rest, c.to)
		}
		return distance(b.logic.Rest, c.from) + 1
	}
	word := func(s State) int { return int(bits.Reverse16(uint16(s))) }
	for _, d := range []int{far(x) - far(y), word(x.from) - word(y.from), word(x.to) - word(y.to), x.effect - y.effect} {
		if d != 0 {
			return d
		}
	}
	switch {
	case x.back == y.back:
		return 0
	case y.back:
		return -1
	}
	return 1
}

// distance is the number of controls to move from one state to another.
func distance(x, y State) int { return bits.OnesCount16(uint16(x ^ y)) }

// inOrder puts refusals before stops and, within each, always takes the test
// that the fewest control movements lead to next; required tests keep their
// own order. It returns the movements of the whole round.
func (b *bench) inOrder(chosen []candidate) ([]candidate, int) {
	var ordered []candidate
	at, running, total := b.logic.Rest, false, 0
	for _, refusals := range []bool{true, false} {
		var left []candidate
		for _, c := range chosen {
			if (c.effect == watchCranks) == refusals {
				left = append(left, c)
			}
		}
		for len(left) > 0 {
			best, cost := -1, 0
			for i, c := range left {
				if b.waits(c, left) {
					continue
				}
				n := b.movements(at, running, c)
				if best < 0 || n < cost || n == cost && b.compare(c, left[best]) < 0 {
					best, cost = i, n
				}
			}
			c := left[best]
			left = slices.Delete(left, best, best+1)
			ordered = append(ordered, c)
			total += cost
			at = c.to
			if c.back {
				at = c.from
			}
			running = !refusals && b.sound.runs.has(at)
		}
	}
	return ordered, total
}

// waits reports whether another required test has to come before c.
func (b *bench) waits(c candidate, left []candidate) bool {
	return slices.ContainsFunc(left, func(o candidate) bool {
		return o.required > 0 && c.required > o.required
	})
}

// movements counts the controls moved to do c from state at; an engine that
// does not run is started first, from the state that costs least.
func (b *bench) movements(at State, running bool, c candidate) int {
	if c.effect == watchCranks {
		return distance(at, c.to)
	}
	after := 1
	if c.back {
		after = 2
	}
	if running || b.logic.start < 0 && b.logic.run < 0 {
		return distance(at, c.from) + after
	}
	least := -1
	for u := range State(1 << len(b.logic.Switches)) {
		if b.logic.nowhere[1].has(u) || !b.sound.cranks.has(u) || !b.sound.runs.has(u) {
			continue
		}
		if n := distance(at, u) + distance(u, c.from); least < 0 || n < least {
			least = n
		}
	}
	return least + after
}

// StartState is the state nearest to rest, allowed in stops, in which the
// engine cranks and runs; ok is false if there is none or no engine.
func (l *Logic) StartState() (positions map[string]bool, ok bool) {
	if l.None || l.start < 0 && l.run < 0 {
		return nil, false
	}
	sound := l.with(healthy)
	best, found := State(0), false
	for u := range State(1 << len(l.Switches)) {
		if l.nowhere[1].has(u) || !sound.cranks.has(u) || !sound.runs.has(u) {
			continue
		}
		if !found || distance(l.Rest, u) < distance(l.Rest, best) {
			best, found = u, true
		}
	}
	return l.Positions(best), found
}
