package round

// What the controls of a round say of a machine otherwise.

import (
	"maps"

	"vespers/core/machine"
)

// Tells is how facts stand by the controls as they are set for the next step.
func (s State) Tells() machine.Facts {
	facts := machine.Facts{}
	at := s.Now().At
	for i := range s.Section.Switches {
		if sw := &s.Section.Switches[i]; at[sw.ID] {
			maps.Copy(facts, sw.Makes)
		}
	}
	return facts
}
