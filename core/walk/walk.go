// Package walk plans the inspection walk: in which order the cold points of a
// machine are looked at and its settings changed, so that the way round it
// costs least time and every order the sheet asks for is kept.
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

// Pace is how fast a person walks round a machine, in metres a second.
const Pace = 1.2

// Options say what of a machine is walked, and from where.
type Options struct {
	// Start is the station or place the walk begins at; left out, the sheet's
	// first station.
	Start string
	// End is where it ends; left out, the operator's place.
	End string
	// Only limits the walk to some points; left out, it is all.
	Only func(c *machine.Check) bool
	// Stands is how settings stand now; one that is not named stands as the
	// sheet says for the start.
	Stands map[string]string
	// Hot says that the machine has worked, and Minutes how long ago: points
	// that need it cooler are put off.
	Hot     bool
	Minutes float64
}

// Plan is a walk of the cold phase. Seconds hold walking, changes of settings
// and the points' own time.
type Plan struct {
	Stops                    []Stop
	Metres, Seconds, Walking float64
	Changes                  int
	Exact                    bool
	AtLeast                  float64 // seconds no walk can go below
	SheetOrder               float64 // seconds of the same points in the order of the sheet
	Later                    []string
}

// Break limits a walk to what is looked at again at a break.
func Break(c *machine.Check) bool { return c.Break }

// Cold plans the cold phase of a sheet without problems. The same sheet and
// options always give the same plan.
func Cold(sheet *machine.Sheet, o Options) Plan {
	p := newProblem(sheet, o)
	plan := p.search()
	plan.Later = p.later
	plan.SheetOrder = p.seconds(p.inSheetOrder(p.order))
	return plan
}

// Route is the whole way through a machine: the planned cold walk, with the
// points put off at its end, then the key-on and the running points in the
// order of the sheet, which are asked from the operator's place.
func Route(sheet *machine.Sheet, o Options) []Stop {
	plan := Cold(sheet, o)
	stops := plan.Stops
	if len(plan.Later) > 0 {
		second := Cold(sheet, Options{Start: last(stops, o.Start), Only: func(c *machine.Check) bool { return slices.Contains(plan.Later, c.ID) }})
		stops = append(stops, second.Stops...)
	}
	done := map[string]bool{}
	for _, phase := range []machine.Phase{machine.KeyOn, machine.Running} {
		stops = append(stops, inOrder(sheet, o, phase, done)...)
	}
	return stops
}

func last(stops []Stop, otherwise string) string {
	if len(stops) == 0 {
		return otherwise
	}
	return stops[len(stops)-1].At
}

// inOrder lists the points of a phase in the sheet's order, but for those that
// must come after others of it.
func inOrder(sheet *machine.Sheet, o Options, phase machine.Phase, done map[string]bool) []Stop {
	var stops []Stop
	wanted := func(c *machine.Check) bool { return c.Phase == phase && !done[c.ID] && (o.Only == nil || o.Only(c)) }
	for again := true; again; {
		again = false
		for i := range sheet.Checks {
			c := &sheet.Checks[i]
			if !wanted(c) || slices.ContainsFunc(c.After, func(id string) bool {
				before, _ := sheet.Check(id)
				return wanted(before)
			}) {
				continue
			}
			stops = append(stops, Stop{Do: Check, ID: c.ID, At: c.At, Phase: phase})
			done[c.ID] = true
			again = true
		}
	}
	return stops
}

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
			metres += Between(sheet, stops[i-1].At, s.At)
		}
	}
	return metres, seconds + metres/Pace, points
}

// Between is the way from one spot to another, in metres: out to the station,
// the shorter way round, and in again.
func Between(sheet *machine.Sheet, a, b string) float64 {
	if a == b {
		return 0
	}
	x, _ := sheet.Spot(a)
	y, _ := sheet.Spot(b)
	return x.Off + y.Off + round(x.At, y.At, sheet.Loop.Length)
}

// round is the shorter way along a loop.
func round(a, b, length float64) float64 {
	d := a - b
	if d < 0 {
		d = -d
	}
	return min(d, length-d)
}
