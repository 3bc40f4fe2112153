package procedure

// The steps of a sheet as a person reads them, for one way of its options and of the
// house rules.

import "vespers/core/machine"

// Shown are those of some steps that are there.
func Shown(s *machine.Sheet, steps []machine.Step, way Way) (out []machine.Step) {
	for i := range steps {
		if there(&steps[i], s.Ways(way.Options), way.House) {
			out = append(out, steps[i])
		}
	}
	return out
}
