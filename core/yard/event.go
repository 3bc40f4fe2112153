package yard

// What is recorded of the yard, besides its outings.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

var _ = record.Register(Named{}, PersonAdded{}, PersonSet{}, PersonChanged{}, DutiesHanded{}, PINSet{}, PersonLeft{}, PersonReturned{},
	ManualRecorded{}, QualificationRecorded{}, BornRecorded{}, Withdrawn{},
	MachineAdded{}, SheetAdopted{}, MeterSet{}, DefectClosed{}, FaultTried{}, TrialsDropped{}, ClockWrong{})

// Named sets the yard up, or changes it.
type Named struct {
	Name     string       `json:"name"`
	Timezone string       `json:"timezone"`
	House    defect.House `json:"house"`
	// Practice is what was chosen where good practitioners differ.
	Practice  Practice  `json:"practice,omitempty"`
	Emergency Emergency `json:"emergency,omitzero"`
	Places    Places    `json:"places,omitzero"`
	Pictures  Pictures  `json:"pictures,omitzero"`
}

// PersonAdded adds a person.
type PersonAdded struct {
	ID       string        `json:"id"`
	Name     string        `json:"name"`
	Role     operator.Role `json:"role"`
	Language text.Language `json:"language"`
	Units    unit.System   `json:"units"`
}

// PersonSet changes a person's own settings.
type PersonSet struct {
	ID       string        `json:"id"`
	Language text.Language `json:"language"`
	Units    unit.System   `json:"units"`
	Theme    string        `json:"theme"` // auto, daylight or lantern
	Keys     bool          `json:"keys"`  // single-letter keys
}

// PersonChanged puts right what a lead wrote down of a person.
type PersonChanged struct {
	ID       string        `json:"id"`
	Name     string        `json:"name"`
	Role     operator.Role `json:"role"`
	Language text.Language `json:"language"`
}

// DutiesHanded hands a lead's duties to a person until a moment, from when it is
// said; the zero time ends it.
type DutiesHanded struct {
	ID    string    `json:"id"`
	Until time.Time `json:"until,omitzero"`
}

// PINSet says that a person got a new PIN; the PIN is not in the records.
type PINSet struct {
	ID string `json:"id"`
	// Lent: somebody else set it, so that it holds for one sign-in, at which
	// the person chooses their own.
	Lent bool `json:"lent,omitempty"`
	// Seal is a hash of what is kept of the PIN, so that somebody who changes
	// that is found out. It does not help to guess: what is kept is salted.
	Seal string `json:"seal,omitempty"`
}

// PersonLeft says that a person no longer works here.
type PersonLeft struct {
	ID string `json:"id"`
}

// PersonReturned says that a person works here again, or never left.
type PersonReturned struct {
	ID string `json:"id"`
}

// ManualRecorded says that a person has read a manual.
type ManualRecorded struct {
	Person string              `json:"person"`
	Manual operator.ManualRead `json:"manual"`
}

// QualificationRecorded says that a person has shown something.
type QualificationRecorded struct {
	Person        string                 `json:"person"`
	Qualification operator.Qualification `json:"qualification"`
}

// BornRecorded says when a person was born, for machines with a minimum age.
type BornRecorded struct {
	Person string `json:"person"`
	Born   string `json:"born"` // a date, 2006-01-02
}

// Withdrawn takes back what was written down of a person: a manual read or a
// qualification. Both records stay.
type Withdrawn struct {
	Person string `json:"person"`
	Record string `json:"record"` // id of the record that was wrong
	Why    string `json:"why"`
}

// MachineAdded puts a machine in a bay.
type MachineAdded struct {
	ID    string  `json:"id"`
	Name  string  `json:"name"`
	Bay   string  `json:"bay"`
	Sheet string  `json:"sheet"` // hash
	Hours float64 `json:"hours"`
	// Hirer is whose it is, where it is hired.
	Hirer string `json:"hirer,omitempty"`
}

// SheetAdopted gives a machine another edition of its sheet.
type SheetAdopted struct {
	Machine string `json:"machine"`
	Sheet   string `json:"sheet"` // hash
}

// MeterSet is a lead's word of what the hour meter of a machine says: one that
// was read wrongly, or a new one in the place of the old.
type MeterSet struct {
	Machine   string  `json:"machine"`
	Hours     float64 `json:"hours"`
	Was       float64 `json:"was"`
	Exchanged bool    `json:"exchanged,omitempty"`
	Reason    string  `json:"reason"`
	// Deadlines are the deadlines in hours that follow the meter, by defect.
	Deadlines map[string]float64 `json:"deadlines,omitempty"`
}

// DefectClosed is a technician's return to service.
type DefectClosed struct {
	Defect string `json:"defect"`
	Cause  string `json:"cause"`
	Work   string `json:"work"`
	Parts  string `json:"parts,omitempty"`
	// Touched are the points that hands were at, Replaced those of them that have a
	// new part: their wear begins anew.
	Touched  []string `json:"touched,omitempty"`
	Replaced []string `json:"replaced,omitempty"`
	// Renewed are the drives that stop with a new part: their stopping times begin anew.
	Renewed []string `json:"renewed,omitempty"`
	// Proof is the outing in which points and tests were repeated; "" before that was
	// asked.
	Proof string `json:"proof,omitempty"`
}

// FaultTried is one test of a technician who looks for the switch behind a
// failed round.
type FaultTried struct {
	Defect      string                `json:"defect"`
	Observation interlock.Observation `json:"observation"`
}

// TrialsDropped takes the trials of a defect back: the search begins again.
type TrialsDropped struct {
	Defect string `json:"defect"`
}

// ClockWrong ends a time in which the clock of the machine that keeps the
// records was wrong: what was dated in it tells nothing about how long things
// took. From and To are times of records.
type ClockWrong struct {
	From   time.Time `json:"from"`
	To     time.Time `json:"to"`
	Reason string    `json:"reason"`
}

// Kind implements record.Event.
func (Named) Kind() string { return "yard_named" }

// Kind implements record.Event.
func (PersonAdded) Kind() string { return "person_added" }

// Kind implements record.Event.
func (PersonSet) Kind() string { return "person_set" }

// Kind implements record.Event.
func (PersonChanged) Kind() string { return "person_changed" }

// Kind implements record.Event.
func (DutiesHanded) Kind() string { return "duties_handed" }

// Kind implements record.Event.
func (PINSet) Kind() string { return "pin_set" }

// Kind implements record.Event.
func (PersonLeft) Kind() string { return "person_left" }

// Kind implements record.Event.
func (PersonReturned) Kind() string { return "person_returned" }

// Kind implements record.Event.
func (ManualRecorded) Kind() string { return "manual_recorded" }

// Kind implements record.Event.
func (QualificationRecorded) Kind() string { return "qualification_recorded" }

// Kind implements record.Event.
func (BornRecorded) Kind() string { return "born_recorded" }

// Kind implements record.Event.
func (Withdrawn) Kind() string { return "withdrawn" }

// Kind implements record.Event.
func (MachineAdded) Kind() string { return "machine_added" }

// Kind implements record.Event.
func (SheetAdopted) Kind() string { return "sheet_adopted" }

// Kind implements record.Event.
func (MeterSet) Kind() string { return "meter_set" }

// Kind implements record.Event.
func (DefectClosed) Kind() string { return "defect_closed" }

// Kind implements record.Event.
func (FaultTried) Kind() string { return "fault_tried" }

// Kind implements record.Event.
func (TrialsDropped) Kind() string { return "trials_dropped" }

// Kind implements record.Event.
func (ClockWrong) Kind() string { return "clock_wrong" }
