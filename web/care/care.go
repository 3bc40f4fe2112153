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
}

// machineDue is one machine, what is most pressing first.
type machineDue struct {
	ID, Name, Bay string
	Keeps         bool
	Points        []page.DueLine
}

var duePages = page.New[duePage](templates, "due")

func showDue(v *page.Visit) {
	view, check := v.Site.Store.View(v.Context())
	var p duePage
	for _, m := range view.Machines() {
		due := yard.DueOn(view, m, v.Now)
		if len(due) == 0 {
			continue
		}
		one := machineDue{ID: m.ID, Name: m.Name, Bay: m.Bay, Points: v.DueLines(due)}
		one.Keeps = due[0].Keeps()
		if one.Keeps {
			p.Keeps++
		}
		p.Machines = append(p.Machines, one)
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	duePages.Show(v, http.StatusOK, v.T("due.title"), p)
}
