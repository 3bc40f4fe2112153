package ground

// The ground desk: the site as a plan, and what one machine may do on it.

import (
	"net/http"

	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/tell"
	"vespers/web/page"
)

// deskPage is the site, looked at for a machine.
type deskPage struct {
	Title            string
	Plan             *plan
	Marks            []keyMark // of the plan
	Empty            bool
	MayDraw, MayPlan bool
	Storm            bool
	Machines         []machineChoice
	Machine, Who     string
	NotYet           string // that the machine is not released
	Zones            []zoneLine
	Doubt            string
	Scale            string // of the plan
	Problem          string
	Form             string
	Mine             []page.ZoneJob
}

type machineChoice struct {
	ID, Name string
	Chosen   bool
}

// zoneLine is a zone in the list beside the plan.
type zoneLine struct {
	ID, Name      string
	Path          string
	Number        int
	Facts         []string
	State, Answer string
	Why, Out      []string
	Near, Keep    []string
	Takes         string
	Instead       string // who may instead, with what
	Walked        string
}

var deskPages = page.New[deskPage](templates, "ground")

// looked is the yard as the ground asks it, and the machine that is looked at with who
// would take it.
type looked struct {
	*yard.Takers
	view    yard.View
	site    ground.Site
	called  map[string]string // features, by their ids
	machine int               // in Machines, -1 for none
	person  int
}

// crews are the machines and people of a yard, as the ground asks for them.
var crews page.Remembered[*yard.Takers]

// feature is what a feature is called.
func (l *looked) feature(id string) string { return l.called[id] }

// look reads the site and the yard, for a machine by its id or the first that is out.
func look(v *page.Visit, view yard.View, check func() error, machine string) (*looked, error) {
	site, err := yard.SiteToday(view, v.Now)
	if err != nil {
		return nil, err
	}
	takers, err := crews.Of(v, func() (*yard.Takers, error) { return yard.TakersOf(view, v.Now), check() })
	if err != nil {
		return nil, err
	}
	l := &looked{Takers: takers.For(v.Person.ID, v.Now), view: view, site: site, called: map[string]string{}, machine: -1}
	for _, f := range yard.SiteOf(view).Features {
		l.called[f.ID()] = f.Name()
	}
	for i, m := range l.Machines {
		if m.ID == machine || machine == "" && l.machine < 0 && l.Holder(m.ID) == v.Person.ID {
			l.machine = i
		}
	}
	if l.machine < 0 && len(l.Machines) > 0 {
		l.machine = 0
	}
	if l.machine >= 0 {
		l.person = l.Taker(l.machine)
	}
	return l, nil
}

// instead says which other machine may do a zone, and with whom; "" where there are more
// than were looked at.
func (l *looked) instead(v *page.Visit, zone int) string {
	in, ok, sure := l.Instead(&l.site, zone, l.machine)
	switch {
	case !sure:
		return ""
	case !ok:
		return v.T("ground.instead_none")
	}
	key := "ground.instead"
	if !in.Out {
		key = "ground.instead_ready"
	}
	words := v.T(key, "machine", l.What(in.Machine).Name, "operator", l.Who(in.Person).Name)
	if took := takes(v, &ground.Judgement{Room: in.Room}); took != "" {
		words += " " + took
	}
	return words
}

func showDesk(v *page.Visit) { showDeskWith(v, http.StatusOK, "") }

func showDeskWith(v *page.Visit, status int, problem string) {
	view, check := v.Site.Store.View(v.Context())
	l, err := look(v, view, check, v.Query("machine"))
	if err != nil {
		v.Fail(err)
		return
	}
	p := deskPage{Title: v.T("ground.title"), Empty: len(l.site.Zones) == 0, MayDraw: v.May(operator.Site), MayPlan: v.May(operator.Muster), Storm: yard.StormToday(view, v.Now),
		Plan: drawn(&l.site, nil, v.Unit("m").Of(1).Value), Doubt: v.T("ground.doubt", "metres", tell.Metres(v.Voice, l.site.Doubt)), Problem: problem, Form: page.NewID()}
	for i, m := range l.Machines {
		p.Machines = append(p.Machines, machineChoice{m.ID, l.What(i).Name, i == l.machine})
	}
	if err := p.zones(v, l); err != nil {
		v.Fail(err)
		return
	}
	p.Marks = p.Plan.key(v)
	p.Mine, p.Scale = v.ZonesToday(view), tell.Metres(v.Voice, p.Plan.Scale.Metres)
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	deskPages.Show(v, status, p.Title, p)
}

// zones are the lines beside the plan, and what the plan shows.
func (p *deskPage) zones(v *page.Visit, l *looked) error {
	var judged []ground.Judged
	if l.machine >= 0 && l.person >= 0 {
		m := l.Machines[l.machine]
		p.Machine, p.Who = l.What(l.machine).Name, l.Who(l.person).Name
		if !m.Released {
			p.NotYet = v.T("ground.not_yet", "machine", p.Machine)
			if l.Halted(m.ID) {
				p.NotYet = v.T("ground.on_halt", "machine", p.Machine)
			}
			m.Released = true // what it may do once it is
		}
		with := ground.With{At: l.At, House: l.House, Machines: []ground.Machine{m}, People: []ground.Person{l.People[l.person]}}
		var err error
		if judged, err = with.Judge(&l.site); err != nil {
			return err
		}
		p.Plan.judged(judged, 0, 0)
	}
	for i := range l.site.Zones {
		z := &l.site.Zones[i]
		line := zoneLine{ID: z.ID, Path: page.ZonePath(z.ID), Name: l.feature(z.ID), Number: i + 1, Facts: zoneWords(v, z, len(z.Readings) < l.House.Needed), Walked: walkedWords(v, l.view, z)}
		line.Facts = append([]string{v.T("ground.work." + z.Work)}, line.Facts...)
		if judged != nil {
			line.verdict(v, l, &judged[i].Rooms[0], p.Machine, p.Who)
			if p.NotYet != "" && line.State != "not" {
				line.Answer = v.T("ground.once." + line.State)
			}
			if line.State == "not" {
				line.Instead = l.instead(v, i)
			}
		}
		p.Zones = append(p.Zones, line)
	}
	return nil
}

// verdict says what somebody may do with a machine in the zone.
func (line *zoneLine) verdict(v *page.Visit, l *looked, r *ground.Judgement, machine, who string) {
	a := r.Answers[0]
	line.State = stateOf(a)
	line.Answer = v.T("ground.state." + line.State)
	line.Why = why(v, r, a, machine, who)
	if a.Allowed {
		line.Out, line.Near, line.Keep, line.Takes = outOf(v, r), nearTo(v, r, l.feature), keepTo(v, a), takes(v, r)
	}
}

// walkedWords say how a zone was found today, or that nobody walked it.
func walkedWords(v *page.Visit, view yard.View, z *ground.Zone) string {
	w := yard.WalkedToday(view, z.ID, v.Now)
	if w == nil {
		return v.T("ground.not_walked")
	}
	if open := w.OpenItems(z); len(open) > 0 {
		return v.T("ground.walked_open", "who", v.Name(w.By), "when", v.Clock(w.At), "count", len(open))
	}
	return v.T("ground.walked", "who", v.Name(w.By), "when", v.Clock(w.At))
}
