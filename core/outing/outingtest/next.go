// Package outingtest answers outings as somebody would who finds everything in
// order: for tests, for the demo and for generated yards.
package outingtest

import (
	"strconv"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/round"
	"vespers/core/unit"
	"vespers/core/walk"
)

// Company is who is about where somebody has to be, a person's id.
const Company = "maren"

// Next is the next answer of an outing in which everything is in order, at a time; nil
// when the verdict is reached.
func Next(o *outing.Outing, at time.Time) outing.Command {
	switch o.Stage() {
	case outing.StageReady:
		return Ready(o)
	case outing.StageWalk:
		u := o.At(outing.StageWalk)
		return stop(u, o.ToLook(outing.StageWalk, u)[0])
	case outing.StageRunning:
		u := o.At(outing.StageRunning)
		return stop(u, o.ToLook(outing.StageRunning, u)[0])
	case outing.StageRound:
		u := o.At(outing.StageRound)
		if c, _, open := Step(u, at); open {
			return c
		}
		if o.StartsRound(u) {
			return outing.BeginProcedure{Machine: u.Machine, Procedure: "start"}
		}
		return next(u.Round)
	}
	return nil
}

// Ready is somebody fit, with everything on that the machines ask for.
func Ready(o *outing.Outing) outing.Ready {
	c := outing.Ready{Fit: "yes", CheckIn: "03:59"}
	if o.AsksWatched() {
		c.Watched = "yes"
	}
	for _, option := range o.Told() {
		if c.Options == nil {
			c.Options = map[string]machine.Chosen{}
		}
		if c.Options[option.Machine] == nil {
			c.Options[option.Machine] = machine.Chosen{}
		}
		if option.Way == "" {
			option.Way = option.Choices[0].ID
		}
		c.Options[option.Machine][option.ID] = option.Way
	}
	for _, sheet := range o.Sheets() {
		if sheet.Company != nil && sheet.Company.Kind == "person" && o.Operator() != Company {
			c.Company = Company
		}
	}
	for _, p := range o.Protection() {
		c.Shown, c.Worn = append(c.Shown, p.ID), append(c.Worn, p.ID)
	}
	for _, n := range o.NotToWear() {
		c.ClearOf = append(c.ClearOf, n.ID)
	}
	return c
}

// Wait is when the next answer can be given, at now or when the engine of a round
// has warmed up.
func Wait(o *outing.Outing, now time.Time) time.Time {
	if o.Stage() == outing.StageRound {
		if _, when, open := Step(o.At(outing.StageRound), now); open {
			return when
		}
		r := o.At(outing.StageRound).Round
		if until, cold := r.Warming(now); cold {
			return until
		}
		if until, resting := r.Resting(now); resting {
			return until
		}
	}
	return now
}

func stop(u *outing.UnitState, s walk.Stop) outing.Command {
	if s.Do == walk.Set {
		return outing.ChangeSetting{Set: inspect.Set{Machine: u.Machine, Setting: s.ID, To: s.To}}
	}
	c := u.Check(s.ID)
	if condition := u.Wants(c); condition != nil {
		return outing.Tell{Conditioned: inspect.Conditioned{Machine: u.Machine, Condition: condition.ID, Choice: condition.Choices[0].ID}}
	}
	item := u.Open(c.ID)[0]
	if r, ok := c.Reading(item); ok {
		return outing.Answer{Answer: Typed(u.Machine, c.ID, r, Good(u, r))}
	}
	return Sound(u.Machine, c.ID)
}

// Sound answers a point as a whole.
func Sound(machine, check string) outing.Answer {
	return outing.Answer{Answer: inspect.Answer{Machine: machine, Check: check, Answer: inspect.Sound}}
}

// Fault answers that a point has a fault.
func Fault(machine, check, fault string) outing.Answer {
	return outing.Answer{Answer: inspect.Answer{Machine: machine, Check: check, Answer: inspect.Fault, Fault: fault}}
}

// Typed is a reading typed in its sheet's own unit.
func Typed(machineID, check string, r *machine.Reading, value float64) inspect.Answer {
	return inspect.Answer{Machine: machineID, Check: check, Item: r.ID, Answer: inspect.Read, Typed: unit.FormatNumber(value, 1, "."), Unit: r.Unit}
}

// Good is a value that a reading would have on a machine in order.
func Good(u *outing.UnitState, r *machine.Reading) float64 {
	l := u.Under(r).Limits
	switch {
	case r.Kind == "hours":
		return u.Hours + 0.1
	case r.Kind == "marks":
		return 75
	case l == nil:
		return (r.Range[0] + r.Range[1]) / 2
	case l.Low != nil && l.High != nil:
		return (*l.Low + *l.High) / 2
	case r.New != nil && l.Low != nil:
		return *r.New - (*r.New-*l.Low)/10
	case l.Low != nil:
		return *l.Low * 1.5
	}
	return *l.High / 2
}

func next(r round.State) outing.Command {
	switch r.Step() {
	case round.StepBegin:
		return InPlace(r)
	case round.StepStart:
		return outing.Crank{Crank: round.Crank{Machine: r.Machine, Attempt: r.Attempt, Did: "started"}}
	case round.StepShow:
		return outing.Show{Show: round.Show{Machine: r.Machine, Attempt: r.Attempt, Permit: r.Unshown(), Moved: "yes"}}
	case round.StepPutBack:
		return outing.PutBack{PutThingsBack: round.PutThingsBack{Machine: r.Machine, Attempt: r.Attempt}}
	}
	return outing.Test{Test: GoodTest(r, r.Next())}
}

// InPlace is somebody in place with nobody near.
func InPlace(r round.State) outing.Command {
	return outing.BeginRound{BeginRound: round.BeginRound{Machine: r.Machine, Attempt: r.Attempt, Clear: "yes"}}
}

// GoodTest is a test of a round that shows what it should.
func GoodTest(r round.State, test int) round.Test {
	t := round.Test{Machine: r.Machine, Attempt: r.Attempt, Test: test, Result: round.Good}
	if limit := r.StopWithin(test); limit > 0 {
		t.Seconds = strconv.FormatFloat(limit*0.6, 'f', 2, 64)
	}
	return t
}
