package yard

// The site of a yard: its zones, edges, lines and places, as leads draw or import them, and
// what crews measure on it. What is kept is the file that is exchanged (core/ground); every
// change has to read as a site, or is refused with what is wrong.

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"time"
	"unicode"

	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/plane"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// SiteImported is a whole site instead of the one before.
type SiteImported struct {
	File json.RawMessage `json:"file"`
}

// FeatureDrawn is a feature that is new, or put right.
type FeatureDrawn struct {
	ID      string          `json:"id"`
	Feature json.RawMessage `json:"feature"`
}

// FeatureDropped takes a feature from the site.
type FeatureDropped struct {
	ID string `json:"id"`
}

// BankMeasured is a reading of a zone's bank, as a site's file has it, and what it was
// measured with.
type BankMeasured struct {
	Zone    string          `json:"zone"`
	Reading json.RawMessage `json:"reading"`
	With    string          `json:"with"`
}

// Kind implements record.Event.
func (SiteImported) Kind() string { return "site_imported" }

// Kind implements record.Event.
func (FeatureDrawn) Kind() string { return "feature_drawn" }

// Kind implements record.Event.
func (FeatureDropped) Kind() string { return "feature_dropped" }

// Kind implements record.Event.
func (BankMeasured) Kind() string { return "bank_measured" }

var _ = record.Register(SiteImported{}, FeatureDrawn{}, FeatureDropped{}, BankMeasured{})

// ImportSite puts a whole site, as GeoJSON, in place of the one that is there. Over says
// that it may take the place of one.
type ImportSite struct {
	File []byte
	Over bool
}

// DrawFeature draws something: a zone, an edge or a thing along places in metres, one on
// each line ("12.5 40"). Properties are as a site's file has them.
type DrawFeature struct {
	ID         string // "" for a new one
	Name       string
	Kind       string
	Along      string
	Area       bool // a new thing: the places go round it
	Properties map[string]any
}

// DropFeature takes a feature from the site.
type DropFeature struct{ ID string }

// MeasureBank is a reading of a bank, as typed: its numbers and their doubts by name.
type MeasureBank struct {
	Zone, Way, With string
	Numbers, Doubts map[string]string
}

// DropReading takes a reading of a bank back, by its place in the list, from 0.
type DropReading struct {
	Zone string
	N    int
}

// Act implements Command.
func (ImportSite) Act() operator.Act { return operator.Site }

// Act implements Command.
func (DrawFeature) Act() operator.Act { return operator.Site }

// Act implements Command.
func (DropFeature) Act() operator.Act { return operator.Site }

// Act implements Command.
func (DropReading) Act() operator.Act { return operator.Site }

// Act implements Command.
func (MeasureBank) Act() operator.Act { return operator.Survey }

var numberSlot = text.Slot{Name: "typed", Kind: text.Name}

var (
	ruleSiteThere  = text.NewRule("site.there_already", text.Slot{Name: "count", Kind: text.Count})
	ruleSiteLarge  = text.NewRule("site.too_large", text.Slot{Name: "most", Kind: text.Count})
	ruleNoFeature  = text.NewRule("site.no_such_feature")
	ruleNoZone     = text.NewRule("site.no_such_zone")
	ruleAlong      = text.NewRule("site.places", numberSlot)
	rulePlacesFew  = text.NewRule("site.too_few_places", text.Slot{Name: "least", Kind: text.Count})
	rulePlacesOne  = text.NewRule("site.one_place")
	ruleDrawnKind  = text.NewRule("site.kind")
	ruleSiteNumber = text.NewRule("site.number", numberSlot)
	ruleMeasured   = text.NewRule("site.way")
	ruleWith       = text.NewRule("site.instrument")
	ruleNoReading  = text.NewRule("site.no_such_reading")
)

// The most that a site is: bytes of its file, features, places of one.
const (
	siteMost    = 2 << 20
	featureMost = 1000
	alongMost   = 1000
	sitePlaces  = 20_000
	featureName = 60
	withMost    = 60
)

// Drawing is the doubt of a plan that is drawn by hand, in metres (house rule: paced or
// taped from a corner).
const Drawing = 0.5

// SiteOf is the site as it is kept; one with nothing on it where there is none.
func SiteOf(v View) ground.File {
	if f, ok := v.Site(); ok {
		return f
	}
	return ground.NewFile(Drawing)
}

func (c ImportSite) decide(s speech) ([]Decided, error) {
	if len(c.File) > siteMost {
		return nil, record.Refuse(ruleSiteLarge.Says(siteMost >> 20))
	}
	file, err := ground.ReadFile(c.File)
	if err == nil {
		file, err = file.Read()
	}
	if err != nil {
		return nil, err
	}
	if len(file.Features) > featureMost {
		return nil, record.Refuse(ruleSiteLarge.Says(featureMost))
	}
	if most := tooLong(file); most > 0 {
		return nil, record.Refuse(ruleSiteLarge.Says(most))
	}
	if now := SiteOf(s.View); len(now.Features) > 0 && !c.Over {
		return nil, record.Refuse(ruleSiteThere.Says(len(now.Features)))
	}
	return just(SiteImported{File: file.Bytes()}), nil
}

// tooLong is how many places a feature, or all of a site, may have at most, where it has
// more; 0 where it has not. Longer ones are measured too finely to be walked, and every
// verdict goes along all of them.
func tooLong(file ground.File) int {
	all := 0
	for _, f := range file.Features {
		shape, _ := file.Shape(f.ID())
		one := 0
		for _, line := range shape.Lines {
			one += len(line)
		}
		if all += one; one > alongMost+1 {
			return alongMost
		}
	}
	if all > sitePlaces {
		return sitePlaces
	}
	return 0
}

// drawnAs is the geometry of something new.
func drawnAs(kind string, area bool, places int) string {
	switch {
	case kind == "zone" || kind == "thing" && area:
		return "Polygon"
	case kind == "edge" || places > 1:
		return "LineString"
	}
	return "Point"
}

// leastPlaces is how many places a geometry takes.
var leastPlaces = map[string]int{"Polygon": 3, "LineString": 2, "Point": 1}

func (c DrawFeature) decide(s speech) ([]Decided, error) {
	if c.Kind != "zone" && c.Kind != "edge" && c.Kind != "thing" {
		return nil, record.Refuse(ruleDrawnKind.Says())
	}
	name, err := named(c.Name, featureName)
	if err != nil {
		return nil, err
	}
	along, err := Along(c.Along)
	if err != nil {
		return nil, err
	}
	file := SiteOf(s.View)
	was, there := file.Feature(c.ID)
	if c.ID != "" && (!there || was.Kind() != c.Kind) {
		return nil, record.Refuse(ruleNoFeature.Says())
	}
	shape := drawnAs(c.Kind, c.Area, len(along))
	properties := map[string]any{}
	if there {
		geometry, _ := was["geometry"].(map[string]any)
		shape, _ = geometry["type"].(string)
		for word, v := range was.Properties() { // what is not asked for stays as it is
			properties[word] = v
		}
	}
	if least := leastPlaces[shape]; len(along) < least {
		return nil, record.Refuse(rulePlacesFew.Says(least))
	}
	if shape == "Point" && len(along) > 1 {
		return nil, record.Refuse(rulePlacesOne.Says())
	}
	for word, v := range c.Properties {
		if properties[word] = v; v == nil {
			delete(properties, word)
		}
	}
	properties["kind"], properties["name"] = c.Kind, name
	var one ground.Feature
	if there {
		one = file.Redraw(was, along, properties)
	} else {
		one = file.Draw(newID(file, name), shape, along, properties)
	}
	if file, err = file.With(one); err != nil {
		return nil, err
	}
	if len(file.Features) > featureMost {
		return nil, record.Refuse(ruleSiteLarge.Says(featureMost))
	}
	return just(FeatureDrawn{ID: one.ID(), Feature: one.Bytes()}), nil
}

// newID is an id for something new, made of its name.
func newID(file ground.File, name string) string {
	var made strings.Builder
	for _, r := range strings.ToLower(name) {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			made.WriteRune(r)
		} else if made.Len() > 0 && !strings.HasSuffix(made.String(), "_") {
			made.WriteByte('_')
		}
	}
	id := strings.TrimSuffix(made.String(), "_")
	if id == "" {
		id = "place"
	}
	for n, first := 2, id; ; n++ {
		if _, taken := file.Feature(id); !taken {
			return id
		}
		id = fmt.Sprintf("%s_%d", first, n)
	}
}

// Along are places in metres as they are typed, east and north of the origin, one on each
// line; the error is a *record.Refused.
func Along(typed string) (out []plane.Point, err error) {
	for line := range strings.Lines(typed) {
		words := strings.FieldsFunc(line, func(r rune) bool { return unicode.IsSpace(r) || r == ';' })
		if len(words) == 0 {
			continue
		}
		var p plane.Point
		if len(words) != 2 {
			return nil, record.Refuse(ruleAlong.Says(strings.TrimSpace(line)))
		}
		for i, to := range []*float64{&p.X, &p.Y} {
			if *to, err = numberIn(words[i], "m"); err != nil {
				return nil, record.Refuse(ruleAlong.Says(strings.TrimSpace(line)))
			}
		}
		if out = append(out, p); len(out) > alongMost {
			return nil, record.Refuse(ruleSiteLarge.Says(alongMost))
		}
	}
	return out, nil
}

// numberIn is a number as it was typed, with a point or a comma, in a unit that stands
// beside its field, or in the one that was typed with it.
func numberIn(typed, symbol string) (float64, error) {
	in, ok := unit.Find(symbol)
	if !ok {
		panic("yard: no unit " + symbol)
	}
	q, _, err := unit.Parse(typed, in)
	if err != nil {
		return 0, err
	}
	const places = 1e6 // what a unit is turned into carries no more
	return math.Round(in.In(q)*places) / places, nil
}

func (c DropFeature) decide(s speech) ([]Decided, error) {
	if _, err := SiteOf(s.View).Without(c.ID); err != nil {
		return nil, err
	}
	return just(FeatureDropped(c)), nil
}

// zoneOf is a zone of the site, as it is kept.
func zoneOf(v View, id string) (ground.File, ground.Feature, error) {
	file := SiteOf(v)
	one, ok := file.Feature(id)
	if !ok || one.Kind() != "zone" {
		return file, nil, record.Refuse(ruleNoZone.Says())
	}
	return file, one, nil
}

// Numbers are what a way of measuring a bank asks for, in its order.
func Numbers(way string) []string {
	return map[string][]string{ground.ByAngle: {"angle"}, ground.ByDrop: {"drop", "length"}, ground.ByRiseRun: {"rise", "run"}, ground.ByPercent: {"percent"}}[way]
}

// UnitOf is the unit that a number of a bank is kept in.
func UnitOf(number string) string {
	switch number {
	case ground.ByAngle:
		return "°"
	case ground.ByPercent:
		return "%"
	}
	return "m"
}

func (c MeasureBank) decide(s speech) ([]Decided, error) {
	file, zone, err := zoneOf(s.View, c.Zone)
	if err != nil {
		return nil, err
	}
	words := Numbers(c.Way)
	if words == nil {
		return nil, record.Refuse(ruleMeasured.Says())
	}
	with := strings.TrimSpace(c.With)
	if with == "" {
		return nil, record.Refuse(ruleWith.Says())
	}
	if reason, wrong := text.Wrong(with, withMost); wrong {
		return nil, record.Refuse(reason)
	}
	reading, doubts := map[string]any{"kind": c.Way}, map[string]any{}
	for _, word := range words {
		for to, typed := range map[*map[string]any]string{&reading: c.Numbers[word], &doubts: c.Doubts[word]} {
			n, err := numberIn(typed, UnitOf(word))
			if err != nil {
				return nil, record.Refuse(ruleSiteNumber.Says(strings.TrimSpace(typed)))
			}
			(*to)[word] = n
		}
	}
	reading["u"] = doubts
	raw, err := json.Marshal(reading)
	if err != nil {
		return nil, err
	}
	measured := BankMeasured{Zone: c.Zone, Reading: raw, With: with}
	one, err := measured.On(zone, s.Meta)
	if err == nil {
		_, err = file.With(one)
	}
	if err != nil {
		return nil, err
	}
	return just(measured), nil
}

// On is the zone with the reading: the instrument, who and when stand beside it.
func (e BankMeasured) On(zone ground.Feature, m record.Meta) (ground.Feature, error) {
	reading, err := ground.ReadFeature(e.Reading)
	if err != nil {
		return nil, err
	}
	return zone.Measured(reading, map[string]any{"with": e.With, "by": m.By, "at": m.At.UTC().Format(time.RFC3339)}), nil
}

func (c DropReading) decide(s speech) ([]Decided, error) {
	file, zone, err := zoneOf(s.View, c.Zone)
	if err != nil {
		return nil, err
	}
	one, ok := zone.Unmeasured(c.N)
	if !ok {
		return nil, record.Refuse(ruleNoReading.Says())
	}
	if _, err = file.With(one); err != nil {
		return nil, err
	}
	return just(FeatureDrawn{ID: c.Zone, Feature: one.Bytes()}), nil
}

// Plain is a number of a bank as it was typed, in its own unit; ok is false where it is
// none.
func Plain(typed, number string) (n float64, ok bool) {
	n, err := numberIn(typed, UnitOf(number))
	return n, err == nil
}
