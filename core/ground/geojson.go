package ground

// Reading a site from GeoJSON (RFC 7946).

import (
	"fmt"
	"math"
	"time"

	"vespers/core/plane"
	"vespers/core/strict"
	"vespers/core/text"
)

var (
	ruleSystem  = text.NewRule("ground.reference_system")
	ruleGlobe   = text.NewRule("ground.not_on_earth", whereSlot)
	rulePolygon = text.NewRule("ground.polygon", whereSlot, text.Slot{Name: "wrong", Kind: text.Term})
	ruleLine    = text.NewRule("ground.line_too_short", whereSlot)
	ruleTime    = text.NewRule("ground.time", whereSlot, text.Slot{Name: "what", Kind: text.Name})
	ruleQuiet   = text.NewRule("ground.quiet_times", whereSlot)
	ruleInstant = text.NewRule("ground.instant", whereSlot, text.Slot{Name: "what", Kind: text.Name})
)

// degree is how many metres a degree of latitude is.
const degree = 6378137 * math.Pi / 180

// farDoubt is the doubt of a plan, in metres, of which nobody says how it was made.
const farDoubt = 3.0

// siteReader reads a site; positions on the globe become metres east and north of from.
type siteReader struct {
	reader
	globe bool
	from  *plane.Point // longitude and latitude, nil until there is one
}

// ReadSite reads a site; the error is a *record.Refused. Properties that are not known are
// for others, and mean nothing here.
func ReadSite(data []byte) (Site, error) {
	_, site, err := readSite(data)
	return site, err
}

func readSite(data []byte) (*siteReader, Site, error) {
	file, top := strict.Read(data)
	r := &siteReader{reader: reader{file}, globe: true}
	r.OneOf(top, "type", "FeatureCollection")
	if top.Has("crs") {
		r.Refuse(ruleSystem.Says())
	}
	site := Site{Doubt: farDoubt}
	if top.Has("vespers") {
		site.Doubt = r.system(r.Object(top, "vespers", "coordinates", "u", "origin"))
	}
	if !top.Has("features") {
		r.Missing(top, "features")
	}
	seen := map[string]bool{}
	for _, o := range r.Objects(top, "features", r.List(top, "features")) {
		r.OneOf(o, "type", "Feature")
		id := r.Unique(seen, r.Word(o, "id"), o.At("id"))
		geometry, properties := r.Object(o, "geometry"), r.Object(o, "properties")
		switch r.OneOf(properties, "kind", "zone", "edge", "thing") {
		case "zone":
			z := r.zone(properties)
			z.ID, z.Shape = id, r.shape(geometry, "Polygon")
			site.Zones = append(site.Zones, z)
		case "edge":
			site.Edges = append(site.Edges, Edge{id, r.OneOf(properties, "edge", Edges()...), r.shape(geometry, "LineString")})
		case "thing":
			t := r.thing(properties)
			t.ID, t.Shape = id, r.shape(geometry, "Point", "LineString", "Polygon")
			site.Things = append(site.Things, t)
		}
	}
	return r, site, r.Err
}

// system reads how positions are to be read, and gives the plan's doubt in metres.
func (r *siteReader) system(o *strict.Object) float64 {
	r.globe = r.OneOf(o, "coordinates", "local", "wgs84") == "wgs84"
	if o.Has("origin") {
		origin := r.Object(o, "origin", "name", "lon", "lat")
		for _, word := range []string{"lon", "lat"} {
			if !origin.Has(word) {
				r.Missing(origin, word)
			}
		}
		at := plane.Point{X: r.Signed(origin.Value("lon"), origin.At("lon")), Y: r.Signed(origin.Value("lat"), origin.At("lat"))}
		r.onEarth(at, origin.Where)
		r.from = &at
	}
	return r.Needed(o, "u")
}

func (r *siteReader) onEarth(p plane.Point, where string) {
	if math.Abs(p.X) > 180 || math.Abs(p.Y) > 85 {
		r.Refuse(ruleGlobe.Says(where))
	}
}

// position is one place in metres. A height, where there is one, is not looked at.
func (r *siteReader) position(v any, where string) plane.Point {
	numbers := r.Items(v, where)
	if len(numbers) < 2 {
		r.Refuse(ruleLine.Says(where))
		return plane.Point{}
	}
	p := plane.Point{X: r.Signed(numbers[0], where+"[0]"), Y: r.Signed(numbers[1], where+"[1]")}
	if !r.globe {
		return p
	}
	r.onEarth(p, where)
	if r.from == nil {
		r.from = &p
	}
	return plane.Point{X: (p.X - r.from.X) * math.Cos(radians(r.from.Y)) * degree, Y: (p.Y - r.from.Y) * degree}
}

func (r *siteReader) positions(v any, where string) []plane.Point {
	items := r.Items(v, where)
	out := make([]plane.Point, len(items))
	for i, one := range items {
		out[i] = r.position(one, fmt.Sprintf("%s[%d]", where, i))
	}
	return out
}

// shape reads a geometry of one of the kinds that it may be.
func (r *siteReader) shape(o *strict.Object, kinds ...string) (s plane.Shape) {
	kind, at := r.OneOf(o, "type", kinds...), o.At("coordinates")
	switch kind {
	case "Point":
		return plane.At(r.position(o.Value("coordinates"), at))
	case "LineString":
		s.Lines = [][]plane.Point{r.positions(o.Value("coordinates"), at)}
		if len(s.Lines[0]) < 2 {
			r.Refuse(ruleLine.Says(at))
		}
	case "Polygon":
		s.Filled = true
		for i, ring := range r.Items(o.Value("coordinates"), at) {
			s.Lines = append(s.Lines, r.positions(ring, fmt.Sprintf("%s[%d]", at, i)))
		}
		if wrong := s.Wrong(); wrong != "" {
			r.Refuse(rulePolygon.Says(at, text.Key("ground.wrong."+wrong)))
		}
	}
	return s
}

func (r *siteReader) zone(o *strict.Object) Zone {
	z := Zone{Surface: r.OneOf(o, "surface", Surfaces()...), Wet: r.Yes(o, "wet"), Soft: r.Yes(o, "soft"), Light: Day,
		Work: r.OneOf(o, "work", Works()...), Priority: 1}
	for _, one := range r.Objects(o, "readings", r.List(o, "readings")) {
		z.Readings = append(z.Readings, r.reading(one))
	}
	if o.Has("reverse_test") {
		z.ReverseFailed = r.OneOf(o, "reverse_test", "failed", "passed") == "failed"
	}
	if o.Has("light") {
		z.Light = r.OneOf(o, "light", Day, Dusk, Lit)
	}
	z.Branches = r.known(o, "branches")
	if o.Has("priority") {
		z.Priority = r.Positive(o, "priority")
	}
	if o.Has("deadline") {
		deadline := r.timeOfDay(o.Value("deadline"), o.At("deadline"))
		z.Deadline = &deadline
	}
	for i, one := range r.List(o, "quiet") {
		at := fmt.Sprintf("%s[%d]", o.At("quiet"), i)
		pair := r.Items(one, at)
		if len(pair) != 2 {
			r.Refuse(ruleQuiet.Says(at))
			continue
		}
		from, to := r.timeOfDay(pair[0], at+"[0]"), r.timeOfDay(pair[1], at+"[1]")
		if from >= to {
			r.Refuse(ruleQuiet.Says(at))
		}
		z.Quiet = append(z.Quiet, [2]int{from, to})
	}
	if o.Has("ticket_until") {
		z.TicketUntil = r.instant(o, "ticket_until")
	}
	return z
}

// known is a number with its doubt beside it, nil where nobody knows it.
func (r reader) known(o *strict.Object, word string) *Measured {
	if !o.Has(word) {
		return nil
	}
	return &Measured{r.Needed(o, word), r.Needed(o, word+"_u")}
}

func (r *siteReader) thing(o *strict.Object) Thing {
	t := Thing{Kind: r.OneOf(o, "thing", Things()...)}
	if t.Kind != OverheadLine {
		return t
	}
	t.Height = r.known(o, "height")
	if o.Has("clearance") {
		clearance := r.Needed(o, "clearance")
		t.Clearance = &clearance
	}
	return t
}

// timeOfDay is minutes from midnight; 24:00 is the end of the day.
func (r reader) timeOfDay(v any, where string) int {
	s, _ := v.(string)
	if s == "24:00" {
		return 24 * 60
	}
	at, err := time.Parse("15:04", s)
	if err != nil || len(s) != 5 {
		r.Refuse(ruleTime.Says(where, strict.Kind(v)))
	}
	return at.Hour()*60 + at.Minute()
}

func (r reader) instant(o *strict.Object, word string) time.Time {
	s := r.Word(o, word)
	at, err := time.Parse(time.RFC3339, s)
	if err != nil {
		r.Refuse(ruleInstant.Says(o.At(word), s))
	}
	return at
}
