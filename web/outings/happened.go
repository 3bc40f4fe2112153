package outings

// Something happened: one tap from anywhere in an outing, in big words, the first act
// first. It is read at one tap, without the server if need be; a second tap puts it on
// record, and leads through its steps.

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
	c.beside("")
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
