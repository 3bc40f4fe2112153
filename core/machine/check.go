package machine

// The points of a walk-around and their readings.

import (
	"strings"

	"vespers/core/text"
	"vespers/core/unit"
)

// Phase is when a point can be looked at.
type Phase string

// The phases, in the order of a day.
const (
	Cold    Phase = "cold"    // engine off, key out, before anything warms
	KeyOn   Phase = "key_on"  // key on, engine off
	Running Phase = "running" // engine running, operator in place
)

// Phases lists them in order.
func Phases() []Phase { return []Phase{Cold, KeyOn, Running} }

// Class is what a point can hurt when it fails; harm is fixed by class.
type Class string

// The classes of check points.
const (
	ClassA Class = "A" // safety device, brake, steering, guard, restraint
	ClassB Class = "B" // cutter and its retention, structure, hitch, wheel nuts
	ClassC Class = "C" // fuel, exhaust at the operator, lithium pack
	ClassD Class = "D" // hydraulics under pressure
	ClassE Class = "E" // engine oil, coolant, gear oil
	ClassF Class = "F" // warning, visibility, lights, decals
	ClassG Class = "G" // wear and running parts
	ClassH Class = "H" // comfort, finish of cut
)

// Classes lists them in order.
func Classes() []Class {
	return []Class{ClassA, ClassB, ClassC, ClassD, ClassE, ClassF, ClassG, ClassH}
}

// Decides reports whether points of the class decide safety: a doubt in them
// counts on the worse side, and no key press alone may answer them.
func (c Class) Decides() bool { return c >= ClassA && c <= ClassD }

// Extent is how far gone a thing is.
type Extent string

// The extents, least first. A reading in doubt or outside its limit is Lost.
const (
	Sound    Extent = "sound"
	Early    Extent = "early"    // works, but going
	Degraded Extent = "degraded" // works badly, or near the limit
	Lost     Extent = "lost"     // does not work, missing, or past the limit
)

// Check is one point of an inspection.
type Check struct {
	ID    string `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Class Class  `json:"class" jsonschema:"enum=A,enum=B,enum=C,enum=D,enum=E,enum=F,enum=G,enum=H"`
	Phase Phase  `json:"phase" jsonschema:"enum=cold,enum=key_on,enum=running"`
	At    string `json:"at"`
	// Seconds is how long a practised person needs for it.
	Seconds float64 `json:"seconds" jsonschema:"minimum=1,maximum=600"`
	// Needs says how settings must stand, by setting id.
	Needs map[string]string `json:"needs,omitempty"`
	// Cool is how many minutes the machine must have stood since it worked for
	// the point to be true (hydraulic oil, coolant at the neck); 0 for any time.
	Cool float64 `json:"cool_minutes,omitempty" jsonschema:"minimum=0,maximum=600"`
	// Every is how often it is looked at; left out, at every outing.
	Every *Interval `json:"every,omitempty"`
	// Who looks at it; left out, the operator.
	Who string `json:"who,omitempty" jsonschema:"enum=operator,enum=trained,enum=technician"`
	// Mandatory: once overdue, the machine is not released before it was looked
	// at.
	Mandatory bool `json:"mandatory,omitempty"`
	// Break: looked at again at every break.
	Break bool `json:"break,omitempty"`
	// After lists checks that must be answered before this one.
	After []string `json:"after,omitempty"`
	// Switches are those of the interlocks that the point holds: after work there, the
	// tests that cover them are repeated.
	Switches []string `json:"switches,omitempty"`
	// System names what the point is a part of: two points of one system on Watch make
	// each other worse.
	System string `json:"system,omitempty" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	// Critical makes a lost part of class G a Halt.
	Critical bool `json:"critical,omitempty"`

	Name   text.Text  `json:"name"`
	Look   text.Text  `json:"look"`
	How    *text.Text `json:"how,omitempty"`
	Why    text.Text  `json:"why"`
	Hazard *text.Text `json:"hazard,omitempty"`
	// Sound is what a person says who finds nothing wrong ("cuts clean"), where
	// there is a plainer word for it than sound.
	Sound *text.Text `json:"sound,omitempty"`

	Readings []Reading `json:"readings,omitempty"`
	// Spot is what is measured instead of ticking, at the few points of a walk
	// that an outing chooses by chance; only a point without readings has one.
	Spot   *Reading  `json:"spot,omitempty"`
	Even   *Evenness `json:"even,omitempty"`
	Faults []Fault   `json:"faults" jsonschema:"minItems=1"`
	// Restrict is what a reading outside its limits restricts; [none] says that it
	// restricts nothing, and RestrictWhy why not.
	Restrict    []string   `json:"restrict,omitempty"`
	RestrictWhy *text.Text `json:"restrict_why,omitempty"`
	If          If         `json:"if,omitempty"`
}

// Reading is one number taken at a point.
type Reading struct {
	ID    string     `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name  text.Text  `json:"name"`
	Unit  string     `json:"unit"`
	Kind  string     `json:"kind,omitempty" jsonschema:"enum=gauge,enum=marks,enum=hours,enum=stopwatch"`
	Tool  text.Text  `json:"tool"`
	Range [2]float64 `json:"range"`
	// Uncertainty is the instrument's, in Unit.
	Uncertainty float64 `json:"uncertainty" jsonschema:"minimum=0"`
	Limits      *Limits `json:"limits,omitempty"`
	// Wear is how much the value changes in an hour of work, in Unit, with its sign:
	// where it leads while there are too few readings to tell.
	Wear *float64 `json:"wear,omitempty"`
	// New is the value of a new part, shown beside the limit.
	New *float64 `json:"new,omitempty"`
	// PutRight is what the operator may do about a value outside the limits,
	// before reading it again.
	PutRight *text.Text `json:"put_right,omitempty"`
	// Tank: it is what part of the fuel tank, to its mark, is full.
	Tank bool `json:"tank,omitempty"`
	If   If   `json:"if,omitempty"`
}

// Limits are the values a reading must stay between, in the reading's unit.
type Limits struct {
	Low  *float64 `json:"low,omitempty"`
	High *float64 `json:"high,omitempty"`
	// By makes low and high depend on a condition of the day: they are
	// interpolated between the bands given for its values.
	By    string `json:"by,omitempty"`
	Bands []Band `json:"bands,omitempty"`
	// Near and Early are margins inside a limit; left out, they are the
	// uncertainty and twice that.
	Near  *float64 `json:"near,omitempty" jsonschema:"minimum=0"`
	Early *float64 `json:"early,omitempty" jsonschema:"minimum=0"`
	// Inclusive: touching the limit is inside.
	Inclusive bool `json:"inclusive,omitempty"`
	// Safety: a doubt counts as past the limit, whatever the class.
	Safety bool   `json:"safety,omitempty"`
	Source Source `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// Band is what a limit is at one value of a condition.
type Band struct {
	At   float64  `json:"at"`
	Low  *float64 `json:"low,omitempty"`
	High *float64 `json:"high,omitempty"`
}

// Under is the limits as they are when the condition has a value: low and high
// on the straight line between the nearest bands. Limits that depend on nothing
// stay as they are.
func (l *Limits) Under(conditions map[string]float64) *Limits {
	value, known := conditions[l.By]
	if l.By == "" || len(l.Bands) == 0 {
		return l
	}
	if !known {
		value = l.Bands[0].At
	}
	below, above := l.Bands[0], l.Bands[len(l.Bands)-1]
	for _, b := range l.Bands {
		if b.At <= value {
			below = b
		}
	}
	for i := len(l.Bands) - 1; i >= 0; i-- {
		if l.Bands[i].At >= value {
			above = l.Bands[i]
		}
	}
	share := 0.0
	if above.At > below.At {
		share = min(1, max(0, (value-below.At)/(above.At-below.At)))
	}
	between := func(a, b *float64) *float64 {
		if a == nil || b == nil {
			return nil
		}
		v := *a + (*b-*a)*share
		return &v
	}
	under := *l
	under.Low, under.High = between(below.Low, above.Low), between(below.High, above.High)
	return &under
}

// Under is the reading with its limits as they are under conditions of the day.
func (r *Reading) Under(conditions map[string]float64) *Reading {
	if r.Limits == nil || r.Limits.By == "" {
		return r
	}
	under := *r
	under.Limits = r.Limits.Under(conditions)
	return &under
}

// Within is the reading as an instrument of another uncertainty takes it, in the
// reading's unit; nil is the sheet's own.
func (r *Reading) Within(uncertainty *float64) *Reading {
	if uncertainty == nil {
		return r
	}
	taken := *r
	taken.Uncertainty = *uncertainty
	return &taken
}

// Evenness is the most that paired readings may differ: each is named by its id,
// one of another point as point.reading. What is uneven is found at the point
// that asks for it.
type Evenness struct {
	Max    float64     `json:"max" jsonschema:"exclusiveMinimum=0"`
	Unit   string      `json:"unit"`
	Pairs  [][2]string `json:"pairs" jsonschema:"minItems=1"`
	Source Source      `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// Fault is one way a point can be found not sound.
type Fault struct {
	ID     string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name   text.Text `json:"name"`
	Extent Extent    `json:"extent" jsonschema:"enum=early,enum=degraded,enum=lost"`
	// Looks is what it looks like, for a small picture of how far gone it is: one of
	// Looks, "" for what no picture tells.
	Looks string `json:"looks,omitempty" jsonschema:"enum=leak,enum=crack,enum=wear,enum=cord,enum=torn,enum=loose,enum=missing,enum=packed"`
	// Class is the fault's own, where it is not the point's: a drip of fuel
	// at a point where oil is looked for.
	Class Class `json:"class,omitempty" jsonschema:"enum=A,enum=B,enum=C,enum=D,enum=E,enum=F,enum=G,enum=H"`
	// HoseBody: the fault is in a pressure hose itself, not at a fitting.
	HoseBody bool `json:"hose_body,omitempty"`
	// Restrict is what it takes away; [none] says that it takes nothing away, and
	// RestrictWhy why not.
	Restrict    []string   `json:"restrict,omitempty"`
	RestrictWhy *text.Text `json:"restrict_why,omitempty"`
	// NoReading: with this fault the readings of the point cannot be taken.
	NoReading bool `json:"no_reading,omitempty"`
	// PutRight is the act an operator may do on the spot.
	PutRight *text.Text `json:"put_right,omitempty"`
	If       If         `json:"if,omitempty"`
}

// Looks lists what a fault may look like: wet, a line through it, material gone, strands
// cut, a tear, out of its place, not there, filled with dirt.
func Looks() []string {
	return []string{"leak", "crack", "wear", "cord", "torn", "loose", "missing", "packed"}
}

// Fault returns the fault kind with this id.
func (c *Check) Fault(id string) (*Fault, bool) {
	for i := range c.Faults {
		if c.Faults[i].ID == id {
			return &c.Faults[i], true
		}
	}
	return nil, false
}

// Reading returns the reading with this id.
func (c *Check) Reading(id string) (*Reading, bool) {
	for i := range c.Readings {
		if c.Readings[i].ID == id {
			return &c.Readings[i], true
		}
	}
	if c.Spot != nil && c.Spot.ID == id {
		return c.Spot, true
	}
	return nil, false
}

// Paired is the reading that an evenness of the point names, and its point.
func (s *Sheet) Paired(c *Check, name string) (point *Check, r *Reading, ok bool) {
	point = c
	if other, reading, elsewhere := strings.Cut(name, "."); elsewhere {
		if point, ok = s.Check(other); !ok {
			return nil, nil, false
		}
		name = reading
	}
	r, ok = point.Reading(name)
	return point, r, ok
}

// Measured is the point with its spot reading to be taken.
func (c Check) Measured() Check {
	c.Readings = []Reading{*c.Spot}
	return c
}

// ClassOf is the class that grades fault f of the check.
func (c *Check) ClassOf(f *Fault) Class {
	if f.Class != "" {
		return f.Class
	}
	return c.Class
}

// Measure is a value of the reading as a quantity.
func (r *Reading) Measure(value float64) text.Measure { return measure(value, r.Unit) }

// UnitOf is the reading's own unit.
func (r *Reading) UnitOf() unit.Unit {
	u, _ := unit.Find(r.Unit)
	return u
}

// UnitOf is the unit of the difference.
func (e *Evenness) UnitOf() unit.Unit {
	u, _ := unit.Find(e.Unit)
	return u
}
