package outing

// The interlock round as a stage: when it may be run, and whose a failed test
// is, where a carrier is tested together with what it carries.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
)

type roundStage struct{}

var (
	ruleWalkFirst  = text.NewRule("outing.walk_first", text.Slot{Name: "left", Kind: text.Count})
	ruleOnHalt     = text.NewRule("outing.on_halt")
	ruleNoStart    = text.NewRule("outing.nothing_started")
	ruleTestsOpen  = text.NewRule("release.tests_open", text.Slot{Name: "count", Kind: text.Count}, text.Slot{Name: "all", Kind: text.Count})
	ruleVoid       = text.NewRule("release.round_void")
	ruleNotStarted = text.NewRule("release.engine_not_started")
	ruleNotMoved   = text.NewRule("release.drive_not_moved", text.Slot{Name: "what", Kind: text.Words})
	ruleNotBack    = text.NewRule("release.controls_not_put_back")
)

func (roundStage) name() Stage { return StageRound }

func (roundStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	machineID := ""
	var ask func(r round.State) ([]record.Event, bool, error)
	switch c := c.(type) {
	case BeginRound:
		machineID, ask = c.Machine, func(r round.State) ([]record.Event, bool, error) { return one(r.Begin(c.BeginRound)) }
	case Crank:
		if u := o.Unit(c.Machine); u != nil && u.Running(by.Meta) == startsIt && o.StartsRound(u) {
			if err := o.working(by.At); err != nil {
				return nil, true, err
			}
			return o.cranked(u, c, by) // it is being started, and would not crank
		}
		machineID, ask = c.Machine, func(round.State) ([]record.Event, bool, error) { return o.cranked(o.Unit(c.Machine), c, by) }
	case Test:
		machineID, ask = c.Machine, func(r round.State) ([]record.Event, bool, error) { return one(r.Test(c.Test, by.At)) }
	case Mistap:
		machineID, ask = c.Machine, func(r round.State) ([]record.Event, bool, error) { return one(r.Mistap(c.Test)) }
	case Show:
		machineID, ask = c.Machine, func(r round.State) ([]record.Event, bool, error) { return one(r.Show(c.Show, by.At)) }
	case PutBack:
		machineID, ask = c.Machine, func(r round.State) ([]record.Event, bool, error) { return one(r.PutBack(c.PutThingsBack)) }
	default:
		return pass()
	}
	u, err := o.testing(machineID, by.At)
	if c, test := c.(Test); test && u != nil && err != nil && u.Round.HasFailed(c.Test.Test) {
		return ask(u.Round) // says so, before anything else
	}
	if err != nil {
		return nil, true, err
	}
	return ask(u.Round)
}

// testing is the unit that is tested, or what its round waits for: an operator
// who may start it, the cold walk of every machine it proves done, and no Halt
// on one.
func (o *Outing) testing(machineID string, now time.Time) (*UnitState, error) {
	if err := o.working(now); err != nil {
		return nil, err
	}
	u := o.Unit(machineID)
	if u == nil {
		return nil, record.Refuse(ruleMachine.Says())
	}
	if !o.MayStart() {
		return u, record.Refuse(ruleNoStart.Says())
	}
	if r := o.keptFromStart(u, record.Meta{At: now}); r != nil {
		return u, record.Refuse(*r)
	}
	left := 0
	tested := o.proves(u)
	for _, one := range tested {
		left += len(one.Left(machine.Cold))
	}
	if left > 0 {
		return u, record.Refuse(ruleWalkFirst.Says(left))
	}
	for _, d := range o.Defects() {
		on := o.Unit(d.Machine)
		if slices.Contains(tested, on) && d.Finding.GradeAt(on.HoursNow(), now) == defect.Halt {
			return u, record.Refuse(ruleOnHalt.Says())
		}
	}
	return u, nil
}

func (roundStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	machineID := ""
	switch e := e.(type) {
	case round.Begun:
		machineID = e.Machine
	case round.Cranked:
		machineID = e.Machine
	case round.Tested:
		machineID = e.Machine
	case round.Shown:
		machineID = e.Machine
	case round.PutBack:
		machineID = e.Machine
	case round.Mistapped:
		machineID = e.Machine
	case round.Copied:
		machineID = e.Machine
	default:
		return false
	}
	o.change(machineID, func(u *UnitState) { u.Round, _ = u.Round.Apply(m, e) })
	o.toldByRound(machineID, m, e)
	return true
}

// toldByRound is what a round says of how its machines stand: the engine runs from its
// start on, and is off at the end where nothing is looked at that runs.
func (o *Outing) toldByRound(machineID string, m record.Meta, e record.Event) {
	var facts machine.Facts
	switch e := e.(type) {
	case round.Cranked:
		if !e.Started {
			return
		}
		facts = machine.Facts{"engine": "running", "key": "in", "person": "in_place", "travel": "neutral"}
	case round.PutBack:
		if o.Unit(machineID).Round.Running {
			return
		}
		facts = machine.Facts{"engine": "off"}
	default:
		return
	}
	for _, u := range o.proves(o.Unit(machineID)) {
		o.change(u.Machine, func(u *UnitState) { u.tell(facts, m) })
	}
}

func (roundStage) undone(_ *Outing, u *UnitState) bool { return !u.Round.Done() }

func (s roundStage) left(o *Outing, u *UnitState) bool {
	return o.MayStart() && u.Round.FailedTest() < 0 && s.undone(o, u)
}

func (roundStage) missing(o *Outing, u *UnitState, _ time.Time) []Missing {
	r := u.Round
	if r.Done() || r.FailedTest() >= 0 {
		return nil
	}
	missing := Missing{Step: StageRound, Machine: u.Machine, Acts: max(1, r.Left()), Seconds: testSeconds * float64(max(1, r.Left()))}
	switch left := r.Left(); {
	case r.WouldNotCrank:
		missing.Reason = ruleVoid.Says()
	case left == 0 && r.WouldNotMove != "":
		missing.Reason = ruleNotMoved.Says(r.Section.Permit(r.WouldNotMove).Moves)
	case left == 0 && o.Paper != nil:
		return nil
	case left == 0 && r.NeedsCrank():
		missing.Reason = ruleNotStarted.Says()
	case left == 0:
		missing.Reason = ruleNotBack.Says()
	default:
		missing.Reason = ruleTestsOpen.Says(left, len(r.Results))
	}
	return []Missing{missing}
}

func (roundStage) defects(o *Outing, u *UnitState, standing []Defect) []Defect {
	for i, r := range u.Round.Results {
		if r.Outcome == round.Failed {
			standing = append(standing, Defect{Machine: o.owner(u, i).Machine, Test: i, Found: inspect.Found{ID: r.Meta.ID, By: r.Meta.By, At: r.Meta.At,
				Finding: defect.Finding{Extent: machine.Lost, Grade: defect.Halt, Reasons: []text.Reason{u.Round.Failure(i)}}}})
		}
	}
	return standing
}

// testSeconds is how long a practised person needs for a test, setting it up included
// (house rule).
const testSeconds = 20

// Unwatched is since when nobody knows how the controls of a round stand: since its
// operator has it, or since something happened meanwhile.
func (o *Outing) Unwatched(u *UnitState) time.Time {
	since := o.Now().Since.At
	for _, one := range o.proves(u) {
		for _, h := range one.Happenings() {
			if h.Meta.At.After(since) {
				since = h.Meta.At
			}
		}
	}
	return since
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
	return o.OwnerOf(u, u.Round.Plan.Tests[test].Permit)
}

// OwnerOf is the unit that a permit of u's round is of.
func (o *Outing) OwnerOf(u *UnitState, permit string) *UnitState {
	if u.Joined != nil && interlock.OfImplement(u.Sheet.Interlock, permit) {
		for _, other := range o.proves(u) {
			if other != u {
				return other
			}
		}
	}
	return u
}

// Prover is the unit in whose round a unit is tested: itself, or its carrier.
func (o *Outing) Prover(u *UnitState) *UnitState { return o.prover(u) }

// Owner is the unit that a test of u's round speaks of.
func (o *Outing) Owner(u *UnitState, test int) *UnitState { return o.owner(u, test) }

// Test finds the failed test that a defect was found by.
func (o *Outing) Test(defect string) (u *UnitState, test int, ok bool) {
	for _, u := range o.Units {
		for i, r := range u.Round.Results {
			if r.Outcome == round.Failed && r.Meta.ID == defect {
				return u, i, true
			}
		}
	}
	return nil, 0, false
}
