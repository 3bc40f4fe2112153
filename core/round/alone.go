package round

// One test by itself, for who looks for the fault behind a failed round.

import "vespers/core/interlock"

// Alone tells a test that is done with no round around it. The engine is off
// first and nothing moves; then every control is set as in stand, wherever it
// stood: nobody knows what a machine that failed was left like. What the
// instruction says comes after that.
func (s State) Alone(test interlock.Test) (stand map[string]bool, in Instruction) {
	g := s.Logic().Guide()
	stand = g.At()
	in = s.test(g, test, nil)
	before := &in.Set
	if in.Start {
		before = &in.Restart
	}
	var rest []Change // what works no contact is told as ever
	for _, c := range *before {
		if c.Switch == "" || c.Held {
			rest = append(rest, c)
			continue
		}
		stand[c.Switch] = c.Made
	}
	*before, in.Stop = rest, false
	return stand, in
}
