package interlock

// Asked reports whether a test is one that the sheet requires: of the manual's
// own routine.
func (l *Logic) Asked(t Test) bool {
	b := &bench{logic: l, sound: l.with(nil), latches: l.latchNumbers()}
	b.cold = b.starts(false)
	c, ok := b.legalOf(t)
	if !ok {
		return false
	}
	for _, r := range l.required {
		if own, ok := b.find(r); ok && own.same(c) {
			return true
		}
	}
	return false
}

// OwnRoutine is how many tests the sheet requires, and how many dangerous
// faults these alone show.
func (l *Logic) OwnRoutine() (tests, caught int) {
	if len(l.required) == 0 {
		return 0, 0
	}
	b := newBench(l)
	var shown set
	own := newGoal(b).required
	for _, c := range own {
		shown = shown.union(b.catches(c))
	}
	return len(own), shown.count()
}

// latchNumbers marks the drives that are latched, for judging whether a test is
// legal without looking at faults.
func (l *Logic) latchNumbers() []int {
	out := make([]int, len(l.drives))
	for d, p := range l.drives {
		out[d] = -1
		if l.permits[p].latched {
			out[d] = 0
		}
	}
	return out
}
