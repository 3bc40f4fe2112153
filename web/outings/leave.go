package outings

// Leaving machines on site: where, how secured, why, and who fetches them.

import (
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/web/page"
)

func leaveOnSite(v *page.Visit) {
	o, ok := v.SayIn(outing.Leave{Where: v.Field("where"), Secured: v.Field("secured"), Why: v.Field("why"), Fetches: v.Field("fetches")})
	if ok {
		v.Saved(next(v, o))
	}
}

// fetchers are the people who may fetch a machine: everybody who works here.
func fetchers(view yard.View) (out []choice) {
	for _, p := range view.People() {
		out = append(out, choice{ID: p.ID, Name: p.Name})
	}
	return out
}
