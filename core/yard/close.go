package yard

// The close of a day: what still keeps it open, who is home, and the seal. A day is what
// went out since the one before was sealed, or since it began; it is sealed once every
// machine is home or left on site and every person is home or named with where they are
// (house rule). Nothing of a sealed day changes: what comes later is the next day's.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// Seal is a day that was sealed: what it was from when until when, by whom, in counts.
type Seal struct {
	Day   string    `json:"day"` // 2006-01-02, as the yard has it
	From  time.Time `json:"from"`
	Until time.Time `json:"until"`
	// Home and Left are machines, by name; People who came.
	Home   []string `json:"home,omitempty"`
	Left   []string `json:"left,omitempty"`
	People []string `json:"people,omitempty"`
	// Told is how many defects were told, Halts how many stood open.
	Told  int `json:"told"`
	Halts int `json:"halts"`
	// Record and By are the record that sealed it and who did.
	Record string `json:"-"`
	By     string `json:"-"`
}

// Kind implements record.Event.
func (Seal) Kind() string { return "day_sealed" }

// PersonHome says where somebody is at the end of a day: at home, by their own word, or
// where a lead says.
type PersonHome struct {
	Person string `json:"person"`
	// Where is "" for home.
	Where string `json:"where,omitempty"`
}

// Kind implements record.Event.
func (PersonHome) Kind() string { return "person_home" }

var _ = record.Register(Seal{}, PersonHome{})

// Whereabouts is what was last said of where somebody is.
type Whereabouts struct {
	PersonHome
	By string
	At time.Time
}

// GoHome says that the speaker goes home.
type GoHome struct{}

// SayWhere says where somebody is: "" is home.
type SayWhere struct{ Person, Where string }

// SealDay seals a day, named as the page showed it.
type SealDay struct{ Day string }

// Act implements Command.
func (GoHome) Act() operator.Act { return operator.OwnThings }

// Act implements Command.
func (SayWhere) Act() operator.Act { return operator.Close }

// Act implements Command.
func (SealDay) Act() operator.Act { return operator.Close }

var (
	ruleHasMachine = text.NewRule("close.has_machine", nameSlot)
	ruleHomeTwice  = text.NewRule("close.home_already", text.Slot{Name: "since", Kind: text.Moment})
	ruleNoSuchDay  = text.NewRule("close.no_such_day")
	ruleNobodyOut  = text.NewRule("close.nothing_went_out")
	ruleMachineOut = text.NewRule("close.machine_out", text.Slot{Name: "machines", Kind: text.Name})
	rulePersonOut  = text.NewRule("close.person_out", text.Slot{Name: "people", Kind: text.Name})
	ruleNotThatDay = text.NewRule("close.another_day", text.Slot{Name: "day", Kind: text.Name})
)

// whereMost is the longest that where somebody is may be, in characters.
const whereMost = 120

// Span is a day to be closed: from when it counts, until when, and as what it is sealed.
type Span struct {
	Day         string
	From, Until time.Time
	// Past: it ended, and was not sealed by then.
	Past bool
}

// backMost is how far a day that is closed late reaches back.
const backMost = 7 * 24 * time.Hour

// LeftOpen reports whether a day ended on which something went out, and was not sealed.
func LeftOpen(v View, now time.Time) bool {
	_, open := unsealedBefore(v, today(v, now))
	return open
}

// unsealedBefore is when the last outing began that went out before today and after the
// last seal.
func unsealedBefore(v View, start time.Time) (began time.Time, ok bool) {
	last, sealed := v.LastSeal()
	began, ok = v.LastOut(start)
	return began, ok && (!sealed || began.After(last.Until))
}

// Unsealed is the day that is to be closed: one that ended, went out and was not sealed,
// or else the one of the moment. What goes out after a day was sealed is the next day's.
func Unsealed(v View, now time.Time) Span {
	start := today(v, now)
	last, sealed := v.LastSeal()
	day := Span{Day: dayName(v, start), From: start, Until: now}
	if t, open := unsealedBefore(v, start); open {
		began := today(v, t)
		before := Span{Day: dayName(v, began), From: began, Until: today(v, began.Add(36*time.Hour)), Past: true}
		if sealed {
			before.From = last.Until
			if reach := before.Until.Add(-backMost); before.From.Before(reach) {
				before.From = reach
			}
		}
		switch late := sealed && last.Day == before.Day; {
		case late && before.Until.Equal(start):
			day.From = last.Until
			return day
		case late:
			before.Day = dayName(v, before.Until)
		}
		if len(went(v, before)) > 0 {
			return before
		}
	}
	if sealed && last.Until.After(day.From) {
		day.From = last.Until
	}
	if sealed && last.Day == day.Day {
		day.Day = dayName(v, today(v, start.Add(36*time.Hour)))
	}
	return day
}

func dayName(v View, start time.Time) string {
	settings, _ := v.Settings()
	zone, ok := v.Zone(settings.Timezone)
	if !ok {
		zone = time.UTC
	}
	return start.In(zone).Format(time.DateOnly)
}

// MachineState is how a machine of a day stands.
type MachineState string

// The states of a machine at the end of a day.
const (
	StandsHome   MachineState = "home"
	StandsOnSite MachineState = "left"
	StandsOut    MachineState = "out"
	// StandsMissing is out, and should have been heard of or home: a person goes and
	// looks.
	StandsMissing MachineState = "missing"
)

// ClosingMachine is a machine that went out, by its last outing of the day.
type ClosingMachine struct {
	Machine
	Outing *outing.Outing
	State  MachineState
	// Since is when it came home or was left; zero while it is out.
	Since time.Time
}

// ClosingPerson is somebody who came.
type ClosingPerson struct {
	operator.Person
	// Said is where they are, nil where nobody said since they last had a machine.
	Said *Whereabouts
	// Has names machines that they have out.
	Has []string
}

// Settled reports whether somebody is home, or named with where they are.
func (p ClosingPerson) Settled() bool { return p.Said != nil && len(p.Has) == 0 }

// Closing is a day as it stands at its end.
type Closing struct {
	Span
	Machines []ClosingMachine
	People   []ClosingPerson
	// OnSite are machines that stand on site since an earlier day.
	OnSite []Machine
	// Told are the defects told in it, Halts those that stand.
	Told, Halts []Defect
	// Sealed is the seal of this day, where there was one and nothing went out since.
	Sealed *Seal
}

// Close is how the day stands that is to be closed.
func Close(v View, now time.Time) Closing {
	c := Closing{Span: Unsealed(v, now)}
	for _, o := range went(v, c.Span) {
		for _, u := range o.Units {
			c.machine(v, o, u, now)
		}
	}
	for _, o := range v.Outings(c.From, c.Until) { // whatever became of it, they came
		c.came(v, o)
	}
	if !c.Past {
		c.mustered(v, now)
	}
	for i := range c.People {
		c.whereIs(v, &c.People[i])
	}
	if c.Past {
		c.seenAgain(v, now)
	}
	for _, m := range v.Machines() {
		if outing.LeftOnSiteAt(m.Stood) != "" && m.Outing == "" && !slices.ContainsFunc(c.Machines, func(one ClosingMachine) bool { return one.ID == m.ID }) {
			c.OnSite = append(c.OnSite, m)
		}
	}
	for _, d := range v.EveryOpenDefect() {
		m, ok := v.Machine(d.Machine)
		if !d.FoundAt.Before(c.From) && d.FoundAt.Before(c.Until) {
			c.Told = append(c.Told, d)
		}
		if ok && d.Finding.GradeAt(m.Hours, now) == defect.Halt {
			c.Halts = append(c.Halts, d)
		}
	}
	if last, ok := v.LastSeal(); ok && len(c.Machines) == 0 && !c.Past && last.Until.Equal(c.From) {
		c.Sealed = &last
	}
	slices.SortFunc(c.Machines, func(a, b ClosingMachine) int { return strings.Compare(a.Name, b.Name) })
	slices.SortFunc(c.People, func(a, b ClosingPerson) int { return strings.Compare(a.Name, b.Name) })
	return c
}

// went are the outings of a day but those that were given up, and what was copied from
// paper: released, or begun and still open.
func went(v View, s Span) (out []*outing.Outing) {
	for _, o := range v.Outings(s.From, s.Until) {
		if o.Repair == nil && o.Paper == nil && (o.End == nil || o.End.How != outing.EndGivenUp) {
			out = append(out, o)
		}
	}
	slices.SortStableFunc(out, func(a, b *outing.Outing) int { return a.Began.Compare(b.Began) })
	return out
}

// machine takes in a machine of an outing; a later one takes the place of an earlier.
func (c *Closing) machine(v View, o *outing.Outing, u *outing.UnitState, now time.Time) {
	m, ok := v.Machine(u.Machine)
	if !ok {
		return
	}
	one := ClosingMachine{Machine: m, Outing: o, State: StandsOut}
	if missing(o, now) {
		one.State = StandsMissing
	}
	if o.End != nil {
		one.State, one.Since = StandsHome, o.Home.At
		if o.End.How == outing.EndLeft {
			one.State = StandsOnSite
		}
	}
	if i := slices.IndexFunc(c.Machines, func(was ClosingMachine) bool { return was.ID == m.ID }); i >= 0 {
		c.Machines[i] = one
		return
	}
	c.Machines = append(c.Machines, one)
}

// missingAfter is how long after it was to be home somebody goes and looks (house rule).
const missingAfter = 30 * time.Minute

// missing reports whether somebody goes and looks for an outing: its operator was to be
// heard of and was not, or it was to be home, and is not shut down.
func missing(o *outing.Outing, now time.Time) bool {
	due, _, known := o.DueHome()
	return o.Missed(now) || known && o.NotParked() != nil && now.After(due.Add(missingAfter))
}

// mustered takes in who is here by their own word or a lead's, and had nothing.
func (c *Closing) mustered(v View, now time.Time) {
	for _, p := range v.People() {
		at, ok := v.Came(p.ID)
		known := slices.ContainsFunc(c.People, func(one ClosingPerson) bool { return one.ID == p.ID })
		if ok && !known && !at.At.Before(c.From) && !at.At.After(now) {
			c.People = append(c.People, ClosingPerson{Person: p})
		}
	}
}

// came takes in who had the outing, and who kept them company.
func (c *Closing) came(v View, o *outing.Outing) {
	add := func(id string) *ClosingPerson {
		i := slices.IndexFunc(c.People, func(p ClosingPerson) bool { return p.ID == id })
		if i < 0 {
			p, ok := v.Person(id)
			if !ok {
				return nil
			}
			i = len(c.People)
			c.People = append(c.People, ClosingPerson{Person: p})
		}
		return &c.People[i]
	}
	for _, t := range o.Turns {
		add(t.Operator)
		if t.Ready != nil && t.Ready.Company != "" {
			add(t.Ready.Company)
		}
	}
	if p := add(o.Operator()); p != nil && o.Status != outing.Closed {
		p.Has = append(p.Has, o.Name())
	}
}

// whereIs is what was said of a person since they last took a machine, had one given, or
// brought one home.
func (c *Closing) whereIs(v View, p *ClosingPerson) {
	said, ok := v.Whereabouts(p.ID)
	if !ok || said.At.Before(c.From) {
		return
	}
	if came, ok := v.Came(p.ID); ok && came.At.After(said.At) {
		return
	}
	for _, m := range c.Machines {
		for _, t := range m.Outing.Turns {
			if t.Operator == p.ID && t.Since.At.After(said.At) {
				return
			}
		}
	}
	p.Said = &said
}

// seenAgain settles whoever has come again since a day that is closed late.
func (c *Closing) seenAgain(v View, now time.Time) {
	for _, o := range v.Outings(c.Until, now) {
		for _, t := range o.Turns {
			i := slices.IndexFunc(c.People, func(p ClosingPerson) bool { return p.ID == t.Operator && p.Said == nil })
			if i >= 0 && !t.Since.At.Before(c.Until) {
				c.People[i].Said = &Whereabouts{PersonHome: PersonHome{Person: t.Operator}, By: t.Operator, At: t.Since.At}
			}
		}
	}
}

// Keeps is what keeps the day from being sealed: machines that are out, and people without
// one of whom nobody knows, by name.
func (c Closing) Keeps() (machines, people []string) {
	for _, m := range c.Machines {
		if m.State == StandsOut || m.State == StandsMissing {
			machines = append(machines, m.Name)
		}
	}
	for _, p := range c.People {
		if !p.Settled() && len(p.Has) == 0 {
			people = append(people, p.Name)
		}
	}
	return machines, people
}

func (GoHome) decide(s speech) ([]Decided, error) {
	return sayWhere(s, s.who.ID, "")
}

func (c SayWhere) decide(s speech) ([]Decided, error) {
	if _, ok := s.Person(c.Person); !ok {
		return nil, record.Refuse(ruleNoPerson.Says())
	}
	where := strings.TrimSpace(c.Where)
	if reason, wrong := text.Wrong(where, whereMost); wrong {
		return nil, record.Refuse(reason)
	}
	return sayWhere(s, c.Person, where)
}

// sayWhere is refused while somebody has a machine out, and where the same was said and
// nothing has happened since.
func sayWhere(s speech, person, where string) ([]Decided, error) {
	c := Close(s.View, s.At)
	i := slices.IndexFunc(c.People, func(p ClosingPerson) bool { return p.ID == person })
	if said, ok := s.Whereabouts(person); i < 0 && ok && said.Where == where && !said.At.Before(c.From) {
		return nil, record.Refuse(ruleHomeTwice.Says(said.At))
	}
	if i >= 0 {
		p := c.People[i]
		if len(p.Has) > 0 && where == "" {
			return nil, record.Refuse(ruleHasMachine.Says(strings.Join(p.Has, ", ")))
		}
		if p.Said != nil && p.Said.Where == where {
			return nil, record.Refuse(ruleHomeTwice.Says(p.Said.At))
		}
	}
	return just(PersonHome{Person: person, Where: where}), nil
}

func (c SealDay) decide(s speech) ([]Decided, error) {
	day := Close(s.View, s.At)
	if day.Day != c.Day {
		if _, err := time.Parse(time.DateOnly, c.Day); err != nil {
			return nil, record.Refuse(ruleNoSuchDay.Says())
		}
		return nil, record.Refuse(ruleNotThatDay.Says(day.Day))
	}
	if len(day.Machines) == 0 {
		return nil, record.Refuse(ruleNobodyOut.Says())
	}
	switch machines, people := day.Keeps(); {
	case len(machines) > 0:
		return nil, record.Refuse(ruleMachineOut.Says(strings.Join(machines, ", ")))
	case len(people) > 0:
		return nil, record.Refuse(rulePersonOut.Says(strings.Join(people, ", ")))
	}
	seal := Seal{Day: day.Day, From: day.From, Until: day.Until, Told: len(day.Told), Halts: len(day.Halts)}
	for _, m := range day.Machines {
		if m.State == StandsOnSite {
			seal.Left = append(seal.Left, m.Name)
		} else {
			seal.Home = append(seal.Home, m.Name)
		}
	}
	for _, p := range day.People {
		seal.People = append(seal.People, p.Name)
	}
	return just(seal), nil
}
