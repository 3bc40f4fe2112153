package outing

// What an outing begins with: routes, rounds and what is measured by chance.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
	"vespers/core/walk"
)

// Machine is one machine as it is taken out.
type Machine struct {
	ID, Name string
	Hash     string // of the sheet
	Sheet    *machine.Sheet
	Hours    float64   // hour meter, in hours
	HoursAt  time.Time // when it was read so, zero where that is not known
	Carried  []Carried
	Before   []inspect.Before
	// Worked is when it last worked, zero if that is not known.
	Worked time.Time
	// Stood is how it was left when it was last out, by fact.
	Stood machine.Facts
	// Practice is what its house chose where good practitioners differ.
	Practice procedure.House
	// Past is what decides what is due on it.
	Past inspect.Past
	// Memory is what came before on it that grades what is found now.
	Memory Memory
}

// Planner computes the round of a section, or remembers it by the key: the same
// key always stands for the same section.
type Planner func(key string, section machine.Interlock) (interlock.Plan, bool)

// Plan is the Planner that remembers nothing.
func Plan(_ string, section machine.Interlock) (interlock.Plan, bool) {
	logic, _ := interlock.Compile(section)
	if logic == nil {
		return interlock.Plan{}, false
	}
	return logic.Plan(), true
}

// coldAfter is how long a machine stands at least until its metal counts as cool with
// nobody there to wait for it (house rule).
const coldAfter = time.Hour

// CoolAt is when a machine that worked until a moment counts as cool everywhere: once
// each of its points, each wait of its procedures and an hour are over.
func CoolAt(sheet *machine.Sheet, worked time.Time) time.Time {
	return worked.Add(max(sheet.CoolsIn(), procedure.Cooling(sheet), coldAfter))
}

var (
	ruleNeedsCarrier = text.NewRule("take_out.needs_carrier")
	ruleNoPlan       = text.NewRule("take_out.no_plan", text.Slot{Name: "machine", Kind: text.Words})
)

// Compose makes what an outing begins with. An implement goes out with what
// carries it, and only so; carrier is nil for any other machine. Of each machine
// is asked what is due, and what its operator may look at.
func Compose(id string, who operator.Person, house defect.House, main Machine, carrier *Machine, plan Planner, now time.Time) (Started, error) {
	return compose(composing{id: id, who: who, house: house, main: main, carrier: carrier, plan: plan, now: now})
}

// composing is what an outing is composed of. repair is nil for one that goes out.
type composing struct {
	id      string
	who     operator.Person
	house   defect.House
	main    Machine
	carrier *Machine
	plan    Planner
	now     time.Time
	repair  *Repair
	paper   *Paper
}

// goesOut reports whether the outing leads to a release.
func (c composing) goesOut() bool { return c.repair == nil && c.paper == nil }

// asks reports whether a point of a machine is looked at.
func (c composing) asks(m Machine, point *machine.Check) bool {
	switch {
	case c.paper != nil:
		return onPaper(point) && c.who.MayLookAt(m.Sheet, point, c.now)
	case c.repair == nil:
		return asked(m, c.who, point, c.now)
	}
	return m.ID == c.main.ID && slices.Contains(c.repair.Points, point.ID)
}

func compose(c composing) (Started, error) {
	c.house.Edition = defect.Edition
	main := c.main
	started := Started{Operator: c.who.ID, House: c.house, Order: order, Repair: c.repair, Paper: c.paper}
	machines := []Machine{main}
	switch needs := main.Sheet.Carrier; {
	case needs == nil, c.repair != nil && c.carrier == nil, c.paper != nil:
	case c.carrier == nil || c.carrier.ID == main.ID || c.carrier.Sheet.Family != needs.Family:
		return started, record.Refuse(ruleNeedsCarrier.Says())
	default:
		machines = []Machine{*c.carrier, main}
	}
	var units []Unit
	var sheets []*machine.Sheet
	var walks []walk.Options
	for _, m := range machines {
		u, o := c.unit(m)
		units, sheets, walks = append(units, u), append(sheets, m.Sheet), append(walks, o)
	}
	if err := plans(units, sheets, c.plan, c.repair); err != nil {
		return started, err
	}
	if len(units) == 1 && c.goesOut() && provedToday(main) {
		units[0].Round, units[0].Proved = interlock.NoTests(), &main.Past.Proved
	}
	due := func(sheet int, c *machine.Check) bool { return walks[sheet].Only(c) }
	if c.goesOut() {
		for i, spots := range Spots(c.id, sheets, due) {
			units[i].Spots = spots
		}
	}
	if len(units) == 1 {
		units[0].Route = walk.Route(sheets[0], walks[0])
	} else {
		var implementFirst bool
		units[0].Route, units[1].Route, implementFirst = walk.Joined(sheets[0], sheets[1], walks[0], walks[1])
		if implementFirst {
			units[0], units[1] = units[1], units[0]
		}
	}
	for i := range units {
		units[i].Rules = round.Edition
	}
	if today := main.Past.Today; !today.IsZero() && c.paper == nil {
		until := today.AddDate(0, 0, 1)
		started.Until = &until
	}
	started.Units = units
	return started, nil
}

// unit is one machine of the outing with how it is walked round.
func (c composing) unit(m Machine) (Unit, walk.Options) {
	now := c.now
	u := Unit{Machine: m.ID, Name: m.Name, Sheet: m.Hash, Hours: m.Hours, Carried: m.Carried, Before: m.Before, Stood: m.Stood, Practice: m.Practice}
	u.History, u.Series = m.Memory.Recall()
	if at := m.HoursAt; !at.IsZero() {
		u.HoursAt = &at
	}
	u.Cool = !m.Worked.IsZero() && !now.Before(CoolAt(m.Sheet, m.Worked))
	m.Past.Blind = m.Past.Blind || blind(m)
	o := walk.Options{Only: func(point *machine.Check) bool { return c.asks(m, point) }}
	switch {
	case c.repair != nil:
		u.Due = c.repair.Points
	case c.paper != nil:
		return u, o // when it was looked at stands on the paper
	default:
		u.Overdue = overdue(m, now)
		if len(m.Sheet.Told()) > 0 {
			u.Due = dueAnyWay(m, c.who, now)
		}
	}
	if !m.Worked.IsZero() && now.Sub(m.Worked) < m.Sheet.CoolsIn() {
		worked := m.Worked
		if worked.After(now) {
			worked = now // the clock was ahead: it has not cooled for longer than from now
		}
		u.Worked = &worked
		o.Hot, o.Minutes = true, now.Sub(worked).Minutes()
	}
	return u, o
}

// provedToday reports whether a machine, built as it is, was proved by a whole round
// today, where its house asks for one a day, and nobody has worked on it since.
func provedToday(m Machine) bool {
	p := m.Past
	daily := m.Practice["test_rhythm"] == "daily" && !p.Today.IsZero() && !p.Proved.Before(p.Today)
	return daily && p.ProvedAs == m.Hash && (p.Repaired == nil || p.Repaired.At.Before(p.Proved))
}

// plans gives the units their rounds: one for a carrier and an implement that
// it turns, else one each; of a repair what is repeated of them.
func plans(units []Unit, sheets []*machine.Sheet, plan Planner, repair *Repair) error {
	if len(units) == 2 && sheets[1].Carrier.Drives != "" {
		joined, _ := interlock.Join(sheets[0].Interlock, sheets[1])
		if joined.Permits == nil {
			return record.Refuse(ruleNoPlan.Says(sheets[1].Name))
		}
		joint, ok := plan(units[0].Sheet+" "+units[1].Sheet, joined)
		if !ok {
			return record.Refuse(ruleNoPlan.Says(sheets[1].Name))
		}
		units[0].Joined, units[0].Round = &joined, repair.part(joint, joined)
		units[1].With, units[1].Round = units[0].Machine, interlock.NoTests()
		return nil
	}
	for i, sheet := range sheets {
		section := interlock.Section(sheet)
		own, ok := plan(units[i].Sheet, section)
		if !ok {
			return record.Refuse(ruleNoPlan.Says(sheet.Name))
		}
		units[i].Round = repair.part(own, section)
	}
	return nil
}
