package interlock

// The manual's own routine, as the sheet requires it.

import "vespers/core/machine"

// Asked is the test of the manual's own routine that a test of a plan is, if
// the sheet requires it.
func (l *Logic) Asked(t Test) (of machine.RequiredTest, asked bool) {
	b := l.judge()
	c, ok := b.legalOf(t)
	if !ok {
		return of, false
	}
	for _, r := range l.required {
		if own, ok := b.find(r); ok && own.same(c) {
			return r, true
		}
	}
	return of, false
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
