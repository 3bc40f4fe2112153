// Package demo is the sample yard, Wrenfield Arboretum and Burial Grounds, and
// generated yards for measuring. Everything in it is made up.
package demo

import (
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/unit"
	"vespers/core/walk"
)

// Next is the next answer of an outing in which everything is in order; nil
// when the verdict is reached.
func Next(o *outing.Outing, who operator.Readiness) outing.Event {
	switch o.Stage() {
	case outing.StepReady:
		who.Fit, who.Company, who.CheckIn = true, "maren", "10:30"
		for _, u := range o.Units {
			for _, p := range u.Sheet.Protection {
				who.Worn = append(who.Worn, p.ID)
			}
			for _, c := range u.Sheet.NotToWear {
				who.ClearOf = append(who.ClearOf, c.ID)
			}
		}
		return outing.Readied{Readiness: who}
	case outing.StepWalk:
		u := o.At(outing.StepWalk)
		return stop(u, u.Left(machine.Cold)[0])
	case outing.StepRunning:
		u := o.At(outing.StepRunning)
		return stop(u, append(u.Left(machine.KeyOn), u.Left(machine.Running)...)[0])
	case outing.StepRound:
		return round(o.At(outing.StepRound))
	}
	return nil
}

func stop(u *outing.UnitState, s walk.Stop) outing.Event {
	if s.Do == walk.Set {
		return outing.Set{Machine: u.Machine, Setting: s.ID, To: s.To}
	}
	c, _ := u.Sheet.Check(s.ID)
	if condition := u.Wants(c); condition != nil {
		return outing.Conditioned{Machine: u.Machine, Condition: condition.ID, Choice: condition.Choices[0].ID}
	}
	item := u.Open(c.ID)[0]
	answer := outing.Answered{Machine: u.Machine, Check: c.ID, Item: item, Answer: outing.AnswerSound}
	if r, ok := c.Reading(item); ok {
		answer.Answer, answer.Value = outing.AnswerReading, Value(r, Good(u, r))
	}
	return answer
}

// Value is a reading typed in its sheet's own unit.
func Value(r *machine.Reading, value float64) *outing.Value {
	u := r.UnitOf()
	return &outing.Value{Typed: unit.FormatNumber(value, 1, "."), Unit: u.Symbol, Quantity: u.Of(value)}
}

// Good is a value that a reading would have on a machine in order.
func Good(u *outing.UnitState, r *machine.Reading) float64 {
	l := r.Under(u.Conditions).Limits
	switch {
	case r.Kind == "hours":
		return u.Hours + 0.3
	case r.Kind == "marks":
		return 75
	case l == nil:
		return (r.Range[0] + r.Range[1]) / 2
	case l.Low != nil && l.High != nil:
		return (*l.Low + *l.High) / 2
	case r.New != nil:
		return *r.New * 0.97
	case l.Low != nil:
		return *l.Low * 1.5
	}
	return *l.High / 2
}

func round(u *outing.UnitState) outing.Event {
	r := &u.Round
	if r.NeedsCrank() {
		return outing.Cranked{Machine: u.Machine, Attempt: r.Attempt, Cranked: true, Started: true}
	}
	e := outing.Tested{Machine: u.Machine, Attempt: r.Attempt, Test: r.Next(), Before: true}
	if limit := u.StopWithin(e.Test); limit > 0 {
		took := limit * 0.6
		e.Seconds = &took
	}
	if r.Plan.Tests[e.Test].Kind == interlock.Refusal {
		e.Before = false
	}
	return e
}
