package ground

// A site as it is kept, edited and exchanged: a GeoJSON file, written in one way only.
// Reading it for what it means is ReadSite's, always: what is edited has to pass there.

import (
	"bytes"
	"encoding/json"
	"math"
	"slices"
	"strconv"

	"vespers/core/plane"
	"vespers/core/record"
	"vespers/core/text"
)

var ruleNoFeature = text.NewRule("ground.no_such_feature")

// File is a site as a file: how its positions read, and its features in their order.
//
// What a File holds is never changed; an edit gives another.
type File struct {
	// System is the member "vespers", the origin in it; Others are the members of the file
	// that mean nothing here and are kept.
	System   map[string]any
	Others   map[string]any
	Features []Feature
	read     *Site // what it means, where that was read before
}

// Feature is one feature of a file, as JSON values with their numbers as they were written.
type Feature map[string]any

// ID is the feature's.
func (f Feature) ID() string { id, _ := f["id"].(string); return id }

// Properties are the feature's.
func (f Feature) Properties() map[string]any { p, _ := f["properties"].(map[string]any); return p }

// Kind is zone, edge or thing.
func (f Feature) Kind() string { k, _ := f.Properties()["kind"].(string); return k }

// Name is what people call it: its name, or its id.
func (f Feature) Name() string {
	if name, ok := f.Properties()["name"].(string); ok && name != "" {
		return name
	}
	return f.ID()
}

// decimals of a position in degrees: a tenth of a millimetre.
const decimals = 9

// NewFile is a site with nothing on it, in metres, with a doubt.
func NewFile(doubt float64) File {
	return File{System: map[string]any{"coordinates": "local", "u": number(doubt, 3)}, Others: map[string]any{}}
}

// number is a number as it is written.
func number(v float64, places int) json.Number {
	scale := math.Pow(10, float64(places))
	return json.Number(strconv.FormatFloat(math.Round(v*scale)/scale+0, 'f', -1, 64)) // + 0: no -0
}

// ReadFile reads a site to keep and edit; the error is a *record.Refused. A file whose
// positions are on the globe is given the origin that it was read with, so that nothing
// moves when its first feature does.
func ReadFile(data []byte) (File, error) {
	r, _, err := readSite(data)
	if err != nil {
		return File{}, err
	}
	all, err := values(data)
	if err != nil {
		return File{}, err
	}
	f := File{Others: map[string]any{}}
	for word, v := range all {
		switch word {
		case "type", "features":
		case "vespers":
			f.System, _ = v.(map[string]any)
		default:
			f.Others[word] = v
		}
	}
	if f.System == nil {
		f.System = map[string]any{"coordinates": "wgs84", "u": number(farDoubt, 3)}
	}
	if _, there := f.System["origin"]; !there && r.globe && r.from != nil {
		f.System["origin"] = map[string]any{"lon": number(r.from.X, decimals), "lat": number(r.from.Y, decimals)}
	}
	list, _ := all["features"].([]any)
	for _, one := range list {
		if o, ok := one.(map[string]any); ok {
			f.Features = append(f.Features, o)
		}
	}
	return f, nil
}

// values are JSON values with their numbers as they are written.
func values(data []byte) (out map[string]any, err error) {
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	return out, d.Decode(&out)
}

// ReadFeature reads one feature as it was recorded.
func ReadFeature(data []byte) (Feature, error) {
	v, err := values(data)
	return v, err
}

// Bytes is the file as it is written: one feature a line, words in a fixed order.
func (f File) Bytes() []byte {
	var out bytes.Buffer
	out.WriteString(`{"type":"FeatureCollection","vespers":`)
	out.Write(plain(f.System))
	for _, word := range sorted(f.Others) {
		out.WriteString(",")
		out.Write(plain(word))
		out.WriteString(":")
		out.Write(plain(f.Others[word]))
	}
	out.WriteString(`,"features":[`)
	for i, one := range f.Features {
		if i > 0 {
			out.WriteString(",")
		}
		out.WriteString("\n")
		out.Write(one.Bytes())
	}
	out.WriteString("\n]}\n")
	return out.Bytes()
}

// Bytes is the feature as it is written.
func (f Feature) Bytes() []byte {
	var out bytes.Buffer
	out.WriteString("{")
	words := append([]string{"type", "id", "geometry", "properties"}, slices.DeleteFunc(sorted(f), func(word string) bool {
		return slices.Contains([]string{"type", "id", "geometry", "properties"}, word)
	})...)
	for i, word := range words {
		if i > 0 {
			out.WriteString(",")
		}
		out.Write(plain(word))
		out.WriteString(":")
		out.Write(plain(f[word]))
	}
	out.WriteString("}")
	return out.Bytes()
}

func sorted(m map[string]any) (words []string) {
	for word := range m {
		words = append(words, word)
	}
	slices.Sort(words)
	return words
}

// plain is a value as JSON, with its letters as they are.
func plain(v any) []byte {
	var out bytes.Buffer
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	if err := e.Encode(v); err != nil {
		panic("ground: " + err.Error()) // values that were read can be written
	}
	return bytes.TrimSpace(out.Bytes())
}

// Head is the file without its features.
func (f File) Head() File { f.Features, f.read = nil, nil; return f }

// Site is what the file means; the error is a *record.Refused.
func (f File) Site() (Site, error) {
	if f.read != nil {
		site := *f.read
		site.Zones = slices.Clone(site.Zones) // a day makes them worse
		return site, nil
	}
	return ReadSite(f.Bytes())
}

// Read is the file with what it means at hand; the error is a *record.Refused.
func (f File) Read() (File, error) {
	site, err := f.Site()
	if err == nil {
		f.read = &site
	}
	return f, err
}

// Shape is the geometry of a feature, in metres.
func (f File) Shape(id string) (plane.Shape, bool) {
	site, err := f.Site()
	if err != nil {
		return plane.Shape{}, false
	}
	for _, z := range site.Zones {
		if z.ID == id {
			return z.Shape, true
		}
	}
	for _, e := range site.Edges {
		if e.ID == id {
			return e.Shape, true
		}
	}
	for _, t := range site.Things {
		if t.ID == id {
			return t.Shape, true
		}
	}
	return plane.Shape{}, false
}

// Feature finds a feature by its id.
func (f File) Feature(id string) (Feature, bool) {
	i := f.index(id)
	if i < 0 {
		return nil, false
	}
	return f.Features[i], true
}

func (f File) index(id string) int {
	return slices.IndexFunc(f.Features, func(one Feature) bool { return one.ID() == id })
}

// With is the file with a feature, instead of the one of its id or at the end; the error is
// a *record.Refused.
func (f File) With(one Feature) (File, error) {
	f.Features, f.read = slices.Clone(f.Features), nil
	if i := f.index(one.ID()); i >= 0 {
		f.Features[i] = one
	} else {
		f.Features = append(f.Features, one)
	}
	_, err := f.Site()
	return f, err
}

// Without is the file without a feature; the error is a *record.Refused.
func (f File) Without(id string) (File, error) {
	i := f.index(id)
	if i < 0 {
		return f, record.Refuse(ruleNoFeature.Says())
	}
	f.Features, f.read = slices.Delete(slices.Clone(f.Features), i, i+1), nil
	return f, nil
}

// Global reports whether positions are in degrees on the globe.
func (f File) Global() bool { return f.System["coordinates"] == "wgs84" }

// position is a place in metres as the file writes it.
func (f File) position(p plane.Point) []any {
	if !f.Global() {
		return []any{number(p.X, 2), number(p.Y, 2)}
	}
	from := f.from()
	return []any{number(from.X+p.X/(math.Cos(radians(from.Y))*degree), decimals), number(from.Y+p.Y/degree, decimals)}
}

// from is the origin in degrees.
func (f File) from() (p plane.Point) {
	origin, _ := f.System["origin"].(map[string]any)
	for word, to := range map[string]*float64{"lon": &p.X, "lat": &p.Y} {
		if n, ok := origin[word].(json.Number); ok {
			*to, _ = n.Float64()
		}
	}
	return p
}

// drawnTo is how exactly a place is typed, in metres.
const drawnTo = 0.0051

// Redraw is a feature of the file along other places, with other properties: its geometry
// stays of its kind, its holes and, where the places are the same, all of it as it was.
func (f File) Redraw(was Feature, along []plane.Point, properties map[string]any) Feature {
	geometry, _ := was["geometry"].(map[string]any)
	kind, _ := geometry["type"].(string)
	one := f.Draw(was.ID(), kind, along, properties)
	for word, v := range was { // what is not asked for stays
		if _, there := one[word]; !there {
			one[word] = v
		}
	}
	if shape, ok := f.Shape(was.ID()); ok && sameLine(Outline(shape), along) {
		one["geometry"] = geometry
		return one
	}
	if rings, _ := geometry["coordinates"].([]any); kind == "Polygon" && len(rings) > 1 {
		drawn := one["geometry"].(map[string]any)
		drawn["coordinates"] = append(drawn["coordinates"].([]any), rings[1:]...)
	}
	return one
}

// Outline are the places of a shape as they are typed: a ring without its end, and without
// its holes.
func Outline(s plane.Shape) []plane.Point {
	if len(s.Lines) == 0 {
		return nil
	}
	if s.Filled {
		return s.Lines[0][:len(s.Lines[0])-1]
	}
	return s.Lines[0]
}

func sameLine(a, b []plane.Point) bool {
	return slices.EqualFunc(a, b, func(p, q plane.Point) bool {
		return math.Abs(p.X-q.X) < drawnTo && math.Abs(p.Y-q.Y) < drawnTo
	})
}

// Draw is a new feature along places in metres: a Point, a LineString or a Polygon, whose
// ring is closed here.
func (f File) Draw(id, shape string, along []plane.Point, properties map[string]any) Feature {
	var places []any
	for _, p := range along {
		places = append(places, f.position(p))
	}
	var coordinates any = places
	switch {
	case shape == "Point" && len(places) == 1:
		coordinates = places[0]
	case shape == "Polygon":
		if len(places) > 0 {
			places = append(places, places[0])
		}
		coordinates = []any{places}
	}
	return Feature{"type": "Feature", "id": id, "geometry": map[string]any{"type": shape, "coordinates": coordinates}, "properties": properties}
}
