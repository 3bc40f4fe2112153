// Package outside is the page of the devices beside the yard: how each is, and what is
// done by hand where it is not.
package outside

import (
	"embed"
	"net/http"

	"vespers/core/operator"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{page.Get("/outside", operator.Desk, show)}
}

type outsidePage struct {
	Devices []page.DeviceWords
	Waiting string // messages that were not taken yet
}

var pages = page.New[outsidePage](templates, "outside")

func show(v *page.Visit) {
	p := outsidePage{Devices: v.Devices()}
	if n := v.Site.Outside.Waiting(); n > 0 {
		p.Waiting = v.T("outside.waiting", "n", n)
	}
	pages.Show(v, http.StatusOK, v.T("outside.title"), p)
}
