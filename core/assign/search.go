package assign

// A good plan where there are too many to try: two or three people at a time, with what
// they have, what is free and what is left, are planned anew exactly.

import "slices"

// rounds is how often that is done: a count, not a time, so that the same problem has the
// same plan everywhere. People, machines and zones are the most that are planned at once.
const (
	rounds       = 400
	zonesAtOnce  = 8
	freeMachines = 2
)

// dice throws numbers, always the same ones after the same first.
type dice uint64

func (d *dice) below(n int) int {
	*d ^= *d << 13
	*d ^= *d >> 7
	*d ^= *d << 17
	return int(uint64(*d) % uint64(n))
}

// order is the numbers below n, shuffled.
func (d *dice) order(n int) []int {
	out := make([]int, n)
	for i := range out {
		k := d.below(i + 1)
		out[i], out[k] = out[k], i
	}
	return out
}

func (p *Problem) search() []turn {
	if len(p.Operators) == 0 || len(p.Machines) == 0 {
		return nil
	}
	dice := dice(7)
	turns := make([]turn, len(p.Operators))
	for o := range turns {
		turns[o] = turn{operator: o, machine: -1}
	}
	for round := range rounds {
		who := dice.order(len(turns))[:min(len(turns), 2+round%2)]
		if zones := p.zonesOf(turns, who); len(zones) > zonesAtOnce {
			who = who[:1]
		}
		zones := p.zonesOf(turns, who)
		if len(zones) > zonesAtOnce+2 {
			continue // one turn of many short zones
		}
		left := p.left(turns)
		for _, i := range dice.order(len(left)) {
			if len(zones) < zonesAtOnce {
				zones = append(zones, left[i])
			}
		}
		p.anew(turns, who, p.machinesFor(turns, who, &dice), zones)
	}
	return slices.DeleteFunc(turns, func(t turn) bool { return len(t.zones) == 0 })
}

// zonesOf are the zones that some of the operators do.
func (p *Problem) zonesOf(turns []turn, who []int) (out []int) {
	for _, o := range who {
		out = append(out, turns[o].zones...)
	}
	return out
}

// left are the zones that nobody does.
func (p *Problem) left(turns []turn) (out []int) {
	done := make([]bool, len(p.Zones))
	for _, t := range turns {
		for _, zone := range t.zones {
			done[zone] = true
		}
	}
	for zone := range p.Zones {
		if !done[zone] {
			out = append(out, zone)
		}
	}
	return out
}

// machinesFor are the machines of some operators, and a few of those that are free.
func (p *Problem) machinesFor(turns []turn, who []int, dice *dice) (out []int) {
	taken := map[int]bool{}
	for _, t := range turns {
		if len(t.zones) > 0 {
			taken[t.machine] = true
		}
	}
	for _, o := range who {
		if len(turns[o].zones) > 0 {
			out = append(out, turns[o].machine)
		}
	}
	most := len(who) + freeMachines
	for _, m := range dice.order(len(p.Machines)) {
		if len(out) < most && !taken[m] {
			out = append(out, m)
		}
	}
	return out
}

// anew plans some operators, machines and zones as if there were no others. It is never
// worse than what they had, which is among all that is tried.
func (p *Problem) anew(turns []turn, who, machines, zones []int) {
	part := &Problem{From: p.From, To: p.To}
	for _, z := range zones {
		part.Zones = append(part.Zones, p.Zones[z])
	}
	for _, m := range machines {
		part.Machines = append(part.Machines, p.Machines[m])
	}
	for i, o := range who {
		part.Operators = append(part.Operators, p.Operators[o])
		part.Minutes = append(part.Minutes, nil)
		for _, m := range machines {
			minutes := make([]float64, len(zones))
			for k, z := range zones {
				minutes[k] = p.Minutes[o][m][z]
			}
			part.Minutes[i] = append(part.Minutes[i], minutes)
		}
		turns[o] = turn{operator: o, machine: -1}
	}
	for _, t := range part.exact() {
		o := who[t.operator]
		turns[o].machine = machines[t.machine]
		for _, z := range t.zones {
			turns[o].zones = append(turns[o].zones, zones[z])
		}
	}
}
