package inspect

// What was found: answers graded, and what of it stands.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
)

// Found is a finding that stands: not sound and not put right.
type Found struct {
	// ID is the record that found it.
	ID      string
	Check   string
	Item    string
	Fault   string
	Note    string
	Value   *Value
	Finding defect.Finding
	By      string
	At      time.Time
}

func (s State) context(at time.Time) defect.Context {
	c, _ := s.meter()
	return defect.Context{House: s.House, Hours: s.hoursAt(at), NoMeter: c == nil, At: at, Conditions: s.conditions, History: s.History, Series: s.Series}
}

// grade is what an answer given at a time comes to.
func (s State) grade(e Answered, at time.Time) defect.Finding {
	in := s.context(at)
	if s.House.Edition == 0 {
		in.Hours = s.Hours // as the first edition counted
	}
	c := s.checks[e.Check]
	switch e.Answer {
	case Fault:
		f, _ := c.Fault(e.Fault)
		return defect.OfFault(c, f, in)
	case Read:
		r, _ := c.Reading(e.Item)
		return defect.OfReading(c, r, e.Value.Measure(r), in)
	}
	return defect.Finding{Extent: machine.Sound, Grade: defect.Sound}
}

// Found lists what stands, in the order of the sheet's points: what was found, and
// what a sound reading leads to.
func (s State) Found() []Found {
	var standing []Found
	var seen []defect.Seen
	in := s.context(time.Time{}) // alike for all but for its time
	for i := range s.Sheet.Checks {
		list, as := s.foundAt(&s.Sheet.Checks[i], in)
		standing, seen = append(standing, list...), append(seen, as...)
	}
	if s.House.Remembers() {
		for i, f := range defect.Remember(s.Sheet, seen, s.Watching) {
			standing[i].Finding = s.House.Dated(s.worsened(standing[i].ID, f), standing[i].At)
		}
	}
	var out []Found
	for _, f := range standing {
		if f.Finding.Grade != defect.Sound {
			out = append(out, f)
		}
	}
	return out
}

// Judged is what an answer comes to together with everything else that was found, and
// with what came before.
func (s State) Judged(g Given) defect.Finding {
	if g.Right == nil && s.House.Remembers() {
		for _, f := range s.Found() {
			if f.ID == g.Meta.ID {
				return f.Finding
			}
		}
	}
	return g.Finding
}

// foundAt is every answer of a point as it stands: a fault, each reading, and pairs
// that differ.
func (s State) foundAt(c *machine.Check, in defect.Context) (standing []Found, seen []defect.Seen) {
	look := func(item string) {
		g, ok := s.Last(c.ID, item)
		if !ok || g.Now().Answer == NotReached || g.Now().Answer == Sound && g.Right == nil {
			return // nothing was found, and a tick leads nowhere
		}
		standing = append(standing, s.standing(g))
		in.At = g.Meta.At
		seen = append(seen, s.seen(c, g, standing[len(standing)-1].Finding, in))
	}
	for _, item := range s.faultItems(c) { // as a whole, or beside its readings
		look(item)
	}
	for i := range c.Readings {
		look(c.Readings[i].ID)
	}
	for _, f := range s.unevenness(c) {
		standing = append(standing, f)
		in.At = f.At
		seen = append(seen, defect.Seen{Check: c, Item: f.Item, Finding: f.Finding, In: in})
	}
	return standing, seen
}

// seen is an answer as the rules about what came before look at it.
func (s State) seen(c *machine.Check, g Given, f defect.Finding, in defect.Context) defect.Seen {
	now := g.Now()
	out := defect.Seen{Check: c, Item: g.Item, Finding: f, In: in}
	if fault, ok := c.Fault(now.Fault); ok {
		out.Fault = fault
	}
	if r, ok := c.Reading(g.Item); ok && now.Value != nil {
		out.Reading, out.Value = s.Under(r), now.Value.Measure(r)
	}
	return out
}

// standing is an answer as it stands. Deadlines in hours count from the meter
// as it is now, which may be read after the fault was found.
func (s State) standing(g Given) Found {
	now, finding := g.Now(), g.Finding
	if g.Right != nil || finding.Deadline.Hours != nil && s.House.Edition > 0 {
		finding = s.grade(now, g.Meta.At)
	}
	return Found{ID: g.Meta.ID, Check: g.Check, Item: g.Item, Fault: now.Fault, Note: now.Note, Value: now.Value,
		Finding: s.House.Dated(finding, g.Meta.At), By: g.Meta.By, At: g.Meta.At}
}

// EveryFound lists every answer that was not sound, whatever came after it: at
// a look that takes nothing back.
func (s State) EveryFound() []Found {
	var out []Found
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for _, item := range s.Places(c) {
			for _, g := range s.points[place{c.ID, item}] {
				if g.Answer != NotReached && g.Finding.Grade != defect.Sound {
					out = append(out, s.standing(g))
				}
			}
		}
	}
	return out
}

// unevenness is the defect of paired readings that differ too much.
func (s State) unevenness(c *machine.Check) []Found {
	if c.Even == nil {
		return nil
	}
	values := map[string]defect.Paired{}
	var latest Given
	for _, pair := range c.Even.Pairs {
		for _, name := range pair {
			point, r, _ := s.Sheet.Paired(c, name)
			if g, ok := s.Last(point.ID, r.ID); ok && g.Now().Value != nil {
				values[name] = defect.Paired{Name: r.Name, Value: g.Now().Value.Measure(r)}
				if latest.Meta.ID == "" || g.Meta.At.After(latest.Meta.At) {
					latest = g
				}
			}
		}
	}
	in := s.context(latest.Meta.At)
	if s.House.Edition == 0 {
		in.Hours = s.Hours
	}
	f := defect.OfUneven(c, values, in)
	if f.Grade == defect.Sound {
		return nil
	}
	return []Found{{ID: latest.Meta.ID + ".even", Check: c.ID, Item: "even",
		Finding: s.House.Dated(f, latest.Meta.At), By: latest.Meta.By, At: latest.Meta.At}}
}

// PutRightAct is what the operator may do about an answer on the spot, or nil.
func PutRightAct(c *machine.Check, a Answered) *text.Text {
	switch a.Answer {
	case Fault:
		if f, ok := c.Fault(a.Fault); ok {
			return f.PutRight
		}
	case Read:
		if r, ok := c.Reading(a.Item); ok {
			return r.PutRight
		}
	}
	return nil
}

// Mendable reports whether a finding can be put right on the spot.
func (s State) Mendable(g Given) bool {
	c := s.checks[g.Check]
	return c != nil && g.Right == nil && g.Finding.Grade != defect.Sound && PutRightAct(c, g.Answered) != nil
}
