package outings

// What the outing is planned for, on its pages.

import (
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/web/page"
)

// planned is what the machines of an outing are meant for, and what of it they are not
// for.
type planned struct {
	Said    string
	Ask     page.PlanView
	May     bool // whoever reads may change it
	Jobs    []page.JobView
	Instead []insteadLine
	Form    string
}

// insteadLine is another machine that may do what was planned.
type insteadLine struct{ ID, Words string }

// plannedOf tells what an outing is planned for, with the jobs of a verdict that are
// refused.
func plannedOf(v *page.Visit, o *outing.Outing, refused []outing.RefusedUse) planned {
	p := planned{Said: v.Planned(o.Plan), Ask: v.PlanView(o.Main().Sheet, o.Plan), Jobs: v.Jobs(refused), Form: page.NewID(),
		May: o.Status != outing.Closed && o.May(*v.Person, operator.Work, v.Now)}
	if len(p.Jobs) == 0 || o.Status == outing.Closed {
		return p
	}
	view, _ := v.Site.Store.View(v.Context())
	m, ok := view.Machine(o.Main().Machine)
	if !ok {
		return p
	}
	for _, s := range yard.Substitutes(view, m, *o.Plan, v.Now) {
		words := v.T("plan.stands_in", "machine", s.Name, "bay", s.Bay)
		if s.Out {
			words = v.T("plan.is_out", "machine", s.Name, "who", v.Name(s.Who))
		}
		p.Instead = append(p.Instead, insteadLine{s.ID, words})
	}
	return p
}

// plan takes what the machines are meant for from now on.
func plan(v *page.Visit) { say(v, v.PlanTyped()) }
