package round

// What is recorded of a round.

import "vespers/core/record"

var _ = record.Register(Cranked{}, Tested{})

// Cranked says what the engine did from the start state.
type Cranked struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
	Cranked bool   `json:"cranked"`
	Started bool   `json:"started"`
}

// Tested is the result of one test of the round.
type Tested struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
	Test    int    `json:"test"` // place in the plan, from 0
	// Before: the effect was seen before the change (stop tests).
	Before bool `json:"before"`
	// After: the effect was there at the end: it cranked, ran on, moved on.
	After bool `json:"after"`
	// Restarted: after a stop it moved again when the one control went back
	// (tests that ask for it).
	Restarted bool `json:"restarted,omitempty"`
	// Seconds is how long it took to stop, where the sheet gives a limit.
	Seconds *float64 `json:"seconds,omitempty"`
}

// Kind implements record.Event.
func (Cranked) Kind() string { return "cranked" }

// Kind implements record.Event.
func (Tested) Kind() string { return "tested" }
