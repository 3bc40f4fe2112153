package demo

// The hillside of the demo yard: terraces, walls, a pond, old trees, a chapel.

import (
	_ "embed"

	"vespers/core/yard"
	"vespers/store"
)

// Hillside is the site, as GeoJSON in metres.
//
//go:embed wrenfield.geojson
var Hillside []byte

// site draws it, under an id of its own.
func (f *filler) site() {
	_, err := f.s.Do(f.ctx, store.Entry{ID: "demo-site", Person: "maren"}, yard.ImportSite{File: Hillside})
	f.do(err)
}
