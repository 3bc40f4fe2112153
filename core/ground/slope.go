package ground

// How steep a bank is, and whether a machine may go on it.

import (
	"math"
	"slices"

	"vespers/core/machine"
)

// The ways of measuring a bank.
const (
	ByAngle   = "angle"    // a gauge or a tablet on a board that lies on it
	ByDrop    = "drop"     // a board held level, and how far its free end is above the ground
	ByRiseRun = "rise_run" // height over run, from a plan
	ByPercent = "percent"
)

// Reading is one measurement of a bank: its angle in degrees, its percent, or a height
// over a length, in metres.
type Reading struct {
	Kind string
	// Up is the angle, the percent, the drop or the rise; Along the length of the board
	// or the run, of readings that have one.
	Up, Along Measured
}

// Worst is how steep the bank may be by a reading, in degrees; ok is false where it says
// nothing: a length that may be none, or 90° and more.
func (r Reading) Worst() (deg float64, ok bool) {
	switch r.Kind {
	case ByAngle:
		deg = r.Up.most()
	case ByPercent:
		deg = degrees(math.Atan(r.Up.most() / 100))
	case ByDrop, ByRiseRun:
		if !below(0, r.Along.least()) {
			return 0, false
		}
		deg = degrees(math.Atan(r.Up.most() / r.Along.least()))
	default:
		return 0, false
	}
	return deg, below(deg, 90)
}

// Tier is a limit of a sheet for a way that the machine is built, in degrees: no more than
// Limit, and with the lead's word no more than NeverAbove.
type Tier struct {
	When       map[string][]string // the ways of options
	Limit      float64
	NeverAbove float64
}

// The directions of travel on a slope.
const (
	UpDown  = machine.UpDown
	Across  = machine.Across
	AnyWays = machine.AnyWays
)

// Wet grass has limits of its own; other conditions take degrees from a limit, or all of
// them.
const Wet = machine.Wet

// Soft is ground that gives way.
const Soft = "soft"

// towing is pulling something.
const towing = "towing"

// Conditions lists what a slope is taken under.
func Conditions() []string { return machine.SlopeConditions() }

// Slope is what a sheet says of slopes. Off is how many degrees a condition takes from
// each limit; OffFlat are those that leave the flat only.
type Slope struct {
	Tiers, Wet []Tier
	Off        map[string]float64
	OffFlat    []string
	Direction  string // "" is none given: flat only
}

// With is what is left of it when another machine goes with this one: the least of both
// limits; a direction that both may; only what both know degrees for.
func (s Slope) With(o Slope) Slope {
	out := Slope{OffFlat: slices.Concat(s.OffFlat, o.OffFlat), Off: map[string]float64{}}
	if len(s.Tiers) > 0 && len(o.Tiers) > 0 {
		out.Tiers = slices.Concat(s.Tiers, o.Tiers)
	}
	if len(s.Wet) > 0 && len(o.Wet) > 0 {
		out.Wet = slices.Concat(s.Wet, o.Wet)
	}
	for _, c := range Conditions() {
		one, known := s.Off[c]
		other, too := o.Off[c]
		if known && too || (known || too) && c == towing { // what is pulled has its limits pulled
			out.Off[c] = max(one, other)
		}
	}
	switch {
	case s.Direction == AnyWays:
		out.Direction = o.Direction
	case o.Direction == AnyWays || o.Direction == s.Direction:
		out.Direction = s.Direction
	}
	return out
}

// Under is what a machine goes on a slope under: how it is built, its conditions, what its
// defects forbid, and whether its operator has practised slopes on it.
type Under struct {
	Options      map[string]string
	Conditions   []string
	Restrictions []string
	Practised    bool
}

// agrees reports whether a tier is for a machine built so. An option that nobody
// answered may stand either way.
func (t Tier) agrees(options map[string]string) bool {
	for option, ways := range t.When {
		if stands, answered := options[option]; answered && !slices.Contains(ways, stands) {
			return false
		}
	}
	return true
}

// Limits are the most degrees for a machine, and with a lead's word.
type Limits struct{ Limit, NeverAbove float64 }

func (l Limits) least(other Limits) Limits {
	return Limits{min(l.Limit, other.Limit), min(l.NeverAbove, other.NeverAbove)}
}

// flat are the limits that leave the flat only.
var flat = Limits{Flat, Flat}

// of is the least of the tiers that agree; ok is false where none does.
func of(tiers []Tier, options map[string]string) (l Limits, ok bool) {
	for _, t := range tiers {
		switch one := (Limits{t.Limit, t.NeverAbove}); {
		case !t.agrees(options):
		case !ok:
			l, ok = one, true
		default:
			l = l.least(one)
		}
	}
	return l, ok
}

// Limits are how steep a machine may go, as the sheet says and under what it goes.
func (s Slope) Limits(u Under) Limits {
	l, ok := of(s.Tiers, u.Options)
	if !ok {
		l = flat
	}
	if s.Direction == "" || !u.Practised || slices.Contains(u.Restrictions, KeptFlat) {
		l = l.least(flat)
	}
	off := 0.0
	for _, c := range u.Conditions {
		degrees, given := s.Off[c]
		switch {
		case c == Wet:
			wet, ok := of(s.Wet, u.Options)
			if !ok || slices.Contains(u.Restrictions, "no_wet_slope") {
				wet = flat
			}
			l = l.least(wet)
		case given && !slices.Contains(s.OffFlat, c):
			off += degrees
		default:
			l = l.least(flat)
		}
	}
	return Limits{less(l.Limit, off), less(l.NeverAbove, off)}
}

// What leaves less of a slope, besides conditions.
const (
	NoTier      = "no_tier"      // the sheet has no limit for the way it is built
	NoDirection = "no_direction" // the sheet names no direction of travel
	Unpractised = "unpractised"  // its operator has not practised slopes on it
	KeptFlat    = "no_slope"     // a defect keeps it off slopes
)

// LessBy is what makes the limits less than on dry, firm ground with somebody who has
// practised: each thing that does so by itself, conditions by their names.
func (s Slope) LessBy(u Under) (out []string) {
	plain := Under{Options: u.Options, Practised: true}
	at := s.Limits(plain)
	if _, ok := of(s.Tiers, u.Options); !ok {
		out = append(out, NoTier)
	}
	if s.Direction == "" {
		out = append(out, NoDirection)
	}
	alone := func(what string, v Under) {
		v.Options = u.Options
		if s.Limits(v) != at {
			out = append(out, what)
		}
	}
	alone(Unpractised, Under{Practised: u.Practised})
	for _, r := range u.Restrictions {
		if r == KeptFlat {
			alone(KeptFlat, Under{Practised: true, Restrictions: []string{r}})
		}
	}
	for _, c := range Conditions() {
		if slices.Contains(u.Conditions, c) {
			alone(c, Under{Practised: true, Restrictions: slices.DeleteFunc(slices.Clone(u.Restrictions), func(r string) bool { return r == KeptFlat }), Conditions: []string{c}})
		}
	}
	return out
}

// less takes degrees off a limit, but nothing below the flat.
func less(limit, off float64) float64 {
	if limit < Flat {
		return limit
	}
	return max(Flat, limit-off)
}

// Bank is what was measured on a bank. Needed is how many readings it takes; ReverseFailed
// says that wheels slipped going up it slowly, cutters off.
type Bank struct {
	Readings      []Reading
	Needed        int
	ReverseFailed bool
}

// Needs is how many readings a bank takes where nobody says otherwise (house rule).
const Needs = 2

// Verdict is what a bank comes to.
type Verdict struct {
	Worst   float64 // degrees
	Few     bool
	Allowed bool
	// Watch: allowed, beyond the limit: up and down, slowly, with the lead's word.
	Watch   bool
	Because []string
}

// Worst is how steep the bank may be by the worst of its readings, in degrees.
func (b Bank) Worst() (worst float64) {
	for _, r := range b.Readings {
		deg, _ := r.Worst()
		worst = max(worst, deg)
	}
	return worst
}

// Judge is what a bank comes to for limits, nil where there are none, and a direction of
// travel. Readings never permit what a failed test has forbidden.
func (b Bank) Judge(l *Limits, direction string) Verdict {
	v := Verdict{Worst: b.Worst(), Few: len(b.Readings) < b.Needed, Because: []string{}}
	switch {
	case l == nil, below(v.Worst, l.Limit):
	case below(v.Worst, l.NeverAbove) && direction != Across:
		v.Watch = true
	default:
		v.Because = append(v.Because, "slope")
	}
	if b.ReverseFailed {
		v.Because = append(v.Because, "reverse_test")
	}
	v.Allowed = len(v.Because) == 0
	v.Watch = v.Watch && v.Allowed
	return v
}
