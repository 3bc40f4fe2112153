package page

// A defect as lists of them show it.

import (
	"vespers/core/defect"
	"vespers/tell"
)

// Found is a defect in the reader's words.
type Found struct {
	ID, What, Grade string
	Until           string // when it turns into a Halt, where it does
	By              string // who found it and when, where the list says so
	Reasons, Limits []string
}

// Found tells a finding as it stands now, on a machine with so many hours.
func (v *Visit) Found(id, what string, f defect.Finding, hours float64) Found {
	found := Found{ID: id, What: what, Grade: string(f.GradeAt(hours, v.Now))}
	found.Reasons, found.Limits = tell.Reasons(v.Voice, f)
	if f.Grade == defect.Mend {
		found.Until = tell.Deadline(v.Voice, f.Deadline)
	}
	return found
}
