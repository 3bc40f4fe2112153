// Package ground is the site of the yard: where each machine may go and why not, what is
// measured and found on it, how it is drawn, and who takes what where in the morning.
package ground

import (
	"embed"
	"errors"
	"net/http"

	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	walked, taken := page.Post("/ground/zones/:zone/walk", operator.Survey, walk), page.Post("/ground/import", operator.Site, take)
	walked.Upload, taken.Upload = true, true
	return []page.Route{walked, taken,
		page.Get("/ground", operator.Look, showDesk),
		page.Get("/ground/zones/:zone", operator.Look, showZone),
		page.Post("/ground/zones/:zone/measure", operator.Survey, measure),
		page.Post("/ground/zones/:zone/try", operator.Survey, try),
		page.Post("/ground/zones/:zone/reading/drop", operator.Site, dropReading),
		page.Get("/ground/draw", operator.Site, showDrawing),
		page.Post("/ground/draw", operator.Site, draw),
		page.Post("/ground/drop", operator.Site, drop),
		page.Get("/ground/site.geojson", operator.Look, export),
		page.Get("/outings/:outing/load", operator.Look, showLoad),
		page.Post("/outings/:outing/load", operator.Work, checkLoad),
		page.Get("/ground/morning", operator.Look, showMorning),
		page.Post("/ground/morning/look", operator.Muster, lookAtMorning),
		page.Post("/ground/morning", operator.Muster, publishMorning),
	}
}

// refusedWords are why something was refused; ok is false where it failed otherwise. An
// answer that was given before is not refused for the page.
func refusedWords(v *page.Visit, err error) (words string, ok bool) {
	var refused *record.Refused
	if errors.As(err, &refused) && refused.Earlier == nil {
		return v.Reason(refused.Reason), true
	}
	return "", false
}

// said says something and goes on, or shows what was refused on the page that it came from.
func said(v *page.Visit, c yard.Command, next string, again func(refused string)) {
	_, err := v.Say(c)
	if err == nil {
		v.Saved(next)
		return
	}
	words, refused := refusedWords(v, err)
	if !refused || v.Scripted() {
		v.Fail(err)
		return
	}
	again(words)
}

// export is the site as a file.
func export(v *page.Visit) {
	view, check := v.Site.Store.View(v.Context())
	file := yard.SiteOf(view)
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	v.SendFile("application/geo+json", "site.geojson", file.Bytes())
}

// zone is the zone of the address.
func zone(v *page.Visit) string { return page.ZoneID(v.Param("zone")) }

// notThere answers for a zone that the site does not have.
func notThere(v *page.Visit) { v.Problem(http.StatusNotFound, v.T("ground.no_zone"), "") }
