package outing

// The terms of a Mend: until when a machine may go out with it, and what it is not for
// meanwhile, as a lead has set them.

import (
	"maps"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/record"
)

// TermsSet is a lead's word on a Mend: another deadline, other restrictions, and why.
type TermsSet struct {
	Defect       string                `json:"defect"`
	Deadline     defect.Deadline       `json:"deadline"`
	Restrictions []machine.Restriction `json:"restrictions,omitempty"`
	Why          string                `json:"why"`
	// Was is how it stood before.
	Was    defect.Deadline       `json:"was"`
	WasNot []machine.Restriction `json:"was_not,omitempty"`
}

// Kind implements record.Event.
func (TermsSet) Kind() string { return "terms_set" }

var _ = record.Register(TermsSet{})

// terms are those set while a machine is out with a Mend, and when.
type terms struct {
	TermsSet
	at time.Time
}

type termsStage struct{ quiet }

func (termsStage) decide(*Outing, Command, speech) ([]record.Event, bool, error) { return pass() }

func (termsStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	set, mine := e.(TermsSet)
	if mine {
		o.terms = maps.Clone(o.terms)
		if o.terms == nil {
			o.terms = map[string]terms{}
		}
		o.terms[set.Defect] = terms{set, m.At}
	}
	return mine
}

// underTerms is a finding as a lead has set its terms: a Mend that was found before. What
// is found later adds to it.
func (o *Outing) underTerms(id string, f defect.Finding, found time.Time) defect.Finding {
	t, set := o.terms[id]
	if !set || f.Grade != defect.Mend || found.After(t.at) {
		return f
	}
	f.Deadline, f.Restrictions = t.Deadline, t.Restrictions
	return f
}
