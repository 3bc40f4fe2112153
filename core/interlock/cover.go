package interlock

// The smallest set of tests that shows every fault: an exact set cover.

import "math/bits"

// coverSteps limits the search for a smallest cover. It counts choices tried,
// never time, so that the same sheet gives the same plan under any load.
const coverSteps = 3_000_000

// coverer answers how few options hold all of some elements. What it has once
// proved it remembers.
type coverer struct {
	options []set
	holders [][]int // by element: the options that hold it
	reach   []set   // by element: everything that one of its holders holds
	rare    []int   // elements, those with the fewest holders first
	least   map[set]int8
	most    map[set]int8
	steps   int
}

// newCoverer looks at elements 0 to n-1; options that another contains are
// left out, because they are never needed.
func newCoverer(n int, options []set) *coverer {
	c := &coverer{options: undominated(options), holders: make([][]int, n), reach: make([]set, n), least: map[set]int8{}, most: map[set]int8{}, steps: coverSteps}
	for i, o := range c.options {
		for e := range n {
			if o.has(e) {
				c.holders[e] = append(c.holders[e], i)
				c.reach[e] = c.reach[e].union(o)
			}
		}
	}
	for e := range n {
		c.rare = append(c.rare, e)
	}
	sortBy(c.rare, func(x, y int) int { return len(c.holders[x]) - len(c.holders[y]) })
	return c
}

// bound is a number of options that no cover of need can do without: elements
// that no single option holds two of.
func (c *coverer) bound(need set) int {
	n := 0
	for _, e := range c.rare {
		if need.has(e) {
			n++
			need = need.minus(c.reach[e])
		}
	}
	return n
}

// within reports whether at most so many options hold all of need. When the
// steps are used up, no is no longer a proof: see exhausted.
func (c *coverer) within(need set, most int) bool {
	if need.empty() {
		return true
	}
	if most <= 0 || int(c.least[need]) > most {
		return false
	}
	if known, ok := c.most[need]; ok && int(known) <= most {
		return true
	}
	if n := c.bound(need); n > most {
		c.least[need] = int8(n)
		return false
	}
	if c.steps--; c.steps < 0 {
		return false
	}
	for _, left := range c.branches(need) {
		if c.within(left, most-1) {
			c.most[need] = int8(most)
			return true
		}
	}
	if c.steps >= 0 {
		c.least[need] = int8(most + 1)
	}
	return false
}

func (c *coverer) exhausted() bool { return c.steps < 0 }

// branches lists what is left of need after each of the options that hold its
// rarest element, the least first.
func (c *coverer) branches(need set) []set {
	var rare int
	for _, e := range c.rare {
		if need.has(e) {
			rare = e
			break
		}
	}
	var left []set
	for _, i := range c.holders[rare] {
		rest := need.minus(c.options[i])
		within := false
		for _, l := range left {
			within = within || l.within(rest)
		}
		if !within {
			left = append(left, rest)
		}
	}
	sortBy(left, func(a, b set) int { return a.count() - b.count() })
	return left
}

// smallest is the least number of options that hold all of need, with whether
// that is proved, and a proved lower limit.
func (c *coverer) smallest(need set) (n int, exact bool, least int) {
	n, least = len(c.greedy(need)), c.bound(need)
	for n > least && c.within(need, n-1) {
		n--
	}
	// Downwards the steps may run out before the proof; upwards gives what is
	// proved.
	if !c.exhausted() {
		return n, true, n
	}
	for k := least; k < n; k++ {
		c.steps = coverSteps / 4
		if c.within(need, k) {
			n = k
			break
		}
		if c.exhausted() {
			break
		}
		least = k + 1
	}
	return n, n == least, least
}

// pick is a cover of need of at most n options that the coverer has seen to
// exist, or else the greedy one.
func (c *coverer) pick(need set, n int) []set {
	var out []set
	for left := need; !left.empty(); n-- {
		next := -1
		for i, o := range c.options {
			if !o.meet(left).empty() && c.within(left.minus(o), n-1) {
				next = i
				break
			}
		}
		if next < 0 {
			return c.greedy(need)
		}
		out = append(out, c.options[next])
		left = left.minus(c.options[next])
	}
	return out
}

func (c *coverer) greedy(need set) []set {
	var chosen []set
	for !need.empty() {
		best, most := 0, 0
		for i, o := range c.options {
			if n := o.meet(need).count(); n > most {
				best, most = i, n
			}
		}
		chosen = append(chosen, c.options[best])
		need = need.minus(c.options[best])
	}
	return chosen
}

// undominated keeps the sets that no other contains; of equal ones the first.
func undominated(sets []set) []set {
	byCount := append([]set(nil), sets...)
	sortBy(byCount, func(a, b set) int { return b.count() - a.count() })
	var kept []set
	for _, s := range byCount {
		inside := false
		for _, k := range kept {
			if s.within(k) {
				inside = true
				break
			}
		}
		if !inside {
			kept = append(kept, s)
		}
	}
	return kept
}

// essential lists the elements that a cover has to be asked for: one that every
// set holding some other element holds too comes by itself.
func essential(n int, sets []set) []int {
	words := (len(sets) + 63) / 64
	holders := make([][]uint64, n)
	count := make([]int, n)
	for e := range n {
		holders[e] = make([]uint64, words)
		for i, s := range sets {
			if s.has(e) {
				holders[e][i>>6] |= 1 << (i & 63)
			}
		}
		for _, w := range holders[e] {
			count[e] += bits.OnesCount64(w)
		}
	}
	inside := func(d, e int) bool {
		for w := range holders[d] {
			if holders[d][w]&^holders[e][w] != 0 {
				return false
			}
		}
		return true
	}
	var out []int
	for e := range n {
		implied := count[e] == 0
		for d := 0; d < n && !implied; d++ {
			if d != e && count[d] > 0 && count[d] <= count[e] && (count[d] < count[e] || d < e) {
				implied = inside(d, e)
			}
		}
		if !implied {
			out = append(out, e)
		}
	}
	return out
}
