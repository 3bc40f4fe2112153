package machine

// The interlocks of a sheet: controls, contacts, permits, drives.

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"

	"vespers/core/text"
)

// Interlock is the sheet's interlock section; its meaning is in
// core/interlock.
type Interlock struct {
	None     *text.Text     `json:"none,omitempty"`
	Switches []Switch       `json:"switches,omitempty"`
	Permits  []Permit       `json:"permits,omitempty"`
	Never    []Never        `json:"never,omitempty"`
	Required []RequiredTest `json:"required,omitempty"`
	Cautions []text.Text    `json:"cautions,omitempty"`
	// Starting is how this machine is started, and by whom from where; several, where
	// that hangs on an option. The first that is there counts.
	Starting Startings `json:"starting,omitempty"`
	// Codes is what the machine itself blinks when it will not start.
	Codes []Code `json:"codes,omitempty"`
}

// Permit is the permit with this id; the zero Permit where there is none.
func (l *Interlock) Permit(id string) Permit {
	if i := slices.IndexFunc(l.Permits, func(p Permit) bool { return p.ID == id }); i >= 0 {
		return l.Permits[i]
	}
	return Permit{}
}

// Switch is the switch with this id; the zero Switch where there is none.
func (l *Interlock) Switch(id string) Switch {
	if i := slices.IndexFunc(l.Switches, func(s Switch) bool { return s.ID == id }); i >= 0 {
		return l.Switches[i]
	}
	return Switch{}
}

// Startings are ways to start a machine; one may be written alone.
type Startings []Starting

// UnmarshalJSON reads one way written alone too.
func (s *Startings) UnmarshalJSON(data []byte) error {
	var one Starting
	if json.Unmarshal(data, &one) == nil {
		*s = Startings{one}
		return nil
	}
	return json.Unmarshal(data, (*[]Starting)(s))
}

// HowStarted is how the machine is started; nil where the sheet does not say.
func (l *Interlock) HowStarted() *Starting {
	if len(l.Starting) == 0 {
		return nil
	}
	return &l.Starting[0]
}

// ByCord reports whether the machine is started by pulling a cord.
func (l *Interlock) ByCord() bool { return len(l.Starting) > 0 && l.Starting[0].By == "cord" }

// Starting is how a machine is started, in words.
type Starting struct {
	// By is what it is started with; left out, a key.
	By    string    `json:"by,omitempty" jsonschema:"enum=key,enum=button,enum=cord"`
	Place text.Text `json:"place"` // the operator's place in the round, belt and hands
	Try   text.Text `json:"try"`   // what is done in a refusal
	Start text.Text `json:"start"` // what is done to start it
	// After is what is set right again at the end of the round, before anybody
	// drives off: the belt that was off for it.
	After text.Text `json:"after,omitzero"`
	If    If        `json:"if,omitempty"`
}

// Code is one code that the machine itself shows, as its manual explains it: a
// lamp that blinks, once around or in groups with a pause between, or characters
// in a display. Switch is the contact it speaks of, if it is one.
type Code struct {
	// Lamp is the lamp or display that shows it; left out, the only one.
	Lamp text.Text `json:"lamp,omitzero"`
	// Blinks is how often it blinks; Groups how often before each pause; Shows what
	// a display says. A code is one of them.
	Blinks int       `json:"blinks,omitempty" jsonschema:"minimum=1,maximum=30"`
	Groups []int     `json:"groups,omitempty" jsonschema:"minItems=2,maxItems=5"`
	Shows  string    `json:"shows,omitempty" jsonschema:"minLength=1,maxLength=12"`
	Means  text.Text `json:"means"`
	Switch string    `json:"switch,omitempty"`
}

// Key tells a code from the others of its machine: what is seen, and where; "" if
// it is none, or several at once.
func (c Code) Key() string {
	var seen []string
	if c.Blinks > 0 {
		seen = append(seen, strconv.Itoa(c.Blinks))
	}
	if len(c.Groups) > 0 {
		var groups []string
		for _, n := range c.Groups {
			if n < 1 {
				return ""
			}
			groups = append(groups, strconv.Itoa(n))
		}
		seen = append(seen, strings.Join(groups, "-"))
	}
	if c.Shows != "" {
		seen = append(seen, "="+c.Shows)
	}
	if len(seen) != 1 {
		return ""
	}
	return strings.Trim(c.Lamp.EN+" "+seen[0], " ")
}

// Switch is one contact pair worked by a control or by the operator.
type Switch struct {
	ID       string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Label    text.Text `json:"label,omitzero"`
	Made     text.Text `json:"made,omitzero"`
	Broken   text.Text `json:"broken,omitzero"`
	Make     text.Text `json:"make,omitzero"`  // the act that makes it
	Break    text.Text `json:"break,omitzero"` // the act that breaks it
	Contacts string    `json:"contacts,omitempty" jsonschema:"enum=shared,enum=per_permit"`
	Rest     string    `json:"rest,omitempty" jsonschema:"enum=made,enum=broken"`
	// Place: it is the operator's place, made while somebody is in it. Nobody is
	// asked to leave it where that proves nothing.
	Place bool `json:"place,omitempty"`
	// Moving forbidden: it is not touched while something that it holds moves: a
	// door over a fan, a trigger lock-out under a squeezed trigger.
	Moving string `json:"moving,omitempty" jsonschema:"enum=allowed,enum=forbidden"`
	// AtStart made: no engine is started but with it made, though the machine
	// would let it: a chain brake, a parking brake (trade practice).
	AtStart string `json:"at_start,omitempty" jsonschema:"enum=made,enum=any"`
	// Held is the side, made or broken, that lasts only while the control is held:
	// let go, it springs back.
	Held string `json:"held,omitempty" jsonschema:"enum=made,enum=broken"`
	// Caution stands where the control is brought to its unsafe side.
	Caution text.Text `json:"caution,omitzero"`
	// Makes is how facts of procedures stand while it is made: a brake that is set, a
	// lever in neutral.
	Makes Facts `json:"makes,omitempty"`
	If    If    `json:"if,omitempty"`
}

// Permit says when the engine may crank, may run, or something may move.
type Permit struct {
	ID    string    `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	Kind  string    `json:"kind" jsonschema:"enum=start,enum=run,enum=drive"`
	Label text.Text `json:"label,omitzero"`
	// Moves names what a drive permit lets move: the blades, the feed rollers.
	Moves text.Text `json:"moves,omitzero"`
	When  string    `json:"when" jsonschema:"minLength=1"`
	// StopWithin is the most seconds a drive may take to stop; 0 is at once.
	StopWithin float64  `json:"stop_within_s,omitempty" jsonschema:"minimum=0"`
	Latched    bool     `json:"latched,omitempty"`
	LatchedBy  []string `json:"latched_by,omitempty"`
	// TurnedBy is another drive, without which this one cannot move.
	TurnedBy string `json:"turned_by,omitempty"`
	// TestSpeed is the engine speed at which its tests are done, where the
	// manual's own test says no other.
	TestSpeed Speed `json:"test_speed,omitempty" jsonschema:"enum=idle,enum=half,enum=full,enum=creep"`
	// Caution stands where it is let move.
	Caution text.Text `json:"caution,omitzero"`
	// Needs says how controls that work no contact must stand for it to move at
	// all, by the control's id its position: a parking brake released, a pin out.
	Needs map[string]string `json:"needs,omitempty"`
	// First is Needs in the words of the controls.
	First []First `json:"first,omitempty"`
	If    If      `json:"if,omitempty"`
}

// First is a control that is moved before something can move, and put back after
// the round.
type First struct {
	Control string    `json:"control"`
	Do      text.Text `json:"do"`
	Back    text.Text `json:"back"`
	Caution text.Text `json:"caution,omitzero"`
}

// Speed is how fast the engine runs, or the machine creeps, in a test.
type Speed string

// The speeds of tests.
const (
	Idle  Speed = "idle"
	Half  Speed = "half"
	Full  Speed = "full"
	Creep Speed = "creep"
)

// Never is a state that no test may use, in all kinds of test or in some:
// refusal, engage, stop.
type Never struct {
	State string  `json:"state" jsonschema:"minLength=1"`
	In    Reaches `json:"in,omitempty"`
	If    If      `json:"if,omitempty"`
}

// UnmarshalJSON reads a plain string too: a state that none may use.
func (n *Never) UnmarshalJSON(data []byte) error {
	if json.Unmarshal(data, &n.State) == nil {
		return nil
	}
	type plain Never
	return json.Unmarshal(data, (*plain)(n))
}

// Reaches are the kinds of test that a rule holds for; nil is all.
type Reaches []string

// MarshalJSON writes one kind alone, as UnmarshalJSON reads it.
func (r Reaches) MarshalJSON() ([]byte, error) {
	if len(r) == 1 {
		return json.Marshal(r[0])
	}
	return json.Marshal([]string(r))
}

// UnmarshalJSON reads one kind written alone too.
func (r *Reaches) UnmarshalJSON(data []byte) error {
	var one string
	if json.Unmarshal(data, &one) == nil {
		*r = Reaches{one}
		return nil
	}
	return json.Unmarshal(data, (*[]string)(r))
}

// RequiredTest is a test of the manual's own routine: always in the plan, in
// the order the manual gives.
type RequiredTest struct {
	Kind   string          `json:"kind" jsonschema:"enum=refusal,enum=engage,enum=engine_stop,enum=drive_stop"`
	Permit string          `json:"permit"`
	From   map[string]bool `json:"from,omitzero"`
	To     map[string]bool `json:"to"`
	Return bool            `json:"return,omitempty"`
	// Speed is the manual's for this test; "" leaves it to the permit.
	Speed Speed `json:"speed,omitempty" jsonschema:"enum=idle,enum=half,enum=full,enum=creep"`
	// Caution stands at this test.
	Caution text.Text `json:"caution,omitzero"`
	If      If        `json:"if,omitempty"`
}
