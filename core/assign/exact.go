package assign

// Every way that a pair can do some of the zones, and the best of all pairs together.

import (
	"math"
	"math/bits"
	"slices"
)

// way is an order in which a pair does a set of zones: when it is done, the sum of the
// ends, and what it was before the last zone.
type way struct {
	last, sum float64
	at        state
	zone      int
	before    *way
}

func (w *way) zones() (out []int) {
	for ; w.before != nil; w = w.before {
		out = append(out, w.zone)
	}
	slices.Reverse(out)
	return out
}

// better reports whether a way is at least as good as another in both.
func (w *way) better(o *way) bool { return w.last <= o.last && w.sum <= o.sum }

// keep adds a way to those of which none is better than another.
func keep(ways []*way, w *way) []*way {
	if slices.ContainsFunc(ways, func(o *way) bool { return o.better(w) }) {
		return ways
	}
	return append(slices.DeleteFunc(ways, func(o *way) bool { return w.better(o) }), w)
}

// ways are those of a pair for every set of zones, in bits. Of two orders that end in the
// same zone the one that is done no later and with no greater sum will do, whatever
// follows.
func (p *Problem) ways(operator, machine int) [][]*way {
	n := len(p.Zones)
	ending := make([][][]*way, 1<<n) // by set and last zone
	out := make([][]*way, 1<<n)
	first := &way{at: p.begin(operator, machine)}
	extend := func(set int, w *way) {
		for zone := range n {
			if set>>zone&1 == 1 {
				continue
			}
			if _, after, ok := p.next(w.at, operator, machine, zone); ok {
				to := set | 1<<zone
				if ending[to] == nil {
					ending[to] = make([][]*way, n)
				}
				ending[to][zone] = keep(ending[to][zone], &way{after.time, w.sum + after.time, after, zone, w})
			}
		}
	}
	extend(0, first)
	for set := 1; set < 1<<n; set++ {
		for _, ways := range ending[set] {
			for _, w := range ways {
				out[set] = keep(out[set], w)
				extend(set, w)
			}
		}
	}
	return out
}

// chosen is how a set of zones with a set of machines came about.
type chosen struct {
	cost    float64
	machine int
	set     int // the zones of the last operator, 0 for none
	way     *way
}

// table is the best for sets of machines and zones after each operator.
type table [][]chosen

// exact tries everything: sets of zones are given to the operators one after another.
func (p *Problem) exact() []turn {
	all := make([][][][]*way, len(p.Operators))
	for o := range p.Operators {
		all[o] = make([][][]*way, len(p.Machines))
		for m := range p.Machines {
			all[o][m] = p.ways(o, m)
		}
	}
	// First how early all can be done, then with what sum.
	early := p.fill(all, func(w *way) float64 { return w.last }, func(a, b float64) float64 { return max(a, b) })
	best := p.best(early)
	if len(best) == 0 {
		return nil
	}
	until := math.Inf(1)
	for _, at := range best {
		until = min(until, early[len(p.Operators)][at].cost)
	}
	sums := p.fill(all, func(w *way) float64 {
		if w.last > until+equal {
			return math.Inf(1)
		}
		return w.sum
	}, func(a, b float64) float64 { return a + b })
	least, at := math.Inf(1), -1
	for _, one := range best {
		if cost := sums[len(p.Operators)][one].cost; cost < least-equal {
			least, at = cost, one
		}
	}
	return p.turns(sums, at)
}

// index is the place of a set of machines and a set of zones.
func (p *Problem) index(machines, zones int) int { return machines<<len(p.Zones) | zones }

// fill finds the least cost for every set of zones and machines after each operator.
func (p *Problem) fill(all [][][][]*way, cost func(*way) float64, with func(a, b float64) float64) table {
	size := 1 << (len(p.Zones) + len(p.Machines))
	out := make(table, len(p.Operators)+1)
	for i := range out {
		out[i] = make([]chosen, size)
		for k := range out[i] {
			out[i][k].cost = math.Inf(1)
		}
	}
	out[0][0].cost = 0
	for o := range p.Operators {
		options := p.options(all[o], cost)
		for at, before := range out[o] {
			if math.IsInf(before.cost, 1) {
				continue
			}
			if before.cost < out[o+1][at].cost { // who does nothing
				out[o+1][at] = chosen{cost: before.cost}
			}
			zones, machines := at&(1<<len(p.Zones)-1), at>>len(p.Zones)
			for _, c := range options {
				if machines>>c.machine&1 == 1 || zones&c.set != 0 {
					continue
				}
				to := p.index(machines|1<<c.machine, zones|c.set)
				if sum := with(before.cost, c.cost); sum < out[o+1][to].cost {
					out[o+1][to] = chosen{sum, c.machine, c.set, c.way}
				}
			}
		}
	}
	return out
}

// options are the sets of zones that an operator can do with each machine, and the way
// that costs least.
func (p *Problem) options(of [][][]*way, cost func(*way) float64) (out []chosen) {
	for m := range p.Machines {
		for set := 1; set < 1<<len(p.Zones); set++ {
			least := chosen{cost: math.Inf(1), machine: m, set: set}
			for _, w := range of[m][set] {
				if c := cost(w); c < least.cost {
					least.cost, least.way = c, w
				}
			}
			if least.way != nil {
				out = append(out, least)
			}
		}
	}
	return out
}

// best are the places of the table with the largest sum of priorities.
func (p *Problem) best(t table) (out []int) {
	most := 0.0
	for at, c := range t[len(p.Operators)] {
		if math.IsInf(c.cost, 1) {
			continue
		}
		priority := p.priority(at & (1<<len(p.Zones) - 1))
		if priority > most+equal {
			most, out = priority, nil
		}
		if priority > most-equal && priority > 0 {
			out = append(out, at)
		}
	}
	return out
}

func (p *Problem) priority(set int) (sum float64) {
	for ; set != 0; set &= set - 1 {
		sum += p.Zones[bits.TrailingZeros(uint(set))].Priority
	}
	return sum
}

// turns goes back through the table.
func (p *Problem) turns(t table, at int) (out []turn) {
	for o := len(p.Operators) - 1; o >= 0; o-- {
		c := t[o+1][at]
		if c.set == 0 {
			continue
		}
		out = append(out, turn{o, c.machine, c.way.zones()})
		at = p.index(at>>len(p.Zones)&^(1<<c.machine), at&(1<<len(p.Zones)-1)&^c.set)
	}
	return out
}
