// Package care is what is due on the machines between the days they go out: for
// technicians and trained people, who look at what operators do not.
package care

import (
	"embed"
	"net/http"

	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{page.Get("/due", operator.Look, showDue)}
}

// duePage lists the machines on which something is due.
type duePage struct {
	Machines []machineDue
	Keeps    int // machines that are kept in by what is overdue
	More     int // machines that are not shown
}

// shown is how many machines a page of what is due has at most; those that are
// kept in come first.
const shown = 60

// machineDue is one machine, what is most pressing first.
type machineDue struct {
	ID, Name, Bay string
	Points        []page.DueLine
}

var duePages = page.New[duePage](templates, "due")

func showDue(v *page.Visit) {
	view, check := v.Site.Store.View(v.Context())
	var p duePage
	for i, due := range yard.DueAll(view, v.Now) {
		m := due[0].Machine
		if due[0].Keeps() {
			p.Keeps++
		}
		if i >= shown {
			p.More++
			continue
		}
		one := machineDue{ID: m.ID, Name: m.Name, Bay: m.Bay, Points: v.DueLines(due)}
		p.Machines = append(p.Machines, one)
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	duePages.Show(v, http.StatusOK, v.T("due.title"), p)
}
