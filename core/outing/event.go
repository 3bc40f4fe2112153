package outing

// What is recorded of an outing, besides what its looks and rounds record.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/walk"
)

var _ = record.Register(Started{}, Readied{}, TurnBegun{}, Rerouted{}, Metered{}, Released{}, BreakBegun{}, BreakAnswered{}, Ended{})

// Unit is one machine of an outing with everything it began with.
type Unit struct {
	Machine string `json:"machine"`
	Name    string `json:"name"`
	Sheet   string `json:"sheet"` // key: hash of the resolved sheet, and ways of its options
	// Hours is the hour meter when the outing began, in hours.
	Hours float64 `json:"hours"`
	// HoursAt is when it was read so, nil where that is not known.
	HoursAt *time.Time     `json:"hours_at,omitempty"`
	Route   []walk.Stop    `json:"route"`
	Round   interlock.Plan `json:"round"`
	// Proved is when a round proved it earlier today, where its house asks for one a
	// day: it has none in this outing.
	Proved *time.Time `json:"proved,omitempty"`
	// Rules is the edition of the rules of the round; 0 is the first.
	Rules int `json:"rules,omitempty"`
	// Joined is, on a carrier tested together with what it carries, the
	// section of both; With is, on the implement, that carrier.
	Joined  *machine.Interlock `json:"joined,omitempty"`
	With    string             `json:"with,omitempty"`
	Carried []Carried          `json:"carried,omitempty"`
	// Due are the points that are due and for whoever took it out, with any way of
	// an option that the operator tells.
	Due []string `json:"due,omitempty"`
	// Overdue are the points that must have been looked at before the machine is
	// released, whether the route asks for them or somebody else has to look.
	Overdue []string `json:"overdue,omitempty"`
	// Spots are the points that are measured this time instead of ticked.
	Spots []string `json:"spots,omitempty"`
	// Before is what was read at its last outing.
	Before []inspect.Before `json:"before,omitempty"`
	// History is what was found on it and done to it in its last outings, Series what
	// was read since each part was new.
	History []defect.Past   `json:"history,omitempty"`
	Series  []defect.Series `json:"series,omitempty"`
	// Worked is when the machine last worked, nil if that is long ago or not
	// known. What must be cold to be true waits until it has cooled.
	Worked *time.Time `json:"worked,omitempty"`
	// Cool: it is known not to have worked for as long as it takes to cool.
	Cool bool `json:"cool,omitempty"`
	// Stood is how it was left when it was last out, by fact.
	Stood machine.Facts `json:"stood,omitempty"`
	// Practice is what the house chose where good practitioners differ, by question.
	Practice procedure.House `json:"practice,omitempty"`
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
	// Order is the edition of the order of a day; 0 is the first, in which what is
	// looked at with the key on came with the engine running.
	Order int `json:"order,omitempty"`
	// Plan is what the machines are meant for, nil where nobody said.
	Plan *Meant `json:"plan,omitempty"`
	// Repair is the work that it proves, nil for one that goes out.
	Repair *Repair `json:"repair,omitempty"`
	// Paper is the paper that it is copied from, nil for one that is not.
	Paper *Paper `json:"paper,omitempty"`
	// Until is the end of the day in which it began; not released by then, it is
	// void.
	Until *time.Time `json:"until,omitempty"`
}

// order is the edition of the order of a day that an outing begins with now. From the
// second on a machine that was out is shut down before it is home; from the third on the
// engine of a round is started by the machine's start procedure.
const order = 3

// The first edition in which a machine is shut down before it is home, and in which its
// engine is started by its procedure in the round too.
const (
	orderShutDown = 2
	orderStart    = 3
)

// Readied answers "Ready?".
type Readied struct {
	operator.Readiness
	// Asked lists the protection that was shown, by id, in this very question.
	Asked []string `json:"asked,omitempty"`
	// Refitted are the machines on which an option is another way than it was
	// thought to be.
	Refitted []Refitted `json:"refitted,omitempty"`
	// Due is when somebody looks for the operator, where they said so.
	Due *time.Time `json:"due,omitempty"`
	// Unwatched: it stood where others could reach it since the last operator had it.
	// Its round proves nothing any more.
	Unwatched bool `json:"unwatched,omitempty"`
}

// Refitted is a machine of the outing with options as its operator told them,
// and what follows from that.
type Refitted struct {
	Machine string         `json:"machine"`
	Sheet   string         `json:"sheet"` // key: hash and ways of its options
	Route   []walk.Stop    `json:"route"`
	Round   interlock.Plan `json:"round"`
	// Joined is, on a carrier tested together with what it carries, the section
	// of both.
	Joined *machine.Interlock `json:"joined,omitempty"`
}

// TurnBegun gives the outing to its next operator, who took it over, or to whom
// it was handed by whoever the record is by.
type TurnBegun struct {
	Operator string `json:"operator"`
	// Routes are the ways round machines of which they are asked for other points
	// than whoever had the outing.
	Routes map[string][]walk.Stop `json:"routes,omitempty"`
}

// Rerouted plans what is left of a walk anew, from where the operator stands.
type Rerouted struct {
	Machine string      `json:"machine"`
	From    string      `json:"from"` // station or place
	Route   []walk.Stop `json:"route"`
}

// Metered says how the hour meter of a machine of the outing stands: as who has it out
// reads it, or as a lead has put right how it stood when it began. In hours.
type Metered struct {
	Machine string  `json:"machine"`
	Hours   float64 `json:"hours"`
	// Read: it was read off while out.
	Read bool `json:"read,omitempty"`
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
	EndLeft    = "left"     // left on site, secured
)

// Ended closes the outing.
type Ended struct {
	How string `json:"how"`
	// Hours is the hour meter at the end, nil if it was not read.
	Hours *float64 `json:"hours,omitempty"`
	// Stood is how each machine was left, by machine and fact.
	Stood map[string]machine.Facts `json:"stood,omitempty"`
	// Left is where it stands and how, where it was left on site; by whose word is the
	// record's.
	Left *LeftOnSite `json:"left,omitempty"`
	// Worked is until when it worked, where a paper says so.
	Worked *time.Time `json:"worked,omitempty"`
}

// Kind implements record.Event.
func (Started) Kind() string { return "outing_started" }

// Kind implements record.Event.
func (Readied) Kind() string { return "readied" }

// Kind implements record.Event.
func (TurnBegun) Kind() string { return "turn_begun" }

// Kind implements record.Event.
func (Rerouted) Kind() string { return "rerouted" }

// Kind implements record.Event.
func (Metered) Kind() string { return "metered" }

// Kind implements record.Event.
func (Released) Kind() string { return "released" }

// Kind implements record.Event.
func (Ended) Kind() string { return "outing_ended" }
