package interlock

// candidate is a test of a plan in the planner's own terms. Whether the sheet
// allows it is not looked at: a plan is taken as it is.
func (l *Logic) candidate(t Test) candidate {
	c := candidate{from: l.StateOf(t.From), to: l.StateOf(t.To), engage: t.Kind == Engage, back: t.Return}
	if effect, ok := l.watched(t.Kind, t.Permit); ok {
		c.effect = int8(effect)
	}
	return c
}
