package defect

// Where what was read of a machine leads, for who looks at it between outings.

import (
	"vespers/core/machine"
	"vespers/core/text"
)

// LeadsTo is where a series of readings leads, with the meter at hours: when it comes
// to a limit, if it goes on so. ok is false where it does not, or is too short.
func LeadsTo(c *machine.Check, r *machine.Reading, s Series, hours float64) (at Crossing, ok bool) {
	n := len(s.Points)
	if n == 0 {
		return at, false
	}
	last := s.Points[n-1]
	s.Points = s.Points[:n-1]
	in := Context{House: House{Edition: Edition}, Hours: last.Hours, Series: []Series{s}}
	seen := Seen{Check: c, Item: r.ID, Reading: r, Value: text.Measure{Quantity: r.UnitOf().Of(last.Value), Unit: r.Unit}, In: in}
	if at, ok = seen.Crossing(); ok {
		at.Left = max(0, at.Left-(hours-last.Hours))
	}
	return at, ok
}

// wearAhead is how many hours ahead a limit is told of that wear comes to (house rule: a
// season's work).
const wearAhead = 250.0

// Near is how near a limit is that is so many hours ahead: 0 at the farthest that is told,
// 1 there; soon is false where it is farther.
func Near(left float64) (near float64, soon bool) {
	return 1 - max(0, left)/wearAhead, left <= wearAhead
}
