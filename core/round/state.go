package round

// How far a round is, and what a result comes to.

import (
	"math"
	"slices"
	"sync"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
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

// Edition is the edition of the rules of a round that an outing begins with now.
// In the first nobody said that they were in place, and nothing had to be put
// back.
const Edition = 2

// Setup is what a round is of.
type Setup struct {
	Machine string // id
	Plan    interlock.Plan
	// Section is what the plan was computed from: the sheet's own, or the
	// joined one of a carrier and what it carries.
	Section *machine.Interlock
	// Engine: the machine has one of its own. An implement is moved by its
	// carrier's, whose round comes first.
	Engine bool
	// WarmUp is how long it runs before it is tested above idle.
	WarmUp time.Duration
	// Rest is how long its starter, or the arm at its cord, rests after a try that
	// did not start it; Tries is how often it is tried at most. Zero: nobody says.
	Rest  time.Duration
	Tries int
	// Running: something is looked at with the engine running afterwards.
	Running bool
	Edition int
}

// State is how far the interlock round of a machine is.
type State struct {
	Setup
	// Attempt counts rounds from 1; a void round begins the next.
	Attempt int
	// Begun: in this attempt somebody said that they are in place.
	Begun bool
	// Started is set once the engine has cranked from the start state in this
	// attempt, which makes its refusals count; Runs once it also started, at
	// StartedAt.
	Started, Runs bool
	StartedAt     time.Time
	// Tried counts the cranks since it last ran or would not crank; LastTry is the
	// last of them.
	Tried   int
	LastTry time.Time
	// WouldNotCrank: the attempt before this one was void.
	WouldNotCrank bool
	// Results is the last result of each test; History every result ever
	// taken, voided attempts too.
	Results []Result
	History []Result
	// Moved are the drives that were seen to move when they were let to;
	// WouldNotMove is one that did not.
	Moved        []string
	WouldNotMove string
	// IsPutBack: after the last test the controls were put back.
	IsPutBack bool

	last  time.Time // of what was said in the round
	done  []deed
	logic func() *interlock.Logic
}

// Result is the outcome of one test.
type Result struct {
	Meta    record.Meta
	Test    int
	Attempt int
	Outcome Outcome
	Seconds *float64
	Limit   float64 // in seconds, 0 for at once
	// Restarted: it had stopped, and moved again by itself. Early: it moved
	// before anything was tried.
	Restarted, Early bool
}

// Begin is a round of which nothing is done.
func Begin(of Setup) State {
	return State{Setup: of, Attempt: 1, Results: make([]Result, len(of.Plan.Tests)),
		logic: sync.OnceValue(func() *interlock.Logic { l, _ := interlock.Compile(*of.Section); return l })}
}

// Logic is the compiled section.
func (s State) Logic() *interlock.Logic { return s.logic() }

// Refusals is how many tests of the plan come before the engine is started.
func (s State) Refusals() int {
	n := 0
	for n < len(s.Plan.Tests) && s.Plan.Tests[n].Kind == interlock.Refusal {
		n++
	}
	return n
}

// Next is the test to do: its place, or len(Plan.Tests) when all are done.
func (s State) Next() int {
	for i, res := range s.Results {
		if res.Outcome != Passed && res.Outcome != Failed {
			return i
		}
	}
	return len(s.Results)
}

// Step is what a round asks for next.
type Step string

// The steps.
const (
	StepBegin   Step = "begin" // be in place, the circle clear
	StepTest    Step = "test"
	StepStart   Step = "start" // the engine
	StepShow    Step = "show"  // let a drive move that no test has shown moving
	StepPutBack Step = "put_back"
	StepOver    Step = "over"
)

// Step is what comes next.
func (s State) Step() Step {
	now := s.Edition >= Edition
	switch {
	case len(s.Plan.Tests) == 0 || s.FailedTest() >= 0:
		return StepOver
	case now && !s.Begun:
		return StepBegin
	case s.NeedsCrank():
		return StepStart
	case s.Next() < len(s.Plan.Tests):
		return StepTest
	case now && s.Unshown() != "":
		return StepShow
	case now && !s.IsPutBack:
		return StepPutBack
	}
	return StepOver
}

// NeedsCrank reports whether the engine has to be started now: the refusals
// are done and it has not run in this attempt.
func (s State) NeedsCrank() bool {
	return s.Engine && len(s.Plan.Tests) > 0 && !s.Runs && s.Next() >= s.Refusals()
}

// Unshown is a drive that was kept still in an engage and that no test has shown
// moving, or "": what cannot move at all proves nothing by standing still.
func (s State) Unshown() string {
	moved := slices.Clone(s.Moved)
	for i, t := range s.Plan.Tests {
		if t.Kind == interlock.DriveStop && s.Results[i].Outcome == Passed {
			moved = append(moved, t.Permit)
		}
	}
	for _, t := range s.Plan.Tests {
		if t.Kind == interlock.Engage && !slices.Contains(moved, t.Permit) {
			return t.Permit
		}
	}
	return ""
}

// Done reports whether the round is complete and valid: every test passed, the
// engine seen to crank, each drive seen to move, and the controls put back.
func (s State) Done() bool {
	for _, res := range s.Results {
		if res.Outcome != Passed {
			return false
		}
	}
	if s.Edition >= Edition {
		return s.Step() == StepOver
	}
	return len(s.Plan.Tests) == 0 || s.Started || !s.Engine
}

// FailedTest is the first test that failed, or -1.
func (s State) FailedTest() int {
	return slices.IndexFunc(s.Results, func(r Result) bool { return r.Outcome == Failed })
}

// Left is how many tests have not passed.
func (s State) Left() int {
	n := 0
	for _, r := range s.Results {
		if r.Outcome != Passed {
			n++
		}
	}
	return n
}

// Apply takes in an event of the round; ok is false for one of something else.
func (s State) Apply(m record.Meta, e record.Event) (after State, ok bool) {
	if after, ok = s.apply(m, e); ok {
		after.last = m.At
	}
	return after, ok
}

func (s State) apply(m record.Meta, e record.Event) (after State, ok bool) {
	switch e := e.(type) {
	case Begun:
		s.Begun, s.WouldNotCrank = true, false
		return s, true
	case Cranked:
		return s.crank(m, e), true
	case Tested:
		return s.take(m, e), true
	case Shown:
		return s.show(e), true
	case PutBack:
		s.IsPutBack = true
		return s, true
	case Mistapped:
		return s, true // kept, and changes nothing
	case Copied:
		return s.copied(m, e), true
	}
	return s, false
}

func (s State) crank(m record.Meta, e Cranked) State {
	was := s.Tried
	s.done = append(slices.Clip(s.done), deed{step: StepStart, came: e.Started})
	s.Tried, s.LastTry = 0, m.At
	if e.Cranked {
		if !e.Started {
			s.Tried = was + 1
		}
		s.Started, s.Runs = true, e.Started
		s.StartedAt = m.At
		s.WouldNotCrank = false
		return s
	}
	// A refusal proves nothing if the engine would not have cranked anyway.
	s = s.Again()
	s.WouldNotCrank = true
	return s
}

// Again is the round begun anew: nothing of it counts but what failed.
func (s State) Again() State {
	s.Attempt++
	s.Begun, s.Started, s.Runs, s.IsPutBack = false, false, false, false
	s.Tried, s.Moved, s.WouldNotMove = 0, nil, ""
	s.Results = slices.Clone(s.Results)
	for i := range s.Results {
		if s.Results[i].Outcome != Failed {
			s.Results[i] = Result{}
		}
	}
	return s
}

func (s State) take(m record.Meta, e Tested) State {
	limit := s.StopWithin(e.Test)
	res := Result{Meta: m, Test: e.Test, Attempt: e.Attempt, Seconds: e.Seconds, Limit: limit}
	test := s.Plan.Tests[e.Test]
	switch {
	case test.Kind == interlock.Engage && e.Before:
		res.Outcome, res.Early = Failed, true
	case !e.Before && (test.Kind == interlock.EngineStop || test.Kind == interlock.DriveStop):
		res.Outcome = Void
	case e.After, e.Restarted && test.Return:
		res.Outcome, res.Restarted = Failed, !e.After
		if e.After {
			res.Seconds = nil // it was not seen to stop
		}
	case limit > 0 && e.Seconds != nil:
		res.Outcome = timed(*e.Seconds, limit, s.wasNear(e.Test))
	default:
		res.Outcome = Passed
	}
	s = s.result(res)
	s.done = append(slices.Clip(s.done), deed{step: StepTest, test: e.Test, came: res.Outcome != Void && !res.Early})
	return s
}

// result puts what a test came to in the place of what it came to before.
func (s State) result(r Result) State {
	s.Results = slices.Clone(s.Results)
	s.Results[r.Test] = r
	s.History = append(slices.Clip(s.History), r)
	return s
}

// wasNear reports whether a test was timed near its limit in this attempt: it
// stays so until its repeat, whatever came between.
func (s State) wasNear(test int) bool {
	if s.Edition < Edition {
		return s.Results[test].Outcome == Near
	}
	return slices.ContainsFunc(s.History, func(r Result) bool { return r.Test == test && r.Outcome == Near })
}

func (s State) show(e Shown) State {
	s.done = append(slices.Clip(s.done), deed{step: StepShow, permit: e.Permit})
	s.WouldNotMove = e.Permit
	if e.Moved {
		s.Moved, s.WouldNotMove = append(slices.Clip(s.Moved), e.Permit), ""
	}
	return s
}

// Clear is the time below which a stop is clear of its limit, in seconds.
func (s State) Clear(limit float64) float64 { return limit - tapUncertainty }

// timed compares a stop with its limit. Within the uncertainty of a tap it is
// near, and timed once more; near twice counts on the worse side, touching it
// too.
func timed(seconds, limit float64, again bool) Outcome {
	switch {
	case math.Abs(seconds-limit) <= tapUncertainty+tiny && !again:
		return Near
	case seconds >= limit-tapUncertainty-tiny:
		return Failed
	}
	return Passed
}

// tiny keeps decimal fractions that are equal on paper equal here, in seconds.
const tiny = 1e-9

// StopWithin is the sheet's limit for what a test stops, in seconds; 0 means at
// once. Where an engine stops with drives moving, they have their times.
func (s State) StopWithin(test int) (limit float64) {
	for _, drive := range s.Stops(test) {
		limit = max(limit, s.Section.Permit(drive).StopWithin)
	}
	return limit
}

// Stops lists the drives that a test stops.
func (s State) Stops(test int) []string {
	switch one := s.Plan.Tests[test]; {
	case one.Kind == interlock.DriveStop:
		return []string{one.Permit}
	case one.Kind == interlock.EngineStop && s.Edition >= Edition:
		return s.Logic().Moving(one.From)
	}
	return nil
}

// The rules that make defects of results.
var (
	ruleRefusalFailed = text.NewRule("test.cranked_when_it_must_not", text.Slot{Name: "test", Kind: text.Count})
	ruleStopFailed    = text.NewRule("test.did_not_stop", text.Slot{Name: "test", Kind: text.Count})
	ruleStopSlow      = text.NewRule("test.stopped_too_late", text.Slot{Name: "test", Kind: text.Count}, text.Slot{Name: "took", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount})
	ruleEngaged       = text.NewRule("test.moved_when_it_must_not", text.Slot{Name: "test", Kind: text.Count})
	ruleRestarted     = text.NewRule("test.moved_again", text.Slot{Name: "test", Kind: text.Count})
)

// Failure says why a test failed.
func (s State) Failure(i int) text.Reason {
	switch r := s.Results[i]; {
	case s.Plan.Tests[i].Kind == interlock.Refusal:
		return ruleRefusalFailed.Says(i + 1)
	case s.Plan.Tests[i].Kind == interlock.Engage:
		return ruleEngaged.Says(i + 1)
	case r.Restarted:
		return ruleRestarted.Says(i + 1)
	case r.Seconds != nil && r.Limit > 0:
		return ruleStopSlow.Says(i+1, seconds(*r.Seconds), seconds(r.Limit))
	}
	return ruleStopFailed.Says(i + 1)
}

func seconds(s float64) text.Measure {
	return text.Measure{Quantity: unit.Quantity{Value: s, Dimension: unit.Time}, Unit: "s"}
}

// Slow reports whether a failed test failed only in its time: the contact did
// its work, what it stops is worn.
func (r Result) Slow() bool { return r.Outcome == Failed && r.Seconds != nil && !r.Restarted }
