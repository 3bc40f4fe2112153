package ground

// Drawing the site by hand, by typed places or by tapping the plan, and taking a whole one
// in from a file.

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"

	"vespers/core/ground"
	"vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

// drawPage is a feature being drawn.
type drawPage struct {
	Title    string
	Plan     *plan
	Scale    string // of the plan
	Features []featureLine
	ID       string // "" for a new one
	Kind     string
	Name     string
	Along    string
	Fields   []drawField
	MayArea  bool // a new thing, that may go round an area
	Area     bool
	Kinds    []option
	Refused  string
	Form     string
	Left     float64 // metres of the plan's left and upper edge
	Upper    float64
	Count    int
}

type featureLine struct{ ID, Name, What string }

type option struct {
	ID, Name string
	Chosen   bool
}

// drawField is one property that is asked for.
type drawField struct {
	ID, Name, Kind string // select, check, number, time, text
	Value, Hint    string
	Options        []option
}

var drawPages = page.New[drawPage](templates, "draw")

func showDrawing(v *page.Visit) { showDrawingWith(v, http.StatusOK, "", nil) }

// asked is what a kind of feature is asked for: its property, how, and the words it is
// chosen from.
type asked struct {
	id, kind string
	of       []string
	needed   bool
}

func asks(kind string) []asked {
	switch kind {
	case "zone":
		return []asked{{"work", "select", ground.Works(), true}, {"surface", "select", ground.Surfaces(), true}, {"wet", "check", nil, false}, {"soft", "check", nil, false},
			{"light", "select", []string{ground.Day, ground.Dusk, ground.Lit}, false}, {"branches", "number", nil, false}, {"branches_u", "number", nil, false},
			{"priority", "number", nil, false}, {"deadline", "time", nil, false}, {"quiet", "text", nil, false}, {"ticket_until", "text", nil, false}}
	case "edge":
		return []asked{{"edge", "select", ground.Edges(), true}}
	}
	return []asked{{"thing", "select", ground.Things(), true}, {"height", "number", nil, false}, {"height_u", "number", nil, false}, {"clearance", "number", nil, false}}
}

func showDrawingWith(v *page.Visit, status int, refused string, typed *yard.DrawFeature) {
	view, check := v.Site.Store.View(v.Context())
	file := yard.SiteOf(view)
	site, err := file.Site()
	if err == nil {
		err = check()
	}
	if err != nil {
		v.Fail(err)
		return
	}
	p := drawPage{Title: v.T("ground.draw"), Plan: drawn(&site, nil, v.Unit("m").Of(1).Value), Refused: refused, Form: page.NewID(), Kind: "zone", Count: len(file.Features)}
	if kind := v.Query("kind"); slices.Contains([]string{"zone", "edge", "thing"}, kind) {
		p.Kind = kind
	}
	properties := map[string]any{}
	if one, ok := file.Feature(v.Query("feature")); ok {
		p.ID, p.Kind, p.Name = one.ID(), one.Kind(), one.Name()
		properties, p.Along = one.Properties(), along(file, one.ID())
	}
	if typed != nil {
		p.ID, p.Kind, p.Name, p.Along, properties = typed.ID, typed.Kind, typed.Name, typed.Along, typed.Properties
	}
	p.MayArea = p.Kind == "thing" && p.ID == ""
	p.Area = typed != nil && typed.Area
	p.Scale = tell.Metres(v.Voice, p.Plan.Scale.Metres)
	p.Left, p.Upper = p.Plan.low.X, p.Plan.high.Y
	for _, kind := range []string{"zone", "edge", "thing"} {
		p.Kinds = append(p.Kinds, option{kind, v.T("ground.kind." + kind), kind == p.Kind})
	}
	for _, a := range asks(p.Kind) {
		p.Fields = append(p.Fields, field(v, a, properties[a.id]))
	}
	for _, f := range file.Features {
		p.Features = append(p.Features, featureLine{f.ID(), f.Name(), what(v, f)})
	}
	drawPages.Show(v, status, p.Title, p)
}

// field is a property as it is asked for, with what stands there now.
func field(v *page.Visit, a asked, now any) drawField {
	f := drawField{ID: a.id, Name: v.T("ground.field." + a.id), Kind: a.kind}
	switch {
	case now == nil:
	case a.kind == "check":
		f.Value = fmt.Sprint(now)
	case a.id == "quiet":
		f.Value = spans(now)
	default:
		f.Value = fmt.Sprint(now)
	}
	if v.Has("ground.hint." + a.id) {
		f.Hint = v.T("ground.hint." + a.id)
	}
	for _, word := range a.of {
		f.Options = append(f.Options, option{word, v.T("ground." + a.id + "." + word), word == f.Value})
	}
	return f
}

// spans are times of the day as they are typed: 10:30-11:30, 15:00-16:00.
func spans(now any) string {
	if typed, ok := now.(string); ok {
		return typed
	}
	list, _ := now.([]any)
	var out []string
	for _, one := range list {
		if pair, ok := one.([]any); ok && len(pair) == 2 {
			out = append(out, fmt.Sprintf("%v-%v", pair[0], pair[1]))
		}
	}
	return strings.Join(out, ", ")
}

// what says what a feature is.
func what(v *page.Visit, f ground.Feature) string {
	kind := f.Kind()
	word := map[string]string{"zone": "work", "edge": "edge", "thing": "thing"}[kind]
	is, _ := f.Properties()[word].(string)
	return v.T("ground.kind."+kind) + ": " + v.T("ground."+word+"."+is)
}

// along are the places of a feature, one a line, as they are typed.
func along(file ground.File, id string) string {
	shape, _ := file.Shape(id)
	var out []string
	for _, at := range ground.Outline(shape) {
		out = append(out, plain(at.X)+" "+plain(at.Y))
	}
	return strings.Join(out, "\n")
}

func plain(n float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.2f", n), "0"), ".")
}

// typedFeature is a feature as the form has it. What is no number stays as it was typed,
// and is refused where the site is read.
func typedFeature(v *page.Visit) yard.DrawFeature {
	c := yard.DrawFeature{ID: v.Field("feature"), Name: v.Field("name"), Kind: v.Field("kind"), Along: v.Field("along"), Area: v.Field("area") == "yes", Properties: map[string]any{}}
	for _, a := range asks(c.Kind) {
		typed := v.Field(a.id)
		switch {
		case a.kind == "check":
			c.Properties[a.id] = typed == "yes"
		case typed == "":
			c.Properties[a.id] = nil
		case a.kind == "number":
			c.Properties[a.id] = typed
			if n := json.Number(strings.ReplaceAll(typed, ",", ".")); json.Valid([]byte(n)) {
				c.Properties[a.id] = n
			}
		case a.id == "quiet":
			c.Properties[a.id] = quiet(typed)
		default:
			c.Properties[a.id] = typed
		}
	}
	return c
}

// quiet are spans of the day as a site's file has them; what is none stays as it was typed.
func quiet(typed string) any {
	var out []any
	for _, one := range strings.FieldsFunc(typed, func(r rune) bool { return r == ',' || r == ';' }) {
		from, to, ok := strings.Cut(strings.ReplaceAll(strings.TrimSpace(one), "–", "-"), "-")
		if !ok {
			return typed
		}
		out = append(out, []any{strings.TrimSpace(from), strings.TrimSpace(to)})
	}
	return out
}

func draw(v *page.Visit) {
	c := typedFeature(v)
	said(v, c, "/ground/draw#drawn", func(refused string) { showDrawingWith(v, http.StatusConflict, refused, &c) })
}

func drop(v *page.Visit) {
	said(v, yard.DropFeature{ID: v.Field("feature")}, "/ground/draw#drawn", func(refused string) { showDrawingWith(v, http.StatusConflict, refused, nil) })
}

// importMost is the largest file that is read, in bytes.
const importMost = 2<<20 + 1

// take takes a whole site in from a file.
func take(v *page.Visit) {
	again := func(refused string) { showDrawingWith(v, http.StatusConflict, refused, nil) }
	if err := v.Multipart(); err != nil {
		again(v.T("ground.no_file"))
		return
	}
	file := v.File("file")
	if file == nil {
		again(v.T("ground.no_file"))
		return
	}
	defer file.Close()
	data, err := io.ReadAll(io.LimitReader(file, importMost))
	if err != nil {
		v.Fail(err)
		return
	}
	said(v, yard.ImportSite{File: data, Over: v.Field("over") == "yes"}, "/ground", again)
}
