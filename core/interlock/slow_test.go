package interlock

import "vespers/core/text"

var zeroText = text.Text{EN: "none", ES: "ninguna"}

// slowly computes the same things as the planner straight from their
// definitions: one state at a time, one expression at a time.
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
	return truth(s.l.run) && truth(s.l.drives[watch])
}

func (s slowly) dangerous() (out []fault) {
	for _, f := range s.l.faults() {
		bad := f.restarts >= 0
		for x := range State(1 << len(s.l.Switches)) {
			for watch := watchCranks; watch < len(s.l.drives); watch++ {
				if s.effect(watch, x, f) && !s.effect(watch, x) {
					bad = true
				}
			}
		}
		if bad {
			out = append(out, f)
		}
	}
	return out
}

// tests lists every legal test and, beside it, the dangerous faults it shows.
func (s slowly) tests() (out []Test, catches []set) {
	l, dangerous := s.l, s.dangerous()
	states := State(1 << len(l.Switches))
	add := func(one Test, watch int, from, to State) {
		var c set
		for i, f := range dangerous {
			shown := s.effect(watch, to, f) && (one.Kind == Refusal || s.effect(watch, from, f))
			if shown || one.Return && f.restarts == watch {
				c.add(i)
			}
		}
		one.Catches = nil
		out, catches = append(out, one), append(catches, c)
	}
	if l.start >= 0 {
		for x := range states {
			if !l.nowhere[0].has(x) && !s.effect(watchCranks, x) {
				add(Test{Kind: Refusal, Permit: l.permits[l.start].id, To: l.Positions(x)}, watchCranks, 0, x)
			}
		}
	}
	runs := l.start < 0 && l.run < 0
	for u := range states {
		runs = runs || !l.nowhere[1].has(u) && s.effect(watchCranks, u) && s.effect(watchRuns, u)
	}
	if !runs {
		return out, catches
	}
	for f := range states {
		for i := range l.Switches {
			x := f ^ 1<<i
			if l.nowhere[1].has(f) || l.nowhere[1].has(x) {
				continue
			}
			for watch := watchRuns; watch < len(l.drives); watch++ {
				if watch == watchRuns && l.run < 0 || !s.effect(watch, f) || s.effect(watch, x) {
					continue
				}
				one := Test{Kind: EngineStop, From: l.Positions(f), To: l.Positions(x)}
				if watch == watchRuns {
					one.Permit = l.permits[l.run].id
					add(one, watch, f, x)
					continue
				}
				p := l.permits[l.drives[watch]]
				one.Kind, one.Permit = DriveStop, p.id
				add(one, watch, f, x)
				if p.latched && s.effect(watchRuns, x) && (p.latchedBy == 0 || p.latchedBy>>i&1 == 1) {
					one.Return = true
					add(one, watch, f, x)
				}
			}
		}
	}
	return out, catches
}
