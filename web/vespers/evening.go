package vespers

// The evening as it is planned: who does what when, a strip for each person, place and
// machine, and the same in words.

import (
	"maps"
	"net/http"
	"slices"
	"strings"
	"time"

	"vespers/core/evening"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/web/page"
)

// eveningPage is the plan of an evening.
type eveningPage struct {
	Title   string
	Asked   string // as of when
	Close   string
	Best    string // that nothing closes sooner, or what is proved
	InOrder string
	Late    []string
	Unsaid  []string
	Sooner  string
	Mine    []turnLine
	MineIs  bool // the visitor has something to do
	People  []personTurns
	Groups  []stripGroup
	Hours   []page.DayHour
	Legend  []legendLine
}

type turnLine struct {
	When, Words string
	Now         bool
}

type personTurns struct {
	Name, Home string
	Turns      []turnLine
}

// stripGroup is the strips of people, of places or of machines.
type stripGroup struct {
	Title  string
	Strips []eveningStrip
}

type eveningStrip struct {
	Name, Words string
	Bars        []bar
	// Cools is how far a machine is hot, in per cent from Hot on; 0 where it is not.
	Hot, Cools float64
}

// bar is a job: where it lies in per cent, what it is, and the letter of its machine.
type bar struct {
	X, W float64
	Kind string
	Mark string
	Slim bool // too narrow for its letter on a phone
}

type legendLine struct{ Mark, Name string }

var eveningPages = page.New[eveningPage](templates, "evening")

// planned is an evening as it stands, and its plan.
type planned struct {
	e    yard.Evening
	plan evening.Plan
}

var evenings page.Remembered[planned]

// eveningOf is the evening as it stands and its plan.
func eveningOf(v *page.Visit, view yard.View, check func() error) (yard.Evening, evening.Plan, error) {
	p, err := evenings.Of(v, func() (planned, error) {
		p := planned{e: yard.EveningOf(view, v.Now)}
		if !p.e.Empty() {
			p.plan = evening.Soon(p.e.Of)
		}
		return p, check()
	})
	p.e.Names = maps.Clone(p.e.Names) // who looks adds to it
	return p.e, p.plan, err
}

func showEvening(v *page.Visit) {
	view, check := v.Site.Store.View(v.Context())
	e, plan, err := eveningOf(v, view, check)
	if err != nil {
		v.Fail(err)
		return
	}
	p := eveningPage{Title: v.T("evening.title"), Asked: v.T("evening.as_of", "when", v.Clock(v.Now))}
	for _, id := range e.Unsaid {
		p.Unsaid = append(p.Unsaid, e.Names[id])
	}
	for _, id := range e.Late {
		p.Late = append(p.Late, v.T("evening.late", "machine", e.Names[id], "due", v.Clock(e.Due[id])))
	}
	if !e.Empty() {
		p.closing(v, &e, plan)
		if v.May(operator.Close) {
			able := e.Able(view, yard.Close(view, v.Now), v.Now)
			if one, ok := e.Sooner(plan, able); ok {
				p.Sooner = v.T("evening.sooner", "who", e.Names[one.To], "machine", e.Names[one.Machine], "when", v.Clock(e.When(one.Close)))
			}
		}
		p.turns(v, &e, plan)
		p.strips(v, &e, plan)
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	eveningPages.Show(v, http.StatusOK, p.Title, p)
}

// closing says when the yard is closed, and what is proved of it.
func (p *eveningPage) closing(v *page.Visit, e *yard.Evening, plan evening.Plan) {
	at := v.Clock(e.When(plan.Close))
	key := "evening.closed"
	if len(p.Unsaid) > 0 {
		key = "evening.closed_without"
	}
	p.Close = v.T(key, "when", at)
	p.Best = v.T("evening.soonest")
	if least := v.Clock(e.When(plan.AtLeast)); !plan.Exact && least != at {
		p.Best = v.T("evening.not_before", "when", least)
	}
	if order := v.Clock(e.When(plan.InOrder)); order != at {
		p.InOrder = v.T("evening.in_order", "when", order)
	}
}

// turns is the plan in words, person by person.
func (p *eveningPage) turns(v *page.Visit, e *yard.Evening, plan evening.Plan) {
	for _, person := range e.Of.People {
		one := personTurns{Name: e.Names[person.ID]}
		var last float64
		for _, j := range plan.Jobs {
			if j.Who != person.ID {
				continue
			}
			last = max(last, j.End)
			what := v.T("evening.job."+j.Job, "machine", e.Names[j.Machine])
			one.Turns = append(one.Turns, turnLine{When: v.Clock(e.When(j.Start)) + "–" + v.Clock(e.When(j.End)), Words: what, Now: j.Start < 1 && person.From < 1})
		}
		if len(one.Turns) == 0 {
			continue
		}
		one.Home = v.T("evening.done_at", "when", v.Clock(e.When(last)))
		p.People = append(p.People, one)
		if person.ID == v.Person.ID {
			p.Mine, p.MineIs = one.Turns, true
		}
	}
}

// strips draws the plan over its time.
func (p *eveningPage) strips(v *page.Visit, e *yard.Evening, plan evening.Plan) {
	span := max(plan.Close, 10)
	x := func(minute float64) float64 { return 100 * min(1, max(0, minute/span)) }
	p.Hours = eveningHours(v, e, span, x)
	marks := map[string]string{}
	for i, m := range e.Of.Machines {
		marks[m.ID] = letter(i)
		p.Legend = append(p.Legend, legendLine{letter(i), e.Names[m.ID]})
	}
	strip := func(name string, mine func(evening.Start) bool) eveningStrip {
		s := eveningStrip{Name: name}
		var words []string
		for _, j := range plan.Jobs {
			if mine(j) {
				s.Bars = append(s.Bars, bar{X: x(j.Start), W: max(0.4, x(j.End)-x(j.Start)-0.2), Kind: j.Job, Mark: marks[j.Machine], Slim: x(j.End)-x(j.Start) < slim})
				words = append(words, v.Clock(e.When(j.Start))+" "+v.T("evening.job."+j.Job, "machine", e.Names[j.Machine]))
			}
		}
		s.Words = strings.Join(words, "; ")
		return s
	}
	people := stripGroup{Title: v.T("evening.people")}
	for _, one := range e.Of.People {
		people.Strips = append(people.Strips, strip(e.Names[one.ID], func(j evening.Start) bool { return j.Who == one.ID }))
	}
	places := stripGroup{Title: v.T("evening.places")}
	for _, place := range []string{"wash", "fuel"} {
		if s := strip(v.T("evening.place."+place, "n", e.Of.Places[place]), func(j evening.Start) bool { return j.Place == place }); len(s.Bars) > 0 {
			places.Strips = append(places.Strips, s)
		}
	}
	machines := stripGroup{Title: v.T("evening.machines")}
	for _, m := range e.Of.Machines {
		s := strip(marks[m.ID]+" "+e.Names[m.ID], func(j evening.Start) bool { return j.Machine == m.ID })
		if needsCool(m) {
			s.Hot, s.Cools = x(m.Arrives), x(m.Arrives+m.Cool)-x(m.Arrives)
		}
		machines.Strips = append(machines.Strips, s)
	}
	for _, g := range []stripGroup{people, places, machines} {
		if len(g.Strips) > 0 {
			p.Groups = append(p.Groups, g)
		}
	}
}

// slim is how many per cent of a strip hold no letter on a phone.
const slim = 4

// needsCool reports whether something has to wait for the metal of a machine.
func needsCool(m evening.Machine) bool {
	return m.Cool > 0 && slices.ContainsFunc(m.Jobs, func(j evening.Job) bool { return j.Cool })
}

// letter is the mark of a machine in the strips.
func letter(i int) string {
	if i < 26 {
		return string(rune('A' + i))
	}
	return letter(i/26-1) + letter(i%26)
}

// hoursMost is how many marks a time scale has.
const hoursMost = 6

// eveningHours marks full five, ten, fifteen … minutes of the clock.
func eveningHours(v *page.Visit, e *yard.Evening, span float64, x func(float64) float64) (out []page.DayHour) {
	step := 5
	for _, s := range []int{10, 15, 30, 60, 120, 240} {
		if span/float64(step) > hoursMost {
			step = s
		}
	}
	local := e.From.In(v.Zone)
	for t := local.Truncate(time.Duration(step) * time.Minute); ; t = t.Add(time.Duration(step) * time.Minute) {
		minute := t.Sub(e.From).Minutes()
		if minute > span {
			return out
		}
		if minute >= 0 {
			out = append(out, page.DayHour{X: x(minute), Text: v.Clock(t)})
		}
	}
}
