package ground

// The ground desk: the site as a plan, and what one machine may do on it.

import (
	"net/http"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/web/page"
)

// deskPage is the site, looked at for a machine.
type deskPage struct {
	Title            string
	Plan             *plan
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
	view    yard.View
	site    ground.Site
	called  map[string]string // features, by their ids
	with    ground.With
	all     map[string]yard.Machine
	people  map[string]operator.Person
	machine int // in with.Machines, -1 for none
	person  int
}

// crews are the machines and people of a yard, as the ground asks for them.
var crews page.Remembered[ground.With]

// insteadMost is how many other machines are looked at for one that may not.
const insteadMost = 24

// feature is what a feature is called.
func (l *looked) feature(id string) string { return l.called[id] }

// look reads the site and the yard, for a machine by its id or the first that is out.
func look(v *page.Visit, view yard.View, check func() error, machine string) (*looked, error) {
	site, err := yard.SiteToday(view, v.Now)
	if err != nil {
		return nil, err
	}
	with, err := crews.Of(v, func() (ground.With, error) { return yard.Ground(view, v.Now), check() })
	if err != nil {
		return nil, err
	}
	with.At = v.Now
	l := &looked{view: view, site: site, called: map[string]string{}, with: with, all: map[string]yard.Machine{}, people: map[string]operator.Person{}, machine: -1}
	for _, f := range yard.SiteOf(view).Features {
		l.called[f.ID()] = f.Name()
	}
	for _, m := range view.Machines() {
		l.all[m.ID] = m
	}
	for _, p := range view.People() {
		l.people[p.ID] = p
	}
	l.with.Machines = slices.DeleteFunc(slices.Clone(l.with.Machines), func(m ground.Machine) bool { return len(m.Does) == 0 })
	slices.SortStableFunc(l.with.Machines, func(a, b ground.Machine) int { return rank(a, l.all[a.ID], v.Now) - rank(b, l.all[b.ID], v.Now) })
	for i, m := range l.with.Machines {
		if m.ID == machine || machine == "" && l.machine < 0 && l.holder(m.ID) == v.Person.ID {
			l.machine = i
		}
	}
	if l.machine < 0 && len(l.with.Machines) > 0 {
		l.machine = 0
	}
	if l.machine >= 0 {
		l.person = l.taker(v, l.machine)
	}
	return l, nil
}

// rank sorts machines: those that are out first, then those that could be.
func rank(m ground.Machine, one yard.Machine, now time.Time) int {
	switch {
	case m.Released:
		return 0
	case one.GradeAt(now) != defect.Halt:
		return 1
	}
	return 2
}

// holder is who has a machine out, or "".
func (l *looked) holder(machine string) string {
	if o, ok := l.view.Outing(l.all[machine].Outing); ok && l.all[machine].Outing != "" {
		return o.Operator()
	}
	return ""
}

// taker is who would take a machine: who has it, else who looks if they may, else whoever
// was shown it and is here.
func (l *looked) taker(v *page.Visit, machine int) int {
	id := l.with.Machines[machine].ID
	holder := l.holder(id)
	best, most := 0, -1
	for i, p := range l.with.People {
		points := 0
		switch {
		case p.ID == holder:
			points = 100
		case slices.Contains(p.Machines, id):
			points = 10
			if p.ID == v.Person.ID {
				points += 20
			}
			if slices.Contains(p.Practised, id) {
				points += 5
			}
			if _, here := yard.Here(l.view, p.ID, v.Now); here {
				points += 3
			}
		case p.ID == v.Person.ID:
			points = 1
		}
		if points > most {
			best, most = i, points
		}
	}
	return best
}

// name is what a machine or a person is called.
func (l *looked) name(id string) string {
	if m, ok := l.all[id]; ok {
		return m.Name
	}
	return l.people[id].Name
}

// judge judges the site for some machines and people.
func (l *looked) judge(machines []ground.Machine, people []ground.Person) ([]ground.Judged, error) {
	with := ground.With{At: l.with.At, House: l.with.House, Machines: machines, People: people}
	return with.Judge(&l.site)
}

// instead is another machine that is out and may do a zone, with who has it; or one that
// stands ready, with who may take it.
func (l *looked) instead(v *page.Visit, zone int, now time.Time) string {
	z := &l.site.Zones[zone]
	tried := 0
	for i := range l.with.Machines {
		m := l.with.Machines[i]
		if i == l.machine || !slices.Contains(m.Does, z.Work) || l.all[m.ID].GradeAt(now) == defect.Halt {
			continue
		}
		if tried++; tried > insteadMost {
			return ""
		}
		ready := !m.Released
		m.Released = true
		room := ground.Judgement{Room: l.with.House.Room(&l.site, z, &m)}
		who := l.with.People
		if holder := l.holder(m.ID); holder != "" {
			who = slices.DeleteFunc(slices.Clone(who), func(p ground.Person) bool { return p.ID != holder })
		}
		for _, p := range who {
			if l.with.House.Answer(room.Room, p, now).Allowed {
				key := "ground.instead"
				if ready {
					key = "ground.instead_ready"
				}
				words := v.T(key, "machine", l.name(m.ID), "operator", l.name(p.ID))
				if took := takes(v, &room); took != "" {
					words += " " + took
				}
				return words
			}
		}
	}
	return v.T("ground.instead_none")
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
		Plan: drawn(&l.site, nil), Doubt: v.T("ground.doubt", "metres", metres(v, l.site.Doubt)), Problem: problem, Form: page.NewID()}
	for i, m := range l.with.Machines {
		p.Machines = append(p.Machines, machineChoice{m.ID, l.name(m.ID), i == l.machine})
	}
	if err := p.zones(v, l); err != nil {
		v.Fail(err)
		return
	}
	p.Mine, p.Scale = v.ZonesToday(view), metres(v, p.Plan.Scale.Metres)
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	deskPages.Show(v, status, p.Title, p)
}

// zones are the lines beside the plan, and what the plan shows.
func (p *deskPage) zones(v *page.Visit, l *looked) error {
	var judged []ground.Judged
	if l.machine >= 0 && len(l.with.People) > 0 {
		m := l.with.Machines[l.machine]
		p.Machine, p.Who = l.name(m.ID), l.name(l.with.People[l.person].ID)
		if !m.Released {
			p.NotYet = v.T("ground.not_yet", "machine", p.Machine)
			if l.all[m.ID].GradeAt(v.Now) == defect.Halt {
				p.NotYet = v.T("ground.on_halt", "machine", p.Machine)
			}
			m.Released = true // what it may do once it is
		}
		var err error
		if judged, err = l.judge([]ground.Machine{m}, []ground.Person{l.with.People[l.person]}); err != nil {
			return err
		}
		p.Plan.judged(judged, 0, 0)
	}
	for i := range l.site.Zones {
		z := &l.site.Zones[i]
		line := zoneLine{ID: z.ID, Path: page.ZonePath(z.ID), Name: l.feature(z.ID), Number: i + 1, Facts: zoneWords(v, z, len(z.Readings) < l.with.House.Needed), Walked: walkedWords(v, l.view, z)}
		line.Facts = append([]string{v.T("ground.work." + z.Work)}, line.Facts...)
		if judged != nil {
			line.verdict(v, l, &judged[i].Rooms[0], p.Machine, p.Who)
			if p.NotYet != "" && line.State != "not" {
				line.Answer = v.T("ground.once." + line.State)
			}
			if line.State == "not" {
				line.Instead = l.instead(v, i, v.Now)
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
