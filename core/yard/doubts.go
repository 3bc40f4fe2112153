package yard

// How far off the instruments of the shed are, where nobody says another number; and what
// counts as beside a zone.

import "vespers/core/ground"

// doubts are the usual doubts of the numbers that somebody measures, by name: metres,
// degrees, kilograms, percent (trade practice).
var doubts = map[string]float64{
	"angle": 1, "drop": 0.005, "length": 0.005, "rise": 0.05, "run": 0.2, "percent": 2,
	"ramp_height": 0.01, "ramp_length": 0.01, "ramp_width": 0.01, "load_height": 0.05, "tongue": 5, "mass": 10, "strap_angle": 5,
}

// Doubted reports whether a number is measured, and so has a doubt to be said with it.
// Numbers from plates, signs and papers have none.
func Doubted(number string) bool { _, is := doubts[number]; return is }

// UsualDoubt is the usual doubt of a number that is measured.
func UsualDoubt(number string) float64 { return doubts[number] }

// near is how near something is to a zone that is named to who walks it, in metres
// (house rule).
const near = 2.0

// Beside are the things that stand in a zone or beside it.
func Beside(s *ground.Site, z *ground.Zone) (out []ground.Thing) {
	whole := z.Shape.Without(nil)
	for _, t := range s.Things {
		if whole.Distance(t.Shape) <= near+s.Doubt {
			out = append(out, t)
		}
	}
	return out
}
