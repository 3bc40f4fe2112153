package ground

// A zone: every machine that does its work, and what is measured and found there.

import (
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

// zonePage is one zone.
type zonePage struct {
	Title              string
	ID, Path           string
	Plan               *plan
	Scale              string // of the plan
	Marks              []keyMark
	Facts              []string
	May, MayNot        []pairLine
	FewNot             bool // so few that they are shown unfolded
	Readings           []readingLine
	Bank               *bankView
	Ways               []wayForm
	Doubtful           *doubtful
	Items              []walkItem
	Here               []string // what stands in the zone, or beside it
	Walked             string
	Told, Photo        string
	Tried              string
	MaySurvey, MayDraw bool
	Refused            string
	Storm              bool
	Form               string
	Grass, Ground      string
}

// pairLine is a machine in the zone, with who would take it.
type pairLine struct {
	Machine, Name, Who string
	State, Answer      string
	Why, Out, Near     []string
	Keep               []string
	Takes, NotYet      string
}

type readingLine struct {
	N     int
	Words string
	Said  string
}

// wayForm is one way of measuring a bank.
type wayForm struct {
	ID, Name, How, With string
	Numbers             []numberField
	Open                bool
	Tilt                bool
}

type numberField struct {
	ID, Name, Unit, Doubt string
	Typed, TypedDoubt     string
}

// doubtful asks whether a number was degrees or per cent.
type doubtful struct {
	Asks   string
	Kept   map[string]string // the form's other fields
	AsDeg  string
	AsPart string
}

type walkItem struct {
	ID, Name string
	Done     bool
}

// bankView is a bank drawn from the side, with a machine's limit.
type bankView struct {
	Width, Height        float64
	Foot, Top            float64
	LimitX, LimitY       float64
	Worst, Limit, Inside string
	Over                 bool
}

var zonePages = page.New[zonePage](templates, "zone")

func showZone(v *page.Visit) { showZoneWith(v, http.StatusOK, "", nil) }

func showZoneWith(v *page.Visit, status int, refused string, asks *doubtful) {
	view, check := v.Site.Store.View(v.Context())
	l, err := look(v, view, check, v.Query("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	i := slices.IndexFunc(l.site.Zones, func(z ground.Zone) bool { return z.ID == zone(v) })
	if i < 0 {
		notThere(v)
		return
	}
	z := &l.site.Zones[i]
	feature, _ := yard.SiteOf(view).Feature(z.ID)
	p := zonePage{Title: l.feature(z.ID), ID: z.ID, Path: page.ZonePath(z.ID), Plan: drawn(&l.site, z, v.Unit("m").Of(1).Value), MaySurvey: v.May(operator.Survey), MayDraw: v.May(operator.Site),
		Refused: refused, Form: page.NewID(), Doubtful: asks, Storm: yard.StormToday(view, v.Now)}
	p.Facts = append([]string{v.T("ground.work." + z.Work), v.T("ground.surface." + z.Surface), tell.Area(v.Voice, z.Shape.Area())}, zoneWords(v, z, len(z.Readings) < l.House.Needed)...)
	p.Marks = p.Plan.key(v)
	p.Scale = tell.Metres(v.Voice, p.Plan.Scale.Metres)
	p.pairs(v, l, i)
	p.FewNot = len(p.MayNot) <= fewNot
	p.readings(v, z, feature)
	p.ways(v)
	p.found(v, view, z)
	p.stands(v, l, z)
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	zonePages.Show(v, status, p.Title, p)
}

// fewNot is how many refused machines are shown without unfolding them.
const fewNot = 3

// pairsMost is how many machines a zone shows.
const pairsMost = 40

// pairs are the machines that do the zone's work, each with who has it, or would take it.
func (p *zonePage) pairs(v *page.Visit, l *looked, zone int) {
	z := &l.site.Zones[zone]
	drawn := l.machine // or the first that does the work
	does := func(m ground.Machine) bool { return slices.Contains(m.Does, z.Work) }
	if drawn < 0 || !does(l.Machines[drawn]) {
		drawn = slices.IndexFunc(l.Machines, does)
	}
	for i := range l.Machines {
		if !does(l.Machines[i]) || len(p.May)+len(p.MayNot) >= pairsMost || len(l.People) == 0 {
			continue
		}
		m := l.Would(i)
		line := pairLine{Machine: m.ID, Name: l.What(i).Name}
		switch {
		case l.Halted(m.ID):
			line.NotYet = v.T("ground.halt_now")
		case !l.Machines[i].Released:
			line.NotYet = v.T("ground.ready_now")
		}
		room := ground.Judgement{Room: l.House.Room(&l.site, z, &m)}
		who := l.Taker(i)
		a := l.House.Answer(room.Room, l.People[who], v.Now)
		line.Who, line.State = l.Who(who).Name, stateOf(a)
		line.Answer = v.T("ground.state." + line.State)
		if line.NotYet != "" && a.Allowed {
			line.Answer, line.NotYet = v.T("ground.once."+line.State), ""
		}
		line.Why = why(v, &room, a, line.Name, line.Who)
		if a.Allowed {
			line.Out, line.Near, line.Keep, line.Takes = outOf(v, &room), nearTo(v, &room, l.feature), keepTo(v, a), takes(v, &room)
			p.May = append(p.May, line)
		} else {
			p.MayNot = append(p.MayNot, line)
		}
		if i == drawn {
			p.bank(v, z, a, line.Name)
			p.Plan.shows(0, &room, a)
		}
	}
}

// bank draws the bank from the side.
func (p *zonePage) bank(v *page.Visit, z *ground.Zone, a ground.Answer, machine string) {
	worst, known := z.Degrees()
	if !known {
		return
	}
	const wide, most = 300.0, 190.0
	rise := func(deg float64) float64 { return min(most, (wide-40)*math.Tan(deg*math.Pi/180)) }
	foot := max(rise(worst), rise(a.Limit)) + 10
	b := &bankView{Width: wide, Height: foot + 10, Foot: foot, Over: slices.Contains(a.Because, "slope"),
		Worst: tell.Degrees(v.Voice, worst), Limit: tell.Degrees(v.Voice, a.Limit), Inside: v.T("ground.bank_limit", "machine", machine, "limit", tell.Degrees(v.Voice, a.Limit))}
	b.Top = b.Foot - rise(worst)
	b.LimitX, b.LimitY = wide-20, b.Foot-rise(a.Limit)
	p.Bank = b
}

// readings are those of the bank, with what they were taken with.
func (p *zonePage) readings(v *page.Visit, z *ground.Zone, feature ground.Feature) {
	said := feature.Said()
	for i, r := range z.Readings {
		line := readingLine{N: i}
		u := v.T("ground.plus_minus", "u", tell.Plain(v.Voice, r.Up.Doubt))
		switch r.Kind {
		case ground.ByAngle:
			line.Words = tell.Plain(v.Voice, r.Up.Value) + "° " + u
		case ground.ByPercent:
			line.Words = tell.Plain(v.Voice, r.Up.Value) + " % " + u
		default:
			line.Words = v.T("ground.reading."+r.Kind, "up", tell.Metres(v.Voice, r.Up.Value), "along", tell.Metres(v.Voice, r.Along.Value))
		}
		if worst, ok := r.Worst(); ok {
			line.Words += ": " + v.T("ground.at_worst", "deg", tell.Degrees(v.Voice, worst))
		}
		if i < len(said) && said[i].With != "" {
			when := said[i].At
			if at, err := time.Parse(time.RFC3339, said[i].At); err == nil {
				when = v.When(at, v.Now)
			}
			line.Said = v.T("ground.said", "with", said[i].With, "who", v.Name(said[i].By), "when", when)
		}
		p.Readings = append(p.Readings, line)
	}
}

// ways are the forms to measure a bank with; what was typed and refused stands in its own.
func (p *zonePage) ways(v *page.Visit) {
	for _, way := range []string{ground.ByAngle, ground.ByDrop, ground.ByPercent, ground.ByRiseRun} {
		f := wayForm{ID: way, Name: v.T("ground.way." + way), How: v.T("ground.how." + way), With: v.T("ground.with." + way), Tilt: way == ground.ByAngle, Open: v.Field("way") == way}
		if typed := v.Field("with"); f.Open && typed != "" {
			f.With = typed
		}
		for _, n := range yard.Numbers(way) {
			field := numberField{ID: n, Name: v.T("ground.number." + n), Unit: v.Unit(yard.UnitOf(n)).Symbol, Doubt: tell.Again(v.Voice, yard.UsualDoubt(n), yard.UnitOf(n))}
			if f.Open {
				field.Typed, field.TypedDoubt = v.Field(n), v.Field("u_"+n)
			}
			if field.TypedDoubt == "" {
				field.TypedDoubt = field.Doubt
			}
			f.Numbers = append(f.Numbers, field)
		}
		p.Ways = append(p.Ways, f)
	}
}

// found is how the zone was found today.
func (p *zonePage) found(v *page.Visit, view yard.View, z *ground.Zone) {
	w := yard.WalkedToday(view, z.ID, v.Now)
	p.Walked = walkedWords(v, view, z)
	done := []string{}
	if w != nil {
		done, p.Told, p.Photo = w.Done, w.Told, w.Photo
		p.Grass, p.Ground = yard.GrassDry, yard.GroundFirm
		if w.Wet {
			p.Grass = yard.GrassWet
		}
		if w.Soft {
			p.Ground = yard.GroundSoft
		}
	}
	if len(v.Fields("told")) > 0 { // a walk that was refused: what was typed stands there still
		done, p.Told, p.Grass, p.Ground = v.Fields("item"), v.Field("told"), v.Field("grass"), v.Field("ground")
	}
	for _, item := range yard.WalkItems(z) {
		p.Items = append(p.Items, walkItem{item, v.T("ground.walk." + item), slices.Contains(done, item)})
	}
	if t := yard.TriedToday(view, z.ID, v.Now); t != nil {
		key := "ground.tried_held"
		if t.Slipped {
			key = "ground.tried_slipped"
		}
		p.Tried = v.T(key, "who", v.Name(t.By), "when", v.Clock(t.At))
	}
}

// stands names what stands in the zone or beside it.
func (p *zonePage) stands(v *page.Visit, l *looked, z *ground.Zone) {
	for _, t := range yard.Beside(&l.site, z) {
		p.Here = append(p.Here, v.T("ground.stands", "name", l.feature(t.ID), "what", v.T("ground.thing."+t.Kind)))
	}
}

// home is the page of the zone of the address.
func home(v *page.Visit, anchor string) string { return page.ZonePath(zone(v)) + anchor }

// measure takes a reading of the bank; a number that may be degrees as well as per cent is
// asked about first.
func measure(v *page.Visit) {
	c := yard.MeasureBank{Zone: zone(v), Way: v.Field("way"), With: v.Field("with"), Numbers: map[string]string{}, Doubts: map[string]string{}}
	for _, n := range yard.Numbers(c.Way) {
		c.Numbers[n], c.Doubts[n] = bare(v, v.Field(n), yard.UnitOf(n)), bare(v, v.Field("u_"+n), yard.UnitOf(n))
	}
	if asks := twoWays(v, c); asks != nil && v.Field("sure") == "" {
		if v.Scripted() {
			v.Ask(asks.Asks, []page.Choice{{Name: "sure", Value: ground.ByAngle, Words: asks.AsDeg}, {Name: "sure", Value: ground.ByPercent, Words: asks.AsPart}})
			return
		}
		showZoneWith(v, http.StatusConflict, "", asks)
		return
	}
	if sure := v.Field("sure"); sure == ground.ByAngle || sure == ground.ByPercent {
		if sure != c.Way {
			typed, doubt := strings.Trim(v.Field(c.Way), " °%"), tell.Plain(v.Voice, yard.UsualDoubt(sure))
			c.Numbers, c.Doubts, c.Way = map[string]string{sure: typed}, map[string]string{sure: doubt}, sure
		}
	}
	said(v, c, home(v, "#measured"), func(refused string) { showZoneWith(v, http.StatusConflict, refused, nil) })
}

// twoWays asks about a number that may be both; nil where it may not, or where the device
// read it itself.
func twoWays(v *page.Visit, c yard.MeasureBank) *doubtful {
	if c.Way != ground.ByAngle && c.Way != ground.ByPercent {
		return nil
	}
	if read := v.Field("read"); read != "" && read == v.Field(c.Way) {
		return nil
	}
	typed, ok := yard.Plain(c.Numbers[c.Way], c.Way)
	if !ok {
		return nil
	}
	view, _ := v.Site.Store.View(v.Context())
	site, err := yard.SiteToday(view, v.Now)
	if err != nil {
		return nil
	}
	i := slices.IndexFunc(site.Zones, func(z ground.Zone) bool { return z.ID == c.Zone })
	if i < 0 || !ground.TwoWays(c.Way, typed, site.Zones[i].Readings) {
		return nil
	}
	shown := tell.Plain(v.Voice, typed)
	percent := ground.Reading{Kind: ground.ByPercent, Up: ground.Measured{Value: typed}}
	deg, _ := percent.Worst()
	return &doubtful{Asks: v.T("ground.which", "n", shown), AsDeg: v.T("ground.as_degrees", "n", shown, "percent", v.Number(ground.Percent(typed), 0)),
		AsPart: v.T("ground.as_percent", "n", shown, "deg", v.Number(deg, 1)),
		Kept:   map[string]string{"way": c.Way, c.Way: v.Field(c.Way), "u_" + c.Way: v.Field("u_" + c.Way), "with": c.With}}
}

func try(v *page.Visit) {
	said(v, yard.TryBank{Zone: zone(v), How: v.Field("how")}, home(v, "#tried"), func(refused string) { showZoneWith(v, http.StatusConflict, refused, nil) })
}

func dropReading(v *page.Visit) {
	n, err := strconv.Atoi(v.Field("n"))
	if err != nil {
		n = -1
	}
	said(v, yard.DropReading{Zone: zone(v), N: n}, home(v, "#measured"), func(refused string) { showZoneWith(v, http.StatusConflict, refused, nil) })
}
