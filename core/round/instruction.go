package round

// How the controls are moved for the next step, from where they stand now.

import (
	"slices"

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
	// Stays are the controls that a refusal is about, where none is moved for it:
	// they are to stay as they are.
	Stays []string
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

// Change is one control moved: one that works the contact Switch, or else
// Control, which works none; neither, where it is no control at all (the belt).
type Change struct {
	Switch  string
	Control string
	Do      text.Text
	Caution text.Text
	Made    bool
	// Held: it stands so already, if nobody let it go; what springs back is held
	// again.
	Held bool
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
// done as it was told. Away are the permits whose own controls (a parking brake,
// a pin) do not rest: they are put back before the engine is started, and at the
// end.
func (s State) guide() (g *interlock.Guide, away []string) {
	g = s.Logic().Guide()
	went := func(a interlock.Approach, permit string) {
		if a.Start {
			away = nil
		}
		if len(s.Section.Permit(permit).First) > 0 && !slices.Contains(away, permit) {
			away = append(away, permit)
		}
	}
	for _, d := range s.done {
		switch d.step {
		case StepStart:
			went(g.ToStart(s.start()), "")
			if !d.came {
				g.Off()
			}
		case StepShow:
			a, _ := g.ToMove(d.permit)
			went(a, d.permit)
		case StepTest:
			test := s.Plan.Tests[d.test]
			went(g.Approach(test), test.Permit)
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
	return g, away
}

// first is what a permit needs that does not stand so yet; home what is away, put
// back.
func (s State) first(permit string, away []string) (out []Change) {
	for _, f := range s.Section.Permit(permit).First {
		if !s.standsAway(f.Control, away) {
			out = append(out, Change{Control: f.Control, Do: f.Do, Caution: f.Caution})
		}
	}
	return out
}

func (s State) standsAway(control string, away []string) bool {
	return slices.ContainsFunc(away, func(permit string) bool {
		return slices.ContainsFunc(s.Section.Permit(permit).First, func(f machine.First) bool { return f.Control == control })
	})
}

func (s State) home(away []string) (out []Change) {
	for _, permit := range away {
		for _, f := range s.Section.Permit(permit).First {
			if !slices.ContainsFunc(out, func(c Change) bool { return c.Control == f.Control }) {
				out = append(out, Change{Control: f.Control, Do: f.Back})
			}
		}
	}
	return out
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
	g, away := s.guide()
	switch s.Step() {
	case StepStart:
		in := s.told(g.ToStart(s.start()))
		in.Stop, in.Start, in.Set, in.Restart = false, true, append(s.home(away), in.Restart...), nil
		in.At, in.Permit = g.At(), s.permitOf("start")
		return in
	case StepTest:
		return s.test(g, s.Plan.Tests[s.Next()], away)
	case StepShow:
		permit := s.Unshown()
		a, _ := g.ToMove(permit)
		in, one := s.before(s.told(a), permit, away), interlock.Test{Kind: interlock.DriveStop, Permit: permit}
		in.Set = s.hold(in.Set, g.At())
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
		if s.Engine && !in.Start {
			in.Set = s.hold(in.Set, g.At()) // it may have been started just now
		}
		last := s.home(away)
		if own := s.Section.HowStarted(); own != nil && own.After != (text.Text{}) {
			last = append(last, Change{Do: own.After})
		}
		if in.Start {
			in.Restart = append(in.Restart, last...)
		} else {
			in.Set = append(in.Set, last...)
		}
		in.At = g.At()
		return in
	}
	return Instruction{At: g.At()}
}

// before adds what a permit needs: put back where the engine is started first, and
// moved before anything that asks for motion.
func (s State) before(in Instruction, permit string, away []string) Instruction {
	if in.Start {
		in.Restart, away = append(s.home(away), in.Restart...), nil
	}
	in.Set = append(s.first(permit, away), in.Set...)
	return in
}

func (s State) test(g *interlock.Guide, test interlock.Test, away []string) Instruction {
	in := s.before(s.told(g.Approach(test)), test.Permit, away)
	in.At, in.Permit, in.Cautions = test.To, test.Permit, s.cautions(test)
	if test.Kind == interlock.Refusal {
		in.Set = s.hold(in.Set, test.To)
		in.Stays = s.stays(test, in.Set)
		return in
	}
	in.Set = s.hold(in.Set, test.From)
	in.Was, in.Speed = test.From, s.speed(test)
	in.Act = s.change(g.Act(test))
	if test.Return {
		in.Back = s.change(g.Back(test))
	}
	return in
}

// stays are the contacts that keep the engine from cranking, each by itself,
// where none of them is moved for that.
func (s State) stays(test interlock.Test, set []Change) (out []string) {
	start := s.Logic().Permit(test.Permit)
	for _, sw := range s.Section.Switches {
		other := func(id string) bool { return test.To[id] != (id == sw.ID) }
		if !start.Eval(other) {
			continue
		}
		if slices.ContainsFunc(set, func(c Change) bool { return c.Switch == sw.ID }) {
			return nil
		}
		out = append(out, sw.ID)
	}
	return out
}

func (s State) told(a interlock.Approach) Instruction {
	in := Instruction{Stop: a.Stop, Start: a.Start, Restart: s.changes(a.Restart), Set: s.changes(a.Set)}
	if a.Start {
		in.Restart = s.hold(in.Restart, a.StartAt)
	}
	return in
}

// hold adds to changes, first, what has to be held while the controls stand as
// given and is not moved by them: a hand that answers on a screen has let go.
func (s State) hold(changes []Change, at map[string]bool) []Change {
	var out []Change
	for _, sw := range s.Section.Switches {
		moved := slices.ContainsFunc(changes, func(c Change) bool { return c.Switch == sw.ID })
		if sw.Held != "" && at[sw.ID] == (sw.Held == "made") && !moved {
			c := s.change(interlock.Move{Switch: sw.ID, Made: at[sw.ID]})
			c.Held = true
			out = append(out, c)
		}
	}
	return append(out, changes...)
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
