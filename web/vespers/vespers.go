// Package vespers is the close of a day: every machine that went out, every person who
// came, what still keeps the day open, and the lead's seal.
package vespers

import (
	"embed"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/vespers", operator.Look, showClose),
		page.Get("/evening", operator.Look, showEvening),
		page.Post("/me/home", operator.OwnThings, goHome),
		page.Post("/vespers/where", operator.Close, sayWhere),
		page.Post("/vespers/seal", operator.Close, seal),
	}
}

// closePage is a day at its end.
type closePage struct {
	Title, On string
	Day       string // as the seal names it
	Past      bool
	Counts    string
	Machines  []machineLine
	OnSite    []siteLine
	People    []personLine
	Told      []defectLine
	Halts     []defectLine
	DueCount  int
	Keeps     []string
	Evening   string // when the yard will be closed, by the plan
	Next      string // what the visitor does next, by it
	Sealed    string
	MaySeal   bool
	Close     bool // it may be sealed: there is something to seal
	MayHome   bool // the visitor may say that they go home
	Refused   string
	Form      string
}

// machineLine is a machine that went out. Still is what was not done to it.
type machineLine struct {
	Name, State, Words, Link string
	Still                    []string
}

type siteLine struct{ ID, Words string }

type personLine struct {
	ID, Name, Words string
	Settled, May    bool // it is known where they are; the visitor may say it
}

type defectLine struct{ ID, Words, Grade string }

var pages = page.New[closePage](templates, "vespers")

func showClose(v *page.Visit) { showWith(v, http.StatusOK, "") }

func showWith(v *page.Visit, status int, refused string) {
	view, check := v.Site.Store.View(v.Context())
	c := yard.Close(view, v.Now)
	p := closePage{Title: v.T("close.title"), Day: c.Day, On: v.Day(c.From), Past: c.Past, MaySeal: v.May(operator.Close), Refused: refused, Form: page.NewID()}
	if day, err := time.ParseInLocation(time.DateOnly, c.Day, v.Zone); err == nil {
		p.On = v.Day(day.Add(12 * time.Hour))
	}
	states := map[yard.MachineState]int{}
	for _, m := range c.Machines {
		states[m.State]++
		p.Machines = append(p.Machines, machineOf(v, m))
	}
	counts := "close.counts"
	if states[yard.StandsMissing] > 0 {
		counts = "close.counts_missing"
	}
	p.Counts = v.T(counts, "home", states[yard.StandsHome], "left", states[yard.StandsOnSite], "out", states[yard.StandsOut], "missing", states[yard.StandsMissing])
	for _, m := range c.OnSite {
		p.OnSite = append(p.OnSite, siteLine{m.ID, v.T("close.on_site", "machine", m.Name, "where", outing.LeftOnSiteAt(m.Stood))})
	}
	p.MayHome = v.May(operator.OwnThings)
	for _, one := range c.People {
		p.People = append(p.People, personOf(v, one))
		if one.ID == v.Person.ID && (one.Settled() || len(one.Has) > 0) {
			p.MayHome = false
		}
	}
	p.Told, p.Halts = defectsOf(v, c.Told), defectsOf(v, c.Halts)
	for _, due := range yard.DueAll(view, v.Now.Add(24*time.Hour)) {
		if slices.ContainsFunc(due, yard.Due.Keeps) {
			p.DueCount++
		}
	}
	machines, people := c.Keeps()
	for _, name := range machines {
		p.Keeps = append(p.Keeps, v.T("close.keeps_machine", "name", name))
	}
	for _, name := range people {
		p.Keeps = append(p.Keeps, v.T("close.keeps_person", "name", name))
	}
	p.Close = len(c.Machines) > 0
	if s := c.Sealed; s != nil {
		p.Sealed = v.T("close.sealed", "who", v.Name(s.By), "when", v.When(s.Until, v.Now), "home", len(s.Home), "left", len(s.Left), "people", len(s.People))
	}
	if err := p.ahead(v, view, check); err != nil {
		v.Fail(err)
		return
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	pages.Show(v, status, p.Title, p)
}

// ahead is what the plan of the evening says, in a line.
func (p *closePage) ahead(v *page.Visit, view yard.View, check func() error) error {
	e, plan, err := eveningOf(v, view, check)
	if err != nil || e.Empty() {
		return err
	}
	key := "evening.closed"
	if len(e.Unsaid) > 0 {
		key = "evening.closed_without"
	}
	p.Evening = v.T(key, "when", v.Clock(e.When(plan.Close)))
	for _, j := range plan.Jobs {
		if j.Who == v.Person.ID {
			p.Next = v.T("evening.next", "when", v.Clock(e.When(j.Start)), "what", v.T("evening.job."+j.Job, "machine", e.Names[j.Machine]))
			break
		}
	}
	return nil
}

// machineOf says how a machine stands: home, left on site and how, or out.
func machineOf(v *page.Visit, m yard.ClosingMachine) machineLine {
	line := machineLine{Name: m.Name, State: string(m.State), Link: "/outings/" + m.Outing.ID}
	u := m.Outing.Unit(m.ID)
	switch m.State {
	case yard.StandsHome:
		line.Words = v.T("close.is_home", "when", v.When(m.Since, v.Now), "who", v.Name(m.Outing.Home.By))
	case yard.StandsOnSite:
		l := m.Outing.End.Left
		line.Words = v.T("close.is_left", "where", l.Where, "secured", l.Secured, "why", l.Why, "who", v.Name(m.Outing.Home.By), "fetches", v.Name(l.Fetches))
	default:
		line.Words = outWords(v, m)
		if sought := m.Outing.Now().Sought; sought != "" {
			line.Words += " " + v.T("close.sought", "who", v.Name(sought))
		}
		line.Link += "/do"
		return line
	}
	if warm := v.Warmth(u.Sheet, m.Worked, nil); warm != "" {
		line.Still = append(line.Still, warm)
	}
	if m.State == yard.StandsHome {
		for _, id := range m.Outing.Undone(u) {
			line.Still = append(line.Still, v.T("close.not."+id))
		}
	}
	if out, since, known := v.Site.Outside.KeyOut(m.ID); known && out {
		line.Still = append(line.Still, keyOut(v, since))
	}
	if u.Sheet.Metered() {
		if _, read := u.HoursRead(); !read {
			line.Still = append(line.Still, v.T("close.no_hours"))
		}
	}
	return line
}

// keyOut says that a key is not in its cabinet.
func keyOut(v *page.Visit, since time.Time) string {
	if since.IsZero() {
		return v.T("close.key_out")
	}
	return v.T("close.key_out_since", "when", v.When(since, v.Now))
}

// outWords say of a machine that is not home whether it is in the yard, or when it comes.
func outWords(v *page.Visit, m yard.ClosingMachine) string {
	o, who := m.Outing, v.Name(m.Outing.Operator())
	due, _, known := o.DueHome()
	switch {
	case o.Status == outing.Open:
		return v.T("close.is_open", "who", who)
	case o.NotParked() == nil:
		return v.T("close.is_back", "who", who)
	case m.State == yard.StandsMissing && known && due.Before(v.Now):
		return v.T("close.is_missing", "who", who, "due", v.Clock(due))
	case m.State == yard.StandsMissing:
		return v.T("close.not_heard", "who", who, "due", v.Clock(o.Now().Due))
	case known:
		return v.T("close.is_due", "who", who, "due", v.Clock(due))
	}
	return v.T("close.is_out", "who", who)
}

// personOf says where somebody is.
func personOf(v *page.Visit, p yard.ClosingPerson) personLine {
	line := personLine{ID: p.ID, Name: p.Name, Settled: p.Settled(), May: v.May(operator.Close) && p.ID != v.Person.ID}
	switch {
	case len(p.Has) > 0:
		line.Words = v.T("close.has", "machines", strings.Join(p.Has, ", "))
	case p.Said == nil:
		line.Words = v.T("close.unknown")
	case p.Said.Where != "":
		line.Words = v.T("close.is_where", "where", p.Said.Where, "who", v.Name(p.Said.By), "when", v.When(p.Said.At, v.Now))
	case p.Said.By == p.ID:
		line.Words = v.T("close.home_since", "when", v.When(p.Said.At, v.Now))
	default:
		line.Words = v.T("close.home_says", "who", v.Name(p.Said.By), "when", v.When(p.Said.At, v.Now))
	}
	return line
}

func defectsOf(v *page.Visit, list []yard.Defect) (out []defectLine) {
	for _, d := range list {
		m, sheet, err := v.Site.Store.Described(v.Context(), d.Machine)
		if err != nil {
			continue
		}
		grade := d.Finding.GradeAt(m.Hours, v.Now)
		if grade == "" {
			grade = defect.Sound
		}
		out = append(out, defectLine{d.ID, m.Name + ": " + v.Defect(sheet, d), string(grade)})
	}
	return out
}

func goHome(v *page.Visit) { said(v, yard.GoHome{}) }

func sayWhere(v *page.Visit) {
	said(v, yard.SayWhere{Person: v.Field("person"), Where: v.Field("where")})
}

func seal(v *page.Visit) { said(v, yard.SealDay{Day: v.Field("day")}) }

// said says something and shows the day again; what is refused stands on the page.
func said(v *page.Visit, c yard.Command) {
	_, err := v.Say(c)
	var refused *record.Refused
	if errors.As(err, &refused) && refused.Earlier == nil {
		showWith(v, http.StatusConflict, v.Reason(refused.Reason))
		return
	}
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/vespers")
}
