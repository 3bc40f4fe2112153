package bench

// What is moved on a machine: where it is, what each movement does, and what it
// does when it is let go.

import (
	"net/http"

	"vespers/web/page"
)

type controlsPage struct {
	Machine, Name, Type string
	Interlocked         bool
	Figure              page.Figure
	Controls            []page.ControlView
}

var controlsPages = page.New[controlsPage](templates, "controls")

func showControls(v *page.Visit) {
	m, sheet, err := v.Site.Store.Described(v.Context(), v.Param("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	controlsPages.Show(v, http.StatusOK, v.T("control.title", "name", m.Name), controlsPage{Machine: m.ID, Name: m.Name, Type: v.Text(sheet.Name),
		Interlocked: sheet.Interlock.None == nil, Figure: v.Figure(sheet), Controls: v.Controls(sheet, nil)})
}
