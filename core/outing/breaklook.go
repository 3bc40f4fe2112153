package outing

import (
	"slices"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/walk"
)

// BreakBegun begins the short look round at a break, while the machines are
// out: what each sheet marks for it, by the planner.
type BreakBegun struct {
	Walks []BreakWalk `json:"walks"`
}

// BreakWalk is the look round one machine.
type BreakWalk struct {
	Machine string      `json:"machine"`
	Route   []walk.Stop `json:"route"`
}

// BreakAnswered answers a point of the look at a break.
type BreakAnswered struct{ Answered }

// Kind implements Event.
func (BreakBegun) Kind() string { return "break_begun" }

// Kind implements Event.
func (BreakAnswered) Kind() string { return "break_answered" }

// BreakState is one look at a break.
type BreakState struct {
	Meta  Meta
	Walks []BreakWalk
	Given []BreakGiven
}

// BreakGiven is an answer of it.
type BreakGiven struct {
	Meta Meta
	Answered
	Finding defect.Finding
}

var (
	ruleNotOut        = text.NewRule("outing.not_out")
	ruleNothingBreaks = text.NewRule("outing.nothing_for_a_break")
	ruleBreakOpen     = text.NewRule("outing.break_not_done")
	ruleNotInBreak    = text.NewRule("outing.not_in_break")
)

// PlanBreak is the look that a break asks for now. What has to be cold is left
// out: the machine has worked.
func (o *Outing) PlanBreak() BreakBegun {
	var e BreakBegun
	for _, u := range o.Units {
		plan := walk.Cold(u.Sheet, walk.Options{Only: walk.Break, Hot: true})
		if len(plan.Stops) > 0 {
			e.Walks = append(e.Walks, BreakWalk{Machine: u.Machine, Route: plan.Stops})
		}
	}
	return e
}

// Break is the look under way or the last one, or nil.
func (o *Outing) Break() *BreakState {
	if len(o.Breaks) == 0 {
		return nil
	}
	return o.Breaks[len(o.Breaks)-1]
}

// BreakStop is a point that is still to be looked at.
type BreakStop struct {
	Unit  *UnitState
	Check *machine.Check
	Item  string
}

// BreakLeft lists what is still to be looked at, in order; what could not be
// reached comes at the end.
func (o *Outing) BreakLeft() []BreakStop {
	b := o.Break()
	if b == nil || o.Status != Out {
		return nil
	}
	var left, later []BreakStop
	for _, w := range b.Walks {
		u := o.Unit(w.Machine)
		for _, s := range w.Route {
			if s.Do != walk.Check {
				continue
			}
			c, _ := u.Sheet.Check(s.ID)
			for _, item := range Items(c) {
				switch b.answer(w.Machine, c.ID, item) {
				case "":
					left = append(left, BreakStop{u, c, item})
				case AnswerNotReached:
					later = append(later, BreakStop{u, c, item})
				}
			}
		}
	}
	return append(left, later...)
}

// answer is how a point or reading was answered last, "" if it was not. A fault
// at the point as a whole answers its readings too.
func (b *BreakState) answer(machine, check, item string) string {
	for i := len(b.Given) - 1; i >= 0; i-- {
		g := b.Given[i]
		if g.Machine == machine && g.Check == check && (g.Item == item || g.Answer == AnswerFault) {
			return g.Answer
		}
	}
	return ""
}

func (o *Outing) acceptBreak(e BreakBegun) error {
	switch {
	case o.Status != Out:
		return refuse(ruleNotOut.Says())
	case len(o.BreakLeft()) > 0:
		return refuse(ruleBreakOpen.Says())
	case len(e.Walks) == 0:
		return refuse(ruleNothingBreaks.Says())
	}
	return nil
}

func (o *Outing) acceptBreakAnswer(e BreakAnswered) error {
	if o.Status != Out {
		return refuse(ruleNotOut.Says())
	}
	u, c, err := o.point(e.Machine, e.Check, e.Item)
	if err != nil {
		return err
	}
	open := slices.ContainsFunc(o.BreakLeft(), func(s BreakStop) bool {
		return s.Unit == u && s.Check == c && (s.Item == e.Item || e.Answer == AnswerFault)
	})
	if !open {
		return refuse(ruleNotInBreak.Says())
	}
	return u.fits(c, e.Answered)
}

// beginBreak takes a look in. Breaks are copied, because clones share them.
func (o *Outing) beginBreak(meta Meta, e BreakBegun) {
	o.Breaks = append(slices.Clip(o.Breaks), &BreakState{Meta: meta, Walks: e.Walks})
}

func (o *Outing) answerBreak(meta Meta, e BreakAnswered) {
	b := *o.Break()
	b.Given = append(slices.Clip(b.Given), BreakGiven{Meta: meta, Answered: e.Answered, Finding: o.Unit(e.Machine).grade(e.Answered, o.House)})
	o.Breaks = append(slices.Clone(o.Breaks[:len(o.Breaks)-1]), &b)
}

// breakDefects is what was found at breaks on one machine. Sound takes nothing
// back that was found before: an operator may grade worse, never better.
func (o *Outing) breakDefects(u *UnitState) []Defect {
	var out []Defect
	for _, b := range o.Breaks {
		for _, g := range b.Given {
			if g.Machine == u.Machine && g.Answer != AnswerNotReached && g.Finding.Grade != defect.Sound {
				out = append(out, Defect{ID: g.Meta.ID, Machine: u.Machine, Check: g.Check, Item: g.Item, Fault: g.Fault, Test: -1,
					Note: g.Note, Value: g.Value, Finding: g.Finding, By: g.Meta.By, At: g.Meta.At})
			}
		}
	}
	return out
}

// worsen puts a finding of a break among those that stand: where the same point
// stands already, the worse of the two does.
func worsen(list []Defect, d Defect) []Defect {
	for i, old := range list {
		if old.Carried || old.Check != d.Check || old.Item != d.Item || old.Machine != d.Machine {
			continue
		}
		if old.Finding.Grade != d.Finding.Grade && defect.Worse(old.Finding.Grade, d.Finding.Grade) == d.Finding.Grade {
			list[i] = d
		}
		return list
	}
	return append(list, d)
}
