package outing

// The outing itself: its machines, its turns, and taking events in.

import (
	"fmt"
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
)

// Status is how far an outing is.
type Status string

// The statuses.
const (
	Open   Status = "open"
	Out    Status = "released"
	Closed Status = "ended"
)

// Outing is everything known about one outing.
type Outing struct {
	ID    string
	Began time.Time
	House defect.House
	Order int // edition of the order of a day
	// Until is the end of the day in which it began, zero where that is not known.
	Until  time.Time
	Status Status
	// Turns are its operators, one after the other; the last has it now.
	Turns   []Turn
	Units   []*UnitState
	Breaks  []*BreakState
	Verdict *Verdict // as released
	Release record.Meta
	// Second stood by at the release, by their own PIN; a person's id or "".
	Second string
	// ran is for how long they were out in whose hands, before the release was taken back.
	ran map[string]time.Duration
	// terms are those that a lead has set meanwhile, by defect.
	terms map[string]terms
	End   *Ended
	// Repair is the work that it proves, nil for one that goes out.
	Repair *Repair
	// Paper is the paper that it is copied from, nil for one that is not.
	Paper *Paper
	// Plan is what the machines are meant for, nil where nobody said.
	Plan *Meant
	// Expects is when they will be home, as whoever had them said; zero where nobody did.
	Expects    time.Time
	ExpectedBy record.Meta
	// Home is the record that ended it.
	Home record.Meta
}

// Turn is the outing while it was one operator's.
type Turn struct {
	Operator string
	Since    record.Meta // by whom it was begun, taken over or handed on
	// Ready is what the operator said of themselves, nil until they were asked.
	Ready   *operator.Readiness
	ReadyBy record.Meta
	// Due is when somebody looks for the operator; zero where nobody does. Heard is
	// when they last said that they are well, Sought who goes to look for them.
	Due      time.Time
	Heard    record.Meta
	Sought   string
	SoughtBy record.Meta
}

// UnitState is one machine of an outing.
type UnitState struct {
	inspect.State // what was looked at on it
	Name          string
	Hash          string // of its sheet
	// Joined is, on a carrier tested together with what it carries, the
	// section of both; With is, on the implement, that carrier.
	Joined  *machine.Interlock
	With    string
	Carried []Carried
	Round   round.State
	// Spots are measured instead of ticked; Due are due with any way of an option.
	Spots, Due []string
	Rules      int // edition of the rules of the round
	// Overdue are the points that must have been looked at before the release.
	Overdue []string
	// Stood is how it was left when it was last out; Off since when its engine is
	// off; Cool: it has not worked for as long as it takes to cool.
	Stood machine.Facts
	Off   time.Time
	Cool  bool
	// Proved is when a round proved it earlier today, nil where it is proved here.
	Proved *time.Time
	// Practice is what its house chose when the outing began.
	Practice procedure.House
	// Parked: it was shut down since it was last begun with, or what happened has
	// left it standing where it is.
	Parked bool
	// Behind is what pulls it and On the trailer that it goes on, as somebody said: a
	// machine's id, "" for one that is not in this book; nil where nobody said.
	Behind, On *string
	procedures inProcedures
	fills      []Fuelled
}

// Begin makes an outing from its first event.
func Begin(id string, m record.Meta, e Started, find func(hash string) (*machine.Sheet, error)) (*Outing, error) {
	o := &Outing{ID: id, Began: m.At, House: e.House, Order: e.Order, Plan: e.Plan, Repair: e.Repair, Paper: e.Paper, Status: Open, Turns: []Turn{{Operator: e.Operator, Since: m}}}
	if e.Until != nil {
		o.Until = *e.Until
	}
	for _, unit := range e.Units {
		sheet, err := find(unit.Sheet)
		if err != nil {
			return nil, fmt.Errorf("outing %s: sheet of machine %s: %w", id, unit.Machine, err)
		}
		sheet = measured(sheet, unit.Spots)
		u := &UnitState{Name: unit.Name, Hash: unit.Sheet, Joined: unit.Joined, With: unit.With, Carried: unit.Carried, Overdue: unit.Overdue, Spots: unit.Spots, Due: unit.Due, Rules: unit.Rules, Stood: unit.Stood, Practice: unit.Practice, Proved: unit.Proved, Cool: unit.Cool, Off: m.At}
		if unit.Worked != nil {
			u.Off = *unit.Worked
		}
		if behind := LeftBehind(unit.Stood); behind != "" {
			u.Behind = &behind
		}
		var read time.Time
		if unit.HoursAt != nil {
			read = *unit.HoursAt
		}
		u.State = inspect.Begin(inspect.State{HoursAt: read, Machine: unit.Machine, Sheet: sheet, Route: unit.Route, House: e.House, Hours: unit.Hours, Worked: unit.Worked, Before: unit.Before,
			History: unit.History, Series: unit.Series, Watching: watching(unit.Carried)})
		u.Round = round.Begin(u.setup(unit.Round))
		o.Units = append(o.Units, u)
	}
	return o, nil
}

// watching lists the points that a machine brings in on Watch.
func watching(carried []Carried) []string {
	var points []string
	for _, c := range carried {
		if c.Finding.Grade == defect.Watch {
			points = append(points, c.Check)
		}
	}
	return points
}

// setup is what a round of the unit is of.
func (u *UnitState) setup(plan interlock.Plan) round.Setup {
	section := interlock.Section(u.Sheet)
	if u.Joined != nil {
		section = *u.Joined
	}
	s := round.Setup{Machine: u.Machine, Plan: plan, Section: &section, Engine: u.Sheet.HasEngine(), Edition: u.Rules}
	s.WarmUp, s.Rest = u.Sheet.Time("warm_up"), u.Sheet.Time("crank_rest")
	if n, ok := u.Sheet.Number("crank_tries"); ok {
		s.Tries = int(n.Value)
	}
	for _, stop := range u.Route {
		s.Running = s.Running || stop.Phase == machine.Running
	}
	return s
}

// Apply is the outing after an event that Decide has made, or that was recorded
// before.
func (o *Outing) Apply(m record.Meta, e record.Event) *Outing {
	m.Wrong = time.Time{} // what hung on it stands in the event: read again, it folds alike
	m.At = o.saidAt(m, e)
	after := *o
	for _, s := range stages {
		if s.apply(&after, m, e) {
			break
		}
	}
	return &after
}

// change puts another state in the place of a unit's. It is called on an outing
// that Apply is making.
func (o *Outing) change(machineID string, do func(*UnitState)) {
	o.Units = slices.Clone(o.Units)
	for i, u := range o.Units {
		if u.Machine == machineID {
			fresh := *u
			do(&fresh)
			o.Units[i] = &fresh
		}
	}
}

// turn puts another state in the place of the turn that is now.
func (o *Outing) turn(do func(*Turn)) {
	o.Turns = slices.Clone(o.Turns)
	do(&o.Turns[len(o.Turns)-1])
}

// Now is the turn of whoever has the outing.
func (o *Outing) Now() Turn { return o.Turns[len(o.Turns)-1] }

// Operator is who has the outing now, a person's id.
func (o *Outing) Operator() string { return o.Now().Operator }

// Ready is what the operator said of themselves, or nil.
func (o *Outing) Ready() *operator.Readiness { return o.Now().Ready }

// Unit returns the unit of a machine, or nil.
func (o *Outing) Unit(id string) *UnitState {
	for _, u := range o.Units {
		if u.Machine == id {
			return u
		}
	}
	return nil
}

// Main is the machine that an outing is named after: the implement, if one is
// carried.
func (o *Outing) Main() *UnitState {
	for _, u := range o.Units {
		if u.Sheet.Carrier != nil {
			return u
		}
	}
	return o.Units[0]
}

// Sheets are those of its machines.
func (o *Outing) Sheets() []*machine.Sheet {
	var out []*machine.Sheet
	for _, u := range o.Units {
		out = append(out, u.Sheet)
	}
	return out
}

// Interlocks is the section that the unit's round is computed from: its
// sheet's own, or the joined one of a carrier and what it carries.
func (u *UnitState) Interlocks() *machine.Interlock { return u.Round.Section }

// Name names the machines of an outing, the one it is named after first.
func (o *Outing) Name() string {
	name := o.Main().Name
	for _, u := range o.Units {
		if u != o.Main() {
			name += " + " + u.Name
		}
	}
	return name
}
