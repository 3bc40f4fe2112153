// Package machine holds the machine sheet: one machine described as data, from
// which everything else is computed. A sheet here is resolved: its kits are
// flattened and its overrides applied. What a person typed wrong in one is
// found by Problems.
package machine

import (
	"slices"
	"time"
	"vespers/core/text"
	"vespers/core/unit"
)

// Format is the name and version of the sheet format.
const Format = "vespers/sheet/2"

// Sheet describes one machine type.
type Sheet struct {
	Format  string    `json:"format" jsonschema:"enum=vespers/sheet/2"`
	ID      string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Edition string    `json:"edition" jsonschema:"minLength=1"`
	Family  string    `json:"family" jsonschema:"pattern=^[a-z][a-z0-9_]*$"` // of the catalogue's file of families
	Name    text.Text `json:"name"`
	Power   string    `json:"power" jsonschema:"enum=petrol,enum=mix,enum=diesel,enum=battery,enum=carrier,enum=none"`
	// Starter says the same as starting in the interlocks, as sheets did before.
	Starter string `json:"starter,omitempty" jsonschema:"enum=key,enum=recoil"`
	// MinimumAge is in years; 0 means the yard's own rule.
	MinimumAge int      `json:"minimum_age,omitempty" jsonschema:"minimum=0,maximum=30"`
	Kits       []string `json:"kits,omitempty"`
	// Needs is what the person's record must show besides the manual read.
	Needs *Qualifications `json:"qualifications,omitempty"`
	// Company is who must be about while the machine works.
	Company *Company `json:"company,omitempty"`
	// Carrier is what an implement is carried by: both go out in one outing.
	Carrier *Carrier `json:"carrier,omitempty"`
	// Towed is what pulls this machine; Carries how it takes another on its bed.
	Towed   *Towed   `json:"towed,omitempty"`
	Carries *Carries `json:"carries,omitempty"`
	// Hitch is the station where an implement meets this machine.
	Hitch string `json:"hitch,omitempty"`

	// Made says how a yard made the sheet; nil for one that came with the program.
	Made *Made `json:"made,omitempty"`

	// Options are what the machine has or carries in one of several ways.
	Options []Option `json:"options,omitempty"`

	Drawing Drawing `json:"drawing"`
	// Shapes are kinds of part that the sheet or its kits bring.
	Shapes        []Shape   `json:"shapes,omitempty"`
	Loop          Loop      `json:"loop"`
	Places        []Place   `json:"places,omitempty"`
	OperatorPlace string    `json:"operator_place"`
	Settings      []Setting `json:"settings,omitempty"`
	Checks        []Check   `json:"checks" jsonschema:"minItems=1"`
	// Controls are what is moved on it, in the order they are listed to a person.
	Controls   []Control    `json:"controls,omitempty"`
	Interlock  Interlock    `json:"interlock"`
	Conditions []Condition  `json:"conditions,omitempty"`
	Protection []Protection `json:"protection" jsonschema:"minItems=1"`
	// NotToWear is what is fine elsewhere and drags a person in here.
	NotToWear []Conflict  `json:"not_to_wear,omitempty"`
	Uses      []Use       `json:"uses" jsonschema:"minItems=1"`
	Numbers   []Parameter `json:"numbers,omitempty"`
	// Does is the work that it does in a zone of the grounds; Slopes how it goes on one,
	// Transport how it gets there.
	Does      []string    `json:"does,omitempty" jsonschema:"enum=mow,enum=sweep,enum=trench,enum=chip,enum=clear,enum=aerate"`
	Slopes    *Slopes     `json:"slopes,omitempty"`
	Transport *Transport  `json:"transport,omitempty"`
	Cautions  []text.Text `json:"cautions,omitempty"`

	// Fitted names what the machine has that procedures speak of; Own are facts of
	// its own, by name their values, the first as it stands when nobody knows.
	Fitted     []string            `json:"fitted,omitempty" jsonschema:"enum=lead,enum=cutter,enum=travel,enum=brake,enum=attachment,enum=valve,enum=bar,enum=water,enum=grease,enum=feeding,enum=proved,enum=transport,enum=charger,enum=metal,enum=ignition"`
	Own        map[string][]string `json:"facts,omitempty"`
	Procedures []Procedure         `json:"procedures,omitempty"`
	Events     []Event             `json:"events,omitempty"`
	Hazards    []SheetHazard       `json:"hazards,omitempty"`

	whole  *Sheet // what With made this of
	chosen Chosen
	origin origin
}

// Drawing is the machine in plan view, in metres: x to the right, y from the
// front of the machine backwards, both from its front left corner.
type Drawing struct {
	Length float64 `json:"length" jsonschema:"exclusiveMinimum=0,maximum=20"`
	Width  float64 `json:"width" jsonschema:"exclusiveMinimum=0,maximum=10"`
	Parts  []Part  `json:"parts" jsonschema:"minItems=1"`
}

// Part is one thing that can be seen from above: its kind and the rectangle it
// fills, in metres.
type Part struct {
	ID string `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	// Kind is one that the program draws, or one of the sheet's own shapes.
	Kind string  `json:"kind" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	W    float64 `json:"w" jsonschema:"exclusiveMinimum=0"`
	H    float64 `json:"h" jsonschema:"exclusiveMinimum=0"`
	If   If      `json:"if,omitempty"`
}

// Loop is the way round the machine.
type Loop struct {
	// Length is the whole way round, in metres.
	Length   float64   `json:"length" jsonschema:"exclusiveMinimum=0"`
	Stations []Station `json:"stations" jsonschema:"minItems=1"`
}

// Station is a spot on the loop.
type Station struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// At is the distance along the loop from the first station, in metres.
	At float64 `json:"at" jsonschema:"minimum=0"`
	X  float64 `json:"x"`
	Y  float64 `json:"y"`
}

// Place is a spot off the loop, reached from one station.
type Place struct {
	ID      string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name    text.Text `json:"name"`
	Station string    `json:"station"`
	// Metres is the way in, and the same way out.
	Metres float64 `json:"metres" jsonschema:"minimum=0"`
	X      float64 `json:"x"`
	Y      float64 `json:"y"`
}

// Setting is something that stands one way or another while points are looked
// at: the deck down or raised, the plug lead on or off.
type Setting struct {
	ID    string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name  text.Text `json:"name"`
	At    string    `json:"at"`
	Start string    `json:"start"`
	End   string    `json:"end"`
	Ways  []Way     `json:"ways" jsonschema:"minItems=2"`
	If    If        `json:"if,omitempty"`
}

// Way is one position of a setting.
type Way struct {
	ID string `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	// Do is the instruction that brings the setting there.
	Do text.Text `json:"do"`
	// Hazard is the caution that belongs to that act.
	Hazard *text.Text `json:"hazard,omitempty"`
	// Seconds is how long the change takes.
	Seconds float64 `json:"seconds" jsonschema:"minimum=0"`
}

// Qualifications is what a person must have shown before they release the
// machine alone.
type Qualifications struct {
	// Practice: controls practised on open level ground, signed off.
	Practice bool `json:"practice,omitempty"`
	// SlopePractice: slope work practised under supervision; without it the
	// machine is released for the flat only.
	SlopePractice bool `json:"slope_practice,omitempty"`
	// Licence: a driving licence for the road.
	Licence bool `json:"licence,omitempty"`
	// RefresherMonths is after how long practice has to be shown again; 0 is
	// never.
	RefresherMonths int    `json:"refresher_months,omitempty" jsonschema:"minimum=0,maximum=120"`
	Source          Source `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// Company is who must be about: a second person by name, or somebody who knows
// when to look for the operator.
type Company struct {
	Kind   string    `json:"kind" jsonschema:"enum=person,enum=check_in"`
	Why    text.Text `json:"why"`
	Source Source    `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
	// Signals are what the two tell each other by hand and radio; left out, what any
	// two need.
	Signals []string `json:"signals,omitempty" jsonschema:"enum=stop,enum=off,enum=up,enum=down,enum=in,enum=out,enum=coming,enum=clear"`
}

// anyTwo are the signals of any job for two people (trade practice).
var anyTwo = []string{"stop", "off", "coming", "clear"}

// GuideSignals are those of whoever guides a machine onto a trailer or off it, or what
// pulls one up to its drawbar (trade practice).
func GuideSignals() []string { return []string{"coming", "stop", "off", "clear"} }

// TwoSignals are the signals that the people at a machine agree on before they begin;
// none where it needs no second person.
func (s *Sheet) TwoSignals() []string {
	switch {
	case s.Company == nil || s.Company.Kind != "person":
		return nil
	case len(s.Company.Signals) > 0:
		return s.Company.Signals
	}
	return anyTwo
}

// Carrier is the family an implement is carried by, and the station of the
// implement where the two meet.
type Carrier struct {
	Family string `json:"family"`
	At     string `json:"at"`
	// Drives is the drive permit of the carrier that turns the implement: the
	// two are then tested in one round.
	Drives string `json:"drives,omitempty"`
	// Start and Run are what the implement asks of its own switches before the
	// carrier may crank, or run on.
	Start string `json:"start,omitempty"`
	Run   string `json:"run,omitempty"`
}

// Condition is something about the day that limits depend on, asked once.
type Condition struct {
	ID      string            `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name    text.Text         `json:"name"`
	Choices []ConditionChoice `json:"choices" jsonschema:"minItems=2"`
}

// ConditionChoice is one answer to a condition with the value that limits are
// interpolated by.
type ConditionChoice struct {
	ID    string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name  text.Text `json:"name"`
	Value float64   `json:"value"`
}

// Conflict is something not to wear at this machine, and why.
type Conflict struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	Why  text.Text `json:"why"`
}

// Protection is one thing to wear.
type Protection struct {
	ID   string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Name text.Text `json:"name"`
	// For are the uses it is asked for; left out, it is asked for always. Who
	// has not got it on is not cleared for these uses.
	For []string `json:"for,omitempty" jsonschema:"enum=slope,enum=wet_slope,enum=fine_turf,enum=near_public,enum=road,enum=dusk,enum=dry_dust,enum=under_trees"`
	If  If       `json:"if,omitempty"`
}

// Use is a kind of work the machine is built for. Limit is the most it may do
// of it, where that is a matter of degree (a slope): whichever way it goes, or
// across where Up says how steep it may be straight up and down.
type Use struct {
	ID    string   `json:"id" jsonschema:"enum=slope,enum=wet_slope,enum=fine_turf,enum=near_public,enum=road,enum=dusk,enum=dry_dust,enum=under_trees"`
	Limit *float64 `json:"limit,omitempty"`
	Up    *float64 `json:"up,omitempty"`
	// NeverAbove is how steep it may be with a lead's word, where that is more than
	// Limit.
	NeverAbove *float64 `json:"never_above,omitempty"`
	Unit       string   `json:"unit,omitempty"`
	Source     Source   `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
	// Only is the condition that it may be put to the use under.
	Only *text.Text `json:"only,omitempty"`
	If   If         `json:"if,omitempty"`
}

// Source is where a number comes from.
type Source string

// The sources, strongest first.
const (
	LocalCode Source = "local_code"
	Manual    Source = "manual"
	HouseRule Source = "house_rule"
	Trade     Source = "trade_practice"
)

// Parameter is one number that a procedure or a card needs.
type Parameter struct {
	ID     string  `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"` // of the published list
	Value  float64 `json:"value" jsonschema:"minimum=0"`
	Unit   string  `json:"unit"`
	Source Source  `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
	If     If      `json:"if,omitempty"`
}

// Amount is the parameter's value as a quantity.
func (p Parameter) Amount() text.Measure { return measure(p.Value, p.Unit) }

func measure(value float64, symbol string) text.Measure {
	u, _ := unit.Find(symbol)
	return text.Measure{Quantity: u.Of(value), Unit: u.Symbol}
}

// Check returns the check point with this id.
func (s *Sheet) Check(id string) (*Check, bool) {
	for i := range s.Checks {
		if s.Checks[i].ID == id {
			return &s.Checks[i], true
		}
	}
	return nil, false
}

// Setting returns the setting with this id.
func (s *Sheet) Setting(id string) (*Setting, bool) {
	for i := range s.Settings {
		if s.Settings[i].ID == id {
			return &s.Settings[i], true
		}
	}
	return nil, false
}

// Condition returns the condition with this id.
func (s *Sheet) Condition(id string) (*Condition, bool) {
	for i := range s.Conditions {
		if s.Conditions[i].ID == id {
			return &s.Conditions[i], true
		}
	}
	return nil, false
}

// Choice returns the answer with this id.
func (c *Condition) Choice(id string) (*ConditionChoice, bool) {
	for i := range c.Choices {
		if c.Choices[i].ID == id {
			return &c.Choices[i], true
		}
	}
	return nil, false
}

// Way returns the position of the setting with this id.
func (s *Setting) Way(id string) (*Way, bool) {
	for i := range s.Ways {
		if s.Ways[i].ID == id {
			return &s.Ways[i], true
		}
	}
	return nil, false
}

// Use returns the use with this id, if the machine is built for it.
func (s *Sheet) Use(id string) (*Use, bool) {
	for i := range s.Uses {
		if s.Uses[i].ID == id {
			return &s.Uses[i], true
		}
	}
	return nil, false
}

// Spot is where something is done: a station or a place, in the drawing's
// metres.
type Spot struct {
	ID      string
	Name    text.Text
	Station string
	At      float64 // along the loop, of its station
	Off     float64 // metres in from the station, 0 on the loop
	X, Y    float64
}

// Spot finds the station or place with this id.
func (s *Sheet) Spot(id string) (Spot, bool) {
	for _, st := range s.Loop.Stations {
		if st.ID == id {
			return Spot{ID: id, Name: st.Name, Station: id, At: st.At, X: st.X, Y: st.Y}, true
		}
	}
	for _, p := range s.Places {
		if p.ID == id {
			spot, ok := s.Spot(p.Station)
			return Spot{ID: id, Name: p.Name, Station: p.Station, At: spot.At, Off: p.Metres, X: p.X, Y: p.Y}, ok
		}
	}
	return Spot{}, false
}

// Number is the number with this id; ok is false where the sheet gives none.
func (s *Sheet) Number(id string) (number Parameter, ok bool) {
	if i := slices.IndexFunc(s.Numbers, func(n Parameter) bool { return n.ID == id }); i >= 0 {
		return s.Numbers[i], true
	}
	return number, false
}

// Time is a number of the sheet that is a time; zero where it gives none.
func (s *Sheet) Time(id string) time.Duration {
	n, ok := s.Number(id)
	if !ok {
		return 0
	}
	return time.Duration(n.Amount().Quantity.Value * float64(time.Second))
}

// HasEngine reports whether the interlocks know an engine: a start or a run
// permit.
func (s *Sheet) HasEngine() bool {
	for _, p := range s.Interlock.Permits {
		if p.Kind != "drive" {
			return true
		}
	}
	return false
}

// CoolsIn is how long after its work a machine may still be warm somewhere: the
// longest that any of its points asks for.
func (s *Sheet) CoolsIn() time.Duration {
	longest := 0.0
	for i := range s.Checks {
		longest = max(longest, s.Checks[i].Cool)
	}
	return time.Duration(longest * float64(time.Minute))
}

// Metered reports whether the machine has an hour meter that is read.
func (s *Sheet) Metered() bool {
	return slices.ContainsFunc(s.Checks, func(c Check) bool { return s.AtMeter(c.ID) })
}

// AtMeter reports whether a point is where the hour meter is read.
func (s *Sheet) AtMeter(check string) bool {
	c, ok := s.Check(check)
	return ok && slices.ContainsFunc(c.Readings, func(r Reading) bool { return r.Kind == "hours" })
}
