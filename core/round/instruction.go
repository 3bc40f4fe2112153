package round

// How the controls are moved for the next step, from where they stand now.

import (
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
)

// Instruction is what to do for one step: controls to move, then the act that is
// watched.
type Instruction struct {
	// Stop says that the running engine has to be switched off first, because
	// the controls cannot be moved with it running.
	Stop bool
	// Restart lists what to set before the engine is started; Start says that it
	// has to be.
	Restart []Change
	Start   bool
	// Set lists what to set before the act.
	Set []Change
	// Act is the one change of an engage or stop; the zero Change for a refusal,
	// where the act is turning the key. Back is the same control put back,
	// where the test asks for it.
	Act, Back Change
	// At is how the controls stand when the result is seen.
	At map[string]bool
	// Was is how they stood when the effect had to be there, or not (engages and
	// stops).
	Was map[string]bool
	// Speed is how fast the engine runs, or the machine creeps, meanwhile.
	Speed machine.Speed
	// Permit is what is watched: of a test, or of a drive that is let move.
	Permit string
	// Cautions are those of the manual's test and of what moves.
	Cautions []text.Text
}

// Change is one control moved.
type Change struct {
	Switch  string
	Do      text.Text
	Caution text.Text
	Made    bool
}

// deed is something that was done in the round, which left the controls
// somewhere. Came says that it came so far: the engine ran, the change was made.
type deed struct {
	step   Step
	test   int
	permit string
	came   bool
}

// guide stands where everything done so far has left the controls, if it was
// done as it was told.
func (s State) guide() *interlock.Guide {
	g := s.Logic().Guide()
	for _, d := range s.done {
		switch d.step {
		case StepStart:
			g.ToStart(s.start())
			if !d.came {
				g.Off()
			}
		case StepShow:
			g.ToMove(d.permit)
		case StepTest:
			test := s.Plan.Tests[d.test]
			g.Approach(test)
			switch {
			case d.came:
				g.Act(test)
				if test.Return {
					g.Back(test)
				}
			case test.Kind == interlock.EngineStop:
				g.Off() // it was not running
			}
		}
	}
	return g
}

// start is how the controls are set to start the engine after the refusals.
func (s State) start() map[string]bool {
	if s.Plan.Start != nil {
		return s.Plan.Start
	}
	start, _ := s.Logic().StartState()
	return start
}

// Now tells what to do for the step that comes next.
func (s State) Now() Instruction {
	g := s.guide()
	switch s.Step() {
	case StepStart:
		in := s.told(g.ToStart(s.start()))
		in.Stop, in.Start, in.Set, in.Restart = false, true, in.Restart, nil
		in.At, in.Permit = g.At(), s.permitOf("start")
		return in
	case StepTest:
		return s.test(g, s.Plan.Tests[s.Next()])
	case StepShow:
		permit := s.Unshown()
		a, _ := g.ToMove(permit)
		in, one := s.told(a), interlock.Test{Kind: interlock.DriveStop, Permit: permit}
		in.At, in.Permit, in.Speed, in.Cautions = g.At(), permit, s.speed(one), s.cautions(one)
		return in
	case StepPutBack:
		a := interlock.Approach{}
		switch {
		case !s.Engine:
			a = g.Lay(g.Rest())
		case s.Running:
			a = g.ToStart(s.start())
		default:
			a = g.Lay(s.start())
		}
		in := s.told(a)
		in.At = g.At()
		return in
	}
	return Instruction{At: g.At()}
}

func (s State) test(g *interlock.Guide, test interlock.Test) Instruction {
	in := s.told(g.Approach(test))
	in.At, in.Permit, in.Cautions = test.To, test.Permit, s.cautions(test)
	if test.Kind == interlock.Refusal {
		return in
	}
	in.Was, in.Speed = test.From, s.speed(test)
	in.Act = s.change(g.Act(test))
	if test.Return {
		in.Back = s.change(g.Back(test))
	}
	return in
}

func (s State) told(a interlock.Approach) Instruction {
	return Instruction{Stop: a.Stop, Start: a.Start, Restart: s.changes(a.Restart), Set: s.changes(a.Set)}
}

func (s State) changes(moves []interlock.Move) (out []Change) {
	for _, m := range moves {
		out = append(out, s.change(m))
	}
	return out
}

func (s State) change(m interlock.Move) Change {
	sw := s.Section.Switch(m.Switch)
	c := Change{Switch: m.Switch, Do: sw.Break, Caution: sw.Caution, Made: m.Made}
	if c.Made {
		c.Do, c.Caution = sw.Make, text.Text{} // made is the safe side
	}
	return c
}

// cautions are those of a test and of what it watches.
func (s State) cautions(test interlock.Test) (out []text.Text) {
	if own, ok := s.Logic().Asked(test); ok && own.Caution != (text.Text{}) {
		out = append(out, own.Caution)
	}
	if caution := s.Section.Permit(test.Permit).Caution; caution != (text.Text{}) {
		out = append(out, caution)
	}
	return out
}

// speed is that of the manual's own test, else of the permit, else idle where
// nothing is to move and half throttle where something is (trade practice).
func (s State) speed(test interlock.Test) machine.Speed {
	if own, ok := s.Logic().Asked(test); ok && own.Speed != "" {
		return own.Speed
	}
	if speed := s.Section.Permit(test.Permit).TestSpeed; speed != "" {
		return speed
	}
	if test.Kind == interlock.Engage {
		return machine.Idle
	}
	return machine.Half
}

func (s State) permitOf(kind string) string {
	for _, p := range s.Section.Permits {
		if p.Kind == kind {
			return p.ID
		}
	}
	return ""
}
