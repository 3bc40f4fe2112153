package round

// What the controls of a round say of a machine otherwise.

import (
	"maps"
	"slices"

	"vespers/core/machine"
)

// Tells is how facts stand by the controls as they are set for the next step; whoever runs
// the round has said that they are in their place.
func (s State) Tells() machine.Facts {
	facts := machine.Facts{"person": "in_place"}
	at := s.Now().At
	for i := range s.Section.Switches {
		if sw := &s.Section.Switches[i]; at[sw.ID] {
			maps.Copy(facts, sw.Makes)
		}
	}
	return facts
}

// ToStart is what to set before the engine is started by its procedure: without what
// springs back when it is let go, which is held as it is started.
func (s State) ToStart() Instruction {
	in := s.Now()
	in.Set = slices.DeleteFunc(in.Set, func(c Change) bool {
		held := ""
		if c.Switch != "" {
			held = s.Section.Switch(c.Switch).Held
		}
		return held != "" && c.Made == (held == "made")
	})
	return in
}
