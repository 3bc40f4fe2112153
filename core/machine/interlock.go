package machine

// The interlocks of a sheet: controls, contacts, permits, drives.

import "vespers/core/text"

// Interlock is the sheet's interlock section; its meaning is in
// core/interlock.
type Interlock struct {
	None     *text.Text     `json:"none,omitempty"`
	Switches []Switch       `json:"switches,omitempty"`
	Permits  []Permit       `json:"permits,omitempty"`
	Never    []Never        `json:"never,omitempty"`
	Required []RequiredTest `json:"required,omitempty"`
	Cautions []text.Text    `json:"cautions,omitempty"`
	// Codes is what the machine itself blinks when it will not start.
	Codes []Code `json:"codes,omitempty"`
}

// Code is one blink code of the machine, as its manual explains it. Switch is
// the contact it speaks of, if it is one.
type Code struct {
	Blinks int       `json:"blinks" jsonschema:"minimum=1"`
	Means  text.Text `json:"means"`
	Switch string    `json:"switch,omitempty"`
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
}

// Never is a state no test may use. In is refusal, stop or both.
type Never struct {
	State string `json:"state" jsonschema:"minLength=1"`
	In    string `json:"in,omitempty" jsonschema:"enum=refusal,enum=stop,enum=both"`
}

// RequiredTest is a test of the manual's own routine: always in the plan, in
// the order the manual gives.
type RequiredTest struct {
	Kind   string          `json:"kind" jsonschema:"enum=refusal,enum=engine_stop,enum=drive_stop"`
	Permit string          `json:"permit"`
	From   map[string]bool `json:"from,omitempty"`
	To     map[string]bool `json:"to"`
	Return bool            `json:"return,omitempty"`
}
