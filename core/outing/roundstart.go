package outing

// The engine of a round is started by the machine's start procedure: the same questions
// and acts as at any other start, the controls as the round has them.

import (
	"slices"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
)

var ruleByProcedure = text.NewRule("outing.start_by_procedure")

// StartsRound reports whether the round of a machine has come to where its engine is
// started, and that is done by its start procedure.
func (o *Outing) StartsRound(u *UnitState) bool {
	return o.startsByProcedure(u) && u.Round.Step() == round.StepStart
}

func (o *Outing) startsByProcedure(u *UnitState) bool {
	has := func(p machine.Procedure) bool { return p.ID == startsIt }
	return o.Order >= orderStart && u == o.prover(u) && slices.ContainsFunc(u.Sheet.Procedures, has)
}

// andTheRound is an answer with what it tells the round, where it was a try to start the
// engine of one.
func (o *Outing) andTheRound(e StepAnswered) []record.Event {
	events := []record.Event{e}
	u := o.Unit(e.Machine)
	if !o.StartsRound(u) || !procedure.Starts(u.step(e)) {
		return events
	}
	return append(events, round.Cranked{Machine: e.Machine, Attempt: u.Round.Attempt, Cranked: true, Started: e.Answer == "yes"})
}

// step is the step that an answer answers, or nil.
func (u *UnitState) step(e StepAnswered) *machine.Step {
	return u.Live(record.Meta{}).Step(e.Procedure, e.Step)
}

// cranked is what turning the key for a round came to. By its start procedure it is told
// how it started; that it would not crank at all is told here, and ends the procedure.
func (o *Outing) cranked(u *UnitState, c Crank, by speech) ([]record.Event, bool, error) {
	e, err := u.Round.Crank(c.Crank, by.At)
	switch {
	case err != nil:
		return nil, true, err
	case o.startsByProcedure(u) && e.Cranked:
		return nil, true, record.Refuse(ruleByProcedure.Says())
	}
	if run := u.Running(by.Meta); run == startsIt {
		return []record.Event{ProcedureLeft{Machine: u.Machine, Procedure: run}, e}, true, nil
	}
	return one(e, nil)
}
