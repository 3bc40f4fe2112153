package grade

// A case as it is written.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
)

// Case is one machine at one moment. Only At must be there.
type Case struct {
	// Sheet is a file, relative to the case's own; who reads the case finds it.
	Sheet string     `json:"sheet"`
	At    *time.Time `json:"at"`
	// Begun is when the outing began.
	Begun *time.Time `json:"begun,omitempty"`
	// Hours is the meter now, the carrier's for an implement; nil where none runs.
	Hours        *float64 `json:"hours,omitempty"`
	PlannedHours *float64 `json:"planned_hours,omitempty"`
	Who          string   `json:"who,omitempty"` // who walks
	// Conditions of the day that limits depend on.
	Conditions map[string]float64 `json:"conditions,omitempty"`
	House      *House             `json:"house,omitempty"`
	Findings   []Finding          `json:"findings,omitempty"`
	Carried    []Carried          `json:"carried,omitempty"`
	// History is what came before, in the order it happened.
	History []Finding `json:"history,omitempty"`
	Tests   []Test    `json:"tests,omitempty"`
	Uses    []string  `json:"uses,omitempty"`
}

// House are the yard's own rules; what is left out is as usual.
type House struct {
	MendDays    *int  `json:"mend_days,omitempty"`
	AgainWithin *int  `json:"again_within,omitempty"`
	LeakIsHalt  *bool `json:"leak_is_halt,omitempty"`
}

// Finding is one answer at a point: a fault, a reading or sound; in the history also
// work done there.
type Finding struct {
	Check string `json:"check"`
	// Of is the reading, where the point has several.
	Of          string     `json:"of,omitempty"`
	Fault       string     `json:"fault,omitempty"`
	Reading     *float64   `json:"reading,omitempty"`
	Unit        string     `json:"unit,omitempty"` // left out, the sheet's
	Uncertainty *float64   `json:"uncertainty,omitempty"`
	Sound       bool       `json:"sound,omitempty"`
	At          *time.Time `json:"at,omitempty"`
	Hours       *float64   `json:"hours,omitempty"`
	// Again is the one re-measure, and Slip a second person's word of which was one.
	Again     *float64   `json:"again,omitempty"`
	Slip      *Slip      `json:"slip,omitempty"`
	PutRight  bool       `json:"put_right,omitempty"`
	TakenBack *TakenBack `json:"taken_back,omitempty"`
	Repaired  bool       `json:"repaired,omitempty"`
	Replaced  bool       `json:"replaced,omitempty"`
	// Ago is how many outings were begun since, this one counted; left out, long ago.
	Ago *int `json:"ago,omitempty"`
}

// Slip says which of two readings was one.
type Slip struct {
	Which string `json:"which"` // first or second
	Who   string `json:"who"`
}

// TakenBack says that a fault was a mistap.
type TakenBack struct {
	Who    string `json:"who"`
	Why    string `json:"why"`
	Second string `json:"second,omitempty"`
}

// Carried is a defect that the machine came with.
type Carried struct {
	Check        string                `json:"check"`
	Of           string                `json:"of,omitempty"`
	Fault        string                `json:"fault,omitempty"`
	Grade        defect.Grade          `json:"grade"`
	Restrictions []machine.Restriction `json:"restrictions,omitempty"`
	Deadline     defect.Deadline       `json:"deadline"`
	// Hours and At are the meter and the time when it was found.
	Hours *float64   `json:"hours,omitempty"`
	At    *time.Time `json:"at,omitempty"`
}

// Test is what a test of the round came to: passed, failed or void.
type Test struct {
	ID      string `json:"id"`
	Outcome string `json:"outcome"`
}

// The outcomes of a test.
const (
	Passed = "passed"
	Failed = "failed"
	Void   = "void"
)
