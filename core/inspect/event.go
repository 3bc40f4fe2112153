package inspect

// What is recorded of a look: answers to points, what was put right, notes,
// settings changed and conditions of the day.

import (
	"time"

	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"

	"vespers/core/machine"
)

var _ = record.Register(Set{}, Conditioned{}, Answered{}, PutRight{}, Noted{})

// The ways to answer a point.
const (
	Sound      = "sound"
	Fault      = "fault"
	Read       = "reading"
	NotReached = "not_reachable"
)

// Value is a reading as it was typed and as it counts.
type Value struct {
	Typed    string        `json:"typed"`
	Unit     string        `json:"unit"` // the unit it was taken in
	Quantity unit.Quantity `json:"quantity"`
}

// Measure is the value with the unit that its sheet gives the reading in.
func (v *Value) Measure(r *machine.Reading) text.Measure {
	return text.Measure{Quantity: v.Quantity, Unit: r.Unit}
}

// Before is a reading of an earlier outing, shown beside the keypad and never
// taken over.
type Before struct {
	Check string    `json:"check"`
	Item  string    `json:"item"`
	Value Value     `json:"value"`
	At    time.Time `json:"at"`
}

// Set says that a setting was changed.
type Set struct {
	Machine string `json:"machine"`
	Setting string `json:"setting"`
	To      string `json:"to"`
}

// Conditioned says how a condition of the day is that limits depend on.
type Conditioned struct {
	Machine   string `json:"machine"`
	Condition string `json:"condition"`
	Choice    string `json:"choice"`
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
	// Why a fault that was found is taken back, and Second who has seen that it is
	// none, or that the first of two readings was a slip; a person's id.
	Why    string `json:"why,omitempty"`
	Second string `json:"second,omitempty"`
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

// Kind implements record.Event.
func (Set) Kind() string { return "setting_changed" }

// Kind implements record.Event.
func (Conditioned) Kind() string { return "condition_told" }

// Kind implements record.Event.
func (Answered) Kind() string { return "point_answered" }

// Kind implements record.Event.
func (PutRight) Kind() string { return "put_right" }

// Kind implements record.Event.
func (Noted) Kind() string { return "finding_noted" }
