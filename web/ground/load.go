package ground

// The load sheet of an outing: what was measured, what it comes to, and the smallest change
// that mends what is short.

import (
	"fmt"
	"math"
	"net/http"
	"strings"

	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

// loadPage is a load sheet.
type loadPage struct {
	Title, Outing, Names string
	Refused              string
	Said                 string   // who filled it in, and when
	Kept                 []string // which way round, by house rule
	Parts                []loadPart
	May                  bool
	Form                 string
	Fields               []loadFields
	NoBridge             bool
	Straps               []strapFields
	Ends                 []option
	Open                 bool   // the form
	Mass                 string // the visitor's unit of it
}

// loadPart is a part of the sheet as it was judged.
type loadPart struct {
	Told   tell.LoadPart
	State  string
	Ramp   *rampView
	Bridge *bridgeView
	Straps []strapMark
}

// rampView is the ramp from the side, with its limit.
type rampView struct{ Foot, Top, Limit, Tall float64 }

// bridgeView is the load under the lowest of what it goes under: heights on a scale.
type bridgeView struct{ Load, Needs, Room, Tall float64 }

type strapMark struct {
	X, Y, Far float64
	Cut       bool
}

type loadFields struct {
	ID, Name, Note string
	Fields         []loadField
}

type loadField struct{ ID, Name, Unit, Value, Doubt string }

type strapFields struct {
	N                       int
	Load, Angle, Doubt, End string
	Cut                     bool
}

var loadPages = page.New[loadPage](templates, "load")

// strapRows is how many straps the form has room for.
const strapRows = 6

// loadAsked are the numbers of each part, and their units.
var loadAsked = []struct {
	part   string
	fields [][2]string
}{
	{"ramp", [][2]string{{"ramp_height", "m"}, {"ramp_length", "m"}, {"ramp_width", "m"}}},
	{"bridge", [][2]string{{"load_height", "m"}, {"bridges", "m"}, {"legal", "m"}}},
	{"tow", [][2]string{{"trailer", "kg"}, {"gross", "kg"}, {"rating", "kg"}, {"tongue", "kg"}}},
}

func showLoad(v *page.Visit) { showLoadWith(v, http.StatusOK, "", nil) }

func showLoadWith(v *page.Visit, status int, refused string, typed *yard.CheckLoad) {
	o, err := v.Site.Store.Outing(v.Context(), v.Param("outing"))
	if err != nil {
		v.Fail(err)
		return
	}
	view, check := v.Site.Store.View(v.Context())
	p := loadPage{Title: v.T("load.title"), Outing: o.ID, Names: o.Name(), Refused: refused, Form: page.NewID(), May: o.End == nil && o.May(*v.Person, operator.Work, v.Now), Open: typed != nil}
	l, kept := view.Load(o.ID)
	if kept {
		p.Said = v.T("load.said", "who", v.Name(l.By), "when", v.When(l.At, v.Now))
		p.judged(v, l.LoadChecked)
	}
	if typed == nil {
		again := typedLoad(v, l.LoadChecked)
		typed, p.Open = &again, !kept
	}
	for _, u := range o.Units {
		for _, rule := range v.Kept(u.Sheet, u.Practice, "load") {
			p.Kept = append(p.Kept, u.Name+": "+rule)
		}
	}
	p.form(v, o, typed)
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	loadPages.Show(v, status, p.Title, p)
}

// judged shows what each part comes to, in words and drawn.
func (p *loadPage) judged(v *page.Visit, e yard.LoadChecked) {
	j := e.Judge()
	for _, told := range tell.Load(v.Voice, e) {
		part := loadPart{Told: told, State: "may"}
		if !told.Will {
			part.State = "not"
		}
		switch told.ID {
		case "ramp":
			part.Ramp = rampOf(j.Ramp.Worst, e.Ramp.Limit)
		case "bridge":
			room := e.Bridge.Legal
			if j.Bridge.Lowest != nil {
				room = min(room, *j.Bridge.Lowest)
			}
			part.Bridge = bridgeOf(e.Bridge.Height.Value, j.Bridge.Needs, room)
		case "straps":
			part.Straps = strapsOf(e.Straps.Straps)
		}
		p.Parts = append(p.Parts, part)
	}
}

// rampOf draws a ramp as steep as it is, beside its limit.
func rampOf(deg, limit float64) *rampView {
	const along, most = 240.0, 150.0
	rise := func(d float64) float64 { return min(most, along*math.Tan(min(d, 80)*math.Pi/180)) }
	foot := max(rise(deg), rise(limit)) + 12
	return &rampView{Foot: foot, Top: foot - rise(deg), Limit: foot - rise(limit), Tall: foot + 10}
}

// bridgeOf draws the load under what it goes under: two hundred units are as high as the
// higher of them.
func bridgeOf(load, needs, room float64) *bridgeView {
	const tall = 160.0
	scale := (tall - 30) / max(needs, room)
	return &bridgeView{Load: tall - 10 - load*scale, Needs: tall - 10 - needs*scale, Room: tall - 10 - room*scale, Tall: tall}
}

// strapsOf draws the straps from above, those in front at the top.
func strapsOf(straps []yard.LoadStrap) (out []strapMark) {
	at := map[string]int{}
	for _, s := range straps {
		i := at[s.End]
		at[s.End]++
		m := strapMark{X: 60, Far: 20, Y: 26 + 14*float64(i/2), Cut: s.Cut}
		if i%2 == 1 {
			m.X, m.Far = 140, 180
		}
		if s.End == ground.Rear {
			m.Y = 134 - 14*float64(i/2)
		}
		out = append(out, m)
	}
	return out
}

// form is what is asked, with what was typed.
func (p *loadPage) form(v *page.Visit, o *outing.Outing, typed *yard.CheckLoad) {
	carried := yard.CarriedBy(o)
	for _, part := range loadAsked {
		f := loadFields{ID: part.part, Name: v.T("load.part." + part.part)}
		fields := part.fields
		switch part.part {
		case "ramp":
			f.Note = v.T("load.ramp_of", "limit", tell.Degrees(v.Voice, carried.Limit), "width", tell.Metres(v.Voice, carried.Width), "margin", tell.Metres(v.Voice, ground.RampMargin))
		case "tow":
			weighs := 0.0
			for _, m := range carried.Masses {
				weighs += m.Value
			}
			f.Note = v.T("load.mass_of", "mass", tell.Kilograms(v.Voice, weighs))
			if len(carried.Unknown) > 0 {
				f.Note = v.T("load.mass_unknown")
				fields = append(fields[:len(fields):len(fields)], [2]string{"mass", "kg"})
			}
		}
		for _, one := range fields {
			field := loadField{ID: one[0], Name: v.T("load.field." + one[0]), Unit: v.Unit(one[1]).Symbol, Value: typed.Typed[one[0]]}
			if field.Doubt = typed.Typed[one[0]+"_u"]; yard.Doubted(one[0]) && field.Doubt == "" {
				field.Doubt = tell.Again(v.Voice, yard.UsualDoubt(one[0]), one[1])
			}
			f.Fields = append(f.Fields, field)
		}
		p.Fields = append(p.Fields, f)
	}
	p.Mass = v.Unit("kg").Symbol
	p.NoBridge = typed.Typed["no_bridge"] == "yes"
	for i := range strapRows {
		s := strapFields{N: i + 1, Doubt: tell.Plain(v.Voice, yard.UsualDoubt("strap_angle"))}
		if i < len(typed.Straps) {
			s.Load, s.Angle, s.End, s.Cut = typed.Straps[i].Load, typed.Straps[i].Angle, typed.Straps[i].End, typed.Straps[i].Cut
			if d := typed.Straps[i].Doubt; d != "" {
				s.Doubt = d
			}
		}
		p.Straps = append(p.Straps, s)
	}
	p.Ends = []option{{ID: ground.Front, Name: v.T("load.front")}, {ID: ground.Rear, Name: v.T("load.rear")}}
}

// typedLoad is a load sheet as it would be typed again.
func typedLoad(v *page.Visit, e yard.LoadChecked) yard.CheckLoad {
	c := yard.CheckLoad{Typed: map[string]string{}}
	amount := func(name string, a yard.Amount, symbol string) {
		c.Typed[name], c.Typed[name+"_u"] = tell.Again(v.Voice, a.Value, symbol), tell.Again(v.Voice, a.Doubt, symbol)
	}
	if r := e.Ramp; r != nil {
		amount("ramp_height", r.Height, "m")
		amount("ramp_length", r.Length, "m")
		amount("ramp_width", r.Width, "m")
	}
	if b := e.Bridge; b != nil {
		amount("load_height", b.Height, "m")
		c.Typed["legal"] = tell.Again(v.Voice, b.Legal, "m")
		var bridges []string
		for _, one := range b.Bridges {
			bridges = append(bridges, tell.Again(v.Voice, one, "m"))
		}
		if c.Typed["bridges"] = strings.Join(bridges, "; "); len(bridges) == 0 {
			c.Typed["no_bridge"] = "yes"
		}
	}
	if t := e.Tow; t != nil {
		c.Typed["trailer"], c.Typed["gross"], c.Typed["rating"] = tell.Again(v.Voice, t.Trailer.Value, "kg"), tell.Again(v.Voice, t.Gross, "kg"), tell.Again(v.Voice, t.Rating, "kg")
		if t.Tongue != nil {
			amount("tongue", *t.Tongue, "kg")
		}
	}
	if s := e.Straps; s != nil {
		for _, one := range s.Straps {
			strap := yard.TypedStrap{Load: tell.Again(v.Voice, one.Load, "kg"), End: one.End, Cut: one.Cut}
			if one.Angle != nil {
				strap.Angle, strap.Doubt = tell.Plain(v.Voice, one.Angle.Value), tell.Plain(v.Voice, one.Angle.Doubt)
			}
			c.Straps = append(c.Straps, strap)
		}
	}
	return c
}

// inUnits is what was typed with the visitor's units where none was.
func inUnits(v *page.Visit, c yard.CheckLoad) yard.CheckLoad {
	typed := map[string]string{"no_bridge": c.Typed["no_bridge"], "mass": bare(v, c.Typed["mass"], "kg"), "mass_u": bare(v, c.Typed["mass_u"], "kg")}
	for _, part := range loadAsked {
		for _, one := range part.fields {
			typed[one[0]], typed[one[0]+"_u"] = bare(v, c.Typed[one[0]], one[1]), bare(v, c.Typed[one[0]+"_u"], one[1])
		}
	}
	var bridges []string
	for one := range strings.SplitSeq(c.Typed["bridges"], ";") {
		bridges = append(bridges, bare(v, one, "m"))
	}
	typed["bridges"] = strings.Join(bridges, ";")
	out := yard.CheckLoad{Outing: c.Outing, Typed: typed}
	for _, s := range c.Straps {
		s.Load = bare(v, s.Load, "kg")
		out.Straps = append(out.Straps, s)
	}
	return out
}

// checkLoad keeps a load sheet with its outing.
func checkLoad(v *page.Visit) {
	c := yard.CheckLoad{Outing: v.Param("outing"), Typed: map[string]string{"no_bridge": v.Field("no_bridge"), "mass": v.Field("mass"), "mass_u": v.Field("mass_u")}}
	for _, part := range loadAsked {
		for _, one := range part.fields {
			c.Typed[one[0]] = v.Field(one[0])
			c.Typed[one[0]+"_u"] = v.Field(one[0] + "_u")
		}
	}
	for i := range strapRows {
		n := fmt.Sprint(i + 1)
		c.Straps = append(c.Straps, yard.TypedStrap{Load: v.Field("strap_" + n), Angle: v.Field("angle_" + n), Doubt: v.Field("angle_u_" + n), End: strings.TrimSpace(v.Field("end_" + n)), Cut: v.Field("cut_"+n) == "yes"})
	}
	said(v, inUnits(v, c), "/outings/"+c.Outing+"/load", func(refused string) { showLoadWith(v, http.StatusConflict, refused, &c) })
}
