package outing

import (
	"time"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/walk"
)

var ruleNoWalkLeft = text.NewRule("outing.no_walk_left")

// RouteFrom is the unit's route with what is left of the cold walk planned anew
// from a spot: what is done comes first, as it was, and what has to cool last.
func (u *UnitState) RouteFrom(from string, now time.Time) []walk.Stop {
	var done, rest []walk.Stop
	for _, s := range u.Route {
		switch {
		case s.Phase != machine.Cold:
			rest = append(rest, s)
		case s.Do == walk.Check && len(u.Open(s.ID)) == 0:
			done = append(done, s)
		}
	}
	open := func(c *machine.Check) bool { return len(u.Open(c.ID)) > 0 }
	o := walk.Options{Start: from, Only: open, Stands: u.Stands}
	if u.Worked != nil {
		o.Hot, o.Minutes = true, now.Sub(*u.Worked).Minutes()
	}
	plan := walk.Cold(u.Sheet, o)
	later := map[string]bool{}
	for _, id := range plan.Later {
		later[id] = true
	}
	stops := append(done, plan.Stops...)
	if len(later) > 0 {
		second := walk.Cold(u.Sheet, walk.Options{Only: func(c *machine.Check) bool { return later[c.ID] }})
		stops = append(stops, second.Stops...)
	}
	return append(stops, rest...)
}

// acceptReroute: the spot is one of the sheet, something is left to walk, and
// the route is the planner's.
func (o *Outing) acceptReroute(e Rerouted) error {
	u := o.Unit(e.Machine)
	if u == nil {
		return refuse(ruleMachine.Says())
	}
	if _, ok := u.Sheet.Spot(e.From); !ok {
		return refuse(machine.UnknownSpot(u.Sheet, e.From))
	}
	if len(u.Left(machine.Cold)) == 0 {
		return refuse(ruleNoWalkLeft.Says())
	}
	points := map[string]int{}
	for _, s := range e.Route {
		if s.Do == walk.Check {
			points[s.ID]++
		}
	}
	for i := range u.Sheet.Checks {
		if points[u.Sheet.Checks[i].ID] != 1 {
			return refuse(ruleCheck.Says()) // no way leaves a point out
		}
	}
	return nil
}
