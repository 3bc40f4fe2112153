package yard

// Who takes what where this morning: the zones that a lead chooses, given to the people who
// are here with the machines that are ready, as core/assign does it, with the verdicts of
// core/ground.

import (
	"cmp"
	"math"
	"slices"
	"time"

	"vespers/core/assign"
	"vespers/core/ground"
	"vespers/core/operator"
	"vespers/core/plane"
	"vespers/core/record"
	"vespers/core/text"
)

// MorningPlanned is a plan as it was published, until when work goes on.
type MorningPlanned struct {
	Jobs  []MorningJob `json:"jobs"`
	Until time.Time    `json:"until"`
}

// MorningJob is one zone for somebody with a machine.
type MorningJob struct {
	Zone     string    `json:"zone"`
	Operator string    `json:"operator"`
	Machine  string    `json:"machine"`
	From     time.Time `json:"from"`
	Until    time.Time `json:"until"`
}

// Kind implements record.Event.
func (MorningPlanned) Kind() string { return "morning_planned" }

var _ = record.Register(MorningPlanned{})

// Morning is the plan that was published last.
type Morning struct {
	MorningPlanned
	By, Record string
	At         time.Time
}

// Turn is a zone given to somebody with a machine, by their ids.
type Turn struct{ Zone, Operator, Machine string }

// PlanMorning publishes a plan: zones one after the other, until a time of day (15:04).
// None at all takes the plan back.
type PlanMorning struct {
	Turns []Turn
	Until string
}

// Act implements Command.
func (PlanMorning) Act() operator.Act { return operator.Muster }

var (
	ruleMorningUntil  = text.NewRule("morning.until")
	ruleMorningBreaks = text.NewRule("morning.breaks", text.Slot{Name: "zone", Kind: text.Name}, text.Slot{Name: "why", Kind: text.Term})
	ruleMorningStorm  = text.NewRule("morning.storm")
	ruleMorningNone   = text.NewRule("morning.none_to_take_back")
)

// workEnds is when work ends where nobody has said otherwise, in minutes of the day (house
// rule).
const workEnds = 16 * 60

// Takes is what a morning's zones come to: who may take what where, and what is asked of
// the assignment. The order of zones, people and machines is that of the problem.
type Takes struct {
	Problem  assign.Problem
	Zones    []*ground.Zone
	People   []operator.Person
	Machines []Standing
	Judged   []ground.Judged
	Until    time.Time
	midnight time.Time
}

// Refused is why somebody may not take a machine into a zone, as core/ground says it; or
// "no_numbers" where nobody can say how long it takes.
func (t *Takes) Refused(zone, machine, person int) []string {
	room := t.Judged[zone].Rooms[machine]
	a := room.Answers[person]
	if a.Allowed && t.Problem.Minutes[person][machine][zone] == 0 {
		return []string{NoNumbers}
	}
	return a.Because
}

// NoNumbers is why nothing can be planned with a machine whose sheet does not say how fast
// it works or travels; Theirs that a machine is somebody else's today; HasOther that a
// person has another out.
const (
	NoNumbers = "no_numbers"
	Theirs    = "theirs"
	HasOther  = "has_other"
)

// When is a minute of the plan. Minutes are those that the clock on the wall shows since
// midnight, also on the days on which it is put on or back in the night: quiet times and
// deadlines are read off it.
func (t *Takes) When(minute float64) time.Time { return wallAt(t.midnight, int(math.Round(minute))) }

func (t *Takes) minute(at time.Time) float64 {
	local := at.In(t.midnight.Location())
	days := 0.0
	if local.YearDay() != t.midnight.YearDay() {
		days = 1 // a yard's day ends at four
	}
	return days*24*60 + float64(local.Hour()*60+local.Minute()) + float64(local.Second())/60
}

// wallAt is when the clock on the wall shows so many minutes since a midnight.
func wallAt(midnight time.Time, minutes int) time.Time {
	return time.Date(midnight.Year(), midnight.Month(), midnight.Day(), 0, minutes, 0, 0, midnight.Location())
}

// MorningUntil is until when work goes on, as it was typed, or as it was said the last time
// where nothing is.
func MorningUntil(v View, typed string, now time.Time) (time.Time, bool) {
	if typed != "" {
		return clockOf(v, typed, now)
	}
	midnight := midnightOf(v, now)
	ends := workEnds
	if m, ok := v.Morning(); ok {
		if until := m.Until.In(midnight.Location()); !until.IsZero() {
			ends = until.Hour()*60 + until.Minute()
		}
	}
	return wallAt(midnight, ends), true
}

// midnightOf is when the date of the yard's day began.
func midnightOf(v View, now time.Time) time.Time {
	start := today(v, now)
	settings, _ := v.Settings()
	if zone, ok := v.Zone(settings.Timezone); ok {
		start = start.In(zone)
	}
	return time.Date(start.Year(), start.Month(), start.Day(), 0, 0, 0, 0, start.Location())
}

// TakesOf is what zones come to now, worked until a time. The error is a *record.Refused.
func TakesOf(v View, zones []string, until, now time.Time) (*Takes, error) {
	site, err := SiteToday(v, now)
	if err != nil {
		return nil, err
	}
	t := &Takes{Until: until, midnight: midnightOf(v, now)}
	chosen := site
	chosen.Zones = nil
	for i := range site.Zones {
		if slices.Contains(zones, site.Zones[i].ID) {
			chosen.Zones = append(chosen.Zones, site.Zones[i])
		}
	}
	for _, id := range zones {
		if !slices.ContainsFunc(chosen.Zones, func(z ground.Zone) bool { return z.ID == id }) {
			return nil, record.Refuse(ruleNoZone.Says())
		}
	}
	all := TakersOf(v, now)
	with := t.crew(all, now)
	if t.Judged, err = with.Judge(&chosen); err != nil {
		return nil, err
	}
	t.Problem.From, t.Problem.To = t.minute(now), t.minute(until)
	t.zones(v, &chosen, now)
	t.pairs(v, &site, all)
	return t, nil
}

// crew are the people who are here and the machines that they could take: those that stand
// ready, and those that are out already.
func (t *Takes) crew(all *Takers, now time.Time) ground.With {
	with := ground.With{At: now, House: all.House}
	for _, one := range all.morning.Machines {
		i := slices.IndexFunc(all.Machines, func(m ground.Machine) bool { return m.ID == one.ID })
		if i < 0 || !all.could(one.ID) {
			continue
		}
		m := all.Machines[i]
		m.Released = true // it could be, by the time
		with.Machines, t.Machines = append(with.Machines, m), append(t.Machines, one)
	}
	for _, one := range all.morning.People {
		if i := slices.IndexFunc(all.People, func(p ground.Person) bool { return p.ID == one.ID }); i >= 0 && one.Came != nil {
			with.People, t.People = append(with.People, all.People[i]), append(t.People, one.Person)
		}
	}
	return with
}

// goesWith reports whether a machine goes nowhere alone: what it does is planned once it is
// out with what carries or pulls it.
func goesWith(v View, m Machine) bool {
	sheet, ok := v.Sheet(m.Sheet)
	return ok && (sheet.Carrier != nil || sheet.Towed != nil)
}

// zones are the zones of the problem: the yard's quiet hours are those of every zone.
func (t *Takes) zones(v View, chosen *ground.Site, now time.Time) {
	var quiet [][2]float64
	for _, q := range QuietToday(v, now) {
		quiet = append(quiet, [2]float64{t.minute(q.From), t.minute(q.Until)})
	}
	for i := range chosen.Zones {
		z := &chosen.Zones[i]
		one := assign.Zone{ID: z.ID, At: z.Shape.Middle(), Priority: z.Priority, Deadline: math.Inf(1), Quiet: slices.Clone(quiet)}
		for _, q := range z.Quiet {
			one.Quiet = append(one.Quiet, [2]float64{float64(q[0]), float64(q[1])})
		}
		slices.SortFunc(one.Quiet, func(a, b [2]float64) int { return cmp.Compare(a[0], b[0]) })
		if z.Deadline != nil {
			one.Deadline = float64(*z.Deadline)
		}
		t.Zones, t.Problem.Zones = append(t.Zones, z), append(t.Problem.Zones, one)
	}
}

// pairs are who may take what, and how long it takes them.
func (t *Takes) pairs(v View, site *ground.Site, all *Takers) {
	from := shed(site)
	for _, m := range t.Machines {
		one := assign.Machine{ID: m.ID, At: from, Speed: 1}
		if sheet, ok := v.Sheet(m.Sheet); ok {
			if speed := (numbersOf{sheet}).least("travel_speed", "km/h"); speed != nil {
				one.Speed = *speed
			} else {
				one.Speed = 0
			}
		}
		t.Problem.Machines = append(t.Problem.Machines, one)
	}
	for i, p := range t.People {
		t.Problem.Operators = append(t.Problem.Operators, assign.Operator{ID: p.ID})
		minutes := make([][]float64, len(t.Machines))
		for k, m := range t.Machines {
			minutes[k] = make([]float64, len(t.Zones))
			for z := range t.Zones {
				room := &t.Judged[z].Rooms[k]
				if because := all.tie(p.ID, m.ID); because != "" && room.Answers[i].Allowed {
					room.Answers[i].Allowed, room.Answers[i].Because = false, []string{because}
				}
				if room.Answers[i].Allowed && room.Minutes != nil && t.Problem.Machines[k].Speed > 0 {
					minutes[k][z] = *room.Minutes
				}
			}
		}
		t.Problem.Minutes = append(t.Problem.Minutes, minutes)
	}
	for k := range t.Problem.Machines {
		if t.Problem.Machines[k].Speed == 0 {
			t.Problem.Machines[k].Speed = 1 // nobody takes it
		}
	}
}

// shed is where machines stand in the morning: at the site's first fuel point, else at its
// first gate, else at its origin.
func shed(site *ground.Site) plane.Point {
	for _, kind := range []string{"fuel_point", "gate"} {
		for _, thing := range site.Things {
			if thing.Kind == kind {
				return thing.Shape.Middle()
			}
		}
	}
	return plane.Point{}
}

// Orders are turns as the problem has them; what it does not have is skipped, and its
// place in the list said.
func (t *Takes) Orders(turns []Turn) (out []assign.Order, unknown []int) {
	for i, turn := range turns {
		o := assign.Order{
			Zone:     slices.IndexFunc(t.Zones, func(z *ground.Zone) bool { return z.ID == turn.Zone }),
			Operator: slices.IndexFunc(t.People, func(p operator.Person) bool { return p.ID == turn.Operator }),
			Machine:  slices.IndexFunc(t.Machines, func(m Standing) bool { return m.ID == turn.Machine }),
		}
		if o.Zone < 0 || o.Operator < 0 || o.Machine < 0 {
			unknown = append(unknown, i)
			continue
		}
		out = append(out, o)
	}
	return out, unknown
}

// Jobs are the jobs of a plan, with their times.
func (t *Takes) Jobs(plan assign.Plan) (out []MorningJob) {
	for _, j := range plan.Jobs {
		out = append(out, MorningJob{Zone: t.Zones[j.Zone].ID, Operator: t.People[j.Operator].ID, Machine: t.Machines[j.Machine].ID, From: t.When(j.Start), Until: t.When(j.End)})
	}
	return out
}

func (c PlanMorning) decide(s speech) ([]Decided, error) {
	if len(c.Turns) == 0 {
		if m, ok := MorningToday(s.View, s.At); !ok || len(m.Jobs) == 0 {
			return nil, record.Refuse(ruleMorningNone.Says())
		}
		return just(MorningPlanned{Jobs: []MorningJob{}}), nil
	}
	if StormToday(s.View, s.At) {
		return nil, record.Refuse(ruleMorningStorm.Says())
	}
	until, ok := MorningUntil(s.View, c.Until, s.At)
	if !ok || !s.At.Before(until) {
		return nil, record.Refuse(ruleMorningUntil.Says())
	}
	var zones []string
	for _, turn := range c.Turns {
		if !slices.Contains(zones, turn.Zone) {
			zones = append(zones, turn.Zone)
		}
	}
	t, err := TakesOf(s.View, zones, until, s.At)
	if err != nil {
		return nil, err
	}
	name := func(zone string) string {
		one, _ := SiteOf(s.View).Feature(zone)
		return one.Name()
	}
	orders, unknown := t.Orders(c.Turns)
	if len(unknown) > 0 {
		return nil, record.Refuse(ruleMorningBreaks.Says(name(c.Turns[unknown[0]].Zone), text.Key("morning.break.gone")))
	}
	plan, breaks := t.Problem.ByHand(orders)
	if len(breaks) > 0 {
		return nil, record.Refuse(ruleMorningBreaks.Says(name(c.Turns[breaks[0].Order].Zone), text.Key("morning.break."+breaks[0].Because)))
	}
	return just(MorningPlanned{Jobs: t.Jobs(plan), Until: until}), nil
}

// MorningToday is the plan that was published today.
func MorningToday(v View, now time.Time) (Morning, bool) {
	m, ok := v.Morning()
	if !ok || m.At.Before(today(v, now)) {
		return Morning{}, false
	}
	return m, true
}
