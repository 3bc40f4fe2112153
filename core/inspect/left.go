package inspect

// What is left of a route, and planning it anew from where one stands.

import (
	"maps"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/walk"
)

// Left lists the stops of a phase that are not done, in the order of the
// route: each point still open and each change of a setting that the rest of
// the route asks for there. A point that was "not reachable now", or that waits
// for one, comes again at the end. When the points are done, what remains is to
// bring the settings to where they must end.
func (s State) Left(phase machine.Phase) []walk.Stop {
	open, later := s.ahead(phase)
	stands := maps.Clone(s.stands)
	var left []walk.Stop
	set := func(setting *machine.Setting, to string) {
		if stands[setting.ID] != to {
			stands[setting.ID] = to
			left = append(left, walk.Stop{Do: walk.Set, ID: setting.ID, At: setting.At, To: to, Phase: phase})
		}
	}
	look := func(c *machine.Check) {
		for i := range s.Sheet.Settings {
			setting := &s.Sheet.Settings[i]
			if want, ok := c.Needs[setting.ID]; ok {
				set(setting, want)
			}
		}
		left = append(left, walk.Stop{Do: walk.Check, ID: c.ID, At: c.At, Phase: phase})
	}
	for _, stop := range s.Route {
		if stop.Phase != phase {
			continue
		}
		if stop.Do == walk.Set {
			setting, _ := s.Sheet.Setting(stop.ID)
			if s.wantedNext(setting, append(open, later...)) == stop.To {
				set(setting, stop.To)
			}
			continue
		}
		if len(open) > 0 && open[0].ID == stop.ID {
			look(open[0])
			open = open[1:]
		}
	}
	for _, c := range later {
		look(c)
	}
	if phase == machine.Cold {
		for i := len(s.Sheet.Settings) - 1; i >= 0; i-- {
			set(&s.Sheet.Settings[i], s.Sheet.Settings[i].End)
		}
	}
	return left
}

// AnyLeft reports whether Left has anything, which is asked after every answer.
func (s State) AnyLeft(phase machine.Phase) bool {
	for _, stop := range s.Route {
		if stop.Phase == phase && stop.Do == walk.Check && len(s.Open(stop.ID)) > 0 {
			return true
		}
	}
	return len(s.Left(phase)) > 0
}

// ahead lists the open points of a phase in the order of the route, and apart
// from them those that come at the end.
func (s State) ahead(phase machine.Phase) (open, later []*machine.Check) {
	for _, stop := range s.Route {
		if stop.Do != walk.Check || stop.Phase != phase || len(s.Open(stop.ID)) == 0 {
			continue
		}
		c := s.checks[stop.ID]
		if s.putOff(c.ID) || !s.afterKept(c, open) {
			later = append(later, c)
		} else {
			open = append(open, c)
		}
	}
	return open, later
}

// wantedNext is how the first of the points ahead that asks for the setting
// wants it to stand; with none, as it must stand in the end.
func (s State) wantedNext(setting *machine.Setting, ahead []*machine.Check) string {
	for _, c := range ahead {
		if want, ok := c.Needs[setting.ID]; ok {
			return want
		}
	}
	return setting.End
}

// afterKept reports whether everything c must come after is answered, or comes
// before it among the points ahead.
func (s State) afterKept(c *machine.Check, ahead []*machine.Check) bool {
	for _, id := range c.After {
		if s.Asks(id) && len(s.Open(id)) > 0 && !slices.ContainsFunc(ahead, func(a *machine.Check) bool { return a.ID == id }) {
			return false
		}
	}
	return true
}

// Asks reports whether a point is on the route: what is not due is not, and
// nothing waits for it.
func (s State) Asks(check string) bool {
	return slices.ContainsFunc(s.Route, func(stop walk.Stop) bool { return stop.Do == walk.Check && stop.ID == check })
}

// putOff reports whether the point was looked for and could not be reached.
func (s State) putOff(check string) bool {
	for _, item := range s.Open(check) {
		if _, answered := s.Last(check, item); !answered {
			return false
		}
	}
	return true
}

// RouteFrom is the route with what is left of the cold walk planned anew from a
// spot: what is done comes first, as it was, and what has to cool last.
func (s State) RouteFrom(from string, now time.Time) []walk.Stop {
	return s.RouteOf(from, now, func(c *machine.Check) bool { return s.Asks(c.ID) })
}

// RouteOf is RouteFrom with other points asked for.
func (s State) RouteOf(from string, now time.Time, asked func(c *machine.Check) bool) []walk.Stop {
	var done []walk.Stop
	for _, stop := range s.Route {
		if stop.Phase == machine.Cold && stop.Do == walk.Check && s.checks[stop.ID] != nil && len(s.Open(stop.ID)) == 0 {
			done = append(done, stop)
		}
	}
	open := func(c *machine.Check) bool {
		return asked(c) && (c.Phase != machine.Cold || len(s.Open(c.ID)) > 0)
	}
	o := walk.Options{Start: from, Only: open, Stands: s.stands}
	if s.Worked != nil {
		o.Hot, o.Minutes = true, now.Sub(*s.Worked).Minutes()
	}
	return append(done, walk.Route(s.Sheet, o)...)
}

// Refit is the look at the machine with other options, on another route: what was
// answered stays where there still is a point for it.
func (s State) Refit(sheet *machine.Sheet, route []walk.Stop) State {
	old := s
	s.Sheet, s.Route = sheet, route
	s = Begin(s)
	for at, given := range old.points {
		c := s.checks[at.check]
		if c == nil {
			continue
		}
		if _, further := also(c, at.item); further || at.item == "" || slices.Contains(Items(c), at.item) {
			s.points[at] = given
		}
	}
	for id, way := range old.stands {
		if setting, ok := sheet.Setting(id); ok {
			if _, known := setting.Way(way); known {
				s.stands[id] = way
			}
		}
	}
	return s
}

// Rerouted is the look on another route.
func (s State) Rerouted(route []walk.Stop) State {
	s.Route = route
	return s
}
