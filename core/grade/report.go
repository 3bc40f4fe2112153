package grade

// What a case comes to.

import (
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
)

// Report is what a case comes to.
type Report struct {
	Grade        defect.Grade
	Deadline     defect.Deadline
	Restrictions []machine.Restriction
	Refused      []Refused
	// NotReleased is empty exactly if the machine itself may go out.
	NotReleased []text.Reason
	Findings    []Graded
	// Uneven are paired readings that differ too much, one for each point.
	Uneven []Graded
	// Reasons are why the machine is graded so beyond its findings.
	Reasons []text.Reason
}

// Refused is a planned use that is refused.
type Refused struct {
	Use     string
	Because []text.Reason
}

// Graded is one answer with what it comes to.
type Graded struct {
	Check string
	defect.Finding
}
