package outing

import (
	"math"

	"vespers/core/interlock"
	"vespers/core/machine"
)

// Outcome is what a test came to.
type Outcome string

// The outcomes. A void test proved nothing and is done again; a near one was
// timed too close to its limit to tell and is timed once more; a failed one
// stays failed.
const (
	Passed Outcome = "passed"
	Failed Outcome = "failed"
	Void   Outcome = "void"
	Near   Outcome = "near"
)

// tapUncertainty is how far a stop timed by tap may be off, in seconds (trade
// practice).
const tapUncertainty = 0.3

// RoundState is how far the interlock round is.
type RoundState struct {
	Plan interlock.Plan
	// Engine: the machine has one of its own. An implement is moved by its
	// carrier's, whose round comes first.
	Engine bool
	// Attempt counts rounds from 1; a void round begins the next.
	Attempt int
	// Started is set once the engine has cranked from the start state in this
	// attempt, which makes its refusals count; Runs once it also started.
	Started, Runs bool
	// WouldNotCrank: the attempt before this one was void.
	WouldNotCrank bool
	Results       []Result
	// History is every result ever taken, voided attempts too.
	History []Result
}

// Result is the outcome of one test.
type Result struct {
	Meta    Meta
	Test    int
	Attempt int
	Outcome Outcome
	Seconds *float64
	Limit   float64 // in seconds, 0 for at once
	// Restarted: it had stopped, and moved again by itself.
	Restarted bool
}

func (r *RoundState) begin(plan interlock.Plan, engine bool) {
	r.Plan, r.Engine, r.Attempt = plan, engine, 1
	r.Results = make([]Result, len(plan.Tests))
}

// refusals is how many tests of the plan come before the engine is started.
func (r *RoundState) refusals() int {
	n := 0
	for n < len(r.Plan.Tests) && r.Plan.Tests[n].Kind == interlock.Refusal {
		n++
	}
	return n
}

// Next is the test to do: its place, or len(Plan.Tests) when all are done.
func (r *RoundState) Next() int {
	for i, res := range r.Results {
		if res.Outcome != Passed && res.Outcome != Failed {
			return i
		}
	}
	return len(r.Results)
}

// NeedsCrank reports whether the engine has to be started now: the refusals
// are done and it has not run in this attempt.
func (r *RoundState) NeedsCrank() bool {
	return r.Engine && len(r.Plan.Tests) > 0 && !r.Runs && r.Next() >= r.refusals()
}

// Done reports whether the round is complete and valid: every test passed and
// the engine seen to crank.
func (r *RoundState) Done() bool {
	for _, res := range r.Results {
		if res.Outcome != Passed {
			return false
		}
	}
	return len(r.Plan.Tests) == 0 || r.Started || !r.Engine
}

// FailedTest is the first test that failed, or -1.
func (r *RoundState) FailedTest() int {
	for i, res := range r.Results {
		if res.Outcome == Failed {
			return i
		}
	}
	return -1
}

func (r *RoundState) crank(e Cranked) {
	if e.Cranked {
		r.Started, r.Runs = true, e.Started
		r.WouldNotCrank = false
		return
	}
	// A refusal proves nothing if the engine would not have cranked anyway.
	r.Attempt++
	r.WouldNotCrank = true
	r.Started, r.Runs = false, false
	for i := range r.Results {
		if r.Results[i].Outcome != Failed {
			r.Results[i] = Result{}
		}
	}
}

func (r *RoundState) take(meta Meta, e Tested, limit float64) {
	res := Result{Meta: meta, Test: e.Test, Attempt: e.Attempt, Seconds: e.Seconds, Limit: limit}
	refusal := r.Plan.Tests[e.Test].Kind == interlock.Refusal
	switch {
	case !refusal && !e.Before:
		res.Outcome = Void
	case e.After, e.Restarted && r.Plan.Tests[e.Test].Return:
		res.Outcome, res.Restarted = Failed, !e.After
		if e.After {
			res.Seconds = nil // it was not seen to stop
		}
	case limit > 0 && e.Seconds != nil:
		res.Outcome = timed(*e.Seconds, limit, r.Results[e.Test].Outcome == Near)
	default:
		res.Outcome = Passed
	}
	r.Results[e.Test] = res
	r.History = append(r.History, res)
}

// timed compares a stop with its limit. Within the uncertainty of a tap it is
// near, and timed once more; near twice counts on the worse side.
func timed(seconds, limit float64, again bool) Outcome {
	switch {
	case math.Abs(seconds-limit) <= tapUncertainty && !again:
		return Near
	case seconds > limit-tapUncertainty:
		return Failed
	}
	return Passed
}

// StopWithin is the sheet's limit for the drive that a test stops, in seconds;
// 0 means at once.
func (u *UnitState) StopWithin(test int) float64 {
	one := u.Round.Plan.Tests[test]
	if one.Kind != interlock.DriveStop {
		return 0
	}
	for _, p := range u.Interlocks().Permits {
		if p.ID == one.Permit {
			return p.StopWithin
		}
	}
	return 0
}

// Interlocks is the section that the unit's round is computed from: its
// sheet's own, or the joined one of a carrier and what it carries.
func (u *UnitState) Interlocks() *machine.Interlock {
	if u.Joined != nil {
		return u.Joined
	}
	return &u.Sheet.Interlock
}

// prover is the unit in whose round a unit is tested: itself, or its carrier.
func (o *Outing) prover(u *UnitState) *UnitState {
	if with := o.Unit(u.With); with != nil {
		return with
	}
	return u
}

// proves lists the units that are tested in a unit's round.
func (o *Outing) proves(u *UnitState) []*UnitState {
	var out []*UnitState
	for _, other := range o.Units {
		if o.prover(other) == u {
			out = append(out, other)
		}
	}
	return out
}

// owner is the unit that a failed test of u's round is a defect of.
func (o *Outing) owner(u *UnitState, test int) *UnitState {
	if u.Joined != nil && interlock.OfImplement(u.Sheet.Interlock, u.Round.Plan.Tests[test].Permit) {
		for _, other := range o.proves(u) {
			if other != u {
				return other
			}
		}
	}
	return u
}

// Test finds the failed test that a defect was found by.
func (o *Outing) Test(defect string) (u *UnitState, test int, ok bool) {
	for _, u := range o.Units {
		for i, r := range u.Round.Results {
			if r.Outcome == Failed && r.Meta.ID == defect {
				return u, i, true
			}
		}
	}
	return nil, 0, false
}
