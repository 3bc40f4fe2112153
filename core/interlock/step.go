package interlock

// Step is how a test of a round is come to.
type Step struct {
	// At is how the controls stand before it, and Running whether the engine
	// runs.
	At      map[string]bool
	Running bool
	// Start is how they are set to start the engine first; nil if it need not
	// be.
	Start map[string]bool
}

// Steps goes through a round from rest. Tests that the sheet does not allow are
// not looked for: a plan is taken as it is.
func (l *Logic) Steps(tests []Test) []Step {
	b := &bench{logic: l, sound: l.with(nil)}
	b.cold = b.starts(false)
	w := walker{bench: b, at: l.Rest}
	var out []Step
	for _, t := range tests {
		c := candidate{from: l.StateOf(t.From), to: l.StateOf(t.To), back: t.Return}
		if effect, ok := l.watched(t.Kind, t.Permit); ok {
			c.effect = int8(effect)
		}
		step := Step{At: l.Positions(w.at), Running: w.running}
		if u, need := w.startFor(c); need && len(b.cold) > 0 {
			step.Start = l.Positions(u)
		}
		out = append(out, step)
		w.do(c)
	}
	return out
}

// Way is an order in which to move the controls from one state to another, so
// that none of the states between is one the sheet rules out; with the engine
// running, none in which it stops either. Of several the one that takes the
// controls in the sheet's order. ok is false if there is none.
func (l *Logic) Way(from, to map[string]bool, running bool) (order []string, ok bool) {
	start, end := l.StateOf(from), l.StateOf(to)
	reach := 0
	if running {
		reach = 1
	}
	runs := l.with(nil).runs
	barred := func(x State) bool {
		return x != end && (l.nowhere[reach].has(x) || running && !runs.has(x))
	}
	hopeless := map[State]bool{}
	var on func(x State) bool
	on = func(x State) bool {
		if x == end {
			return true
		}
		if hopeless[x] || x != start && barred(x) {
			return false
		}
		for i, name := range l.Switches {
			if bit := State(1) << i; (x^end)&bit != 0 {
				order = append(order, name)
				if on(x ^ bit) {
					return true
				}
				order = order[:len(order)-1]
			}
		}
		hopeless[x] = true
		return false
	}
	return order, on(start)
}
