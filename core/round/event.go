package round

// What is recorded of a round.

import "vespers/core/record"

var _ = record.Register(Begun{}, Cranked{}, Tested{}, Shown{}, PutBack{}, Mistapped{})

// Begun says that the operator is in their place and the circle is clear, before
// any control is touched. Each attempt begins so.
type Begun struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
}

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
	// Before: the effect was seen before the change. A stop needs that, an
	// engage has failed by it.
	Before bool `json:"before"`
	// After: the effect was there at the end: it cranked, ran on, moved.
	After bool `json:"after"`
	// Restarted: after a stop it moved again when the one control went back
	// (tests that ask for it).
	Restarted bool `json:"restarted,omitempty"`
	// Seconds is how long it took to stop, where the sheet gives a limit.
	Seconds *float64 `json:"seconds,omitempty"`
}

// Shown says whether a drive moved when it was let to: without that, nothing is
// proved by its not moving in an engage.
type Shown struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
	Permit  string `json:"permit"`
	Moved   bool   `json:"moved"`
}

// PutBack says that the controls were put back after the last test, and the
// engine runs where that is wanted.
type PutBack struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
}

// Mistapped says that somebody had tapped a result that halts the machine, and
// took it back when asked whether it is so.
type Mistapped struct {
	Machine string `json:"machine"`
	Attempt int    `json:"attempt"`
	Test    int    `json:"test"`
	Result  string `json:"result"`
}

// Kind implements record.Event.
func (Begun) Kind() string { return "round_begun" }

// Kind implements record.Event.
func (Cranked) Kind() string { return "cranked" }

// Kind implements record.Event.
func (Tested) Kind() string { return "tested" }

// Kind implements record.Event.
func (Shown) Kind() string { return "drive_shown" }

// Kind implements record.Event.
func (PutBack) Kind() string { return "controls_put_back" }

// Kind implements record.Event.
func (Mistapped) Kind() string { return "mistapped" }
