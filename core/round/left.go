package round

// A round that was left half done.

import "time"

// leftAfter is how long nothing may be said in a round before somebody could have
// moved the controls meanwhile (house rule).
const leftAfter = 10 * time.Minute

// WasLeft reports whether a round that is under way was left: for long, or because
// somebody else has the machine since. Nobody knows then how the controls stand:
// at is how they stood, and runs whether the engine did, for whoever goes on to
// look.
func (s State) WasLeft(now, since time.Time) (at map[string]bool, runs, left bool) {
	if !s.Begun || s.Step() == StepOver || now.Sub(s.last) < leftAfter && !since.After(s.last) {
		return nil, false, false
	}
	g, _ := s.guide()
	return g.At(), g.Running() && s.Engine, true
}

// UnderWay reports whether somebody is in the middle of the round.
func (s State) UnderWay() bool { return s.Begun && s.Step() != StepOver }
