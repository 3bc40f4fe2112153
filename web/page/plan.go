package page

// What machines are meant for today: the form that asks, and what of it is refused.

import (
	"slices"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/tell"
)

// PlanView is the question what a machine is meant for, with the answer so far.
type PlanView struct {
	Uses         []PlanUse
	Steep        bool // a slope is among them
	Slope, Hours string
	Said         string // the answer in words, "" for none
	Before       bool   // the answer is that of last time
}

// PlanUse is a use that may be planned.
type PlanUse struct {
	ID, Name string
	On       bool
}

// JobView is a planned use that is refused.
type JobView struct {
	Use string
	Why []string
}

// PlanView asks about the uses of a sheet. What was typed stays.
func (v *Visit) PlanView(sheet *machine.Sheet, m *outing.Meant) PlanView {
	var p PlanView
	if m == nil {
		m = &outing.Meant{}
	}
	on := map[string]bool{}
	for _, use := range m.Uses {
		job, _ := machine.ParseJob(use)
		on[job.Use] = true
		if job.Degrees != nil {
			p.Slope = v.Number(*job.Degrees, -1)
		}
	}
	if m.Hours > 0 {
		p.Hours = v.Number(m.Hours, -1)
	}
	p.Said = v.Planned(m)
	if v.Posted() && v.Field("asked") == "plan" {
		on, p.Slope, p.Hours = map[string]bool{}, v.Field("slope"), v.Field("planned")
		for _, use := range v.Fields("use") {
			on[use] = true
		}
	}
	for _, use := range machine.Uses() {
		if _, ok := sheet.Use(use); ok || on[use] {
			p.Uses = append(p.Uses, PlanUse{use, v.T("use." + use), on[use]})
			p.Steep = p.Steep || machine.Steep(use)
		}
	}
	return p
}

// PlanTyped is what the form of a PlanView says.
func (v *Visit) PlanTyped() outing.Intend {
	uses := slices.DeleteFunc(v.Fields("use"), func(s string) bool { return s == "" })
	return outing.Intend{Uses: uses, Slope: v.Field("slope"), Hours: v.Field("planned")}
}

// Planned says a plan in words, "" for none.
func (v *Visit) Planned(m *outing.Meant) string {
	if m == nil {
		return ""
	}
	words := ""
	for _, use := range m.Uses {
		job, ok := machine.ParseJob(use)
		if !ok {
			continue
		}
		if words != "" {
			words += ", "
		}
		words += tell.Job(v.Voice, job)
	}
	if m.Hours > 0 {
		if words != "" {
			words += " · "
		}
		words += v.T("plan.hours", "hours", v.Number(m.Hours, -1))
	}
	return words
}

// Jobs tells planned uses that are refused.
func (v *Visit) Jobs(refused []outing.RefusedUse) (out []JobView) {
	for _, r := range refused {
		j := JobView{Use: v.T("use." + r.Use)}
		if job, ok := machine.ParseJob(r.Use); ok && r.Use != defect.UseHours {
			j.Use = tell.Job(v.Voice, job)
		}
		for _, b := range r.Because {
			if words := v.Reason(b); !slices.Contains(j.Why, words) {
				j.Why = append(j.Why, words)
			}
		}
		out = append(out, j)
	}
	return out
}
