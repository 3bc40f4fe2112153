package outing

// What a machine's outings leave behind that grades what is found later: what was not
// sound, what was done about it, and what was read.

import (
	"slices"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/text"
)

// Memory is what is remembered of a machine.
type Memory struct {
	// Begun is how many outings were begun with it.
	Begun  int             `json:"begun"`
	Past   []Remembered    `json:"past,omitempty"`
	Series []defect.Series `json:"series,omitempty"`
}

// Remembered is one thing of the past; Outing is how many outings had been begun then.
type Remembered struct {
	defect.Past
	Outing int `json:"outing"`
}

// pastMost is how many outings back anything is remembered: farther than any house
// may look.
const pastMost = 50

// Recall is what an outing that begins now looks at.
func (m Memory) Recall() ([]defect.Past, []defect.Series) {
	var past []defect.Past
	for _, r := range m.Past {
		p := r.Past
		p.Ago = m.Begun + 1 - r.Outing
		past = append(past, p)
	}
	return past, m.Series
}

// Started is the memory once another outing has begun.
func (m Memory) Started() Memory {
	m.Begun++
	m.Past = slices.DeleteFunc(slices.Clone(m.Past), func(r Remembered) bool { return m.Begun-r.Outing > pastMost })
	return m
}

// After is the memory after an outing of the machine has ended.
func (m Memory) After(o *Outing, machineID string) Memory {
	u := o.Unit(machineID)
	m.Past, m.Series = slices.Clone(m.Past), slices.Clone(m.Series)
	looks := []inspect.State{u.State}
	for _, b := range o.Breaks {
		for _, l := range b.Looks {
			if l.Machine == machineID {
				looks = append(looks, l)
			}
		}
	}
	for _, look := range looks {
		for i := range u.Sheet.Checks {
			c := &u.Sheet.Checks[i]
			for _, item := range look.Places(c) {
				if g, ok := look.Last(c.ID, item); ok {
					m.note(c, g, look.HoursNow())
				}
			}
		}
	}
	return m
}

// note takes in one answer.
func (m *Memory) note(c *machine.Check, g inspect.Given, hours float64) {
	past := defect.Past{Check: c.ID, Hours: &hours, Right: g.Right != nil}
	switch g.Answer {
	case inspect.Fault:
		past.Fault = g.Fault
		m.Past = append(m.Past, Remembered{past, m.Begun})
	case inspect.Sound:
		for i := range m.Past {
			if p := &m.Past[i]; p.Check == c.ID && p.Fault != "" && p.Outing < m.Begun {
				p.Over = true
			}
		}
	case inspect.Read:
		r, ok := c.Reading(g.Item)
		if !ok || r.Kind == "hours" || r.Limits == nil {
			return
		}
		value := g.Answered.Value.Measure(r)
		if past.Item, past.Value = g.Item, &value; g.Finding.Extent != machine.Sound {
			m.Past = append(m.Past, Remembered{past, m.Begun})
		}
		m.read(c.ID, r, value, hours, g.Meta.At.Unix())
		if g.Right != nil && g.Right.Now.Value != nil {
			m.read(c.ID, r, g.Right.Now.Value.Measure(r), hours, g.RightMeta.At.Unix())
		}
	}
}

// read puts a value at the end of its series.
func (m *Memory) read(check string, r *machine.Reading, value text.Measure, hours float64, at int64) {
	u := r.UnitOf()
	read := defect.Read{Hours: hours, Value: u.In(value.Quantity), At: at}
	for i, s := range m.Series {
		if s.Check == check && s.Item == r.ID && s.Unit == r.Unit {
			if n := len(s.Points); n > 0 && s.Points[n-1].At > at {
				return // copied from a paper that is older: the wear is known better
			}
			m.Series[i] = s.Add(read)
			return
		}
	}
	m.Series = append(slices.DeleteFunc(m.Series, func(s defect.Series) bool { return s.Check == check && s.Item == r.ID }),
		defect.Series{Check: check, Item: r.ID, Unit: r.Unit, Points: []defect.Read{read}})
}

// Mended is the memory after work was done at a point: what was replaced begins its
// wear anew.
func (m Memory) Mended(check string, work defect.Work) Memory {
	m.Past = append(slices.Clone(m.Past), Remembered{defect.Past{Check: check, Work: work}, m.Begun})
	if work == defect.Replaced {
		m.Series = slices.DeleteFunc(slices.Clone(m.Series), func(s defect.Series) bool { return s.Check == check })
	}
	return m
}

// Metered is the memory after a lead has said what the meter says: a new meter counts
// on from there, and what was read by a wrong one is forgotten.
func (m Memory) Metered(was, hours float64, exchanged bool) Memory {
	m.Series = slices.Clone(m.Series)
	for i, s := range m.Series {
		points := slices.Clone(s.Points)
		if exchanged {
			for j := range points {
				points[j].Hours += hours - was
			}
		} else {
			points = slices.DeleteFunc(points, func(r defect.Read) bool { return r.Hours > hours })
		}
		m.Series[i].Points = points
	}
	return m
}
