package outings

// Something happened: one tap from anywhere in an outing, in big words, the first act
// first. It is read here; what came of it is told as always.

import (
	"net/http"

	"vespers/core/outing"
	"vespers/web/page"
)

type happenedPage struct {
	common
	Machines []machineEvents
}

// machineEvents are what can happen to one machine of the outing.
type machineEvents struct {
	Machine, Name string
	Events        []page.RunView
}

var happenedPages = page.New[happenedPage](templates, "happened")

func showHappened(v *page.Visit) {
	c, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	for i := range c.Steps { // it is none of the stages
		if c.Steps[i].State == "here" {
			c.Steps[i].State = "ahead"
		}
	}
	p := happenedPage{common: c}
	known := map[string]bool{}
	for _, u := range append([]*outing.UnitState{c.o.Main()}, c.o.Units...) {
		m := machineEvents{Machine: u.Machine, Name: u.Name}
		for _, e := range v.Events(u.Sheet) {
			if !known[e.ID] { // a carrier's fire is the implement's too
				known[e.ID] = true
				m.Events = append(m.Events, e)
			}
		}
		if len(m.Events) > 0 {
			p.Machines = append(p.Machines, m)
		}
	}
	happenedPages.Show(v, http.StatusOK, v.T("happened.title"), p)
}
