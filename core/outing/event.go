// Package outing is one machine out with one operator on one day: what has
// been answered so far, what may be answered next, and what follows from it.
//
// An Outing is the fold of its events. Accept says whether an event may come
// next; Apply takes it in. Neither looks at a clock or a database, so every
// order of answers can be tried in a test.
package outing

import (
	"encoding/json"
	"fmt"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/unit"
	"vespers/core/walk"
)

// Meta is what every event carries: the record it is, who made it and when the
// server took it.
type Meta struct {
	ID         string
	By         string // person id
	At         time.Time
	Supersedes string // record id of the answer this one corrects, or ""
}

// Event is one thing that happened in an outing.
type Event interface{ Kind() string }

// Unit is one machine of an outing with everything it began with.
type Unit struct {
	Machine string `json:"machine"`
	Name    string `json:"name"`
	Sheet   string `json:"sheet"` // hash of the resolved sheet
	// Hours is the hour meter when the outing began, in hours.
	Hours float64        `json:"hours"`
	Route []walk.Stop    `json:"route"`
	Round interlock.Plan `json:"round"`
	// Joined is, on a carrier tested together with what it carries, the
	// section of both; With is, on the implement, that carrier.
	Joined  *machine.Interlock `json:"joined,omitempty"`
	With    string             `json:"with,omitempty"`
	Carried []Carried          `json:"carried,omitempty"`
	// Spots are the points that are measured this time instead of ticked.
	Spots []string `json:"spots,omitempty"`
	// Before is what was read at its last outing.
	Before []Before `json:"before,omitempty"`
	// Worked is when the machine last worked, nil if that is long ago or not
	// known. What must be cold to be true waits until it has cooled.
	Worked *time.Time `json:"worked,omitempty"`
}

// Before is a reading of an earlier outing, shown beside the keypad and never
// taken over.
type Before struct {
	Check string    `json:"check"`
	Item  string    `json:"item"`
	Value Value     `json:"value"`
	At    time.Time `json:"at"`
}

// Carried is an open defect that the machine brought into the outing.
type Carried struct {
	ID      string         `json:"id"`
	Check   string         `json:"check"`
	Item    string         `json:"item,omitempty"`
	Finding defect.Finding `json:"finding"`
}

// Started begins an outing.
type Started struct {
	Operator string       `json:"operator"`
	House    defect.House `json:"house"`
	Units    []Unit       `json:"units"`
}

// Readied answers "Ready?".
type Readied struct {
	operator.Readiness
}

// Set says that a setting was changed.
type Set struct {
	Machine string `json:"machine"`
	Setting string `json:"setting"`
	To      string `json:"to"`
}

// Rerouted plans what is left of a walk anew, from where the operator stands.
type Rerouted struct {
	Machine string      `json:"machine"`
	From    string      `json:"from"` // station or place
	Route   []walk.Stop `json:"route"`
}

// Conditioned says how a condition of the day is that limits depend on.
type Conditioned struct {
	Machine   string `json:"machine"`
	Condition string `json:"condition"`
	Choice    string `json:"choice"`
}

// The ways to answer a point.
const (
	AnswerSound      = "sound"
	AnswerFault      = "fault"
	AnswerReading    = "reading"
	AnswerNotReached = "not_reachable"
)

// Value is a reading as it was typed and as it counts.
type Value struct {
	Typed    string        `json:"typed"`
	Unit     string        `json:"unit"` // the unit it was taken in
	Quantity unit.Quantity `json:"quantity"`
}

// Answered answers a point, or one reading of it (Item).
type Answered struct {
	Machine string `json:"machine"`
	Check   string `json:"check"`
	Item    string `json:"item,omitempty"`
	Answer  string `json:"answer"`
	Fault   string `json:"fault,omitempty"`
	Value   *Value `json:"value,omitempty"`
	Note    string `json:"note,omitempty"`
	// Again: measured once more, the first value is kept beside it.
	Again bool `json:"again,omitempty"`
}

// PutRight says that a finding was put right on the spot and what the second
// look showed.
type PutRight struct {
	Machine string `json:"machine"`
	Check   string `json:"check"`
	Item    string `json:"item,omitempty"`
	Finding string `json:"finding"` // record id of the finding
	// Now is what was found after the act.
	Now Answered `json:"now"`
}

// Noted adds a note, a picture or both to a finding.
type Noted struct {
	Machine string `json:"machine"`
	Check   string `json:"check"`
	Item    string `json:"item,omitempty"`
	Finding string `json:"finding"` // record id of the finding
	Note    string `json:"note,omitempty"`
	Photo   string `json:"photo,omitempty"` // hash of the picture
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

// Released lets the machine go out.
type Released struct {
	Verdict Verdict `json:"verdict"`
	// Second is who released it for an operator who may not do so alone, by
	// their own PIN; a person's id.
	Second string `json:"second,omitempty"`
}

// The ways an outing ends.
const (
	EndHome    = "home"     // back in its bay
	EndGivenUp = "given_up" // never went out
)

// Ended closes the outing.
type Ended struct {
	How string `json:"how"`
	// Hours is the hour meter at the end, nil if it was not read.
	Hours *float64 `json:"hours,omitempty"`
}

// Kind implements Event.
func (Started) Kind() string { return "outing_started" }

// Kind implements Event.
func (Readied) Kind() string { return "readied" }

// Kind implements Event.
func (Set) Kind() string { return "setting_changed" }

// Kind implements Event.
func (Rerouted) Kind() string { return "rerouted" }

// Kind implements Event.
func (Conditioned) Kind() string { return "condition_told" }

// Kind implements Event.
func (Answered) Kind() string { return "point_answered" }

// Kind implements Event.
func (Noted) Kind() string { return "finding_noted" }

// Kind implements Event.
func (PutRight) Kind() string { return "put_right" }

// Kind implements Event.
func (Cranked) Kind() string { return "cranked" }

// Kind implements Event.
func (Tested) Kind() string { return "tested" }

// Kind implements Event.
func (Released) Kind() string { return "released" }

// Kind implements Event.
func (Ended) Kind() string { return "outing_ended" }

// Decode reads an event back from its kind and JSON body.
func Decode(kind string, body []byte) (Event, error) {
	decode := map[string]func() (Event, error){
		Started{}.Kind():       into[Started](body),
		Readied{}.Kind():       into[Readied](body),
		Set{}.Kind():           into[Set](body),
		Rerouted{}.Kind():      into[Rerouted](body),
		Conditioned{}.Kind():   into[Conditioned](body),
		Answered{}.Kind():      into[Answered](body),
		Noted{}.Kind():         into[Noted](body),
		PutRight{}.Kind():      into[PutRight](body),
		Cranked{}.Kind():       into[Cranked](body),
		Tested{}.Kind():        into[Tested](body),
		Released{}.Kind():      into[Released](body),
		BreakBegun{}.Kind():    into[BreakBegun](body),
		BreakAnswered{}.Kind(): into[BreakAnswered](body),
		Ended{}.Kind():         into[Ended](body),
	}[kind]
	if decode == nil {
		return nil, fmt.Errorf("outing: no event of kind %q", kind)
	}
	return decode()
}

func into[E Event](body []byte) func() (Event, error) {
	return func() (Event, error) {
		var e E
		err := json.Unmarshal(body, &e)
		return e, err
	}
}
