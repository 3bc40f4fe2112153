package inspect

// Corrections: what may be said another way, and by whose word.

import (
	"slices"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/record"
)

// corrects checks a correction of the answer that counts. A reading is taken
// twice at most. Whatever makes things better keeps to settings, order and cold
// like a first answer; and a fault that was found is only taken back with a
// reason, and where safety hangs on it by the word of a second person.
func (s State) corrects(c *machine.Check, last Given, e Answered, m record.Meta) error {
	if e.Again && !s.MayMeasureAgain(e.Check, e.Item) || e.Answer == Read && s.taken(e.Check, e.Item) >= takesMost {
		return record.Refuse(ruleTwice.Says())
	}
	was, now := s.standing(last).Finding.Grade, s.grade(e, m.At).Grade
	if defect.Worse(was, now) == now {
		return nil
	}
	if err := s.InTurn(c, m.At); err != nil {
		return err
	}
	back, second := s.TakesBack(last)
	switch {
	case back && e.Why == "":
		return record.Refuse(ruleWhy.Says())
	case second && e.Second == "":
		return record.Refuse(RuleSecondLook.Says())
	}
	return nil
}

// TakesBack reports whether a better answer would take back a fault that was
// found, which asks for a reason, and whether it asks for a second person too.
func (s State) TakesBack(last Given) (back, second bool) {
	c := s.checks[last.Check]
	f, found := c.Fault(last.Now().Fault)
	return found, found && c.ClassOf(f).Decides()
}

// MaySlip reports whether the first reading may be said to have been a slip, by
// the word of a second person: where the worse of two would count.
func (s State) MaySlip(check, item string) bool {
	return s.MayMeasureAgain(check, item) && s.worseCounts(place{check, item})
}

// worseCounts: of two readings that safety hangs on the worse one counts.
func (s State) worseCounts(at place) bool {
	c := s.checks[at.check]
	r, ok := c.Reading(at.item)
	return ok && s.House.WorseCounts() && (c.Class.Decides() || r.Limits != nil && r.Limits.Safety)
}

// takesMost is how often a reading is taken at most: once, and once more.
const takesMost = 2

// taken is how often a reading was taken since it was last put right.
func (s State) taken(check, item string) int {
	n := 0
	for _, g := range s.points[place{check, item}] {
		switch {
		case g.Right != nil:
			n = 0
		case g.Answer == Read:
			n++
		}
	}
	return n
}

// latest is the last answer given, whichever counts.
func (s State) latest(check, item string) Given {
	given := s.points[place{check, item}]
	if len(given) == 0 {
		return Given{}
	}
	return given[len(given)-1]
}

// counts is the answer of several that counts: the last one, but of two readings
// that safety hangs on the worse, unless a second person has said that the first
// was a slip, or it was put right since.
func (s State) counts(at place, given []Given) Given {
	last := given[len(given)-1]
	if len(given) == 1 || last.Answer != Read || last.Second != "" || last.Right != nil || !s.worseCounts(at) {
		return last
	}
	c := s.checks[at.check]
	r, _ := c.Reading(at.item)
	extents := []machine.Extent{machine.Sound, machine.Early, machine.Degraded, machine.Lost}
	worst := last
	for i := len(given) - 2; i >= 0 && given[i].Answer == Read; i-- {
		if given[i].Right != nil {
			if given[i].RightMeta.At.After(last.Meta.At) {
				return given[i]
			}
			break
		}
		if s.House.Remembers() {
			if !defect.SecondCounts(c, s.Under(r), given[i].Value.Measure(r), worst.Value.Measure(r), "") {
				worst = given[i]
			}
			continue
		}
		if slices.Index(extents, given[i].Finding.Extent) > slices.Index(extents, worst.Finding.Extent) {
			worst = given[i]
		}
	}
	return worst
}

// Back is a fault that was found and taken back.
type Back struct{ Was, Now Given }

// TakenBack lists the faults that were found and taken back, in the order of the
// sheet's points.
func (s State) TakenBack() []Back {
	var out []Back
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for _, item := range s.faultItems(c) {
			given := s.points[place{c.ID, item}]
			for j := 1; j < len(given); j++ {
				if given[j].Why != "" {
					out = append(out, Back{given[j-1], given[j]})
				}
			}
		}
	}
	return out
}
