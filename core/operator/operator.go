// Package operator says who may do what, and whether a person is ready for a
// machine: fit, protected, and familiar with its manual.
package operator

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// Role is what a person is in the yard.
type Role string

// The roles.
const (
	Operator   Role = "operator"
	Lead       Role = "lead"
	Technician Role = "technician"
	Trainee    Role = "trainee"
	Visitor    Role = "visitor"
)

// Roles lists them in the order they are offered.
func Roles() []Role { return []Role{Operator, Lead, Technician, Trainee, Visitor} }

// MayRelease reports whether the role may release a machine alone. For a
// trainee somebody else does, by PIN; a visitor takes none out.
func (r Role) MayRelease() bool { return r == Operator || r == Lead || r == Technician }

// ManualRead says that a person has read the manual of a sheet, which edition,
// when, and in which language.
type ManualRead struct {
	Sheet    string        `json:"sheet"`
	Edition  string        `json:"edition"`
	Language text.Language `json:"language"`
	On       time.Time     `json:"on"`
	// Record is where it was written down, for taking it back.
	Record string `json:"record,omitempty"`
}

// Readiness is what the person said and what their record shows at the start
// of an outing.
type Readiness struct {
	Role Role `json:"role"`
	// Fit: not ill, tired or impaired, no medicine that makes drowsy.
	Fit bool `json:"fit"`
	// Worn lists the protection confirmed, by id.
	Worn []string `json:"worn"`
	// Manuals, Born and Qualifications are copied from the person's record.
	Manuals        []ManualRead    `json:"manuals"`
	Born           *time.Time      `json:"born,omitempty"`
	Qualifications []Qualification `json:"qualifications,omitempty"`
	// Company is who is about, a person's id; CheckIn when somebody looks for
	// the operator, a time of day.
	Company string `json:"company,omitempty"`
	CheckIn string `json:"check_in,omitempty"`
	// ClearOf lists what the person said they do not wear, by id.
	ClearOf []string `json:"clear_of,omitempty"`
}

// The rules of readiness.
var (
	ruleNotFit     = text.NewRule("ready.not_fit")
	ruleProtection = text.NewRule("ready.protection", text.Slot{Name: "items", Kind: text.Subjects})
	ruleManual     = text.NewRule("ready.manual", text.Slot{Name: "machine", Kind: text.Words}, text.Slot{Name: "edition", Kind: text.Name})
	ruleOldManual  = text.NewRule("ready.old_manual", text.Slot{Name: "machine", Kind: text.Words}, text.Slot{Name: "edition", Kind: text.Name}, text.Slot{Name: "read", Kind: text.Name})
	ruleRole       = text.NewRule("ready.role", text.Slot{Name: "role", Kind: text.Term})
)

// Missing is what keeps the person from releasing the machines of these sheets
// at a time; empty when they are ready.
func (r Readiness) Missing(sheets []*machine.Sheet, now time.Time) []text.Reason {
	var out []text.Reason
	if !r.Fit {
		out = append(out, ruleNotFit.Says())
	}
	var bare []text.Text
	seen := map[string]bool{}
	for _, sheet := range sheets {
		for _, p := range sheet.Protection {
			if len(p.For) == 0 && !slices.Contains(r.Worn, p.ID) && !seen[p.ID] {
				seen[p.ID] = true
				bare = append(bare, p.Name)
			}
		}
	}
	if len(bare) > 0 {
		out = append(out, ruleProtection.Says(bare))
	}
	for _, sheet := range sheets {
		if reason, missing := r.manualMissing(sheet); missing {
			out = append(out, reason)
		}
	}
	for _, sheet := range sheets {
		out = append(out, r.unqualified(sheet, now)...)
		out = append(out, r.accompanied(sheet)...)
		out = append(out, r.conflicts(sheet)...)
	}
	if r.Role == Visitor {
		out = append(out, ruleRole.Says(text.Key("role."+string(r.Role))))
	}
	return out
}

func (r Readiness) manualMissing(sheet *machine.Sheet) (text.Reason, bool) {
	older := ""
	for _, m := range r.Manuals {
		if m.Sheet == sheet.ID && m.Edition == sheet.Edition {
			return text.Reason{}, false
		}
		if m.Sheet == sheet.ID {
			older = m.Edition
		}
	}
	if older != "" {
		return ruleOldManual.Says(sheet.Name, sheet.Edition, older), true
	}
	return ruleManual.Says(sheet.Name, sheet.Edition), true
}
