package bench

// How a machine is fuelled, started, worked, stopped and put away, step by step, and
// what is done when something happens: to be read, beside the machine.

import (
	"net/http"

	"vespers/web/page"
)

type stepsPage struct {
	Machine, Name, Type string
	Times               []string
	Procedures, Events  []page.RunView
	Signals             []page.SignalView
}

var stepsPages = page.New[stepsPage](templates, "steps")

func showSteps(v *page.Visit) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	stepsPages.Show(v, http.StatusOK, v.T("steps.title", "name", m.Name), stepsPage{Machine: m.ID, Name: m.Name, Type: v.Text(sheet.Name),
		Times: v.Times(sheet), Procedures: v.Procedures(sheet), Events: v.Events(sheet), Signals: v.Signals(sheet)})
}
