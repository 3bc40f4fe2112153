package evening

// What no plan can go below.

import (
	"math"
	"slices"
)

// bound is a time before which the yard cannot be closed, whoever does what.
func (y *yard) bound() float64 {
	least := 0.0
	for m := range y.Machines {
		alone := never
		for _, p := range y.who[m] {
			t := y.people[p].From
			for _, i := range y.byStart {
				if y.ops[i].machine == m {
					t = max(t, y.ops[i].release) + y.ops[i].minutes
				}
			}
			alone = min(alone, t)
		}
		least = max(least, alone)
	}
	heads := make([]float64, len(y.ops))
	for i, o := range y.ops {
		from := never
		for _, p := range y.who[o.machine] {
			from = min(from, y.people[p].From)
		}
		heads[i] = y.head(i, from)
	}
	for q, count := range y.places {
		var list []int
		for i := range y.ops {
			if y.ops[i].place == q {
				list = append(list, i)
			}
		}
		least = max(least, y.through(list, heads, count))
	}
	for _, group := range y.groups() {
		least = max(least, y.shared(group, heads))
	}
	return least
}

// head is no later than the earliest start of an op whose person is free from a minute
// on: the jobs before it have to be done first.
func (y *yard) head(i int, from float64) float64 {
	o := &y.ops[i]
	t := from
	for _, b := range y.byStart {
		other := &y.ops[b]
		if other.machine == o.machine && o.before>>other.job&1 == 1 {
			t = max(t, other.release) + other.minutes
		}
	}
	return max(t, o.release)
}

// through is when ops that share some equal units are all through and what comes after
// each is done: for every set of those that start no earlier and have no less after them,
// the units have to do all of it in between. It sorts the list.
func (y *yard) through(list []int, heads []float64, units int) float64 {
	for i := 1; i < len(list); i++ { // the last to start first; the lists are short
		for k := i; k > 0 && heads[list[k]] > heads[list[k-1]]; k-- {
			list[k], list[k-1] = list[k-1], list[k]
		}
	}
	least, seen := 0.0, never
	for range list {
		tail := -1.0 // the next shorter tail
		for _, i := range list {
			if after := y.ops[i].after; after < seen && after > tail {
				tail = after
			}
		}
		if tail < 0 {
			break
		}
		seen = tail
		work := 0.0
		for _, i := range list {
			if o := &y.ops[i]; o.after >= tail {
				work += o.minutes
				least = max(least, heads[i]+work/float64(units)+tail)
			}
		}
	}
	return least
}

// groups are sets of people who alone may do some machines: those of each machine, of
// any two together, and all.
func (y *yard) groups() [][]int {
	var out [][]int
	add := func(group []int) {
		slices.Sort(group)
		group = slices.Compact(group)
		if !slices.ContainsFunc(out, func(g []int) bool { return slices.Equal(g, group) }) {
			out = append(out, group)
		}
	}
	var all []int
	for _, who := range y.who {
		add(slices.Clone(who))
		all = append(all, who...)
	}
	for _, a := range y.who {
		for _, b := range y.who {
			add(slices.Concat(a, b))
		}
	}
	add(all)
	return out
}

// shared is when a group of people have done all that is theirs alone: the time that they
// have from a moment on is no less than the work that starts no earlier and the least
// that comes after it.
func (y *yard) shared(group []int, heads []float64) float64 {
	var list []int
	for i, o := range y.ops {
		if !slices.ContainsFunc(y.who[o.machine], func(p int) bool { return !slices.Contains(group, p) }) {
			list = append(list, i)
		}
	}
	least := 0.0
	for _, a := range list {
		head, work := heads[a], 0.0
		for _, i := range list {
			if heads[i] >= head {
				work += y.ops[i].minutes
			}
		}
		least = max(least, y.filled(group, head, work))
	}
	return least
}

// filled is when people have worked for some minutes together, none before a moment and
// none before they are there.
func (y *yard) filled(group []int, from, work float64) float64 {
	var free []float64
	for _, p := range group {
		free = append(free, max(from, y.people[p].From))
	}
	slices.Sort(free)
	sum := 0.0
	for n, f := range free {
		sum += f
		level := (sum + work) / float64(n+1)
		if n+1 == len(free) || level <= free[n+1] {
			return level
		}
	}
	return math.Inf(1)
}
