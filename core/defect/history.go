package defect

// What came before on a machine, and how it makes a finding worse.

import (
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

// Past is one thing of the time before: a finding at a point, a point answered
// sound, or work done at it.
type Past struct {
	Check string `json:"check"`
	// Item is the reading that it is of, "" for the point as a whole.
	Item  string        `json:"item,omitempty"`
	Fault string        `json:"fault,omitempty"`
	Value *text.Measure `json:"value,omitempty"`
	// Uncertainty is the instrument's, in the reading's unit; nil is the sheet's.
	Uncertainty *float64 `json:"uncertainty,omitempty"`
	Sound       bool     `json:"sound,omitempty"` // the point was answered sound
	Right       bool     `json:"right,omitempty"` // put right on the spot
	Over        bool     `json:"over,omitempty"`  // known to have been over since
	Work        Work     `json:"work,omitempty"`
	// Hours is the machine's meter then, nil where it is not known.
	Hours *float64 `json:"hours,omitempty"`
	// Ago is how many outings were begun since, the one now counted; 0 is long ago.
	Ago int `json:"ago,omitempty"`
}

// Work is what was done at a point.
type Work string

// The kinds of work.
const (
	Repaired Work = "repaired"
	Replaced Work = "replaced" // with a new part, so that its wear begins anew
)

// Seen is one answer of now, graded by the table.
type Seen struct {
	Check *machine.Check
	// Item is the reading, "even" for pairs that differ, else "" or a further fault.
	Item string
	// Reading is what was read, as its sheet has it for the instrument and the day,
	// nil for a fault; Value is what it read.
	Reading *machine.Reading
	Value   text.Measure
	Fault   *machine.Fault
	Finding Finding
	// In is what it is graded in.
	In Context
}

var (
	ruleAgainFound = text.NewRule("grade.again", text.Slot{Name: "outings", Kind: text.Count})
	ruleNotHeld    = text.NewRule("grade.did_not_hold", text.Slot{Name: "outings", Kind: text.Count})
	ruleTwoWatches = text.NewRule("grade.two_watches", text.Slot{Name: "points", Kind: text.Subjects})
	ruleTrend      = text.NewRule("grade.trend", text.Slot{Name: "hours", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount})
	ruleTrendWear  = text.NewRule("grade.trend_by_wear", text.Slot{Name: "hours", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount})
)

// class is what grades an answer.
func (s Seen) class() machine.Class {
	if s.Fault != nil {
		return s.Check.ClassOf(s.Fault)
	}
	return s.Check.Class
}

// reads is the reading that an answer is of, "" for a fault.
func (s Seen) reads() string {
	if s.Fault != nil || strings.HasPrefix(s.Item, "+") {
		return ""
	}
	return s.Item
}

// Remember makes today's answers what history and trend make of them: each is made
// one grade worse at most, and a Mend at least where its reading comes to its limit
// within the next hours. Watching are the points that the machine brought in on
// Watch. In their order; what is sound stays among them.
func Remember(sheet *machine.Sheet, today []Seen, watching []string) []Finding {
	systems := watched(sheet, today, watching)
	out := make([]Finding, len(today))
	for i, s := range today {
		out[i] = s.Finding
		if !s.In.House.Remembers() {
			continue
		}
		if why, worse := s.history(sheet, systems); worse {
			out[i] = s.raised(why)
		}
		out[i] = s.trend(out[i])
	}
	return out
}

// watched lists the points of each system that stand on Watch by the table.
func watched(sheet *machine.Sheet, today []Seen, watching []string) map[string][]*machine.Check {
	out := map[string][]*machine.Check{}
	note := func(c *machine.Check) {
		if c.System != "" && !slices.ContainsFunc(out[c.System], func(o *machine.Check) bool { return o.ID == c.ID }) {
			out[c.System] = append(out[c.System], c)
		}
	}
	for _, s := range today {
		if s.Finding.Grade == Watch {
			note(s.Check)
		}
	}
	for _, id := range watching {
		if c, ok := sheet.Check(id); ok {
			note(c)
		}
	}
	return out
}

// history says why what came before makes an answer worse, if it does.
func (s Seen) history(sheet *machine.Sheet, systems map[string][]*machine.Check) (why text.Reason, worse bool) {
	if s.Finding.Grade == Sound || s.ceiling() == s.Finding.Grade {
		return why, false
	}
	if ago := s.notHeld(); ago > 0 {
		return ruleNotHeld.Says(ago), true
	}
	if ago := s.again(sheet); ago > 0 {
		return ruleAgainFound.Says(ago), true
	}
	if both := systems[s.Check.System]; len(both) >= 2 {
		var names []text.Text
		for _, c := range both {
			names = append(names, c.Name)
		}
		return ruleTwoWatches.Says(names), true
	}
	return why, false
}

// ceiling is how far history makes an answer worse: what wears, warns or finishes a
// cut never more than a Mend.
func (s Seen) ceiling() Grade {
	if s.class() >= machine.ClassF && s.Finding.Grade != Halt {
		return Mend
	}
	return Halt
}

// raised is the answer one grade worse, with the reason first: it decides.
func (s Seen) raised(why text.Reason) Finding {
	f := s.Finding
	f.Grade = Grades()[slices.Index(Grades(), f.Grade)+1]
	if f.Grade == Halt {
		f.Deadline = Deadline{}
	}
	f.Reasons = append([]text.Reason{why}, f.Reasons...)
	return f
}

// notHeld is how many outings ago work was done at the point that has not held, 0
// for none.
func (s Seen) notHeld() int {
	last := 0
	for _, p := range s.In.History {
		if p.Work != "" && s.recent(p) && (p.Item == "" || p.Item == s.reads()) {
			last = p.Ago
		}
	}
	return last
}

// again is how many outings ago the point was last not sound and that was over, 0
// for never.
func (s Seen) again(sheet *machine.Sheet) int {
	last := 0
	for i, p := range s.In.History {
		switch {
		case !s.recent(p), !s.In.notSound(sheet, p):
		case s.reads() != "" && p.Value != nil && p.Item != s.reads(): // another reading of the point
		case p.Right, p.Over, over(p, s.In.History[i+1:]):
			last = p.Ago
		}
	}
	return last
}

// recent reports whether something of the past is of the point, and of the outings
// that count.
func (s Seen) recent(p Past) bool {
	return p.Check == s.Check.ID && p.Ago >= 1 && p.Ago <= s.In.House.Again()
}

// over reports whether what was found at a point was over since: repaired, or, a
// fault, answered sound. What was never over is carried, not found again.
func over(p Past, since []Past) bool {
	return slices.ContainsFunc(since, func(q Past) bool {
		if q.Check != p.Check {
			return false
		}
		if q.Work != "" {
			return q.Item == "" || p.Value != nil && q.Item == p.Item
		}
		return q.Sound && p.Fault != ""
	})
}

// notSound reports whether something of the past was a finding, by the sheet and the
// conditions of now: what the sheet has no more is passed over.
func (in Context) notSound(sheet *machine.Sheet, p Past) bool {
	c, ok := sheet.Check(p.Check)
	if !ok {
		return false
	}
	if p.Fault != "" {
		_, ok := c.Fault(p.Fault)
		return ok
	}
	if p.Value == nil {
		return false
	}
	r, ok := c.Reading(p.Item)
	if !ok || p.Value.Quantity.Dimension != r.UnitOf().Dimension {
		return false
	}
	extent, _ := in.extentOf(c, r.Under(in.Conditions).Within(p.Uncertainty), p.Value.Quantity)
	return extent != machine.Sound
}
