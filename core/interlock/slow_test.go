package interlock

// slowly computes effects straight from their definitions: one state at a time,
// one expression at a time.
type slowly struct{ l *Logic }

// effect is whether something happens in state x with fault f present.
func (s slowly) effect(watch int, x State, in ...fault) bool {
	truth := func(p int) bool {
		if p < 0 {
			return true
		}
		seen := x
		for _, f := range in {
			if f.on == p && f.always > 0 {
				return f.always == 1
			}
			if f.on < 0 || f.on == p {
				seen = seen&^f.broken | f.made
			}
		}
		return s.l.permits[p].when.Eval(func(name string) bool { return seen>>s.l.index(name)&1 == 1 })
	}
	switch watch {
	case watchCranks:
		return truth(s.l.start)
	case watchRuns:
		return truth(s.l.run)
	}
	d := s.l.drives[watch]
	return truth(s.l.run) && truth(d) && truth(s.l.permits[d].turnedBy)
}
