package outing

import (
	"fmt"
	"maps"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/walk"
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
	ID       string
	Began    time.Time
	Operator string
	House    defect.House
	Status   Status
	End      *Ended
	Ready    *operator.Readiness
	ReadyBy  Meta
	Units    []*UnitState
	Verdict  *Verdict // as released
	Breaks   []*BreakState
	Release  Meta
}

// UnitState is one machine of an outing.
type UnitState struct {
	Unit
	Sheet  *machine.Sheet
	Stands map[string]string // how each setting stands now
	points map[string]map[string][]Given
	checks map[string]*machine.Check // of the sheet, by id
	// Told is what was chosen for each condition of the day; Conditions the
	// values that limits depend on.
	Told       map[string]string
	Conditions map[string]float64
	Round      RoundState
}

// Given is one answer taken for a point or for one reading of it.
type Given struct {
	Meta Meta
	Answered
	// Right is set when the finding was put right on the spot.
	Right *PutRight
	// RightMeta is the record of that act.
	RightMeta Meta
	// Finding is how the answer grades as it was found, before the act.
	Finding defect.Finding
	// Noted is what was added to it.
	Noted []Noted
}

// Begin makes an outing from its first event.
func Begin(id string, meta Meta, e Started, find func(hash string) (*machine.Sheet, error)) (*Outing, error) {
	o := &Outing{ID: id, Began: meta.At, Operator: e.Operator, House: e.House, Status: Open}
	for _, unit := range e.Units {
		sheet, err := find(unit.Sheet)
		if err != nil {
			return nil, fmt.Errorf("outing %s: sheet of machine %s: %w", id, unit.Machine, err)
		}
		sheet = measured(sheet, unit.Spots)
		u := &UnitState{Unit: unit, Sheet: sheet, Stands: map[string]string{}, points: map[string]map[string][]Given{}, checks: map[string]*machine.Check{}}
		for i := range sheet.Checks {
			u.checks[sheet.Checks[i].ID] = &sheet.Checks[i]
		}
		for _, s := range sheet.Settings {
			u.Stands[s.ID] = s.Start
		}
		u.Round.begin(unit.Round, sheet.HasEngine())
		o.Units = append(o.Units, u)
	}
	return o, nil
}

// Unit returns the unit of a machine, or nil.
func (o *Outing) Unit(id string) *UnitState {
	for _, u := range o.Units {
		if u.Machine == id {
			return u
		}
	}
	return nil
}

// Apply takes in an event that Accept has let through, or that was recorded
// before.
func (o *Outing) Apply(meta Meta, e Event) {
	switch e := e.(type) {
	case Readied:
		o.Ready, o.ReadyBy = &e.Readiness, meta
	case Set:
		o.Unit(e.Machine).Stands[e.Setting] = e.To
	case Rerouted:
		o.Unit(e.Machine).Route = e.Route
	case Conditioned:
		o.Unit(e.Machine).tell(e)
	case Answered:
		o.Unit(e.Machine).answer(meta, e, o.House)
	case PutRight:
		o.Unit(e.Machine).putRight(meta, e)
	case Noted:
		o.Unit(e.Machine).note(e)
	case Cranked:
		o.Unit(e.Machine).Round.crank(e)
	case Tested:
		u := o.Unit(e.Machine)
		u.Round.take(meta, e, u.StopWithin(e.Test))
	case BreakBegun:
		o.beginBreak(meta, e)
	case BreakAnswered:
		o.answerBreak(meta, e)
	case Released:
		o.Status, o.Verdict, o.Release = Out, &e.Verdict, meta
	case Ended:
		o.Status, o.End = Closed, &e
	}
}

func (u *UnitState) answer(meta Meta, e Answered, house defect.House) {
	given := u.given(e.Check, e.Item, 1)
	u.points[e.Check][e.Item] = append(given, Given{Meta: meta, Answered: e, Finding: u.grade(e, house)})
}

// tell takes in a condition. Maps are made anew, because clones share them.
func (u *UnitState) tell(e Conditioned) {
	told, values := maps.Clone(u.Told), maps.Clone(u.Conditions)
	if told == nil {
		told, values = map[string]string{}, map[string]float64{}
	}
	c, _ := u.Sheet.Condition(e.Condition)
	choice, _ := c.Choice(e.Choice)
	told[e.Condition], values[e.Condition] = e.Choice, choice.Value
	u.Told, u.Conditions = told, values
}

// Wants is the condition of the day that has to be told before a point can be
// answered, or nil.
func (u *UnitState) Wants(c *machine.Check) *machine.Condition {
	for _, r := range c.Readings {
		if r.Limits == nil || r.Limits.By == "" {
			continue
		}
		if _, told := u.Told[r.Limits.By]; !told {
			condition, _ := u.Sheet.Condition(r.Limits.By)
			return condition
		}
	}
	return nil
}

// CoolAt is when a point that needs the machine cool can be looked at; the
// zero time if it can be now, as far as the last work tells.
func (u *UnitState) CoolAt(c *machine.Check) time.Time {
	if c.Cool == 0 || u.Worked == nil {
		return time.Time{}
	}
	return u.Worked.Add(time.Duration(c.Cool * float64(time.Minute)))
}

func (u *UnitState) grade(e Answered, house defect.House) defect.Finding {
	c, _ := u.Sheet.Check(e.Check)
	in := defect.Context{House: house, Hours: u.Hours, Conditions: u.Conditions}
	switch e.Answer {
	case AnswerFault:
		f, _ := c.Fault(e.Fault)
		return defect.OfFault(c, f, in)
	case AnswerReading:
		r, _ := c.Reading(e.Item)
		return defect.OfReading(c, r, e.Value.measure(r), in)
	}
	return defect.Finding{Extent: machine.Sound, Grade: defect.Sound}
}

func (u *UnitState) putRight(meta Meta, e PutRight) {
	given := u.given(e.Check, e.Item, 0)
	for i := range given {
		if given[i].Meta.ID == e.Finding {
			given[i].Right, given[i].RightMeta = &e, meta
		}
	}
}

func (u *UnitState) note(e Noted) {
	given := u.given(e.Check, e.Item, 0)
	for i := range given {
		if given[i].Meta.ID == e.Finding {
			given[i].Noted = append(slices.Clip(given[i].Noted), e)
		}
	}
}

// Notes is what was added to a finding.
func (u *UnitState) Notes(finding string) []Noted {
	for _, items := range u.points {
		for _, given := range items {
			for _, g := range given {
				if g.Meta.ID == finding {
					return g.Noted
				}
			}
		}
	}
	return nil
}

// Given is every answer taken for a point or reading, oldest first; the last
// one counts.
func (u *UnitState) Given(check, item string) []Given { return u.points[check][item] }

// last is the answer that counts.
func (u *UnitState) last(check, item string) (Given, bool) {
	g := u.points[check][item]
	if len(g) == 0 {
		return Given{}, false
	}
	return g[len(g)-1], true
}

// now is how the answer stands after anything put right.
func (g Given) now() Answered {
	if g.Right != nil {
		return g.Right.Now
	}
	return g.Answered
}

// Readings lists what was read in this outing, as it stands after anything put
// right.
func (u *UnitState) Readings() []Before {
	var out []Before
	for i := range u.Sheet.Checks {
		c := &u.Sheet.Checks[i]
		for _, r := range c.Readings {
			if g, ok := u.last(c.ID, r.ID); ok && g.now().Value != nil {
				out = append(out, Before{Check: c.ID, Item: r.ID, Value: *g.now().Value, At: g.Meta.At})
			}
		}
	}
	return out
}

// ReadBefore is the reading of the machine's last outing, or nil.
func (u *UnitState) ReadBefore(check, item string) *Before {
	for i := range u.Before {
		if u.Before[i].Check == check && u.Before[i].Item == item {
			return &u.Before[i]
		}
	}
	return nil
}

// MayMeasureAgain reports whether a reading may be taken once more: it was not
// sound, and is the first.
func (u *UnitState) MayMeasureAgain(check, item string) bool {
	given := u.points[check][item]
	for _, g := range given {
		if g.Again || g.Right != nil {
			return false
		}
	}
	return len(given) > 0 && given[len(given)-1].Answer == AnswerReading && given[len(given)-1].Finding.Extent != machine.Sound
}

// Items lists what must be answered at a point: each reading, or "" for the
// point as a whole. A point with readings is answered by them, or by a fault
// found at the point as a whole beside them.
func Items(c *machine.Check) []string {
	if len(c.Readings) == 0 {
		return []string{""}
	}
	var items []string
	for _, r := range c.Readings {
		items = append(items, r.ID)
	}
	return items
}

// Open lists the items of a point that still need an answer.
func (u *UnitState) Open(check string) []string {
	c := u.checks[check]
	if c == nil {
		return nil
	}
	if g, ok := u.last(check, ""); ok && g.Right == nil {
		if f, ok := c.Fault(g.Fault); ok && f.NoReading {
			return nil
		}
	}
	var open []string
	look := func(item string) {
		if g, ok := u.last(check, item); !ok || g.now().Answer == AnswerNotReached {
			open = append(open, item)
		}
	}
	if len(c.Readings) == 0 {
		look("")
	}
	for i := range c.Readings {
		look(c.Readings[i].ID)
	}
	return open
}

// Left lists the stops of a phase that are not done, in the order of the
// route: each point still open and each change of a setting that the rest of
// the route asks for there. A point that was "not reachable now", or that waits
// for one, comes again at the end. When the points are done, what remains is to
// bring the settings to where they must end.
func (u *UnitState) Left(phase machine.Phase) []walk.Stop {
	open, later := u.ahead(phase)
	stands := maps.Clone(u.Stands)
	var left []walk.Stop
	set := func(s *machine.Setting, to string) {
		if stands[s.ID] != to {
			stands[s.ID] = to
			left = append(left, walk.Stop{Do: walk.Set, ID: s.ID, At: s.At, To: to, Phase: phase})
		}
	}
	look := func(c *machine.Check) {
		for i := range u.Sheet.Settings {
			s := &u.Sheet.Settings[i]
			if want, ok := c.Needs[s.ID]; ok {
				set(s, want)
			}
		}
		left = append(left, walk.Stop{Do: walk.Check, ID: c.ID, At: c.At, Phase: phase})
	}
	for _, stop := range u.Route {
		if stop.Phase != phase {
			continue
		}
		if stop.Do == walk.Set {
			s, _ := u.Sheet.Setting(stop.ID)
			if u.wantedNext(s, append(open, later...)) == stop.To {
				set(s, stop.To)
			}
			continue
		}
		if len(open) > 0 && open[0].ID == stop.ID {
			look(open[0])
			open = open[1:]
		}
	}
	for _, c := range later {
		look(c)
	}
	if phase == machine.Cold {
		for i := len(u.Sheet.Settings) - 1; i >= 0; i-- {
			set(&u.Sheet.Settings[i], u.Sheet.Settings[i].End)
		}
	}
	return left
}

// ahead lists the open points of a phase in the order of the route, and apart
// from them those that come at the end.
func (u *UnitState) ahead(phase machine.Phase) (open, later []*machine.Check) {
	for _, stop := range u.Route {
		if stop.Do != walk.Check || stop.Phase != phase || len(u.Open(stop.ID)) == 0 {
			continue
		}
		c := u.checks[stop.ID]
		if u.putOff(c.ID) || !u.afterKept(c, open) {
			later = append(later, c)
		} else {
			open = append(open, c)
		}
	}
	return open, later
}

// wantedNext is how the first of the points ahead that asks for the setting
// wants it to stand; with none, as it must stand in the end.
func (u *UnitState) wantedNext(s *machine.Setting, ahead []*machine.Check) string {
	for _, c := range ahead {
		if want, ok := c.Needs[s.ID]; ok {
			return want
		}
	}
	return s.End
}

// afterKept reports whether everything c must come after is answered, or comes
// before it among the points ahead.
func (u *UnitState) afterKept(c *machine.Check, ahead []*machine.Check) bool {
	for _, id := range c.After {
		if len(u.Open(id)) > 0 && !slices.ContainsFunc(ahead, func(a *machine.Check) bool { return a.ID == id }) {
			return false
		}
	}
	return true
}

// putOff reports whether the point was looked for and could not be reached.
func (u *UnitState) putOff(check string) bool {
	for _, item := range u.Open(check) {
		if _, answered := u.last(check, item); !answered {
			return false
		}
	}
	return true
}

func (v *Value) measure(r *machine.Reading) text.Measure {
	return text.Measure{Quantity: v.Quantity, Unit: r.Unit}
}
