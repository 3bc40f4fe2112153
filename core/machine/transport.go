package machine

// How a machine gets to its work on a trailer.

import (
	"slices"

	"vespers/core/text"
)

// The ways round that a machine goes up a ramp.
const (
	Forwards  = "forwards"
	Backwards = "backwards"
	Pushed    = "pushed" // by hand, its engine off
)

// Transport is how a machine goes up a ramp and how it rides on a trailer.
type Transport struct {
	// Up is which way round; "" where the house rule of its family says so.
	Up string `json:"up,omitempty" jsonschema:"enum=forwards,enum=backwards,enum=pushed"`
	// Posture is what of it is up, down, folded, locked or shut on the way.
	Posture []Posture `json:"posture" jsonschema:"minItems=1"`
	Source  Source    `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// Posture is one thing of it.
type Posture struct {
	Say text.Text `json:"say"`
	If  If        `json:"if,omitempty"`
}

// RampWays lists the ways round up a ramp.
func RampWays() []string { return []string{Forwards, Backwards, Pushed} }

// carried checks how it gets to its work.
func (f *finder) carried() {
	if t := f.sheet.Transport; t != nil && t.Up != "" && !slices.Contains(RampWays(), t.Up) {
		f.unknown(t.Up, "sheet.kind.ramp_way", RampWays(), "transport", "up")
	}
}
