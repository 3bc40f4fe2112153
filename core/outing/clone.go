package outing

import (
	"maps"
	"slices"
)

// Clone is the outing as it stands now; what is applied to one of the two
// later does not show in the other. Whatever Apply changes it copies first, so
// the answers themselves are shared, as are events and sheets.
func (o *Outing) Clone() *Outing {
	other := *o
	other.Units = make([]*UnitState, len(o.Units))
	for i, u := range o.Units {
		unit := *u
		unit.Stands = maps.Clone(u.Stands)
		unit.points = maps.Clone(u.points)
		unit.Round.Results = slices.Clone(u.Round.Results)
		unit.Round.History = slices.Clip(u.Round.History)
		other.Units[i] = &unit
	}
	return &other
}

// given is a copy of the answers to a point or reading, to be changed by the
// caller, put in place of those there were.
func (u *UnitState) given(check, item string, room int) []Given {
	items := maps.Clone(u.points[check])
	if items == nil {
		items = map[string][]Given{}
	}
	old := items[item]
	fresh := make([]Given, len(old), len(old)+room)
	copy(fresh, old)
	items[item] = fresh
	u.points[check] = items
	return fresh
}
