package yard

// The muster: who is here in the morning, what each machine is ready for, who has which,
// the quiet hours and the weather of the day. A lead holds it; whoever comes says so
// themselves, or a lead who sees them does. It ends with the yard's day.

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// PersonCame says that somebody is here.
type PersonCame struct {
	Person string `json:"person"`
}

// MachineGiven gives a machine to somebody for the day; Person is "" where it is taken
// back.
type MachineGiven struct {
	Machine string `json:"machine"`
	Person  string `json:"person,omitempty"`
}

// QuietSaid says when the day is quiet: no engine near the services.
type QuietSaid struct {
	From  time.Time `json:"from"`
	Until time.Time `json:"until"`
	What  string    `json:"what"`
}

// QuietDropped takes quiet hours back, by the record that said them.
type QuietDropped struct {
	Record string `json:"record"`
}

// WeatherSaid says how it is outside.
type WeatherSaid struct {
	Grass string `json:"grass"`
	Light string `json:"light"`
	Storm string `json:"storm"`
}

// Kind implements record.Event.
func (PersonCame) Kind() string { return "person_came" }

// Kind implements record.Event.
func (MachineGiven) Kind() string { return "machine_given" }

// Kind implements record.Event.
func (QuietSaid) Kind() string { return "quiet_said" }

// Kind implements record.Event.
func (QuietDropped) Kind() string { return "quiet_dropped" }

// Kind implements record.Event.
func (WeatherSaid) Kind() string { return "weather_said" }

var _ = record.Register(PersonCame{}, MachineGiven{}, QuietSaid{}, QuietDropped{}, WeatherSaid{})

// What the weather can be; the first is the best.
var (
	grasses = []string{"dry", "wet", "frozen"}
	lights  = []string{"good", "poor", "dark"}
	storms  = []string{"none", "about"}
)

// Grasses, Lights and Storms list what the weather can be.
func Grasses() []string { return slices.Clone(grasses) }

// Lights list how light it can be.
func Lights() []string { return slices.Clone(lights) }

// Storms list whether lightning is about.
func Storms() []string { return slices.Clone(storms) }

// Came is when somebody last came, and who said so.
type Came struct {
	By string
	At time.Time
}

// Given is whose a machine is for the day.
type Given struct {
	Person, By string
	At         time.Time
}

// Quiet is a quiet time, by the record that said it.
type Quiet struct {
	QuietSaid
	Record, By string
}

// Weather is how it last was outside, and who said so.
type Weather struct {
	WeatherSaid
	By string
	At time.Time
}

// Come says that the speaker is here.
type Come struct{}

// SayCame says that somebody is here.
type SayCame struct{ Person string }

// GiveMachine gives a machine to somebody for the day; "" takes it back.
type GiveMachine struct{ Machine, Person string }

// SayQuiet says when the day is quiet, as typed.
type SayQuiet struct{ From, Until, What string } // 15:04

// DropQuiet takes quiet hours back.
type DropQuiet struct{ Record string }

// SayWeather says how it is outside.
type SayWeather struct{ Grass, Light, Storm string }

// Act implements Command.
func (Come) Act() operator.Act { return operator.OwnThings }

// Act implements Command.
func (SayCame) Act() operator.Act { return operator.Muster }

// Act implements Command.
func (GiveMachine) Act() operator.Act { return operator.Muster }

// Act implements Command.
func (SayQuiet) Act() operator.Act { return operator.Muster }

// Act implements Command.
func (DropQuiet) Act() operator.Act { return operator.Muster }

// Act implements Command.
func (SayWeather) Act() operator.Act { return operator.Muster }

// whoSlot is a person, or a machine, by name.
var whoSlot = text.Slot{Name: "name", Kind: text.Name}

var (
	ruleCameAlready = text.NewRule("muster.came_already", text.Slot{Name: "since", Kind: text.Moment})
	ruleNotCome     = text.NewRule("muster.not_come", whoSlot)
	ruleGivenHalt   = text.NewRule("muster.on_halt", whoSlot)
	ruleGivenOut    = text.NewRule("muster.out_already", whoSlot)
	ruleGivenRole   = text.NewRule("muster.not_their_role", whoSlot)
	ruleUnschooled  = text.NewRule("muster.not_schooled", whoSlot, text.Slot{Name: "machine", Kind: text.Name})
	ruleGivenSo     = text.NewRule("muster.given_so_already")
	ruleQuietTime   = text.NewRule("muster.quiet_time")
	ruleQuietOrder  = text.NewRule("muster.quiet_order")
	ruleQuietWhat   = text.NewRule("muster.quiet_what")
	ruleNoQuiet     = text.NewRule("muster.no_such_quiet")
	ruleWeather     = text.NewRule("muster.weather")
)

// quietMost is the longest that is said of quiet hours, in characters.
const quietMost = 80

func (Come) decide(s speech) ([]Decided, error) { return came(s, s.who) }

func (c SayCame) decide(s speech) ([]Decided, error) {
	p, ok := s.Person(c.Person)
	if !ok || !p.Here() {
		return nil, record.Refuse(ruleNoPerson.Says())
	}
	return came(s, p)
}

func came(s speech, p operator.Person) ([]Decided, error) {
	if c, here := Here(s.View, p.ID, s.At); here {
		return nil, record.Refuse(ruleCameAlready.Says(c.At))
	}
	return just(PersonCame{Person: p.ID}), nil
}

// Here is when somebody came today, where they did and have not gone home since. Who has a
// machine out that they took today is here by that.
func Here(v View, person string, now time.Time) (Came, bool) {
	c, ok := v.Came(person)
	if !ok || c.At.Before(today(v, now)) {
		for _, id := range v.OutWith(person) {
			if o, found := v.Outing(id); found && !o.Now().Since.At.Before(today(v, now)) {
				return Came{By: person, At: o.Now().Since.At}, true
			}
		}
		return c, false
	}
	said, gone := v.Whereabouts(person)
	return c, !gone || said.At.Before(c.At)
}

// GivenToday is whose a machine is for the day; ok is false where it was given to nobody.
func GivenToday(v View, machineID string, now time.Time) (Given, bool) {
	g, ok := v.Given(machineID)
	return g, ok && g.Person != "" && !g.At.Before(today(v, now))
}

// GivenTo lists what somebody was given for the day and nobody has out.
func GivenTo(v View, person string, now time.Time) (out []Machine) {
	for _, id := range v.GivenTo(person, today(v, now)) {
		if m, ok := v.Machine(id); ok && m.Outing == "" && m.Left.IsZero() {
			out = append(out, m)
		}
	}
	return out
}

func (c GiveMachine) decide(s speech) ([]Decided, error) {
	m, ok := s.Machine(c.Machine)
	if !ok || !m.Left.IsZero() {
		return nil, record.Refuse(ruleNoMachine.Says())
	}
	has, given := GivenToday(s.View, m.ID, s.At)
	if has.Person == c.Person && given || c.Person == "" && !given {
		return nil, record.Refuse(ruleGivenSo.Says())
	}
	if c.Person != "" {
		p, ok := s.Person(c.Person)
		if !ok || !p.Here() {
			return nil, record.Refuse(ruleNoPerson.Says())
		}
		if refused := MayBeGiven(s.View, m, p, s.At); len(refused) > 0 {
			return nil, record.Refuse(refused[0])
		}
	}
	return []Decided{{Machine: m.ID, Event: MachineGiven(c)}}, nil
}

// MayBeGiven is why a machine is not given to somebody; nothing where it is: to who is
// here, may have an outing, has read and practised it, and not what is on Halt or out.
func MayBeGiven(v View, m Machine, p operator.Person, now time.Time) (refused []text.Reason) {
	if m.GradeAt(now) == defect.Halt {
		refused = append(refused, ruleGivenHalt.Says(m.Name))
	}
	if m.Outing != "" {
		refused = append(refused, ruleGivenOut.Says(m.Name))
	}
	if !p.Role.MayWork() {
		refused = append(refused, ruleGivenRole.Says(p.Name))
	}
	if _, here := Here(v, p.ID, now); !here {
		refused = append(refused, ruleNotCome.Says(p.Name))
	}
	if sheet, ok := v.Sheet(m.Sheet); ok && p.Role.MayWork() && len(p.Readiness().Unschooled([]*machine.Sheet{sheet}, now)) > 0 {
		refused = append(refused, ruleUnschooled.Says(p.Name, m.Name))
	}
	return refused
}

func (c SayQuiet) decide(s speech) ([]Decided, error) {
	what := strings.TrimSpace(c.What)
	if what == "" {
		return nil, record.Refuse(ruleQuietWhat.Says())
	}
	if reason, wrong := text.Wrong(what, quietMost); wrong {
		return nil, record.Refuse(reason)
	}
	from, ok := clockOf(s.View, c.From, s.At)
	until, okay := clockOf(s.View, c.Until, s.At)
	switch {
	case !ok || !okay:
		return nil, record.Refuse(ruleQuietTime.Says())
	case !from.Before(until):
		return nil, record.Refuse(ruleQuietOrder.Says())
	}
	return just(QuietSaid{From: from, Until: until, What: what}), nil
}

// clockOf is a time of day of the yard's day: before four in the morning it is the next
// date.
func clockOf(v View, typed string, now time.Time) (time.Time, bool) {
	at, err := time.Parse("15:04", strings.TrimSpace(typed))
	if err != nil {
		return time.Time{}, false
	}
	start := today(v, now)
	settings, _ := v.Settings()
	if zone, ok := v.Zone(settings.Timezone); ok {
		start = start.In(zone)
	}
	t := time.Date(start.Year(), start.Month(), start.Day(), at.Hour(), at.Minute(), 0, 0, start.Location())
	if t.Before(start) {
		t = t.AddDate(0, 0, 1)
	}
	return t, true
}

func (c DropQuiet) decide(s speech) ([]Decided, error) {
	for _, q := range QuietToday(s.View, s.At) {
		if q.Record == c.Record {
			return just(QuietDropped(c)), nil
		}
	}
	return nil, record.Refuse(ruleNoQuiet.Says())
}

// QuietToday are the quiet hours of the day, the first first.
func QuietToday(v View, now time.Time) []Quiet {
	start := today(v, now)
	list := v.Quiet(start, start.Add(36*time.Hour))
	end := today(v, start.Add(30*time.Hour))
	list = slices.DeleteFunc(list, func(q Quiet) bool { return !q.From.Before(end) })
	slices.SortFunc(list, func(a, b Quiet) int { return cmp.Or(a.From.Compare(b.From), cmp.Compare(a.Record, b.Record)) })
	return list
}

// WeatherToday is the weather as it was last said today.
func WeatherToday(v View, now time.Time) (Weather, bool) {
	w, ok := v.Weather()
	return w, ok && !w.At.Before(today(v, now))
}

func (c SayWeather) decide(speech) ([]Decided, error) {
	if !slices.Contains(grasses, c.Grass) || !slices.Contains(lights, c.Light) || !slices.Contains(storms, c.Storm) {
		return nil, record.Refuse(ruleWeather.Says())
	}
	return just(WeatherSaid(c)), nil
}

// AtMuster is somebody of the crew in the morning.
type AtMuster struct {
	operator.Person
	Came *Came // nil where they have not come today
	// Has is what was given to them, Out what they have out, by name.
	Has []Machine
	Out []string
}

// Standing is a machine in the morning.
type Standing struct {
	Machine
	State Ready
	// Why are the defects that keep it in or that run out today, Due the points that do.
	Why []OnDesk
	Due []Due
	// To is whose it is for the day, nil where nobody's.
	To *Given
	// Who has it out, by id.
	Who string
}

// Ready is what a machine is in the morning.
type Ready string

// What a machine is in the morning, what needs somebody first.
const (
	OnHalt   Ready = "halt"
	KeptDue  Ready = "due"  // overdue care keeps it in
	OnSite   Ready = "left" // it stands on site since an earlier day
	IsOut    Ready = "out"
	EndsSoon Ready = "ends" // it is ready, and a deadline of it passes today
	IsReady  Ready = "ready"
)

// Readies lists them in that order.
func Readies() []Ready { return []Ready{OnHalt, KeptDue, OnSite, EndsSoon, IsReady, IsOut} }

// Mustered is a morning.
type Mustered struct {
	People   []AtMuster
	Machines []Standing
	Quiet    []Quiet
	Weather  *Weather
	LeftOpen bool // a day before was not sealed
}

// Muster is the morning as it stands.
func Muster(v View, now time.Time) Mustered {
	out := Mustered{Quiet: QuietToday(v, now), LeftOpen: LeftOpen(v, now)}
	if w, ok := WeatherToday(v, now); ok {
		out.Weather = &w
	}
	given, has := map[string][]Machine{}, map[string][]string{}
	desk := map[string][]OnDesk{}
	tonight := today(v, today(v, now).Add(30*time.Hour))
	for _, d := range Desk(v, now) {
		if d.Blocks == KeptIn || d.Blocks == RunsOut && (d.Until == nil || d.Until.Before(tonight)) {
			desk[d.Defect.Machine] = append(desk[d.Defect.Machine], d)
		}
	}
	due := map[string][]Due{}
	for _, list := range DueAll(v, now) {
		due[list[0].Machine.ID] = list
	}
	for _, m := range v.Machines() {
		one := inTheMorning(v, m, desk[m.ID], due[m.ID], now)
		if one.To != nil {
			given[one.To.Person] = append(given[one.To.Person], m)
		}
		if one.Who != "" {
			has[one.Who] = append(has[one.Who], m.Name)
		}
		out.Machines = append(out.Machines, one)
	}
	for _, p := range v.People() {
		one := AtMuster{Person: p, Has: given[p.ID], Out: has[p.ID]}
		if c, here := Here(v, p.ID, now); here {
			one.Came = &c
		}
		out.People = append(out.People, one)
	}
	slices.SortStableFunc(out.Machines, func(a, b Standing) int {
		return slices.Index(Readies(), a.State) - slices.Index(Readies(), b.State)
	})
	return out
}

func inTheMorning(v View, m Machine, why []OnDesk, due []Due, now time.Time) Standing {
	s := Standing{Machine: m, State: IsReady, Why: why, Due: slices.DeleteFunc(slices.Clone(due), func(d Due) bool { return !d.Keeps() })}
	if g, ok := GivenToday(v, m.ID, now); ok {
		s.To = &g
	}
	if o, ok := v.Outing(m.Outing); ok && m.Outing != "" {
		s.Who = o.Operator()
	}
	switch {
	case m.GradeAt(now) == defect.Halt:
		s.State = OnHalt
	case m.Outing != "":
		s.State = IsOut
	case len(s.Due) > 0:
		s.State = KeptDue
	case outing.LeftOnSiteAt(m.Stood) != "":
		s.State = OnSite
	case len(why) > 0:
		s.State = EndsSoon
	}
	return s
}
