package assign

// What no plan can exceed.

import (
	"cmp"
	"math"
	"slices"
)

// bound is more than any plan's sum of priorities, or as much: the zones that anybody can
// do at all, as far as there is time for them if nobody ever travels and a zone may be
// done in part. No more pairs work than there are operators, or machines.
func (p *Problem) bound() float64 {
	type piece struct{ priority, takes float64 }
	var pieces []piece
	whole := true
	for zone, z := range p.Zones {
		takes := math.Inf(1)
		for o := range p.Operators {
			for m := range p.Machines {
				if _, _, ok := p.next(p.begin(o, m), o, m, zone); ok {
					takes = min(takes, p.Minutes[o][m][zone])
				}
			}
		}
		if !math.IsInf(takes, 1) {
			pieces = append(pieces, piece{z.Priority, takes})
		}
		whole = whole && z.Priority == math.Trunc(z.Priority)
	}
	room := min(p.room(len(p.Operators), func(i int) float64 { return p.Operators[i].From }), p.room(len(p.Machines), func(i int) float64 { return p.Machines[i].From }))
	slices.SortStableFunc(pieces, func(a, b piece) int { return cmp.Compare(b.priority/b.takes, a.priority/a.takes) })
	sum := 0.0
	for _, one := range pieces {
		share := min(1, room/one.takes)
		sum += share * one.priority
		if room -= share * one.takes; room <= 0 {
			break
		}
	}
	if whole {
		sum = math.Floor(sum + equal)
	}
	return sum
}

// room is the time that the most of one kind that can work have together.
func (p *Problem) room(count int, from func(int) float64) float64 {
	var all []float64
	for i := range count {
		all = append(all, max(0, p.To-max(p.From, from(i))))
	}
	slices.SortFunc(all, func(a, b float64) int { return cmp.Compare(b, a) })
	sum := 0.0
	for _, one := range all[:min(len(p.Operators), len(p.Machines))] {
		sum += one
	}
	return sum
}
