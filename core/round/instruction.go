package round

// How the controls are moved for a test, from where they stand.

import (
	"slices"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// Instruction is what to do for one test, or to start the engine: controls to
// move, then the act that is watched.
type Instruction struct {
	// Stop says that the running engine has to be switched off first, because
	// the controls cannot be moved with it running.
	Stop bool
	// Restart lists what to set before the engine is started again; Start says
	// that it has to be.
	Restart []Change
	Start   bool
	// Set lists what to set before the act.
	Set []Change
	// Act is the one change of a stop test; the zero Change for a refusal,
	// where the act is turning the key. Back is the same control put back,
	// where the test asks for it.
	Act, Back Change
	// At is how the controls stand when the result is seen.
	At map[string]bool
	// Was is how they stood when the effect had to be there (stop tests).
	Was map[string]bool
}

// Change is one control moved.
type Change struct {
	Switch string
	Do     text.Text
	Made   bool
}

// Instruction tells how to do test i of the round, from where the test before
// it left the controls.
func (s State) Instruction(i int) Instruction {
	logic := s.Logic()
	test := s.Plan.Tests[i]
	step := logic.Steps(s.Plan.Tests)[i]
	at, running := step.At, step.Running
	if i == s.Refusals() && s.Runs && s.Engine {
		at, running = s.startFor(logic), true // the start after the refusals
	}
	in := Instruction{At: test.To}
	if test.Kind == interlock.Refusal {
		in.Set, _ = s.changes(logic, at, test.To, false)
		return in
	}
	in.Was = test.From
	set, ok := s.changes(logic, at, test.From, running)
	if s.Engine && (!running || !ok) {
		in.Stop, in.Start = running, true
		start := step.Start
		if start == nil {
			start, _ = logic.StartState()
		}
		in.Restart, _ = s.changes(logic, at, start, false)
		set, _ = s.changes(logic, start, test.From, true)
	}
	in.Set = set
	if act, _ := s.changes(logic, test.From, test.To, false); len(act) == 1 {
		in.Act = act[0]
	}
	if back, _ := s.changes(logic, test.To, test.From, false); test.Return && len(back) == 1 {
		in.Back = back[0]
	}
	return in
}

// StartInstruction tells how to start the engine after the refusals.
func (s State) StartInstruction() Instruction {
	logic := s.Logic()
	at := logic.Positions(logic.Rest)
	if n := s.Refusals(); n > 0 {
		at = s.Plan.Tests[n-1].To
	}
	start := s.startFor(logic)
	set, _ := s.changes(logic, at, start, false)
	return Instruction{Set: set, Start: true, At: start}
}

// startFor is how the controls are set to start the engine after the refusals:
// as the first stop asks, or at rest where there is none.
func (s State) startFor(logic *interlock.Logic) map[string]bool {
	steps := logic.Steps(s.Plan.Tests)
	if n := s.Refusals(); n < len(steps) && steps[n].Start != nil {
		return steps[n].Start
	}
	start, _ := logic.StartState()
	return start
}

// changes lists the controls that differ, in an order that leads through no
// state the sheet rules out; ok is false if there is none, and the order then
// the sheet's.
func (s State) changes(logic *interlock.Logic, from, to map[string]bool, running bool) (out []Change, ok bool) {
	order, ok := logic.Way(from, to, running)
	if !ok {
		order = logic.Switches
	}
	for _, id := range order {
		if from[id] == to[id] {
			continue
		}
		sw := s.Switch(id)
		c := Change{Switch: id, Do: sw.Break, Made: to[id]}
		if c.Made {
			c.Do = sw.Make
		}
		out = append(out, c)
	}
	return out, ok
}

// Switch finds a switch of the unit's interlocks.
func (s State) Switch(id string) machine.Switch {
	switches := s.Section.Switches
	if i := slices.IndexFunc(switches, func(s machine.Switch) bool { return s.ID == id }); i >= 0 {
		return switches[i]
	}
	return machine.Switch{}
}
