package draw

// How far gone a thing is, as a small picture beside its words: the same look drawn a
// little gone, far gone, gone.

import (
	"math"

	"vespers/core/machine"
)

// The frame of a fault's picture.
const faultW, faultH = 48.0, 32.0

// FaultPicture draws how a fault looks; false where its sheet names no look.
func FaultPicture(f machine.Fault) (Scene, bool) {
	look := f.Looks
	if f.HoseBody {
		look = "hose"
	}
	draw, ok := looks[look]
	if !ok {
		return Scene{}, false
	}
	s := Scene{W: faultW, H: faultH}
	draw(&s, gone(f.Extent))
	return s, true
}

// gone is an extent from 1, early, to 3, lost.
func gone(e machine.Extent) int {
	switch e {
	case machine.Early:
		return 1
	case machine.Degraded:
		return 2
	}
	return 3
}

// looks draw each look of machine.Looks.
var looks = map[string]func(s *Scene, gone int){
	"leak": func(s *Scene, gone int) {
		s.rect("fault-part", 2, 8, 18, 8, 1)
		s.rect("fault-part", 20, 5, 10, 14, 1)
		s.rect("fault-part", 30, 8, 16, 8, 1)
		switch gone {
		case 1:
			s.line("fault-wet", 21, 21, 29, 21)
		case 2:
			s.circle("fault-drop", 25, 23, 1.6)
			s.circle("fault-drop", 25, 29, 2.2)
		default:
			s.line("fault-wet", 25, 19, 25, 28)
			s.line("fault-wet", 12, 30, 38, 30)
		}
	},
	// The hose itself, not the fitting: it is wet along its body.
	"hose": func(s *Scene, gone int) {
		s.rect("fault-part", 18, 8, 28, 8, 1)
		s.path("fault-part", "M18 12H2")
		s.line("fault-wet", 24, 19, 24+6*float64(gone), 19)
		s.circle("fault-drop", 30, 26, 1.6)
	},
	"crack": func(s *Scene, gone int) {
		s.rect("fault-part", 3, 4, 42, 24, 2)
		path := "M24 4L21 10"
		if gone > 1 {
			path += "L27 16L23 20"
		}
		if gone > 2 {
			path += "L26 24L22 28"
		}
		s.path("fault-line", path)
	},
	"wear": func(s *Scene, gone int) {
		// A block against what it was, worn from the right.
		from := 44 - 9*float64(gone)
		s.path("fault-part", "M4 6H"+n(from)+"L"+n(from-4)+" 26H4Z")
		s.path("fault-was", "M"+n(from)+" 6H44V26H"+n(from-4))
	},
	"cord": func(s *Scene, gone int) {
		for i := range 3 {
			y := 9 + 7*float64(i)
			if i < gone {
				s.line("fault-line", 3, y, 19, y)
				s.line("fault-line", 29, y, 45, y)
				continue
			}
			s.line("fault-line", 3, y, 45, y)
		}
	},
	"torn": func(s *Scene, gone int) {
		deep := n(4 + 8*float64(gone))
		s.path("fault-part", "M4 4H20L24 "+deep+"L28 4H44V28H4Z")
	},
	"loose": func(s *Scene, gone int) {
		// A nut whose stripe has left the one on the plate.
		s.line("fault-line", 34, 16, 45, 16)
		if gone == 3 {
			s.circle("fault-was", 22, 16, 10)
			return
		}
		s.circle("fault-part", 22, 16, 10)
		turn := 0.5 * float64(gone*gone) // radians
		s.line("fault-line", 22, 16, 22+10*math.Cos(turn), 16+10*math.Sin(turn))
	},
	"missing": func(s *Scene, gone int) {
		for i := range 3 {
			class := "fault-part"
			if i >= 3-gone {
				class = "fault-was"
			}
			s.rect(class, 4+14*float64(i), 8, 11, 16, 1)
		}
	},
	"packed": func(s *Scene, gone int) {
		for i := range 7 {
			s.line("fault-line", 6+6*float64(i), 4, 6+6*float64(i), 28)
		}
		full := 8 * float64(gone)
		s.rect("fault-dirt", 3, 28-full, 42, full, 0)
	},
}
