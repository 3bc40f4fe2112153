package interlock

// goal is what a round has to reach, in the planner's terms: elements to be
// covered by tests. An element is a dangerous fault that does not come by
// itself with another one, or a required test.
type goal struct {
	bench    *bench
	all      set // every element
	groups   []group
	required []candidate
	place    []int // by required test: its element
	// catchable is every dangerous fault that some test shows.
	catchable set
}

// group is every test of one kind that covers the same elements.
type group struct {
	covers set
	stop   bool
	// needs is the elements that must be covered before: earlier required
	// tests of the same kind.
	needs set
	tests []candidate
}

func newGoal(b *bench) *goal {
	g := &goal{bench: b}
	for i, r := range b.logic.required {
		c, _ := b.find(r)
		again := false
		for _, o := range g.required {
			again = again || o.same(c)
		}
		if !again {
			c.required = int8(i + 1)
			g.required = append(g.required, c)
		}
	}
	raw := g.collect()
	g.project(raw)
	return g
}

// collect gathers the legal tests by what they catch.
func (g *goal) collect() []group {
	var raw []group
	type kind struct {
		catches set
		stop    bool
	}
	at := map[kind]int{}
	g.bench.field.each(func(c candidate) {
		catches := g.bench.catches(c)
		g.catchable = g.catchable.union(catches)
		if catches.empty() {
			return
		}
		k := kind{catches, c.effect != watchCranks}
		i, ok := at[k]
		if !ok {
			i = len(raw)
			at[k] = i
			raw = append(raw, group{covers: catches, stop: k.stop})
		}
		raw[i].tests = append(raw[i].tests, c)
	})
	return raw
}

// project numbers the elements and writes the groups in them.
func (g *goal) project(raw []group) {
	faults := len(g.bench.dangerous)
	covers := make([]set, 0, len(raw)+len(g.required))
	for _, r := range raw {
		covers = append(covers, r.covers)
	}
	for i, c := range g.required {
		s := g.bench.catches(c)
		s.add(faults + i)
		covers = append(covers, s)
	}
	number := map[int]int{}
	for n, e := range essential(faults+len(g.required), covers) {
		number[e] = n
		g.all.add(n)
	}
	renumbered := func(s set) (out set) {
		for e, n := range number {
			if s.has(e) {
				out.add(n)
			}
		}
		return out
	}
	type kind struct {
		covers set
		stop   bool
	}
	at := map[kind]int{}
	for i, r := range raw {
		k := kind{renumbered(covers[i]), r.stop}
		if k.covers.empty() {
			continue
		}
		j, ok := at[k]
		if !ok {
			j = len(g.groups)
			at[k] = j
			g.groups = append(g.groups, group{covers: k.covers, stop: r.stop})
		}
		g.groups[j].tests = append(g.groups[j].tests, r.tests...)
	}
	for i, c := range g.required {
		g.place = append(g.place, number[faults+i])
		own := group{covers: renumbered(covers[len(raw)+i]), stop: c.effect != watchCranks, tests: []candidate{c}}
		for j, o := range g.required[:i] {
			if (o.effect != watchCranks) == own.stop {
				own.needs.add(g.place[j])
			}
		}
		g.groups = append(g.groups, own)
	}
}

// sets lists what the groups cover; of the stop groups only, if stops is set.
func (g *goal) sets(stops bool) []set {
	var out []set
	for _, one := range g.groups {
		if one.stop || !stops {
			out = append(out, one.covers)
		}
	}
	return out
}
