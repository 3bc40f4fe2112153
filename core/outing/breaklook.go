package outing

// The short look round at a break, while the machines are out: an inspection on
// another route. It takes nothing back: an operator may grade worse, never better.

import (
	"slices"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/walk"
)

type breakStage struct{ quiet }

// BreakBegun begins the look: what each sheet marks for it, by the planner.
type BreakBegun struct {
	Walks []BreakWalk `json:"walks"`
	// After are the defects that events left, where what they may have harmed is
	// looked over.
	After []string `json:"after,omitempty"`
}

// BreakWalk is the look round one machine.
type BreakWalk struct {
	Machine string      `json:"machine"`
	Route   []walk.Stop `json:"route"`
}

// BreakAnswered answers a point of the look at a break.
type BreakAnswered struct{ inspect.Answered }

// Kind implements record.Event.
func (BreakBegun) Kind() string { return "break_begun" }

// Kind implements record.Event.
func (BreakAnswered) Kind() string { return "break_answered" }

// BreakState is one look at a break.
type BreakState struct {
	Meta  record.Meta
	Looks []inspect.State
	After []string // what it looks over after an event, if it does
}

var (
	ruleNotOut        = text.NewRule("outing.not_out")
	ruleNothingBreaks = text.NewRule("outing.nothing_for_a_break")
	ruleBreakOpen     = text.NewRule("outing.break_not_done")
	ruleNotInBreak    = text.NewRule("outing.not_in_break")
)

func (breakStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	switch c.(type) {
	case BeginBreak, AnswerBreak:
	default:
		return pass()
	}
	if o.Status != Out {
		return nil, true, record.Refuse(ruleNotOut.Says())
	}
	if err := o.fit(); err != nil {
		return nil, true, err
	}
	if c, ok := c.(AnswerBreak); ok {
		return one(o.breakAnswered(c, by.At))
	}
	if err := o.standsForLook(by); err != nil {
		return nil, true, err
	}
	plan := o.PlanBreak()
	switch {
	case len(o.BreakLeft()) > 0:
		return nil, true, record.Refuse(ruleBreakOpen.Says())
	case len(plan.Walks) == 0:
		return nil, true, record.Refuse(ruleNothingBreaks.Says())
	}
	return one(plan, nil)
}

func (o *Outing) breakAnswered(c AnswerBreak, now time.Time) (BreakAnswered, error) {
	u := o.Unit(c.Machine)
	if u == nil {
		return BreakAnswered{}, record.Refuse(ruleMachine.Says())
	}
	open := slices.ContainsFunc(o.BreakLeft(), func(s BreakStop) bool {
		return s.Unit == u && s.Check.ID == c.Check && (s.Item == c.Item || c.Answer.Answer == inspect.Fault)
	})
	if !open {
		return BreakAnswered{}, record.Refuse(ruleNotInBreak.Says())
	}
	e, err := u.AnswerFreely(c.Answer, now)
	return BreakAnswered{e}, err
}

func (breakStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	switch e := e.(type) {
	case BreakBegun:
		b := &BreakState{Meta: m, After: e.After}
		for _, w := range e.Walks {
			b.Looks = append(b.Looks, o.Unit(w.Machine).Again(w.Route))
		}
		o.Breaks = append(slices.Clip(o.Breaks), b)
	case BreakAnswered:
		last := *o.Break()
		last.Looks = slices.Clone(last.Looks)
		for i, look := range last.Looks {
			if look.Machine == e.Machine {
				last.Looks[i], _ = look.Apply(m, e.Answered)
			}
		}
		o.Breaks = append(slices.Clone(o.Breaks[:len(o.Breaks)-1]), &last)
	default:
		return false
	}
	return true
}

// PlanBreak is the look that a break asks for now: after an event what it may have
// harmed, else what each sheet marks. What has to be cold is left out: the machine
// has worked.
func (o *Outing) PlanBreak() BreakBegun {
	var e BreakBegun
	if due := o.LookDue(); len(due) > 0 {
		return planAfter(due)
	}
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
// reached comes at the end. A fault at the point as a whole answers its readings
// too.
func (o *Outing) BreakLeft() []BreakStop {
	b := o.Break()
	if b == nil || o.Status != Out {
		return nil
	}
	return o.left(b)
}

func (o *Outing) left(b *BreakState) []BreakStop {
	var left, later []BreakStop
	for _, look := range b.Looks {
		u := o.Unit(look.Machine)
		for _, s := range look.Route {
			if s.Do != walk.Check {
				continue
			}
			c := look.Check(s.ID)
			if g, ok := look.Last(c.ID, ""); ok && g.Answer == inspect.Fault {
				continue
			}
			for _, item := range inspect.Items(c) {
				g, answered := look.Last(c.ID, item)
				switch {
				case !answered:
					left = append(left, BreakStop{u, c, item})
				case g.Answer == inspect.NotReached:
					later = append(later, BreakStop{u, c, item})
				}
			}
		}
	}
	return append(left, later...)
}

// defects: where a point stands already, the worse of the two does.
func (breakStage) defects(o *Outing, u *UnitState, standing []Defect) []Defect {
	for _, b := range o.Breaks {
		for _, look := range b.Looks {
			if look.Machine == u.Machine {
				standing = o.beside(u, standing, look.EveryFound())
			}
		}
	}
	return standing
}
