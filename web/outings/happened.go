package outings

// Something happened: one tap from anywhere in an outing, in big words, the first act
// first. It is read at one tap, without the server if need be; a second tap puts it on
// record, and leads through its steps.

import (
	"net/http"

	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/web/page"
)

type happenedPage struct {
	common
	Machines  []machineEvents
	Emergency yard.Emergency
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
	p := happenedPage{common: c, Machines: events(v, c.o), Emergency: v.Yard.Emergency}
	happenedPages.Show(v, http.StatusOK, v.T("happened.title"), p)
}

// events are what can happen to the machines of an outing, each once: a carrier's fire
// is the implement's too.
func events(v *page.Visit, o *outing.Outing) (out []machineEvents) {
	known := map[string]bool{}
	for _, u := range page.MainFirst(o) {
		m := machineEvents{Machine: u.Machine, Name: u.Name}
		for _, e := range v.Events(u.Sheet) {
			if !known[e.ID] {
				known[e.ID] = true
				m.Events = append(m.Events, e)
			}
		}
		if len(m.Events) > 0 {
			out = append(out, m)
		}
	}
	return out
}
