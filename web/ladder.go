package web

import (
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/draw"
)

// rungView is one permit of a ladder, as a page shows it.
type rungView struct {
	draw.Rung
	View    sceneView
	Watched bool
}

// rungs draws a section with the controls as given; marked are the controls
// that the page is about, watched the permit.
func (v *visit) rungs(section *machine.Interlock, at map[string]bool, marked map[string]bool, watched string) []rungView {
	var out []rungView
	for _, r := range draw.Ladder(*section, at, marked) {
		out = append(out, rungView{Rung: r, View: sceneView{Scene: r.Scene, Frame: &frame{visit: v}}, Watched: r.Permit == watched})
	}
	return out
}

// permit finds a permit of a section.
func permit(section *machine.Interlock, id string) machine.Permit {
	for _, p := range section.Permits {
		if p.ID == id {
			return p
		}
	}
	return machine.Permit{}
}

// testWords names a test: what must not happen, and what is done for it.
func (v *visit) testWords(section *machine.Interlock, logic *interlock.Logic, t interlock.Test) string {
	before := t.From
	if t.Kind == interlock.Refusal {
		before = logic.Positions(logic.Rest)
	}
	acts := ""
	for _, sw := range section.Switches {
		if before[sw.ID] == t.To[sw.ID] {
			continue
		}
		if acts != "" {
			acts += ", "
		}
		acts += lower(positionWords(v, sw, t.To[sw.ID]))
	}
	return v.T("test."+t.Kind, "what", v.Text(permit(section, t.Permit).Moves), "acts", acts)
}

// faultsWords names several faults.
func (v *visit) faultsWords(section *machine.Interlock, faults []string) []string {
	var out []string
	for _, f := range faults {
		out = append(out, faultWords(v, section, f))
	}
	return out
}

// failedTest names the test that a defect was found by; "" for a finding of the
// walk-around.
func (v *visit) failedTest(o *outing.Outing, defect string) string {
	u, test, ok := o.Test(defect)
	if !ok {
		return ""
	}
	section := u.Interlocks()
	logic, _ := interlock.Compile(*section)
	return v.testWords(section, logic, u.Round.Plan.Tests[test])
}
