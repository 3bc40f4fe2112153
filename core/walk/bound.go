package walk

// What no walk can go below, from any place in the search.

import "slices"

// bound is what no way from n to the end can go below: the shortest way along
// the loop that passes every station still needed, in and out of every place
// still needed, each change of settings that cannot be avoided. It heeds no
// order of points. The points' own time is left out, because it is the same
// for every walk.
func (p *problem) bound(n node) int64 {
	var needed [64]bool // spots; a sheet has far fewer
	total := int64(0)
	for s := range p.settings {
		total += p.changesAhead(n, s, &needed)
	}
	for spot := range p.spots {
		if !p.at[spot].within(n.done) {
			needed[spot] = true
		}
	}
	var stations [64]int64
	at := stations[:0]
	elsewhere := false
	for i, s := range p.spots {
		if !needed[i] || i == int(n.spot) {
			continue
		}
		elsewhere = true
		at = append(at, s.at)
		total += 2 * s.off // in and out
	}
	here, end := p.spots[n.spot], p.spots[p.end]
	switch {
	case int(n.spot) == p.end:
		if elsewhere {
			total += 2 * here.off
		}
	case needed[p.end]:
		total += here.off - end.off // it was counted in and out, and is not left
	default:
		total += here.off + end.off
	}
	return total + p.tour(here.at, end.at, at)
}

// changesAhead is the least that setting s still costs, and marks where it is
// changed.
func (p *problem) changesAhead(n node, s int, needed *[64]bool) int64 {
	now, one := n.ways.of(s), &p.settings[s]
	var wanted [16]bool
	any := false
	for way := range p.wanted[s] {
		if way != now && !p.wanted[s][way].within(n.done) {
			wanted[way] = true
			any = true
		}
	}
	if !any && now == one.end {
		return 0
	}
	needed[one.spot] = true
	// Whatever else is wanted, it has to come to stand as it must in the end.
	wanted[one.end] = true
	total := int64(0)
	for way, w := range wanted {
		if w {
			total += one.costs[way]
		}
	}
	return total
}

// tour is the shortest way along the loop from one point to another that
// passes all of the others.
func (p *problem) tour(from, to int64, others []int64) int64 {
	var room [68]int64
	points := append(room[:0], others...)
	points = append(points, from, to)
	slices.Sort(points)
	// Either the whole loop is walked round, or some piece of it between two
	// neighbours is not walked at all; then the rest is a line.
	best := p.loop + p.round(from, to)
	for i, after := range points {
		// The piece that ends at after is left out; the line begins there.
		before := points[len(points)-1]
		if i > 0 {
			before = points[i-1]
		}
		length := p.onward(before - after)
		if len(points) > 1 && before == after {
			continue
		}
		a, b := p.onward(from-after), p.onward(to-after)
		// On the line from 0 to length: to one end, to the other, then to b.
		best = min(best, a+length+(length-b), (length-a)+length+b)
	}
	if same(points) {
		return 0
	}
	return best
}

// onward is how far along the loop a difference of two places on it is.
func (p *problem) onward(d int64) int64 {
	if d < 0 {
		return d + p.loop
	}
	return d
}

func same(points []int64) bool {
	for _, p := range points {
		if p != points[0] {
			return false
		}
	}
	return true
}
