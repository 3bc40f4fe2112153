package ground

// The morning plan: the zones of the day, who takes them with what, and what breaks where
// somebody moves one by hand.

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"vespers/core/assign"
	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/web/page"
)

// morningPage is a morning's zones and who takes them.
type morningPage struct {
	Title     string
	May       bool
	Storm     bool
	Refused   string
	Form      string
	Until     string
	Zones     []zoneChoice
	Rows      []turnRow // the plan as it is put together
	Asked     bool      // somebody asked for a proposal
	Best      string
	Sum       string
	Strips    []dayStrip
	Published string
	Lines     []personJobs // what was published
	Mine      []page.ZoneJob
}

type zoneChoice struct {
	ID, Name, Facts string
	Chosen          bool
}

// turnRow is a zone in the plan: whom it is given to, with what, and what is wrong with it.
type turnRow struct {
	N           int
	Zone, Name  string
	Pairs       []option
	Pair        string
	When, Break string
	Why         []string
	ManyWhy     bool // so many that they are folded
	Watch       bool // publishing it is the lead's word
	Keep        []string
}

// dayStrip is a person's day.
type dayStrip struct {
	Name, Words string
	Bars        []dayBar
}

type dayBar struct {
	X, W float64
	Mark string
}

type personJobs struct {
	Name string
	Jobs []page.ZoneJob
}

var morningPages = page.New[morningPage](templates, "morning")

func showMorning(v *page.Visit) {
	showMorningWith(v, http.StatusOK, "", v.Queries("zone"), nil, v.Query("until"), v.Query("propose") != "" && v.May(operator.Muster))
}

// showMorningWith shows the plan: proposed anew, or as turns have it.
func showMorningWith(v *page.Visit, status int, refused string, zones []string, turns []yard.Turn, until string, propose bool) {
	view, check := v.Site.Store.View(v.Context())
	p := morningPage{Title: v.T("morning.title"), May: v.May(operator.Muster), Storm: yard.StormToday(view, v.Now), Refused: refused, Form: page.NewID(), Mine: v.ZonesToday(view)}
	p.published(v, view)
	ends, ok := yard.MorningUntil(view, until, v.Now)
	if p.Until = until; until == "" && ok {
		p.Until = v.Clock(ends)
	}
	if err := p.choose(v, view, zones); err != nil {
		v.Fail(err)
		return
	}
	asked := p.May && (propose || len(turns) > 0)
	switch {
	case asked && p.Refused == "" && (!ok || !v.Now.Before(ends)):
		p.Refused = v.T("rule.morning.until")
	case asked && p.Refused == "" && len(zones) == 0:
		p.Refused = v.T("morning.choose_one")
	}
	if asked && ok && v.Now.Before(ends) && len(zones) > 0 {
		t, err := yard.TakesOf(view, zones, ends, v.Now)
		if err != nil {
			words, refused := refusedWords(v, err)
			if !refused {
				v.Fail(err)
				return
			}
			p.Refused = words
		} else {
			p.plan(v, view, t, turns, propose)
		}
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	morningPages.Show(v, status, p.Title, p)
}

// chosenAtFirst is up to how many zones all are chosen where nobody chose any.
const chosenAtFirst = 20

// choose are the zones that can be planned; those of the turns are chosen, all of a few
// where nobody chose.
func (p *morningPage) choose(v *page.Visit, view yard.View, zones []string) error {
	site, err := yard.SiteToday(view, v.Now)
	if err != nil {
		return err
	}
	file := yard.SiteOf(view)
	for i := range site.Zones {
		z := &site.Zones[i]
		one, _ := file.Feature(z.ID)
		facts := append([]string{v.T("ground.work." + z.Work)}, zoneWords(v, z, false)...)
		p.Zones = append(p.Zones, zoneChoice{ID: z.ID, Name: one.Name(), Facts: strings.Join(facts, " · "), Chosen: len(zones) == 0 && len(site.Zones) <= chosenAtFirst || slices.Contains(zones, z.ID)})
	}
	return nil
}

// plan is what the zones come to.
func (p *morningPage) plan(v *page.Visit, view yard.View, t *yard.Takes, turns []yard.Turn, propose bool) {
	p.Asked = true
	file := yard.SiteOf(view)
	name := func(zone int) string { one, _ := file.Feature(t.Zones[zone].ID); return one.Name() }
	var plan assign.Plan
	broken := map[int]string{}
	if propose {
		plan = t.Problem.Solve()
		p.Best = v.T("morning.best")
		switch {
		case plan.Exact:
		case plan.Priority >= plan.AtMost-1e-9:
			p.Best = v.T("morning.as_much")
		default:
			p.Best = v.T("morning.bound", "done", v.Number(plan.Priority, 1), "most", v.Number(plan.AtMost, 1))
		}
		turns = nil
		for _, j := range plan.Jobs {
			turns = append(turns, yard.Turn{Zone: t.Zones[j.Zone].ID, Operator: t.People[j.Operator].ID, Machine: t.Machines[j.Machine].ID})
		}
		for _, z := range plan.Left { // left to be given by hand, or to nobody
			turns = append(turns, yard.Turn{Zone: t.Zones[z].ID})
		}
	} else {
		var known []yard.Turn
		var at []int
		for i, turn := range turns {
			if turn.Operator != "" {
				known, at = append(known, turn), append(at, i)
			}
		}
		orders, unknown := t.Orders(known)
		for _, i := range unknown {
			broken[at[i]] = "gone"
			at[i] = -1
		}
		at = slices.DeleteFunc(at, func(i int) bool { return i < 0 })
		var breaks []assign.Break
		plan, breaks = t.Problem.ByHand(orders)
		for _, b := range breaks {
			broken[at[b.Order]] = b.Because
		}
	}
	for i, turn := range turns {
		z := slices.IndexFunc(t.Zones, func(z *ground.Zone) bool { return z.ID == turn.Zone })
		if z < 0 {
			continue
		}
		row := turnRow{N: len(p.Rows) + 1, Zone: turn.Zone, Name: name(z), Pairs: pairs(v, t, z), Pair: turn.Operator + "/" + turn.Machine}
		if turn.Operator == "" {
			row.Pair = ""
			row.Why = refusals(v, t, z)
		}
		for _, j := range plan.Jobs {
			if j.Zone == z && broken[i] == "" && turn.Operator != "" {
				a := t.Judged[z].Rooms[j.Machine].Answers[j.Operator]
				row.Watch, row.Keep = a.Watch, keepTo(v, a)
				if who := t.People[j.Operator]; who.Role == operator.Trainee {
					row.Keep = append(row.Keep, v.T("morning.trainee", "operator", who.Name))
				}
				row.When = v.Clock(t.When(j.Start)) + "–" + v.Clock(t.When(j.End))
			}
		}
		if because := broken[i]; because != "" {
			row.Break = v.T("morning.break." + because)
			if because == assign.BreakMay {
				row.Why = pairRefused(v, t, z, turn)
			}
		}
		for k := range row.Pairs {
			row.Pairs[k].Chosen = row.Pairs[k].ID == row.Pair
		}
		if row.Pair != "" && !slices.ContainsFunc(row.Pairs, func(o option) bool { return o.Chosen }) {
			row.Pairs = append(row.Pairs, option{row.Pair, pairName(v, t, turn), true})
		}
		row.ManyWhy = len(row.Why) > fewNot
		p.Rows = append(p.Rows, row)
	}
	p.Sum = v.T("morning.sum", "done", len(plan.Jobs), "of", len(t.Zones))
	if len(plan.Jobs) > 0 {
		p.Sum += " " + v.T("morning.last", "when", v.Clock(t.When(plan.Last)))
	}
	p.strips(v, t, plan, name)
}

// pairs are who may take a zone with what.
func pairs(v *page.Visit, t *yard.Takes, zone int) (out []option) {
	for i, who := range t.People {
		for k, m := range t.Machines {
			if t.Problem.Minutes[i][k][zone] > 0 {
				out = append(out, option{ID: who.ID + "/" + m.ID, Name: v.T("morning.pair", "operator", who.Name, "machine", m.Name, "minutes", v.Number(t.Problem.Minutes[i][k][zone], 0))})
			}
		}
	}
	return out
}

func pairName(v *page.Visit, t *yard.Takes, turn yard.Turn) string {
	machine := turn.Machine
	for _, m := range t.Machines {
		if m.ID == turn.Machine {
			machine = m.Name
		}
	}
	return v.T("morning.pair_not", "operator", v.Name(turn.Operator), "machine", machine)
}

// refusals say why nobody does a zone, machine by machine, those that do its work.
func refusals(v *page.Visit, t *yard.Takes, zone int) (out []string) {
	may := false
	for k, m := range t.Machines {
		room := &t.Judged[zone].Rooms[k]
		if !slices.Contains(room.Machine.Does, room.Zone.Work) {
			continue
		}
		best := -1
		for i := range t.People {
			may = may || t.Problem.Minutes[i][k][zone] > 0
			if best < 0 || len(t.Refused(zone, k, i)) < len(t.Refused(zone, k, best)) {
				best = i
			}
		}
		if best >= 0 && t.Problem.Minutes[best][k][zone] == 0 {
			out = append(out, sentences(v, t, zone, k, best, m.Name)...)
		}
	}
	switch {
	case may:
		return []string{v.T("morning.no_time")}
	case len(out) == 0:
		return []string{v.T("morning.no_machine")}
	}
	return out
}

// sentences are why one pair may not do a zone.
func sentences(v *page.Visit, t *yard.Takes, zone, machine, person int, name string) []string {
	because := t.Refused(zone, machine, person)
	if slices.Contains(because, yard.NoNumbers) {
		return []string{v.T("ground.why.no_numbers", "machine", name)}
	}
	room := &t.Judged[zone].Rooms[machine]
	return why(v, room, room.Answers[person], name, t.People[person].Name)
}

func pairRefused(v *page.Visit, t *yard.Takes, zone int, turn yard.Turn) []string {
	person := slices.IndexFunc(t.People, func(p operator.Person) bool { return p.ID == turn.Operator })
	machine := slices.IndexFunc(t.Machines, func(m yard.Standing) bool { return m.ID == turn.Machine })
	if person < 0 || machine < 0 {
		return nil
	}
	return sentences(v, t, zone, machine, person, t.Machines[machine].Name)
}

// strips draw the plan until its last zone is done, a line for each person.
func (p *morningPage) strips(v *page.Visit, t *yard.Takes, plan assign.Plan, name func(int) string) {
	span := max(plan.Last-t.Problem.From, 10)
	x := func(minute float64) float64 { return 100 * min(1, max(0, (minute-t.Problem.From)/span)) }
	for i, who := range t.People {
		s := dayStrip{Name: who.Name}
		var words []string
		for _, j := range plan.Jobs {
			if j.Operator != i {
				continue
			}
			s.Bars = append(s.Bars, dayBar{x(j.Start), max(.8, x(j.End)-x(j.Start)), strconv.Itoa(1 + slices.IndexFunc(p.Rows, func(r turnRow) bool { return r.Zone == t.Zones[j.Zone].ID }))})
			words = append(words, v.T("morning.job", "from", v.Clock(t.When(j.Start)), "until", v.Clock(t.When(j.End)), "zone", name(j.Zone), "machine", t.Machines[j.Machine].Name))
		}
		if s.Words = strings.Join(words, "; "); len(s.Bars) > 0 {
			p.Strips = append(p.Strips, s)
		}
	}
}

// published is the plan that was published today, person by person.
func (p *morningPage) published(v *page.Visit, view yard.View) {
	m, ok := yard.MorningToday(view, v.Now)
	if !ok || len(m.Jobs) == 0 {
		return
	}
	p.Published = v.T("morning.published", "who", v.Name(m.By), "when", v.Clock(m.At))
	for _, j := range m.Jobs {
		i := slices.IndexFunc(p.Lines, func(l personJobs) bool { return l.Name == v.Name(j.Operator) })
		if i < 0 {
			p.Lines, i = append(p.Lines, personJobs{Name: v.Name(j.Operator)}), len(p.Lines)
		}
		p.Lines[i].Jobs = append(p.Lines[i].Jobs, v.ZoneJob(view, j))
	}
}

// typedTurns are the turns of the form, in the order that was given to them.
func typedTurns(v *page.Visit) (zones []string, turns []yard.Turn) {
	type placed struct {
		turn  yard.Turn
		place int
	}
	var all []placed
	for i, zone := range v.Fields("turn_zone") {
		pair := ""
		if list := v.Fields("turn_pair"); i < len(list) {
			pair = list[i]
		}
		place := i
		if list := v.Fields("turn_place"); i < len(list) {
			if n, err := strconv.Atoi(strings.TrimSpace(list[i])); err == nil {
				place = n
			}
		}
		who, machine, _ := strings.Cut(pair, "/")
		zones = append(zones, zone)
		all = append(all, placed{yard.Turn{Zone: zone, Operator: who, Machine: machine}, place})
	}
	slices.SortStableFunc(all, func(a, b placed) int { return a.place - b.place })
	for _, one := range all {
		turns = append(turns, one.turn)
	}
	return zones, turns
}

// lookAtMorning shows what a plan that was moved by hand comes to.
func lookAtMorning(v *page.Visit) {
	zones, turns := typedTurns(v)
	showMorningWith(v, http.StatusOK, "", zones, turns, v.Field("until"), false)
}

// publishMorning publishes the plan as it stands in the form; zones that are given to
// nobody are left out.
func publishMorning(v *page.Visit) {
	zones, turns := typedTurns(v)
	given := slices.DeleteFunc(slices.Clone(turns), func(t yard.Turn) bool { return t.Operator == "" })
	said(v, yard.PlanMorning{Turns: given, Until: v.Field("until")}, "/ground/morning#published", func(refused string) {
		showMorningWith(v, http.StatusConflict, refused, zones, turns, v.Field("until"), false)
	})
}
