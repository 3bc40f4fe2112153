package interlock

// A part of a round: the tests that are repeated after hands were at something.

import "slices"

// Part is the round of those tests of another that are kept, in their order, with
// the state in which the engine is started first. What it shows is what its tests
// catch.
func (l *Logic) Part(whole Plan, keep func(Test) bool) Plan {
	part := NoTests()
	w := newWalker(l.judge())
	for _, t := range whole.Tests {
		if !keep(t) {
			continue
		}
		part.Tests = append(part.Tests, t)
		for _, f := range t.Catches {
			if !slices.Contains(part.Dangerous, f) {
				part.Dangerous = append(part.Dangerous, f)
			}
		}
		effect, ok := l.watched(t.Kind, t.Permit)
		if !ok {
			continue
		}
		c := candidate{effect: int8(effect), engage: t.Kind == Engage, from: l.StateOf(t.From), to: l.StateOf(t.To), back: t.Return}
		if u, need := w.startFor(c); need && part.Start == nil {
			part.Start = l.Positions(u)
		}
		part.Movements += w.cost(c)
		w.do(c)
	}
	slices.Sort(part.Dangerous)
	return part
}

// Repeats reports whether a test shows a fault of what hands were at: a switch, or a
// permit with what it lets run.
func Repeats(t Test, touched []string) bool {
	return slices.Contains(touched, t.Permit) || slices.ContainsFunc(t.Catches, func(name string) bool {
		f := ReadFault(name)
		return slices.Contains(touched, f.On)
	})
}
