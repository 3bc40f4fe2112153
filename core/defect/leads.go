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
