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
	Open                 bool // the form
}

// loadPart is a part of the sheet as it was judged.
type loadPart struct {
	ID, Name, State, Answer string
	Words, Mend             []string
	Ramp                    *rampView
	Bridge                  *bridgeView
	Straps                  []strapMark
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

// loadAsked are the numbers of each part, their units, and whether they carry a doubt.
var loadAsked = []struct {
	part   string
	fields [][2]string
	doubt  bool
}{
	{"ramp", [][2]string{{"ramp_height", "m"}, {"ramp_length", "m"}, {"ramp_width", "m"}}, true},
	{"bridge", [][2]string{{"load_height", "m"}, {"bridges", ""}, {"legal", "m"}}, false},
	{"tow", [][2]string{{"trailer", "kg"}, {"gross", "kg"}, {"rating", "kg"}, {"tongue", "kg"}}, false},
}

// doubted are the numbers outside the ramp that somebody measures.
var doubted = map[string]string{"load_height": "0.05", "tongue": "5", "mass": "10"}

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
		p.judge(v, l.LoadChecked)
	}
	if typed == nil {
		again := typedLoad(v, l.LoadChecked)
		typed, p.Open = &again, !kept
	}
	for _, u := range o.Units {
		for _, rule := range v.Kept(u.Sheet.Family, u.Practice, "load") {
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

// judge says what each part comes to.
func (p *loadPage) judge(v *page.Visit, e yard.LoadChecked) {
	j := e.Judge()
	if r := j.Ramp; r != nil {
		part := p.part(v, "ramp", r.Because)
		part.Words = append(part.Words, v.T("load.ramp", "deg", degrees(v, r.Worst), "limit", degrees(v, e.Ramp.Limit), "width", number(v, e.Ramp.Width.Value)))
		for _, because := range r.Because {
			switch {
			case because == "angle" && r.NeededLength != nil:
				part.Mend = append(part.Mend, v.T("load.mend.angle", "length", number(v, *r.NeededLength), "more", number(v, *r.NeededLength-e.Ramp.Length.Value)))
			case because == "angle":
				part.Mend = append(part.Mend, v.T("load.mend.no_ramp"))
			default:
				part.Mend = append(part.Mend, v.T("load.mend.width", "width", number(v, math.Ceil(r.NeededWidth*100-1e-9)/100)))
			}
		}
		part.Ramp = rampOf(r.Worst, e.Ramp.Limit)
	}
	if b := j.Bridge; b != nil {
		part := p.part(v, "bridge", b.Because)
		words := v.T("load.no_bridge_words", "needs", number(v, b.Needs), "legal", number(v, e.Bridge.Legal))
		room := e.Bridge.Legal
		if b.Lowest != nil {
			words = v.T("load.bridge", "needs", number(v, b.Needs), "lowest", number(v, *b.Lowest), "legal", number(v, e.Bridge.Legal))
			room = min(room, *b.Lowest)
		}
		part.Words = append(part.Words, words)
		if len(b.Because) > 0 {
			part.Mend = append(part.Mend, v.T("load.mend.height", "less", number(v, math.Ceil(-b.Margin*100-1e-9)/100)))
		}
		part.Bridge = bridgeOf(e.Bridge.Height.Value, b.Needs, room)
	}
	if t := j.Tow; t != nil {
		p.tow(v, p.part(v, "tow", t.Because), e.Tow, t)
	}
	if s := j.Straps; s != nil {
		part := p.part(v, "straps", s.Because)
		part.Words = append(part.Words, v.T("load.straps", "counts", v.Number(s.Counts, 0), "needed", v.Number(s.Needed, 0), "front", s.Front, "rear", s.Rear))
		for _, because := range s.Because {
			more := v.Number(math.Ceil(s.Needed-s.Counts), 0)
			part.Mend = append(part.Mend, v.T("load.mend."+because, "more", more))
		}
		part.Straps = strapsOf(e.Straps.Straps)
	}
}

// tow says what the trailer comes to.
func (p *loadPage) tow(v *page.Visit, part *loadPart, e *yard.LoadTow, t *ground.Towed) {
	part.Words = append(part.Words, v.T("load.tow", "mass", v.Number(t.Mass, 0), "gross", v.Number(e.Gross, 0), "rating", v.Number(e.Rating, 0)))
	if t.Shares != nil {
		part.Words = append(part.Words, v.T("ground.tongue", "low", v.Number(100*t.Shares[0], 1), "high", v.Number(100*t.Shares[1], 1)))
	}
	for _, because := range t.Because {
		args := []any{}
		switch because {
		case "gross":
			args = append(args, "less", v.Number(math.Ceil(-t.GrossMargin), 0))
		case "rating":
			args = append(args, "less", v.Number(math.Ceil(-t.RatingMargin), 0))
		case "tongue_low", "tongue_high":
			if math.Ceil(t.Press[0]) > math.Floor(t.Press[1]) {
				because = "tongue_unsure"
			}
			args = append(args, "low", v.Number(math.Ceil(t.Press[0]), 0), "high", v.Number(math.Floor(t.Press[1]), 0))
		}
		part.Mend = append(part.Mend, v.T("load.mend."+because, args...))
	}
}

// part begins a part of the sheet.
func (p *loadPage) part(v *page.Visit, id string, because []string) *loadPart {
	part := loadPart{ID: id, Name: v.T("load.part." + id), State: "may", Answer: v.T("load.will_do")}
	if len(because) > 0 {
		part.State, part.Answer = "not", v.T("load.will_not")
		for _, b := range because {
			part.Words = append(part.Words, v.T("load.because."+b))
		}
	}
	p.Parts = append(p.Parts, part)
	return &p.Parts[len(p.Parts)-1]
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
			f.Note = v.T("load.ramp_of", "limit", degrees(v, carried.Limit), "width", number(v, carried.Width))
		case "tow":
			mass := 0.0
			for _, m := range carried.Masses {
				mass += m.Value
			}
			f.Note = v.T("load.mass_of", "mass", v.Number(mass, 0))
			if len(carried.Unknown) > 0 {
				f.Note = v.T("load.mass_unknown")
				fields = append(fields[:len(fields):len(fields)], [2]string{"mass", "kg"})
			}
		}
		for _, one := range fields {
			field := loadField{ID: one[0], Name: v.T("load.field." + one[0]), Unit: one[1], Value: typed.Typed[one[0]]}
			if usual := doubted[one[0]]; part.doubt || usual != "" {
				if field.Doubt = typed.Typed[one[0]+"_u"]; field.Doubt == "" {
					if field.Doubt = usual; usual == "" {
						field.Doubt = "0.01"
					}
				}
			}
			f.Fields = append(f.Fields, field)
		}
		p.Fields = append(p.Fields, f)
	}
	p.NoBridge = typed.Typed["no_bridge"] == "yes"
	for i := range strapRows {
		s := strapFields{N: i + 1, Doubt: "5"}
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
	amount := func(name string, a yard.Amount) {
		c.Typed[name], c.Typed[name+"_u"] = number(v, a.Value), number(v, a.Doubt)
	}
	if r := e.Ramp; r != nil {
		amount("ramp_height", r.Height)
		amount("ramp_length", r.Length)
		amount("ramp_width", r.Width)
	}
	if b := e.Bridge; b != nil {
		amount("load_height", b.Height)
		c.Typed["legal"] = number(v, b.Legal)
		var bridges []string
		for _, one := range b.Bridges {
			bridges = append(bridges, number(v, one))
		}
		if c.Typed["bridges"] = strings.Join(bridges, "; "); len(bridges) == 0 {
			c.Typed["no_bridge"] = "yes"
		}
	}
	if t := e.Tow; t != nil {
		c.Typed["trailer"], c.Typed["gross"], c.Typed["rating"] = number(v, t.Trailer.Value), number(v, t.Gross), number(v, t.Rating)
		if t.Tongue != nil {
			amount("tongue", *t.Tongue)
		}
	}
	if s := e.Straps; s != nil {
		for _, one := range s.Straps {
			strap := yard.TypedStrap{Load: number(v, one.Load), End: one.End, Cut: one.Cut}
			if one.Angle != nil {
				strap.Angle, strap.Doubt = number(v, one.Angle.Value), number(v, one.Angle.Doubt)
			}
			c.Straps = append(c.Straps, strap)
		}
	}
	return c
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
	said(v, c, "/outings/"+c.Outing+"/load", func(refused string) { showLoadWith(v, http.StatusConflict, refused, &c) })
}
