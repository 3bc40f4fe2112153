package yard

// The evening as it will go: what is left to do on each machine that is out, when it is
// home, who has it, and who does what when so that the yard is closed soonest.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/evening"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/trend"
)

// Places are how many wash places and fuel points a yard has; 0 is one.
type Places struct {
	Wash int `json:"wash,omitempty"`
	Fuel int `json:"fuel,omitempty"`
}

// placesMost is how many of one kind a yard has at most.
const placesMost = 20

var rulePlaces = text.NewRule("house.places")

func (p Places) check() error {
	if p.Wash < 0 || p.Fuel < 0 || p.Wash > placesMost || p.Fuel > placesMost {
		return record.Refuse(rulePlaces.Says())
	}
	return nil
}

// placeOf is where a chore is done, "" for anywhere.
func placeOf(chore string) string {
	switch chore {
	case outing.ChoreWash:
		return "wash"
	case outing.ChoreFuel:
		return "fuel"
	}
	return ""
}

// Evening is what is left of a day until its machines are put away.
type Evening struct {
	// From is the moment that the minutes count from.
	From time.Time
	Of   evening.Evening
	// Has is whose outing each machine is, by machine; Names are what machines and
	// people are called.
	Has, Names map[string]string
	// Due is when each machine is expected that is not back, by machine; Late are those
	// that should be.
	Due  map[string]time.Time
	Late []string
	// Unsaid are machines of which nobody said when they come: they are not in it.
	Unsaid []string
}

// EveningOf is the evening as it stands. Who has a machine puts it away.
func EveningOf(v View, now time.Time) Evening {
	e := Evening{From: now.Truncate(time.Minute), Has: map[string]string{}, Names: map[string]string{}, Due: map[string]time.Time{}}
	settings, _ := v.Settings()
	e.Of.Places = map[string]int{"wash": max(1, settings.Places.Wash), "fuel": max(1, settings.Places.Fuel)}
	seen := map[string]bool{}
	from := map[string]float64{}
	for _, m := range v.Machines() {
		if m.Outing == "" || seen[m.Outing] {
			continue
		}
		seen[m.Outing] = true
		if o, ok := v.Outing(m.Outing); ok && o.Status == outing.Out && o.Repair == nil {
			e.outing(v, o, now, from)
		}
	}
	for _, m := range e.Of.Machines {
		who := m.Who[0]
		if !slices.ContainsFunc(e.Of.People, func(p evening.Person) bool { return p.ID == who }) {
			e.Of.People = append(e.Of.People, evening.Person{ID: who, From: from[who]})
		}
	}
	slices.SortFunc(e.Of.Machines, func(a, b evening.Machine) int { return strings.Compare(e.Names[a.ID], e.Names[b.ID]) })
	slices.SortFunc(e.Of.People, func(a, b evening.Person) int { return strings.Compare(e.Names[a.ID], e.Names[b.ID]) })
	return e
}

// outing takes in the machines of an outing that is out.
func (e *Evening) outing(v View, o *outing.Outing, now time.Time, from map[string]float64) {
	meta := record.Meta{At: now}
	if clock := v.Clock(); clock.Wrong {
		meta.Wrong = clock.From
	}
	who := o.Operator()
	if p, ok := v.Person(who); ok {
		e.Names[who] = p.Name
	}
	due, _, known := o.DueHome()
	for _, u := range o.Units {
		left := u.PutAway(meta)
		e.Names[u.Machine] = u.Name
		if left.Off.IsZero() && !known && left.Shutdown > 0 {
			e.Unsaid = append(e.Unsaid, u.Machine)
			continue
		}
		m := evening.Machine{ID: u.Machine, Who: []string{who}}
		switch {
		case !left.Off.IsZero():
			m.Cool = max(0, e.minute(left.Off.Add(left.Cools)))
		default:
			if known {
				e.Due[u.Machine] = due
				if due.Before(now) {
					e.Late = append(e.Late, u.Machine)
				}
			}
			m.Arrives = max(0, e.minute(due)) + left.Shutdown/60
			m.Cool = left.Cools.Minutes()
			from[who] = max(from[who], m.Arrives)
		}
		spent := v.Spent(u.Machine, spentMost)
		for _, c := range left.Chores {
			if c.Seconds > 0 {
				m.Jobs = append(m.Jobs, evening.Job{ID: c.ID, Minutes: minutesOf(c, spent[c.ID]), Place: placeOf(c.ID), Cool: c.Cool})
			}
		}
		if len(m.Jobs) > 0 {
			e.Has[m.ID] = who
			e.Of.Machines = append(e.Of.Machines, m)
		}
	}
}

// What a machine's own minutes are taken from: the median of its last ten, once there are
// three (house rule).
const (
	spentMost  = 10
	spentLeast = 3
)

// minutesOf is how long a chore takes: on this machine, or by its sheet.
func minutesOf(c outing.Chore, spent []float64) float64 {
	if len(spent) < spentLeast || c.Begun {
		return c.Seconds / 60
	}
	return trend.Median(spent) / 60
}

// minute is a moment in minutes from the start.
func (e *Evening) minute(t time.Time) float64 { return t.Sub(e.From).Minutes() }

// When is the moment of a minute.
func (e *Evening) When(minute float64) time.Time {
	return e.From.Add(time.Duration(minute * float64(time.Minute)))
}

// Empty reports whether there is nothing to plan.
func (e *Evening) Empty() bool { return len(e.Of.Machines) == 0 }

// HandOn is a machine given to somebody else, with which the yard is closed sooner.
type HandOn struct {
	Machine, To string
	Close       float64
}

// worthHanding is how many minutes sooner the yard has to be closed for a machine to be
// handed on (house rule): a hand-over takes some itself.
const worthHanding = 3

// Sooner is the one machine that somebody else could put away with which the yard is
// closed soonest; ok is false where none is worth it. Able are those who may, by machine.
func (e *Evening) Sooner(plan evening.Plan, able map[string][]string) (best HandOn, ok bool) {
	wide := e.Of
	wide.Machines = slices.Clone(wide.Machines)
	for i := range wide.Machines {
		m := &wide.Machines[i]
		for _, id := range able[m.ID] {
			if !slices.Contains(m.Who, id) {
				m.Who = append(slices.Clone(m.Who), id)
			}
		}
	}
	for _, who := range given(evening.Soon(wide)) {
		if e.Has[who.Machine] == who.To {
			continue
		}
		one := e.Of
		one.Machines = slices.Clone(one.Machines)
		i := slices.IndexFunc(one.Machines, func(m evening.Machine) bool { return m.ID == who.Machine })
		one.Machines[i].Who = []string{who.To}
		who.Close = evening.Soon(one).Close
		if who.Close <= plan.Close-worthHanding && (!ok || who.Close < best.Close) {
			best, ok = who, true
		}
	}
	return best, ok
}

// given is who has each machine of a plan.
func given(p evening.Plan) (out []HandOn) {
	for _, j := range p.Jobs {
		if !slices.ContainsFunc(out, func(h HandOn) bool { return h.Machine == j.Machine }) {
			out = append(out, HandOn{Machine: j.Machine, To: j.Who})
		}
	}
	return out
}

// Able is who else may put away each machine of an evening: who is at work, has read
// and practised it, and is not out with anything.
func (e *Evening) Able(v View, day Closing, now time.Time) map[string][]string {
	out := map[string][]string{}
	for _, p := range day.People {
		if p.Settled() || !p.Here() || !p.Role.MayRelease() || e.away(p.ID) {
			continue
		}
		e.Names[p.ID] = p.Name
		for _, m := range e.Of.Machines {
			if sheet := e.sheet(v, m.ID); sheet != nil && len(p.Readiness().Unschooled([]*machine.Sheet{sheet}, now)) == 0 {
				out[m.ID] = append(out[m.ID], p.ID)
			}
		}
	}
	return out
}

// away reports whether somebody is still out with a machine.
func (e *Evening) away(person string) bool {
	return slices.ContainsFunc(e.Of.People, func(p evening.Person) bool { return p.ID == person && p.From > 0 })
}

func (e *Evening) sheet(v View, id string) *machine.Sheet {
	m, ok := v.Machine(id)
	if !ok {
		return nil
	}
	sheet, ok := v.Sheet(m.Sheet)
	if !ok {
		return nil
	}
	return sheet
}
