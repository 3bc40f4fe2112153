package round

// What may be told of a round next.

import (
	"vespers/core/interlock"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// Crank is what the engine did when the key was turned, in one of three words.
type Crank struct {
	Machine string
	Attempt int
	Did     string // no, cranked or started
}

// Test is what was seen in a test, in one of four words, and the time a stop
// took as it was typed or tapped.
type Test struct {
	Machine string
	Attempt int
	Test    int
	Result  string
	Seconds string
}

// The words for a result. Anything else is none, and records nothing.
const (
	Good      = "good"
	Bad       = "bad"        // it cranked, ran on, moved on
	Again     = "again"      // it stopped, and moved again by itself
	NotBefore = "not_before" // it was not running or moving before
)

var (
	ruleNotNext    = text.NewRule("outing.test_not_next")
	ruleNoRetry    = text.NewRule("outing.failed_stays_failed")
	ruleNoCrank    = text.NewRule("outing.not_time_to_start")
	ruleTimeNeeded = text.NewRule("outing.time_needed")
	RuleNoResult   = text.NewRule("outing.no_such_result")
)

// Crank decides what turning the key came to.
func (s State) Crank(c Crank) (Cranked, error) {
	e := Cranked{Machine: c.Machine, Attempt: c.Attempt}
	switch c.Did {
	case "no":
	case "cranked":
		e.Cranked = true
	case "started":
		e.Cranked, e.Started = true, true
	default:
		return e, record.Refuse(RuleNoResult.Says())
	}
	if !s.NeedsCrank() || c.Attempt != s.Attempt {
		return e, record.Refuse(ruleNoCrank.Says())
	}
	return e, nil
}

// Test decides what a test came to.
func (s State) Test(c Test) (Tested, error) {
	e := Tested{Machine: c.Machine, Attempt: c.Attempt, Test: c.Test, Before: c.Result != NotBefore, After: c.Result == Bad, Restarted: c.Result == Again}
	switch c.Result {
	case Good, Bad, Again, NotBefore:
	default:
		return e, record.Refuse(RuleNoResult.Says())
	}
	if s.HasFailed(c.Test) {
		return e, record.Refuse(ruleNoRetry.Says())
	}
	if c.Test != s.Next() || c.Attempt != s.Attempt || c.Test >= len(s.Plan.Tests) {
		return e, record.Refuse(ruleNotNext.Says())
	}
	one := s.Plan.Tests[c.Test]
	stop := one.Kind != interlock.Refusal
	if c.Result == Again && !one.Return || c.Result == NotBefore && !stop {
		return e, record.Refuse(RuleNoResult.Says()) // a word that this test does not ask for
	}
	if stop && !s.Runs && s.Engine {
		return e, record.Refuse(ruleNoCrank.Says())
	}
	second, _ := unit.Find("s")
	if took, _, err := unit.Parse(c.Seconds, second); err == nil && took.Value >= 0 && took.Value < 3600 {
		e.Seconds = &took.Value
	}
	if c.Result == Good && s.StopWithin(c.Test) > 0 && e.Seconds == nil {
		return e, record.Refuse(ruleTimeNeeded.Says())
	}
	return e, nil
}

// HasFailed reports whether a test failed, which trying again does not change.
func (s State) HasFailed(test int) bool {
	return test >= 0 && test < len(s.Results) && s.Results[test].Outcome == Failed
}
