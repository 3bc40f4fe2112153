package outingtest

// Bringing machines home, and following their procedures, as somebody would to whom
// each step comes out right.

import (
	"time"

	"vespers/core/outing"
	"vespers/core/record"
)

// Home is what to say next to bring home what is out, and when: each step of shutting
// its machines down, then the end.
func Home(o *outing.Outing, at time.Time) (outing.Command, time.Time) {
	for _, u := range o.Units {
		if c, when, open := Step(u, at); open {
			return c, when
		}
	}
	if u := o.NotParked(); u != nil {
		return outing.BeginProcedure{Machine: u.Machine, Procedure: "shutdown"}, at
	}
	return outing.End{}, at
}

// Step is the good answer to what is open on a machine, and when its wait is over;
// open is false where nothing is.
func Step(u *outing.UnitState, at time.Time) (c outing.Command, when time.Time, open bool) {
	if !u.Recorded() {
		return nil, at, false
	}
	turn, open := u.Live(record.Meta{At: at}).Turn(at)
	if !open || turn.Step == nil {
		return nil, at, false
	}
	if turn.Until.After(at.Add(5 * time.Minute)) {
		// who waits for long is asked anew for what nobody looks at any more
		return Step(u, at.Add(5*time.Minute))
	}
	if turn.Until.After(at) {
		at = turn.Until
	}
	return outing.AnswerStep{Machine: u.Machine, Procedure: turn.Run, Step: turn.Step.ID, Answer: turn.Answers[0]}, at, true
}
