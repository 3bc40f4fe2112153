package store

import (
	"encoding/json"
	"fmt"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
)

// YardNamed sets the yard up, or changes it.
type YardNamed struct {
	Name     string       `json:"name"`
	Timezone string       `json:"timezone"`
	House    defect.House `json:"house"`
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

// PINSet says that a person got a new PIN; the PIN is not in the records.
type PINSet struct {
	ID string `json:"id"`
}

// PersonLeft says that a person no longer works here.
type PersonLeft struct {
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

// DefectClosed is a technician's return to service.
type DefectClosed struct {
	Defect string `json:"defect"`
	Cause  string `json:"cause"`
	Work   string `json:"work"`
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

// Kind implements body.
func (FaultTried) Kind() string { return "fault_tried" }

// Kind implements body.
func (TrialsDropped) Kind() string { return "trials_dropped" }

// Kind implements body.
func (YardNamed) Kind() string { return "yard_named" }

// Kind implements body.
func (PersonAdded) Kind() string { return "person_added" }

// Kind implements body.
func (PersonSet) Kind() string { return "person_set" }

// Kind implements body.
func (PINSet) Kind() string { return "pin_set" }

// Kind implements body.
func (PersonLeft) Kind() string { return "person_left" }

// Kind implements body.
func (ManualRecorded) Kind() string { return "manual_recorded" }

// Kind implements body.
func (QualificationRecorded) Kind() string { return "qualification_recorded" }

// Kind implements body.
func (BornRecorded) Kind() string { return "born_recorded" }

// Kind implements body.
func (MachineAdded) Kind() string { return "machine_added" }

// Kind implements body.
func (SheetAdopted) Kind() string { return "sheet_adopted" }

// Kind implements body.
func (DefectClosed) Kind() string { return "defect_closed" }

// decode reads any record's body back.
func decode(kind string, data []byte) (body, error) {
	read := map[string]func() (body, error){
		"yard_named":             into[YardNamed](data),
		"person_added":           into[PersonAdded](data),
		"person_set":             into[PersonSet](data),
		"pin_set":                into[PINSet](data),
		"person_left":            into[PersonLeft](data),
		"manual_recorded":        into[ManualRecorded](data),
		"qualification_recorded": into[QualificationRecorded](data),
		"born_recorded":          into[BornRecorded](data),
		"machine_added":          into[MachineAdded](data),
		"sheet_adopted":          into[SheetAdopted](data),
		"defect_closed":          into[DefectClosed](data),
		"fault_tried":            into[FaultTried](data),
		"trials_dropped":         into[TrialsDropped](data),
	}[kind]
	if read != nil {
		return read()
	}
	e, err := outing.Decode(kind, data)
	if err != nil {
		return nil, fmt.Errorf("record of kind %q: %w", kind, err)
	}
	return e, nil
}

func into[B body](data []byte) func() (body, error) {
	return func() (body, error) {
		var b B
		err := json.Unmarshal(data, &b)
		return b, err
	}
}
