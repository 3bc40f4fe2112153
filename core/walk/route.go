// Package walk puts the points of an inspection in the order in which they are
// walked.
//
// The order here is: phase by phase; in the cold phase everything that can be
// seen as the machine stands, in station order, then each change of settings
// once, with all that it opens. It keeps every "needs" and "after" of the
// sheet.
package walk

import (
	"slices"

	"vespers/core/machine"
)

// What a stop asks for.
const (
	Check = "check"
	Set   = "set"
)

// Stop is one thing to do on the way: look at a point, or change a setting.
type Stop struct {
	Do    string        `json:"do"`
	ID    string        `json:"id"`
	At    string        `json:"at"`
	To    string        `json:"to,omitempty"`
	Phase machine.Phase `json:"phase"`
}

// Route is the whole way: the cold loop, then key-on and running points. The
// sheet must be one without problems.
func Route(sheet *machine.Sheet) []Stop {
	r := &router{sheet: sheet, stands: map[string]string{}, done: map[string]bool{}}
	for _, s := range sheet.Settings {
		r.stands[s.ID] = s.Start
	}
	for _, phase := range machine.Phases() {
		r.walk(phase)
	}
	return r.stops
}

type router struct {
	sheet  *machine.Sheet
	stands map[string]string
	done   map[string]bool
	stops  []Stop
}

func (r *router) walk(phase machine.Phase) {
	var left []*machine.Check
	for i := range r.sheet.Checks {
		if r.sheet.Checks[i].Phase == phase {
			left = append(left, &r.sheet.Checks[i])
		}
	}
	if phase == machine.Cold {
		// Places hang on the station they are reached from, so the loop's own
		// order is the order of walking; running points are asked from the
		// seat and keep the sheet's order.
		slices.SortStableFunc(left, func(a, b *machine.Check) int { return r.compare(a.At, b.At) })
	}
	for len(left) > 0 {
		i := slices.IndexFunc(left, r.ready)
		if i < 0 {
			r.change(left, phase)
			continue
		}
		c := left[i]
		left = slices.Delete(left, i, i+1)
		r.stops = append(r.stops, Stop{Do: Check, ID: c.ID, At: c.At, Phase: phase})
		r.done[c.ID] = true
	}
	if phase == machine.Cold {
		for i := len(r.sheet.Settings) - 1; i >= 0; i-- {
			s := r.sheet.Settings[i]
			r.set(s.ID, s.End, phase)
		}
	}
}

func (r *router) compare(a, b string) int {
	x, _ := r.sheet.Spot(a)
	y, _ := r.sheet.Spot(b)
	switch {
	case x.At != y.At:
		return sign(x.At - y.At)
	default:
		return sign(x.Off - y.Off)
	}
}

func sign(v float64) int {
	switch {
	case v < 0:
		return -1
	case v > 0:
		return 1
	}
	return 0
}

// ready reports whether c can be looked at as things stand.
func (r *router) ready(c *machine.Check) bool {
	if !r.orderKept(c) {
		return false
	}
	for setting, want := range c.Needs {
		if r.stands[setting] != want {
			return false
		}
	}
	return true
}

func (r *router) orderKept(c *machine.Check) bool {
	return !slices.ContainsFunc(c.After, func(id string) bool { return !r.done[id] })
}

// change brings the settings to what most of the remaining points want that
// wait for nothing else.
func (r *router) change(left []*machine.Check, phase machine.Phase) {
	best, most := left[0], 0
	for _, c := range left {
		if !r.orderKept(c) {
			continue
		}
		n := 0
		for _, o := range left {
			if sameNeeds(c, o) {
				n++
			}
		}
		if n > most {
			best, most = c, n
		}
	}
	for _, s := range r.sheet.Settings {
		if want, ok := best.Needs[s.ID]; ok {
			r.set(s.ID, want, phase)
		}
	}
}

func sameNeeds(a, b *machine.Check) bool {
	for k, v := range b.Needs {
		if a.Needs[k] != v {
			return false
		}
	}
	return true
}

func (r *router) set(id, to string, phase machine.Phase) {
	if r.stands[id] == to {
		return
	}
	s, _ := r.sheet.Setting(id)
	r.stands[id] = to
	r.stops = append(r.stops, Stop{Do: Set, ID: id, At: s.At, To: to, Phase: phase})
}

// Pace is how fast a person walks round a machine, in metres a second.
const Pace = 1.2

// Left estimates what remains of a route: the metres still to walk along the
// loop, the points, and the seconds for all of it.
func Left(sheet *machine.Sheet, stops []Stop) (metres, seconds float64, points int) {
	for i, s := range stops {
		switch s.Do {
		case Check:
			c, _ := sheet.Check(s.ID)
			seconds += c.Seconds
			points++
		case Set:
			st, _ := sheet.Setting(s.ID)
			way, _ := st.Way(s.To)
			seconds += way.Seconds
		}
		if i > 0 {
			metres += between(sheet, stops[i-1].At, s.At)
		}
	}
	return metres, seconds + metres/Pace, points
}

// between is the way from one spot to another: out to the station, the shorter
// way round, and in again.
func between(sheet *machine.Sheet, a, b string) float64 {
	if a == b {
		return 0
	}
	x, _ := sheet.Spot(a)
	y, _ := sheet.Spot(b)
	round := x.At - y.At
	if round < 0 {
		round = -round
	}
	return x.Off + y.Off + min(round, sheet.Loop.Length-round)
}
