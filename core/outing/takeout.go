package outing

// What an outing begins with: routes, rounds and what is measured by chance.

import (
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
	house.Edition = defect.Edition
	started := Started{Operator: who.ID, House: house, Order: order}
	machines := []Machine{main}
	switch needs := main.Sheet.Carrier; {
	case needs == nil:
	case carrier == nil || carrier.ID == main.ID || carrier.Sheet.Family != needs.Family:
		return started, record.Refuse(ruleNeedsCarrier.Says())
	default:
		machines = []Machine{*carrier, main}
	}
	var units []Unit
	var sheets []*machine.Sheet
	var walks []walk.Options
	for _, m := range machines {
		u := Unit{Machine: m.ID, Name: m.Name, Sheet: m.Hash, Hours: m.Hours, Carried: m.Carried, Before: m.Before, Stood: m.Stood, Practice: m.Practice}
		u.History, u.Series = m.Memory.Recall()
		if at := m.HoursAt; !at.IsZero() {
			u.HoursAt = &at
		}
		u.Cool = !m.Worked.IsZero() && !now.Before(CoolAt(m.Sheet, m.Worked))
		m.Past.Blind = m.Past.Blind || blind(m)
		o := walk.Options{Only: func(c *machine.Check) bool { return asked(m, who, c, now) }}
		u.Overdue = overdue(m, now)
		if len(m.Sheet.Told()) > 0 {
			u.Due = dueAnyWay(m, who, now)
		}
		if !m.Worked.IsZero() && now.Sub(m.Worked) < m.Sheet.CoolsIn() {
			worked := m.Worked
			if worked.After(now) {
				worked = now // the clock was ahead: it has not cooled for longer than from now
			}
			u.Worked = &worked
			o.Hot, o.Minutes = true, now.Sub(worked).Minutes()
		}
		units, sheets, walks = append(units, u), append(sheets, m.Sheet), append(walks, o)
	}
	if err := plans(units, sheets, plan); err != nil {
		return started, err
	}
	if len(units) == 1 && provedToday(main) {
		units[0].Round, units[0].Proved = interlock.NoTests(), &main.Past.Proved
	}
	due := func(sheet int, c *machine.Check) bool { return walks[sheet].Only(c) }
	for i, spots := range Spots(id, sheets, due) {
		units[i].Spots = spots
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
	if today := main.Past.Today; !today.IsZero() {
		until := today.AddDate(0, 0, 1)
		started.Until = &until
	}
	started.Units = units
	return started, nil
}

// provedToday reports whether a machine, built as it is, was proved by a whole round
// today, where its house asks for one a day, and nobody has worked on it since.
func provedToday(m Machine) bool {
	p := m.Past
	daily := m.Practice["test_rhythm"] == "daily" && !p.Today.IsZero() && !p.Proved.Before(p.Today)
	return daily && p.ProvedAs == m.Hash && (p.Repaired == nil || p.Repaired.At.Before(p.Proved))
}

// plans gives the units their rounds: one for a carrier and an implement that
// it turns, else one each.
func plans(units []Unit, sheets []*machine.Sheet, plan Planner) error {
	if len(units) == 2 && sheets[1].Carrier.Drives != "" {
		joined, _ := interlock.Join(sheets[0].Interlock, sheets[1])
		if joined.Permits == nil {
			return record.Refuse(ruleNoPlan.Says(sheets[1].Name))
		}
		joint, ok := plan(units[0].Sheet+" "+units[1].Sheet, joined)
		if !ok {
			return record.Refuse(ruleNoPlan.Says(sheets[1].Name))
		}
		units[0].Joined, units[0].Round = &joined, joint
		units[1].With, units[1].Round = units[0].Machine, interlock.NoTests()
		return nil
	}
	for i, sheet := range sheets {
		own, ok := plan(units[i].Sheet, interlock.Section(sheet))
		if !ok {
			return record.Refuse(ruleNoPlan.Says(sheet.Name))
		}
		units[i].Round = own
	}
	return nil
}
