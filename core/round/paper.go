package round

// A round without Vespers: what its paper tells, and results copied from it.

import (
	"time"

	"vespers/core/interlock"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

var _ = record.Register(Copied{})

// Copied is the result of a test as it stands on a paper: good or bad, and the time a
// stop took in seconds. It proves nothing; that it was bad counts.
type Copied struct {
	Machine string   `json:"machine"`
	Test    int      `json:"test"` // place in the plan, from 0
	Result  string   `json:"result"`
	Seconds *float64 `json:"seconds,omitempty"`
}

// Kind implements record.Event.
func (Copied) Kind() string { return "test_copied" }

// Copy says what a paper says of a test, its time as typed.
type Copy struct {
	Machine string
	Test    int
	Result  string // Good or Bad
	Seconds string
}

var ruleNoTest = text.NewRule("outing.no_such_test")

// Copy decides what was copied. A paper keeps no order: what was not done is not there.
func (s State) Copy(c Copy) (Copied, error) {
	e := Copied{Machine: c.Machine, Test: c.Test, Result: c.Result}
	switch {
	case c.Test < 0 || c.Test >= len(s.Plan.Tests):
		return e, record.Refuse(ruleNoTest.Says())
	case c.Result != Good && c.Result != Bad:
		return e, record.Refuse(RuleNoResult.Says())
	case s.Results[c.Test].Outcome == Failed:
		return e, record.Refuse(ruleNoRetry.Says())
	case s.Results[c.Test].Outcome == Passed && c.Result == Good:
		return e, record.Refuse(ruleNotNext.Says())
	}
	if c.Seconds != "" || c.Result == Good && s.StopWithin(c.Test) > 0 {
		second, _ := unit.Find("s")
		took, _, err := unit.Parse(c.Seconds, second)
		if err != nil || took.Value < 0 || took.Value >= 3600 {
			return e, record.Refuse(ruleTimeNeeded.Says())
		}
		e.Seconds = &took.Value
	}
	return e, nil
}

// copied takes in what a paper says of a test. A time too near its limit to tell
// counts on the worse side: nobody can time it once more.
func (s State) copied(m record.Meta, e Copied) State {
	limit := s.StopWithin(e.Test)
	res := Result{Meta: m, Test: e.Test, Attempt: s.Attempt, Seconds: e.Seconds, Limit: limit, Outcome: Passed}
	switch {
	case e.Result == Bad:
		res.Outcome, res.Seconds = Failed, nil
	case limit > 0 && e.Seconds != nil:
		res.Outcome = timed(*e.Seconds, limit, true)
	}
	return s.result(res)
}

// Told is one step of a round with what to do for it, before anything is known of how
// it goes. Test is its place in the plan, or -1.
type Told struct {
	Step Step
	Test int
	Now  Instruction
}

// Whole is a round from its beginning to its end as it is told when everything goes
// well: for paper. Whoever finds something bad is told to end there.
func (s State) Whole() []Told {
	var out []Told
	for n := 0; s.Step() != StepOver && n <= 3*len(s.Plan.Tests)+8; n++ {
		told := Told{Step: s.Step(), Test: -1, Now: s.Now()}
		m, at := s.Machine, s.Attempt
		var e record.Event
		switch told.Step {
		case StepBegin:
			e = Begun{Machine: m, Attempt: at}
		case StepStart:
			e = Cranked{Machine: m, Attempt: at, Cranked: true, Started: true}
		case StepTest:
			told.Test = s.Next()
			e = s.wentWell(told.Test)
		case StepShow:
			e = Shown{Machine: m, Attempt: at, Permit: s.Unshown(), Moved: true}
		case StepPutBack:
			e = PutBack{Machine: m, Attempt: at}
		}
		out = append(out, told)
		s, _ = s.Apply(record.Meta{At: s.StartedAt.Add(s.WarmUp + time.Second)}, e)
	}
	return out
}

// wentWell is a test that came to what it should.
func (s State) wentWell(test int) Tested {
	e := Tested{Machine: s.Machine, Attempt: s.Attempt, Test: test, Before: s.Plan.Tests[test].Kind != interlock.Engage}
	if s.StopWithin(test) > 0 {
		at := 0.0
		e.Seconds = &at
	}
	return e
}
