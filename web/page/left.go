package page

// What a yard's own model does without, in words.

import "vespers/core/machine"

// LeftWords is a point that a model does without, and why.
type LeftWords struct {
	Words   string
	Matters bool // it is told at every release
}

// LeftOut are the points that a sheet does without, by who made it; those alone that
// matter at a release, where only they are asked for.
func (v *Visit) LeftOut(s *machine.Sheet, mattering bool) (out []LeftWords) {
	if s == nil || s.Made == nil {
		return nil
	}
	for _, l := range s.Made.Left {
		if matters := l.Matters(); matters || !mattering {
			out = append(out, LeftWords{v.T("own.left."+l.Kind, "point", v.Text(l.Name), "why", l.Why), matters})
		}
	}
	return out
}

// HouseNumbers says how many numbers of a yard's own model are not from its manual; ""
// for none.
func (v *Visit) HouseNumbers(s *machine.Sheet) string {
	if s.Made == nil {
		return ""
	}
	if n := len(s.Copy().Figures()) - len(s.Made.Pages); n > 0 {
		return v.T("own.release_kept", "n", n)
	}
	return ""
}
