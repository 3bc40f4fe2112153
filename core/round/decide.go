package round

// What may be told of a round next.

import (
	"slices"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
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
	Good  = "good"
	Bad   = "bad"   // it cranked, ran on, moved
	Again = "again" // it stopped, and moved again by itself
	// NotBefore: before the change it was not as the test needs it: not running
	// or moving where it has to stop, moving already where it must not.
	NotBefore = "not_before"
)

var (
	ruleNotNext    = text.NewRule("outing.test_not_next")
	ruleNoRetry    = text.NewRule("outing.failed_stays_failed")
	ruleNoCrank    = text.NewRule("outing.not_time_to_start")
	ruleTimeNeeded = text.NewRule("outing.time_needed")
	ruleTooQuick   = text.NewRule("outing.too_quick_to_tap")
	ruleNotClear   = text.NewRule("outing.circle_not_clear")
	RuleResting    = text.NewRule("outing.starter_rests", text.Slot{Name: "until", Kind: text.Moment})
	RuleWarming    = text.NewRule("outing.warming_up", text.Slot{Name: "until", Kind: text.Moment})
	RuleNoResult   = text.NewRule("outing.no_such_result")
)

// BeginRound says that the operator is in place; Clear is the answer to whether
// nobody is in the circle.
type BeginRound struct {
	Machine string
	Attempt int
	Clear   string // yes
}

// Show says whether a drive moved when it was let to: yes or no.
type Show struct {
	Machine string
	Attempt int
	Permit  string
	Moved   string
}

// PutThingsBack says that the controls stand as they were told to.
type PutThingsBack struct {
	Machine string
	Attempt int
}

// Begin decides whether the round may begin.
func (s State) Begin(c BeginRound) (Begun, error) {
	e := Begun{Machine: c.Machine, Attempt: c.Attempt}
	switch {
	case s.Step() != StepBegin || c.Attempt != s.Attempt:
		return e, record.Refuse(ruleNotNext.Says())
	case c.Clear != "yes":
		return e, record.Refuse(ruleNotClear.Says())
	}
	return e, nil
}

// Crank decides what turning the key came to.
func (s State) Crank(c Crank, now time.Time) (Cranked, error) {
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
	if s.Step() != StepStart || c.Attempt != s.Attempt {
		return e, record.Refuse(ruleNoCrank.Says())
	}
	if until, resting := s.Resting(now); resting && e.Cranked { // that it will not crank is told at once
		return e, record.Refuse(RuleResting.Says(until))
	}
	return e, nil
}

// Resting reports whether the starter, or the arm at the cord, still rests after a try
// that did not start the engine, and until when.
func (s State) Resting(now time.Time) (until time.Time, resting bool) {
	if s.Tried == 0 || s.Rest == 0 {
		return until, false
	}
	until = s.LastTry.Add(s.Rest)
	return until, now.Before(until)
}

// TriedOut reports whether it was tried as often as it may be: who goes on turning
// burns the starter or floods the engine.
func (s State) TriedOut() bool { return s.Tries > 0 && s.Tried >= s.Tries }

// Test decides what a test came to.
func (s State) Test(c Test, now time.Time) (Tested, error) {
	e := Tested{Machine: c.Machine, Attempt: c.Attempt, Test: c.Test, After: c.Result == Bad, Restarted: c.Result == Again}
	if err := s.mayTest(c); err != nil {
		return e, err
	}
	e.Before = (s.Plan.Tests[c.Test].Kind == interlock.Engage) == (c.Result == NotBefore)
	if until, cold := s.Warming(now); cold {
		return e, record.Refuse(RuleWarming.Says(until))
	}
	return e, s.time(c, &e)
}

// mayTest checks that it is this test's turn and that the word is one that it
// asks for.
func (s State) mayTest(c Test) error {
	if !slices.Contains([]string{Good, Bad, Again, NotBefore}, c.Result) {
		return record.Refuse(RuleNoResult.Says())
	}
	if s.HasFailed(c.Test) {
		return record.Refuse(ruleNoRetry.Says())
	}
	switch step := s.Step(); {
	case step == StepStart && c.Test == s.Next():
		return record.Refuse(ruleNoCrank.Says())
	case step == StepBegin && c.Test == s.Next():
		return record.Refuse(ruleNotClear.Says())
	case step != StepTest || c.Test != s.Next() || c.Attempt != s.Attempt:
		return record.Refuse(ruleNotNext.Says())
	}
	one := s.Plan.Tests[c.Test]
	if c.Result == Again && !one.Return || c.Result == NotBefore && one.Kind == interlock.Refusal {
		return record.Refuse(RuleNoResult.Says())
	}
	return nil
}

// time reads the time of a timed stop.
func (s State) time(c Test, e *Tested) error {
	second, _ := unit.Find("s")
	if took, _, err := unit.Parse(c.Seconds, second); err == nil && took.Value >= 0 && took.Value < 3600 {
		e.Seconds = &took.Value
	}
	if c.Result != Good || s.StopWithin(c.Test) == 0 {
		return nil
	}
	switch {
	case e.Seconds == nil:
		return record.Refuse(ruleTimeNeeded.Says())
	case s.Edition >= Edition && *e.Seconds < Quickest:
		return record.Refuse(ruleTooQuick.Says())
	}
	return nil
}

// Quickest is the shortest time between two taps of one hand, in seconds (trade
// practice): a shorter one was not a stop that somebody saw.
const Quickest = 0.4

// Warming reports whether the next test runs the engine above idle and it has
// not run for the sheet's warm-up yet; until is when it has.
func (s State) Warming(now time.Time) (until time.Time, cold bool) {
	step := s.Step()
	if s.Edition < Edition || s.WarmUp == 0 || !s.Runs || step != StepTest && step != StepShow {
		return until, false
	}
	of := interlock.Test{Kind: interlock.DriveStop, Permit: s.Unshown()}
	if step == StepTest {
		of = s.Plan.Tests[s.Next()]
	}
	speed := s.speed(of)
	until = s.StartedAt.Add(s.WarmUp)
	return until, (speed == machine.Half || speed == machine.Full) && now.Before(until)
}

// Show decides whether a drive was seen to move.
func (s State) Show(c Show, now time.Time) (Shown, error) {
	e := Shown{Machine: c.Machine, Attempt: c.Attempt, Permit: c.Permit, Moved: c.Moved == "yes"}
	if c.Moved != "yes" && c.Moved != "no" {
		return e, record.Refuse(RuleNoResult.Says())
	}
	if s.Step() != StepShow || c.Permit != s.Unshown() || c.Attempt != s.Attempt {
		return e, record.Refuse(ruleNotNext.Says())
	}
	if until, cold := s.Warming(now); cold {
		return e, record.Refuse(RuleWarming.Says(until))
	}
	return e, nil
}

// PutBack decides whether the controls are back.
func (s State) PutBack(c PutThingsBack) (PutBack, error) {
	e := PutBack{Machine: c.Machine, Attempt: c.Attempt}
	if s.Step() != StepPutBack || c.Attempt != s.Attempt {
		return e, record.Refuse(ruleNotNext.Says())
	}
	return e, nil
}

// Mistap decides whether a result that halts was tapped and taken back.
func (s State) Mistap(c Test) (Mistapped, error) {
	e := Mistapped{Machine: c.Machine, Attempt: c.Attempt, Test: c.Test, Result: c.Result}
	if err := s.mayTest(c); err != nil {
		return e, err
	}
	if !s.Halts(c) {
		return e, record.Refuse(RuleNoResult.Says())
	}
	return e, nil
}

// Halts reports whether a result stops the machine for today.
func (s State) Halts(c Test) bool {
	if c.Test < 0 || c.Test >= len(s.Plan.Tests) {
		return false
	}
	return c.Result == Bad || c.Result == Again || c.Result == NotBefore && s.Plan.Tests[c.Test].Kind == interlock.Engage
}

// HasFailed reports whether a test failed, which trying again does not change.
func (s State) HasFailed(test int) bool {
	return test >= 0 && test < len(s.Results) && s.Results[test].Outcome == Failed
}
