package outing

import (
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// Instruction is what to do for one test, or to start the engine: controls to
// move, then the act that is watched.
type Instruction struct {
	// Restart lists what to set before the engine is started again; Start says
	// that it has to be.
	Restart []Change
	Start   bool
	// Set lists what to set before the act.
	Set []Change
	// Act is the one change of a stop test; the zero Change for a refusal,
	// where the act is turning the key.
	Act Change
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
func (u *UnitState) Instruction(i int) Instruction {
	logic, _ := interlock.Compile(u.Sheet.Interlock)
	test := u.Round.Plan.Tests[i]
	at, running := u.before(logic, i)
	in := Instruction{At: test.To}
	if test.Kind == interlock.Refusal {
		in.Set = u.changes(at, test.To)
		return in
	}
	in.Was = test.From
	if !running && u.Sheet.HasEngine() {
		start, _ := logic.StartState()
		in.Start, in.Restart = true, u.changes(at, start)
		at = start
	}
	in.Set = u.changes(at, test.From)
	if act := u.changes(test.From, test.To); len(act) == 1 {
		in.Act = act[0]
	}
	return in
}

// StartInstruction tells how to start the engine after the refusals.
func (u *UnitState) StartInstruction() Instruction {
	logic, _ := interlock.Compile(u.Sheet.Interlock)
	at, _ := u.before(logic, u.Round.refusals())
	start, _ := logic.StartState()
	return Instruction{Set: u.changes(at, start), Start: true, At: start}
}

// before is how the controls stand when test i begins, and whether the engine
// runs then. The first stop follows the start.
func (u *UnitState) before(logic *interlock.Logic, i int) (map[string]bool, bool) {
	refusals := u.Round.refusals()
	if i == refusals && u.Round.Runs {
		start, _ := logic.StartState()
		return start, true
	}
	if i == 0 {
		return logic.Positions(logic.Rest), false
	}
	last := u.Round.Plan.Tests[i-1]
	at := last.To
	if last.Return {
		at = last.From
	}
	return at, i > refusals && logic.Runs(at)
}

// changes lists the controls that differ, in the sheet's order.
func (u *UnitState) changes(from, to map[string]bool) []Change {
	var out []Change
	for _, s := range u.Sheet.Interlock.Switches {
		if from[s.ID] == to[s.ID] {
			continue
		}
		c := Change{Switch: s.ID, Do: s.Break, Made: to[s.ID]}
		if c.Made {
			c.Do = s.Make
		}
		out = append(out, c)
	}
	return out
}

// Switch finds a switch of the unit's interlocks.
func (u *UnitState) Switch(id string) machine.Switch {
	for _, s := range u.Sheet.Interlock.Switches {
		if s.ID == id {
			return s
		}
	}
	return machine.Switch{}
}
