// Package muster is the morning page: who is here, what each machine is ready for and
// who has it, the quiet hours and the weather. A lead holds it; everybody reads it.
package muster

import (
	"embed"
	"errors"
	"html/template"
	"net/http"
	"strings"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/export"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/muster", operator.Look, showMuster),
		page.Get("/muster.pdf", operator.Look, showPDF),
		page.Post("/me/here", operator.OwnThings, func(v *page.Visit) { said(v, yard.Come{}) }),
		page.Post("/muster/here", operator.Muster, func(v *page.Visit) { said(v, yard.SayCame{Person: v.Field("person")}) }),
		page.Post("/muster/give", operator.Muster, give),
		page.Post("/muster/quiet", operator.Muster, func(v *page.Visit) {
			said(v, yard.SayQuiet{From: v.Field("from"), Until: v.Field("until"), What: v.Field("what")})
		}),
		page.Post("/muster/quiet/drop", operator.Muster, func(v *page.Visit) { said(v, yard.DropQuiet{Record: v.Field("record")}) }),
		page.Post("/muster/weather", operator.Muster, func(v *page.Visit) {
			said(v, yard.SayWeather{Grass: v.Field("grass"), Light: v.Field("light"), Storm: v.Field("storm")})
		}),
	}
}

// morningPage is a morning.
type morningPage struct {
	Title, On  string
	May        bool // the visitor holds it
	MayCome    bool // the visitor may say that they are here
	LeftOpen   bool
	Backup     string   // when the last backup was written, for leads
	BackupBad  bool     // it failed, or is too long ago
	Outside    []string // what is wrong with devices beside the yard
	Devices    bool     // there are some, and the visitor may look at them
	PostSays   string   // what the weather post sees
	Refused    string
	Form       string
	Counts     string
	Quiet      []quietLine
	Typed      yard.SayQuiet // what was typed and refused
	Weather    string
	Choices    []weatherChoice
	People     []personLine
	Groups     []machineGroup
	MineGiven  []string // what was given to the visitor
	AnyMachine bool
	More       int // machines that are not shown
}

type quietLine struct {
	ID, Words string
	Now       bool
}

// weatherChoice is one of the questions of the weather.
type weatherChoice struct {
	Name, Label string
	Options     []option
}

type option struct {
	ID, Name string
	Chosen   bool
}

type personLine struct {
	ID, Name, Role, Words string
	Here                  bool
	Given                 []givenLine
}

// givenLine is a machine that somebody has for the day, and what they may not do with it.
type givenLine struct {
	Machine, Name string
	Not           []string
}

type machineGroup struct {
	State, Title string
	Count        int
	Machines     []machineLine
}

// shownMost is how many machines of a group are shown at once.
const shownMost = 40

type machineLine struct {
	ID, Name, Bay, Grade string
	Why                  []string
	To                   string        // whose it is, or who has it out, in words
	Free                 bool          // it may be given
	Takers               template.HTML // whom to, as buttons, and why not to the others
}

var pages = page.New[morningPage](templates, "muster")

func showMuster(v *page.Visit) { showWith(v, http.StatusOK, "", yard.SayQuiet{}) }

func showWith(v *page.Visit, status int, refused string, typed yard.SayQuiet) {
	p, err := morning(v)
	if err != nil {
		v.Fail(err)
		return
	}
	p.Refused, p.Typed = refused, typed
	pages.Show(v, status, p.Title, p)
}

// morning is the morning in words.
func morning(v *page.Visit) (morningPage, error) {
	view, check := v.Site.Store.View(v.Context())
	m := yard.Muster(view, v.Now)
	p := morningPage{Title: v.T("muster.title"), On: v.Day(v.Yard.DayStart(v.Now)), May: v.May(operator.Muster), LeftOpen: m.LeftOpen && v.May(operator.Close), Form: page.NewID()}
	p.backup(v)
	p.quiet(v, m.Quiet)
	p.Devices = v.May(operator.Desk) && len(v.Devices()) > 0
	for _, s := range v.Troubles() {
		p.Outside = append(p.Outside, s.Words+" "+s.ByHand)
	}
	p.weather(v, m.Weather)
	here := 0
	for _, one := range m.People {
		if one.Came != nil {
			here++
		}
		line := p.person(v, view, one)
		if one.ID == v.Person.ID {
			p.MayCome = one.Came == nil && v.May(operator.OwnThings)
			for _, g := range line.Given {
				p.MineGiven = append(p.MineGiven, g.Name)
			}
		}
		p.People = append(p.People, line)
	}
	g := giving{view: view, people: m.People, sheets: map[string]template.HTML{}}
	ready := 0
	for _, one := range m.Machines {
		p.AnyMachine = true
		if one.State == yard.IsReady || one.State == yard.EndsSoon {
			ready++
		}
		if n := len(p.Groups); n == 0 || p.Groups[n-1].State != string(one.State) {
			p.Groups = append(p.Groups, machineGroup{State: string(one.State), Title: v.T("muster.state." + string(one.State))})
		}
		group := &p.Groups[len(p.Groups)-1]
		if group.Count++; group.Count > shownMost && v.Query("all") == "" {
			p.More++
			continue
		}
		line, err := p.machine(v, &g, one)
		if err != nil {
			return p, err
		}
		group.Machines = append(group.Machines, line)
	}
	p.Counts = v.T("muster.counts", "here", here, "people", len(m.People), "ready", ready, "machines", len(m.Machines))
	return p, check()
}

// backup says when the yard was last copied, to who sees to that.
func (p *morningPage) backup(v *page.Visit) {
	k := v.Site.Backups
	if k == nil || !v.May(operator.House) {
		return
	}
	last, err := k.State()
	switch {
	case err != nil && last.At.IsZero():
		p.Backup = v.T("muster.backup_never")
	case err != nil:
		p.Backup = v.T("muster.backup_failed", "when", v.When(last.At, v.Now))
	case !last.At.IsZero():
		p.Backup = v.T("muster.backup", "when", v.When(last.At, v.Now))
	}
	p.BackupBad = k.Late(v.Now)
}

func (p *morningPage) quiet(v *page.Visit, list []yard.Quiet) {
	for _, q := range list {
		p.Quiet = append(p.Quiet, quietLine{ID: q.Record, Words: v.T("muster.quiet_words", "from", v.Clock(q.From), "until", v.Clock(q.Until), "what", q.What),
			Now: !v.Now.Before(q.From) && v.Now.Before(q.Until)})
	}
}

// weather is how it was said to be, and the questions, answered as the post sees it or as
// it was said last.
func (p *morningPage) weather(v *page.Visit, w *yard.Weather) {
	words := func(key string, said yard.WeatherSaid, more ...any) string {
		return v.T(key, append(more, "grass", v.T("weather.grass."+said.Grass), "light", v.T("weather.light."+said.Light), "storm", v.T("weather.storm."+said.Storm))...)
	}
	var now yard.WeatherSaid
	if w != nil {
		now = w.WeatherSaid
		p.Weather = words("muster.weather_words", now, "who", v.Name(w.By), "when", v.When(w.At, v.Now))
	}
	if seen, ok := v.Site.Outside.Weather(); ok {
		now = seen.WeatherSaid
		p.PostSays = words("muster.post_says", now, "when", v.Clock(seen.At))
	}
	for _, c := range []struct {
		name, now string
		of        []string
	}{{"grass", now.Grass, yard.Grasses()}, {"light", now.Light, yard.Lights()}, {"storm", now.Storm, yard.Storms()}} {
		choice := weatherChoice{Name: c.name, Label: v.T("weather." + c.name)}
		for _, id := range c.of {
			choice.Options = append(choice.Options, option{ID: id, Name: v.T("weather." + c.name + "." + id), Chosen: id == c.now})
		}
		p.Choices = append(p.Choices, choice)
	}
}

// person says whether somebody is here, and what they have.
func (p *morningPage) person(v *page.Visit, view yard.View, one yard.AtMuster) personLine {
	line := personLine{ID: one.ID, Name: one.Name, Role: v.T("role." + string(one.Role)), Here: one.Came != nil}
	switch {
	case one.Came != nil && one.Came.By == one.ID:
		line.Words = v.T("muster.here", "when", v.Clock(one.Came.At))
	case one.Came != nil:
		line.Words = v.T("muster.here_says", "when", v.Clock(one.Came.At), "who", v.Name(one.Came.By))
	default:
		line.Words = v.T("muster.not_here")
	}
	if len(one.Out) > 0 {
		line.Words += "; " + v.T("muster.has_out", "machines", strings.Join(one.Out, ", "))
	}
	for _, m := range one.Has {
		given := givenLine{Machine: m.ID, Name: m.Name}
		if sheet, ok := view.Sheet(m.Sheet); ok {
			given.Not = mayNot(v, one.Person, sheet)
		}
		line.Given = append(line.Given, given)
	}
	return line
}

// mayNot is what somebody may not put a machine to that others may, and why.
func mayNot(v *page.Visit, p operator.Person, sheet *machine.Sheet) (out []string) {
	r := p.Readiness()
	for _, item := range sheet.Protection {
		r.Worn = append(r.Worn, item.ID) // what is worn is asked at Ready
	}
	for _, use := range sheet.Uses {
		for _, why := range r.Forbids(sheet, use.ID, v.Now) {
			out = append(out, v.T("use."+use.ID)+": "+v.Reason(why))
		}
	}
	if len(out) == 0 && !p.Role.MayRelease() {
		out = append(out, v.T("muster.with_a_second"))
	}
	return out
}

// giving is who may have which kind of machine.
type giving struct {
	view   yard.View
	people []yard.AtMuster
	sheets map[string]template.HTML
}

// taking is who may have machines of a sheet, and who may not and why.
type taking struct {
	Takers []option
	Nobody string
	Not    []string
}

// of is taking on the page, "" where nobody is here.
func (g *giving) of(v *page.Visit, m yard.Machine) (template.HTML, error) {
	if t, known := g.sheets[m.Sheet]; known {
		return t, nil
	}
	t := taking{Nobody: v.T("muster.nobody")}
	for _, one := range g.people {
		if one.Came == nil {
			continue
		}
		if refused := yard.MayBeGiven(g.view, m, one.Person, v.Now); len(refused) > 0 {
			t.Not = append(t.Not, v.Reason(refused[0]))
			continue
		}
		t.Takers = append(t.Takers, option{ID: one.ID, Name: one.Name})
	}
	var made strings.Builder
	if len(t.Takers)+len(t.Not) > 0 {
		if err := page.Part(&made, "takers", t); err != nil {
			return "", err
		}
	}
	g.sheets[m.Sheet] = template.HTML(made.String())
	return g.sheets[m.Sheet], nil
}

func (p *morningPage) machine(v *page.Visit, g *giving, one yard.Standing) (machineLine, error) {
	line := machineLine{ID: one.ID, Name: one.Name, Bay: one.Bay, Grade: string(one.GradeAt(v.Now))}
	for _, d := range one.Why {
		if sheet, ok := g.view.Sheet(one.Sheet); ok {
			words := v.Defect(sheet, d.Defect)
			if d.Blocks == yard.RunsOut && d.Until != nil {
				words += " · " + v.T("muster.until", "when", v.When(*d.Until, v.Now))
			} else if d.Blocks == yard.RunsOut && d.Left != nil {
				words += " · " + v.T("muster.hours_left", "hours", v.Number(*d.Left, 1))
			}
			line.Why = append(line.Why, words)
		}
	}
	for _, d := range v.DueLines(one.Due) {
		line.Why = append(line.Why, d.Point+": "+d.Words)
	}
	switch {
	case one.State == yard.OnSite:
		line.Why = append(line.Why, v.T("muster.stands_at", "where", outing.LeftOnSiteAt(one.Stood)))
	case one.Who != "":
		line.To = v.T("muster.out_with", "who", v.Name(one.Who))
	}
	if one.To != nil {
		line.To = v.T("muster.given_to", "who", v.Name(one.To.Person))
	}
	if p.May && one.To == nil && (one.State == yard.IsReady || one.State == yard.EndsSoon || one.State == yard.OnSite) {
		var err error
		if line.Takers, err = g.of(v, one.Machine); err != nil {
			return line, err
		}
		line.Free = line.Takers != ""
	}
	return line, nil
}

func give(v *page.Visit) {
	said(v, yard.GiveMachine{Machine: v.Field("machine"), Person: v.Field("person")})
}

// said says something and shows the morning again; what is refused stands on the page,
// with what was typed.
func said(v *page.Visit, c yard.Command) {
	_, err := v.Say(c)
	var refused *record.Refused
	if errors.As(err, &refused) && refused.Earlier == nil {
		typed, _ := c.(yard.SayQuiet)
		showWith(v, http.StatusConflict, v.Reason(refused.Reason), typed)
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/muster")
}

// showPDF is the morning on one sheet, for the wall.
func showPDF(v *page.Visit) {
	p, err := morning(v)
	if err != nil {
		v.Fail(err)
		return
	}
	d := v.Document(p.Title+", "+p.On, "")
	d.Lead = []string{p.Counts}
	for _, q := range p.Quiet {
		d.Lead = append(d.Lead, q.Words)
	}
	if p.Weather != "" {
		d.Lead = append(d.Lead, p.Weather)
	}
	people := export.Section{Head: v.T("muster.people")}
	for _, one := range p.People {
		line := one.Name + ": " + one.Words
		for _, g := range one.Given {
			line += " " + strings.Join(append([]string{g.Name + "."}, g.Not...), " ")
		}
		people.Lines = append(people.Lines, line)
	}
	d.Sections = append(d.Sections, people)
	for _, g := range p.Groups {
		s := export.Section{Head: g.Title}
		for _, m := range g.Machines {
			s.Lines = append(s.Lines, strings.Join(append(append([]string{m.Bay + " " + m.Name}, m.Why...), m.To), " · "))
		}
		d.Sections = append(d.Sections, s)
	}
	v.SendPDF("muster.pdf", d)
}
