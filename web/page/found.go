package page

// A defect as lists of them show it.

import (
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/yard"
	"vespers/tell"
)

// Found is a defect in the reader's words.
type Found struct {
	ID, What, Grade string
	Until           string // when it turns into a Halt, where it does
	By              string // who found it and when, where the list says so
	Reasons, Limits []string
}

// Defect names a defect: the point and the fault, or the test that failed and what
// it was about.
func (v *Visit) Defect(sheet *machine.Sheet, d yard.Defect) string {
	words := tell.Defect(v.Voice, sheet, d)
	if d.Test < 0 {
		return words
	}
	o, err := v.Site.Store.Outing(v.Context(), d.Outing)
	if err != nil {
		v.Site.Log.Error("the test of a defect", "defect", d.ID, "error", err)
		return words
	}
	if failed := tell.FailedTest(v.Voice, o, d.ID); failed != "" {
		words += ": " + tell.Lower(failed)
	}
	return words
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
