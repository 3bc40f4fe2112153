package outing

// When an outing is expected home: by the word of whoever has it, or else by what it was
// planned for.

import (
	"time"

	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

type expectStage struct{ quiet }

var (
	ruleExpectOut  = text.NewRule("expect.not_out")
	ruleExpectTime = text.NewRule("expect.time")
	ruleExpectOver = text.NewRule("expect.over")
)

// Expect says when the machines will be home: a time of day, as typed.
type Expect struct{ Home string } // 15:04

// Act implements Command.
func (Expect) Act() operator.Act { return operator.Work }

// Expected is when the machines will be home.
type Expected struct {
	Home string    `json:"home"` // 15:04
	At   time.Time `json:"at"`
}

// Kind implements record.Event.
func (Expected) Kind() string { return "expected" }

var _ = record.Register(Expected{})

func (expectStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	e, is := c.(Expect)
	if !is {
		return pass()
	}
	if o.Status != Out {
		return nil, true, record.Refuse(ruleExpectOut.Says())
	}
	if !timeOfDay.MatchString(e.Home) {
		return nil, true, record.Refuse(ruleExpectTime.Says())
	}
	at, err := o.checkInAt(e.Home, by.At)
	if err != nil {
		return nil, true, record.Refuse(ruleExpectOver.Says())
	}
	return one(Expected{Home: e.Home, At: at}, nil)
}

func (expectStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	said, is := e.(Expected)
	if is {
		o.Expects, o.ExpectedBy = said.At, m
	}
	return is
}

// DueHome is when the machines are expected home: as whoever has them said, else so many
// hours after the release as the plan said. ok is false where nobody said either; said
// tells a word from a plan.
func (o *Outing) DueHome() (at time.Time, said, ok bool) {
	switch {
	case o.Status != Out:
		return at, false, false
	case !o.Expects.IsZero():
		return o.Expects, true, true
	case o.Plan != nil && o.Plan.Hours > 0:
		return o.Release.At.Add(time.Duration(o.Plan.Hours * float64(time.Hour))), false, true
	}
	return at, false, false
}
