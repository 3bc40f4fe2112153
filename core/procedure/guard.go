package procedure

// What keeps each hazard away: the first place where something has to, and what it
// is. Without these the hazard is reached, so the proof is not empty.

import "slices"

// guard looks, in a state, for hazards that some step would reach if it were
// answered now, against what forbids it.
func (x *explorer) guard(n int32) {
	s, m := x.states.list[n], x.m
	if !s.o.none() {
		x.guardRun(n, s, s.o.run())
		return
	}
	for r := range m.events {
		x.guardRun(n, s, r)
	}
}

// attempt is an answer given against what forbids it.
type attempt struct {
	answer answer
	over   bool // the wait, if there is one, is over
	asked  bool // the question is asked: false is "done" to a step that has one
}

// attempts of a step, those that go against least first.
func (m *model) attempts(s *step, w world) (out []attempt) {
	_, begun := m.needed(s, w)
	kinds := s.answers
	if s.answers[0] != done && s.answers[0] != waited {
		kinds = append(slices.Clone(kinds), done)
	}
	for _, over := range []bool{true, false} {
		if over && !begun || !over && s.wait == nil {
			continue
		}
		for _, a := range kinds {
			out = append(out, attempt{a, over, a != done || s.answers[0] == done})
		}
	}
	return out
}

func (x *explorer) guardRun(n int32, s state, run int) {
	m := x.m
	r := &m.runs[run]
	open := s.o
	if open.none() {
		open = m.settle(s.w, opened(run, 0))
	}
	for i := range r.steps {
		st := &r.steps[i]
		if open.done()>>i&1 == 1 || !x.news(st.could) || m.passedOver(st, s.w) {
			continue
		}
		for _, a := range m.attempts(st, s.w) {
			reach := m.give(s.w, run, st, a.answer, a.over).reach
			if !x.news(reach) {
				continue
			}
			guards := x.against(s, open, run, i, a)
			if len(guards) == 0 {
				continue // it may be answered: that is a hazard reached, not one kept away
			}
			for h := range m.hazards {
				if reach.has(h) && !x.guarded.has(h) {
					x.guarded.add(h)
					found := x.found(m.hazards[h].id)
					found.Applies, found.Guards = true, guards
					found.WithoutGuards = x.path(n)
					if s.o.none() {
						found.WithoutGuards = append(found.WithoutGuards, r.id+"/begin")
					}
					found.WithoutGuards = append(found.WithoutGuards, r.id+"/"+st.id+"="+a.answer.String())
				}
			}
		}
	}
}

// news reports whether some of the hazards has no guards yet.
func (x *explorer) news(hazards hazardSet) bool {
	for i := range hazards {
		if hazards[i]&^x.guarded[i] != 0 {
			return true
		}
	}
	return false
}

// against lists what forbids an attempt.
func (x *explorer) against(s state, o open, run, i int, a attempt) (out []string) {
	m := x.m
	r := &m.runs[run]
	st := &r.steps[i]
	fact := func(c condition) string { return m.layout.facts[c.fact].ID }
	if s.o.none() {
		for _, c := range r.begin {
			if !m.layout.meets(s.w, c) {
				out = append(out, r.id+".begin."+fact(c))
			}
		}
	}
	if !m.mayFill(s.w, o, i) {
		for j := range i {
			if o.done()>>j&1 == 0 && !m.passedOver(&r.steps[j], s.w) {
				out = append(out, r.id+"/"+r.steps[j].id)
			}
		}
	}
	at := r.id + "/" + st.id
	for _, c := range st.needs {
		if !m.layout.meets(s.w, c) {
			out = append(out, at+".needs."+fact(c))
		}
	}
	if !a.over {
		out = append(out, at+".wait")
	}
	if !a.asked {
		out = append(out, at+".answer")
	}
	return out
}

// mayFill reports whether a later step may be answered although steps before it are
// open.
func (m *model) mayFill(w world, o open, i int) bool {
	now := m.current(o)
	if now < 0 || now >= i {
		return false
	}
	current := &m.runs[o.run()].steps[now]
	return current.wait != nil && m.layout.all(w, current.needs) && m.fills(w, o, now, i)
}

// without takes guards away: what a procedure begins with, needs, waits, questions,
// and, of steps before, that they have to be first.
func (m *model) without(guards []string) {
	for i := range m.runs {
		r := &m.runs[i]
		r.begin = slices.DeleteFunc(r.begin, func(c condition) bool {
			return slices.Contains(guards, r.id+".begin."+m.layout.facts[c.fact].ID)
		})
		var free uint64
		for j := range r.steps {
			s := &r.steps[j]
			at := r.id + "/" + s.id
			if slices.Contains(guards, at) {
				free |= 1 << j
			}
			s.needs = slices.DeleteFunc(s.needs, func(c condition) bool {
				return slices.Contains(guards, at+".needs."+m.layout.facts[c.fact].ID)
			})
			if slices.Contains(guards, at+".wait") {
				s.wait = nil
				if s.answers[0] == waited {
					s.answers = []answer{done}
				}
			}
			if slices.Contains(guards, at+".answer") {
				s.answers = []answer{done}
			}
		}
		for j := range r.steps {
			r.steps[j].free = free & (1<<j - 1)
		}
	}
}
