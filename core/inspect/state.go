package inspect

// How far the look at a machine is: what was answered, how settings stand.

import (
	"maps"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/walk"
)

// State is what was looked at on one machine so far.
type State struct {
	Machine string // id
	Sheet   *machine.Sheet
	Route   []walk.Stop
	House   defect.House
	// Hours is the hour meter when the look began, in hours.
	Hours float64
	// HoursAt is when the meter was read so, zero where that is not known.
	HoursAt time.Time
	// Worked is when the machine last worked, nil if that is long ago or not
	// known. What must be cold to be true waits until it has cooled.
	Worked *time.Time
	// Before is what was read the last time.
	Before []Before
	// History is what came before on the machine, Series what was read since each part
	// was new; Watching are the points that stand on Watch since before.
	History  []defect.Past
	Series   []defect.Series
	Watching []string

	stands     map[string]string  // how each setting stands
	told       map[string]string  // what was chosen for each condition of the day
	conditions map[string]float64 // the values that limits depend on
	points     map[place][]Given
	worse      map[string]Worsened // findings made worse by hand, by their record
	// said: it was told what the meter says after it was read here; that counts
	// until it is read again.
	said bool
	// ran are the readings of the meter since it went out, gone what it said before the
	// first of them.
	ran    []metered
	gone   float64
	checks map[string]*machine.Check
}

// place is a point, or one reading of it.
type place struct{ check, item string }

// Given is one answer taken for a point or for one reading of it.
type Given struct {
	Meta record.Meta
	Answered
	// Right is set when the finding was put right on the spot; RightMeta is the
	// record of that act.
	Right     *PutRight
	RightMeta record.Meta
	// Finding is how the answer grades as it was found, before the act.
	Finding defect.Finding
	// Noted is what was added to it.
	Noted []Noted
}

// Begin makes s ready to be looked at: nothing answered, settings as the sheet
// has them at the start.
func Begin(s State) State {
	s.stands, s.points, s.checks = map[string]string{}, map[place][]Given{}, make(map[string]*machine.Check, len(s.Sheet.Checks))
	for i := range s.Sheet.Checks {
		s.checks[s.Sheet.Checks[i].ID] = &s.Sheet.Checks[i]
	}
	for _, setting := range s.Sheet.Settings {
		s.stands[setting.ID] = setting.Start
	}
	return s
}

// Again begins another look at the same machine on another route: what was
// answered stays behind, what is known of the day goes with it.
func (s State) Again(route []walk.Stop) State {
	s.Route, s.points = route, map[place][]Given{}
	return s
}

// Apply takes in an event of the look; ok is false for one of something else.
func (s State) Apply(m record.Meta, e record.Event) (after State, ok bool) {
	switch e := e.(type) {
	case Set:
		s.stands = maps.Clone(s.stands)
		s.stands[e.Setting] = e.To
	case Conditioned:
		s = s.tell(e)
	case Answered:
		s.said = s.said && !s.readsMeter(e)
		s = s.change(e.Check, e.Item, func(old []Given) []Given {
			return append(slices.Clip(old), Given{Meta: m, Answered: e, Finding: s.grade(e, m.At)})
		})
	case PutRight:
		s = s.change(e.Check, e.Item, func(old []Given) []Given {
			return with(old, e.Finding, func(g *Given) { g.Right, g.RightMeta = &e, m })
		})
	case Noted:
		s = s.change(e.Check, e.Item, func(old []Given) []Given {
			return with(old, e.Finding, func(g *Given) { g.Noted = append(slices.Clip(g.Noted), e) })
		})
	case Worsened:
		s.worse = maps.Clone(s.worse)
		if s.worse == nil {
			s.worse = map[string]Worsened{}
		}
		s.worse[e.Finding] = e
	default:
		return s, false
	}
	return s, true
}

// change puts other answers in the place of those of a point or reading.
func (s State) change(check, item string, do func([]Given) []Given) State {
	points := make(map[place][]Given, len(s.points)+1)
	maps.Copy(points, s.points)
	at := place{check, item}
	points[at] = do(points[at])
	s.points = points
	return s
}

// with is a copy of the answers in which one is changed.
func with(old []Given, id string, do func(*Given)) []Given {
	fresh := slices.Clone(old)
	for i := range fresh {
		if fresh[i].Meta.ID == id {
			do(&fresh[i])
		}
	}
	return fresh
}

func (s State) tell(e Conditioned) State {
	told, values := map[string]string{}, map[string]float64{}
	maps.Copy(told, s.told)
	maps.Copy(values, s.conditions)
	c, _ := s.Sheet.Condition(e.Condition)
	choice, _ := c.Choice(e.Choice)
	told[e.Condition], values[e.Condition] = e.Choice, choice.Value
	s.told, s.conditions = told, values
	return s.judgedAgain(e.Condition)
}

// judgedAgain is the look with the readings that hang on a condition graded by
// how it is now.
func (s State) judgedAgain(condition string) State {
	points := maps.Clone(s.points)
	for at, given := range points {
		c := s.checks[at.check]
		r, ok := c.Reading(at.item)
		if !ok || r.Limits == nil || r.Limits.By != condition {
			continue
		}
		fresh := slices.Clone(given)
		for i := range fresh {
			fresh[i].Finding = s.grade(fresh[i].Answered, fresh[i].Meta.At)
		}
		points[at] = fresh
	}
	s.points = points
	return s
}

// Told is how a condition of the day was told to be, "" before.
func (s State) Told(condition string) string { return s.told[condition] }

// Metered is the look with the hour meter as it was told to stand: by a lead, or with
// a fill of fuel before it goes out.
func (s State) Metered(hours float64, at time.Time) State {
	if by := hours - s.HoursNow(); len(s.ran) > 0 { // all of it was read so much wrong
		s.gone += by
		s.ran = slices.Clone(s.ran)
		for i := range s.ran {
			s.ran[i].hours += by
		}
	}
	s.Hours, s.HoursAt, s.said = hours, at, true
	return s
}

// metered is a reading of the hour meter, in hours.
type metered struct {
	at    time.Time
	hours float64
}

// Ran is the look with the hour meter as it was read while the machine was out; one read
// at the same moment takes the place of that.
func (s State) Ran(hours float64, at time.Time) State {
	if len(s.ran) == 0 {
		s.gone = s.HoursNow()
	}
	s.ran = slices.DeleteFunc(slices.Clone(s.ran), func(m metered) bool { return m.at.Equal(at) })
	s.ran = append(s.ran, metered{at, hours})
	s.Hours, s.HoursAt, s.said = hours, at, true
	return s
}

// hoursAt is the hour meter that a finding of a moment counts from: as it is now, but
// not what was worked since; the zero time is before it went out.
func (s State) hoursAt(at time.Time) float64 {
	if len(s.ran) == 0 || !s.House.WorkCounts() {
		return s.HoursNow()
	}
	hours := s.gone
	for _, m := range s.ran {
		if !m.at.After(at) {
			hours = m.hours
		}
	}
	return hours
}

// Stands is how a setting stands now.
func (s State) Stands(setting string) string { return s.stands[setting] }

// Under is a reading with its limits as the day makes them.
func (s State) Under(r *machine.Reading) *machine.Reading { return r.Under(s.conditions) }

// Wants is the condition of the day that has to be told before a point can be
// answered, or nil.
func (s State) Wants(c *machine.Check) *machine.Condition {
	for _, r := range c.Readings {
		if r.Limits == nil || r.Limits.By == "" {
			continue
		}
		if _, told := s.told[r.Limits.By]; !told {
			condition, _ := s.Sheet.Condition(r.Limits.By)
			return condition
		}
	}
	return nil
}

// CoolAt is when a point that needs the machine cool can be looked at; the
// zero time if it can be now, as far as the last work tells.
func (s State) CoolAt(c *machine.Check) time.Time {
	if c.Cool == 0 || s.Worked == nil {
		return time.Time{}
	}
	return s.Worked.Add(time.Duration(c.Cool * float64(time.Minute)))
}

// Hot reports whether a point waits for the machine to cool, and until when.
func (s State) Hot(c *machine.Check, now time.Time) (until time.Time, hot bool) {
	until = s.CoolAt(c)
	return until, now.Before(until)
}

// Cooling are the points asked that still wait for the machine to cool, in the
// order in which they can be looked at.
func (s State) Cooling(now time.Time) []*machine.Check {
	var out []*machine.Check
	for _, stop := range s.Route {
		if c := s.checks[stop.ID]; stop.Do == walk.Check && c != nil && !slices.Contains(out, c) && len(s.Open(c.ID)) > 0 {
			if _, hot := s.Hot(c, now); hot {
				out = append(out, c)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b *machine.Check) int { return s.CoolAt(a).Compare(s.CoolAt(b)) })
	return out
}

// Check is the point with this id, or nil.
func (s State) Check(id string) *machine.Check { return s.checks[id] }

// Given is every answer taken for a point or reading, oldest first; the last
// one counts.
func (s State) Given(check, item string) []Given { return slices.Clip(s.points[place{check, item}]) }

// Last is the answer that counts.
func (s State) Last(check, item string) (Given, bool) {
	g := s.points[place{check, item}]
	if len(g) == 0 {
		return Given{}, false
	}
	return s.counts(place{check, item}, g), true
}

// Now is how the answer stands after anything put right.
func (g Given) Now() Answered {
	if g.Right != nil {
		return g.Right.Now
	}
	return g.Answered
}

// Notes is what was added to a finding.
func (s State) Notes(finding string) []Noted {
	for _, given := range s.points {
		for _, g := range given {
			if g.Meta.ID == finding {
				return g.Noted
			}
		}
	}
	return nil
}

// Answerers lists who gave the answers, by id, in the order of their first.
func (s State) Answerers() []string {
	first := map[string]time.Time{}
	note := func(m record.Meta) {
		if at, ok := first[m.By]; m.By != "" && (!ok || m.At.Before(at)) {
			first[m.By] = m.At
		}
	}
	for _, given := range s.points {
		for _, g := range given {
			note(g.Meta)
			note(g.RightMeta)
		}
	}
	ids := slices.Sorted(maps.Keys(first))
	slices.SortStableFunc(ids, func(a, b string) int { return first[a].Compare(first[b]) })
	return ids
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
func (s State) Open(check string) []string {
	c := s.checks[check]
	if c == nil {
		return nil
	}
	if g, ok := s.Last(check, ""); ok && g.Right == nil {
		if f, ok := c.Fault(g.Fault); ok && f.NoReading {
			return nil
		}
	}
	var open []string
	look := func(item string) {
		if g, ok := s.Last(check, item); !ok || g.Now().Answer == NotReached {
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
