package operator

// A person of the crew.

import (
	"time"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// Person is one of the crew, with what their record shows.
type Person struct {
	ID       string
	Name     string
	Role     Role
	Language text.Language
	Units    unit.System
	Theme    string // auto, daylight or lantern
	Keys     bool   // single-letter keys
	Manuals  []ManualRead
	Left     time.Time // zero while they work here

	Qualifications []Qualification
	Born           string // a date, 2006-01-02; "" if not known

	// StandsIn is until when a lead's duties are handed to the person; zero if
	// they are not.
	StandsIn time.Time
}

// Here reports whether the person works here: nobody who has left signs, is
// released or is anybody's company.
func (p Person) Here() bool { return p.ID != "" && p.Left.IsZero() }

// Leads reports whether the person has a lead's duties: a lead, or who stands in
// for one.
func (p Person) Leads(now time.Time) bool {
	return p.Here() && (p.Role == Lead || p.MayStandIn() && now.Before(p.StandsIn))
}

// MayStandIn reports whether a lead's duties may be handed to the person: who may
// release alone, and is no lead.
func (p Person) MayStandIn() bool { return p.Role.MayRelease() && p.Role != Lead }

// May reports whether the person may do something: by their role, or because they
// stand in for a lead.
func (p Person) May(a Act, w Whose, now time.Time) bool {
	return May(p.Role, a, w) || duties[a] && May(Lead, a, w) && p.Leads(now)
}

// Readiness is what the person's record shows.
func (p Person) Readiness() Readiness {
	r := Readiness{Role: p.Role, Manuals: p.Manuals, Qualifications: p.Qualifications}
	if born, err := time.Parse(time.DateOnly, p.Born); err == nil {
		r.Born = &born
	}
	return r
}

// MayWork reports whether the role may have an outing of its own.
func (r Role) MayWork() bool { return r != Visitor && r != "" }

// Unschooled is what the person's record lacks to start machines of these
// sheets: manual, age and practice. Who lacks it may look round and learn, but
// nothing gets started.
func (r Readiness) Unschooled(sheets []*machine.Sheet, now time.Time) []text.Reason {
	var out []text.Reason
	for _, sheet := range sheets {
		if reason, missing := r.manualMissing(sheet); missing {
			out = append(out, reason)
		}
		out = append(out, r.unqualified(sheet, now)...)
	}
	return out
}

// MayLookAt reports whether somebody may look at a point of a machine:
// technicians at every one, others at what is not for a technician, and at what
// is for trained people once they have read and practised.
func (p Person) MayLookAt(sheet *machine.Sheet, c *machine.Check, now time.Time) bool {
	switch c.WhoLooks() {
	case machine.ByTechnician:
		return p.Role == Technician
	case machine.ByTrained:
		return p.Role == Technician || p.Role != Trainee && len(p.Readiness().Unschooled([]*machine.Sheet{sheet}, now)) == 0
	}
	return true
}
