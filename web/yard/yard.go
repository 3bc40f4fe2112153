// Package yard is the plan of the shed and its list, and the pages of one
// machine: how it stands, taking it out, its label, its meter.
package yard

import (
	"embed"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	rules "vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	sheet := page.Post("/sheets", operator.Machines, addSheet)
	many := page.Post("/machines-many", operator.Machines, addMany)
	sheet.Upload, many.Upload = true, true
	return []page.Route{
		page.Get("/yard", operator.Look, showYard),
		page.Get("/yard/list", operator.Look, showList),
		page.Post("/machines/:machine/place", operator.Machines, changeMachine),
		page.Post("/machines/:machine/away", operator.Machines, sendAway),
		page.Post("/machines/:machine/back", operator.Machines, bringBack),
		page.Get("/machines/:machine", operator.Look, showMachine),
		page.Post("/machines/:machine/outing", operator.TakeOut, takeOut),
		page.Get("/machines/:machine/label", operator.Look, showLabel),
		page.Get("/sheets", operator.Machines, showSheets),
		sheet,
		page.Get("/machines-new", operator.Machines, showNewMachine),
		page.Post("/machines-new", operator.Machines, addMachine),
		page.Get("/machines-many", operator.Machines, showMany),
		many,
		page.Post("/machines/:machine/sheet", operator.Machines, adoptSheet),
		page.Post("/machines/:machine/options", operator.Machines, setOptions),
		page.Post("/machines/:machine/meter", operator.Machines, setMeter),
	}
}

// yardPage is the plan of the shed, or the same as a list.
type yardPage struct {
	Sheets []page.Symbol
	Bays   template.HTML
	// First are the machines that need somebody, where there are too many to see
	// them at once.
	First  template.HTML
	Find   string // what the list is filtered by at first
	Any    bool
	Tally  []tally
	MayAdd bool
	Away   []awayLine // machines that have left, for leads
	News   []newsLine // what became of what the person found
	// LeftOpen: a day ended and was not sealed.
	LeftOpen bool
	Quiet    []string // quiet hours that are on, or still come
	Given    []givenLine
	Zones    []page.ZoneJob // what the morning's plan gives to the visitor
	Form     string
}

// givenLine is a machine that the visitor was given for the day.
type givenLine struct{ ID, Name string }

// ofToday are the day's quiet hours, and what the visitor was given in the morning.
func (p *yardPage) ofToday(v *page.Visit, view rules.View) {
	for _, q := range rules.QuietToday(view, v.Now) {
		if v.Now.Before(q.Until) {
			p.Quiet = append(p.Quiet, v.T("muster.quiet_words", "from", v.Clock(q.From), "until", v.Clock(q.Until), "what", q.What))
		}
	}
	for _, m := range rules.GivenTo(view, v.Person.ID, v.Now) {
		p.Given = append(p.Given, givenLine{m.ID, m.Name})
	}
	p.Zones = v.ZonesToday(view)
}

// awayLine is a machine that has left the yard.
type awayLine struct{ ID, Words string }

// away lists the machines that have left, for who may bring them back.
func away(v *page.Visit) ([]awayLine, error) {
	if !v.May(operator.Machines) {
		return nil, nil
	}
	list, err := v.Site.Store.Away(v.Context())
	var out []awayLine
	for _, m := range list {
		out = append(out, awayLine{m.ID, m.Name + ": " + v.T("machine.left", "when", v.When(m.Left, v.Now), "why", m.LeftWhy)})
	}
	return out, err
}

// newsLine is something that was mended since its finder last heard.
type newsLine struct{ ID, Words string }

// news lists what became of what the person found.
func news(v *page.Visit) ([]newsLine, error) {
	list, err := v.Site.Store.News(v.Context(), v.Person.ID, v.Now)
	var out []newsLine
	for _, d := range list {
		m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
		if err != nil {
			return out, err
		}
		out = append(out, newsLine{d.ID, v.T("news.mended", "machine", m.Name, "what", tell.Lower(v.Defect(sheet, d.Defect)), "who", d.CloserName, "when", v.When(d.ClosedAt, v.Now))})
	}
	return out, err
}

// bay is one machine where it stands. It is flat and in words already: a yard
// has hundreds of them, and templates are slow at finding things out.
type bay struct {
	ID, No, Name, Type string
	Grade, GradeWord   string
	Symbol, View       string // the drawing and its viewBox
	Class              string // how it is drawn: its grade, and out or busy
	State              string // what it is doing
	Find               string // what the list's filter looks in
	// needs: it is on Halt, or out with whoever looks.
	needs bool
}

// seenAtOnce is how many machines a person takes in on one page.
const seenAtOnce = 40

// tally counts machines of one grade.
type tally struct {
	Grade defect.Grade
	Count int
}

var (
	yardPages = page.New[yardPage](templates, "yard")
	listPages = page.New[yardPage](templates, "list")
)

// draw fills the page with one piece a machine.
func fill(v *page.Visit, piece string) (yardPage, error) {
	machines, err := v.Site.Store.Machines(v.Context())
	if err != nil {
		return yardPage{}, err
	}
	yard := yardPage{Any: len(machines) > 0, MayAdd: v.May(operator.Machines)}
	symbols := map[string]page.Symbol{}
	types := map[string]string{}
	count, words := map[defect.Grade]int{}, map[defect.Grade]string{}
	for _, g := range defect.Grades() {
		words[g] = v.T("grade." + string(g))
	}
	inBay := v.T("yard.in_bay")
	var bays []bay
	for _, m := range machines {
		drawn, known := symbols[m.Sheet]
		if !known {
			sheet, err := v.Site.Store.Sheet(v.Context(), m.Sheet)
			if err != nil {
				return yard, err
			}
			if drawn, err = page.SymbolOf(m.Sheet, sheet); err != nil {
				return yard, err
			}
			symbols[m.Sheet], types[m.Sheet] = drawn, v.Text(sheet.Name)
			yard.Sheets = append(yard.Sheets, drawn)
		}
		grade := m.GradeAt(v.Now)
		count[grade]++
		b := bay{ID: m.ID, No: m.Bay, Name: m.Name, Type: types[m.Sheet], Grade: string(grade), GradeWord: words[grade],
			Symbol: drawn.ID, View: drawn.View, Class: string(grade), State: inBay}
		if m.Out != nil {
			b.State = v.StateWords(m.Out)
			b.Class += " busy"
			if m.Out.Status == outing.Out {
				b.Class = string(grade) + " out"
			}
		}
		b.needs = grade == defect.Halt || m.Out != nil && m.Out.Operator == v.Person.ID
		b.Find = strings.ToLower(strings.Join([]string{b.Name, b.No, b.Type, b.State, b.GradeWord}, " "))
		bays = append(bays, b)
	}
	slices.SortFunc(yard.Sheets, func(a, b page.Symbol) int { return strings.Compare(a.ID, b.ID) })
	for _, g := range defect.Grades() {
		if count[g] > 0 {
			yard.Tally = append(yard.Tally, tally{g, count[g]})
		}
	}
	if yard.Bays, err = fragments.render(piece, bays); err != nil || len(bays) <= seenAtOnce {
		return yard, err
	}
	yard.First, err = fragments.render("row", slices.DeleteFunc(bays, func(b bay) bool { return !b.needs }))
	return yard, err
}

func showYard(v *page.Visit) {
	yard, err := fill(v, "bay")
	if err == nil {
		yard.Form = page.NewID()
		yard.News, err = news(v)
	}
	if err == nil {
		view, check := v.Site.Store.View(v.Context())
		yard.ofToday(v, view)
		yard.LeftOpen = v.May(operator.Close) && rules.LeftOpen(view, v.Now)
		err = check()
	}
	if err != nil {
		v.Fail(err)
		return
	}
	yardPages.Show(v, http.StatusOK, v.Yard.Name, yard)
}

func showList(v *page.Visit) {
	yard, err := fill(v, "row")
	if err == nil {
		yard.Away, err = away(v)
	}
	if err != nil {
		v.Fail(err)
		return
	}
	yard.Find = v.Query("find")
	listPages.Show(v, http.StatusOK, v.T("yard.list_title"), yard)
}
