package draw

// Where the controls are.

import (
	"strconv"

	"vespers/core/machine"
)

// Knob is a control as it is marked on its machine: a number to find it by in a
// list. Moved is one that the step at hand moves.
type Knob struct {
	Control machine.Control
	Number  int
	Moved   bool
}

// few is up to how many knobs are drawn large: the few of one step, not all that
// a machine has.
const few = 4

// Controls is a machine seen from above with knobs where its controls are; what
// has no place on the drawing is left out.
func Controls(sheet *machine.Sheet, knobs []Knob) Scene {
	s := Machine(sheet)
	unit := max(s.W, s.H) / 3.3
	side := 0.15 * unit
	if len(knobs) <= few {
		side = 0.26 * unit
	}
	left, top, right, bottom := s.X, s.Y, s.X+s.W, s.Y+s.H
	for _, k := range knobs {
		if len(k.Control.At) != 2 {
			continue
		}
		x, y := k.Control.At[0], k.Control.At[1]
		class := "knob"
		if k.Moved {
			class += " moved"
		}
		s.rect(class, x-side/2, y-side/2, side, side, side*0.28)
		s.plain("knob-number", x, y+side*0.26, strconv.Itoa(k.Number))
		s.Shapes[len(s.Shapes)-1].H = side * 0.72
		left, top = min(left, x-side), min(top, y-side)
		right, bottom = max(right, x+side), max(bottom, y+side)
	}
	s.X, s.Y, s.W, s.H = left, top, right-left, bottom-top
	return s
}
