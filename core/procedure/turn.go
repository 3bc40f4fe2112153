package procedure

// What may be answered now, and what an answer does: the rules of one turn.

import (
	"math/bits"
	"slices"
	"time"
)

// open is which procedure or event is open, which of its steps are behind, and
// which events wait under it; zero is none.
type open uint64

const (
	runBits   = 8
	stackBits = 8
	stepsMost = 64 - runBits - stackBits
	runsMost  = 1<<runBits - 2
)

func opened(run int, stack uint8) open { return open(run+1) | open(stack)<<runBits }

func (o open) run() int     { return int(o&(1<<runBits-1)) - 1 }
func (o open) stack() uint8 { return uint8(o >> runBits) }
func (o open) done() uint64 { return uint64(o >> (runBits + stackBits)) }
func (o open) none() bool   { return o == 0 }
func (o open) with(done uint64) open {
	return o&(1<<(runBits+stackBits)-1) | open(done)<<(runBits+stackBits)
}

// passedOver reports whether a step is to be passed over as facts stand.
func (m *model) passedOver(s *step, w world) bool {
	return !m.layout.all(w, s.when) || !s.always && s.makes.facts != 0 && s.makes.holds(w)
}

// settle passes over what is to be passed over, up to the current step.
func (m *model) settle(w world, o open) open {
	if o.none() {
		return o
	}
	steps, behind := m.runs[o.run()].steps, o.done()
	for i := range steps {
		if behind>>i&1 == 1 {
			continue
		}
		if !m.passedOver(&steps[i], w) {
			break
		}
		behind |= 1 << i
	}
	return o.with(behind)
}

// current is the first open step of what is open; -1 where none is left.
func (m *model) current(o open) int {
	for i := range m.runs[o.run()].steps {
		if o.done()>>i&1 == 0 {
			return i
		}
	}
	return -1
}

// needed reports whether the needs of a step hold, and its wait has begun if it has
// one.
func (m *model) needed(s *step, w world) (needs, begun bool) {
	return m.layout.all(w, s.needs), s.wait == nil || m.layout.get(w, s.wait.fact) == s.wait.is
}

// fills reports whether a later step may be answered while the current one waits.
func (m *model) fills(w world, o open, current, later int) bool {
	steps := m.runs[o.run()].steps
	s := &steps[later]
	if s.wait != nil || s.answers[0] != done || m.passedOver(s, w) || !m.layout.all(w, s.needs) {
		return false
	}
	for i := current; i < later; i++ {
		between := &steps[i]
		if o.done()>>i&1 == 0 && (s.writes&(between.reads|between.writes) != 0 || s.reads&between.writes != 0) {
			return false
		}
	}
	return true
}

// offered calls see with each step that may be answered now, and reports whether
// there was any. What is open has been settled.
func (m *model) offered(w world, o open, see func(step int)) bool {
	now := m.current(o)
	steps := m.runs[o.run()].steps
	any := false
	for i := now + 1; i < len(steps); i++ { // only where guards were taken away
		if s := &steps[i]; s.free != 0 && o.done()>>i&1 == 0 && m.freed(w, o, i) {
			any = true
			see(i)
		}
	}
	needs, begun := m.needed(&steps[now], w)
	if !needs {
		return any
	}
	if begun {
		any = true
		see(now)
	}
	if steps[now].wait == nil {
		return any
	}
	for i := now + 1; i < len(steps); i++ {
		if o.done()>>i&1 == 0 && m.fills(w, o, now, i) {
			any = true
			see(i)
		}
	}
	return any
}

// freed reports whether a step may be answered although steps before it are open.
func (m *model) freed(w world, o open, i int) bool {
	steps := m.runs[o.run()].steps
	for j := range i {
		if o.done()>>j&1 == 0 && steps[i].free>>j&1 == 0 && !m.passedOver(&steps[j], w) {
			return false
		}
	}
	needs, begun := m.needed(&steps[i], w)
	return needs && begun && !m.passedOver(&steps[i], w)
}

// The values of facts by which others follow.
const (
	isOff, isRunning, isOn, isMoving = 0, 1, 1, 1
	isHot, isCool                    = 0, 1
	isBeside, isInPlace              = 1, 2
	isOutdoors, isOpenShed           = 3, 4
	isOpen, isHalt, isPassed         = 0, 1, 2
)

func (m *model) is(w world, fact, value int) bool {
	return fact >= 0 && m.layout.get(w, fact) == value
}

func (l *layout) put(w world, fact, value int) world {
	return world(uint64(w)&^(l.mask[fact]<<l.shift[fact]) | uint64(value)<<l.shift[fact])
}

// apply makes an effect, and what follows from it by itself unless the same effect
// says otherwise; it gives the facts that were set.
func (m *model) apply(w world, e effect) (after world, sets set) {
	after, sets = world(uint64(w)&^e.clear|e.to), e.facts
	follow := func(fact, value int) {
		if fact >= 0 && !e.facts.has(fact) && m.layout.get(after, fact) != value {
			after = m.layout.put(after, fact, value)
			sets |= 1 << fact
		}
	}
	if m.sets(e, m.travel) && m.is(after, m.travel, isMoving) {
		follow(m.level, 0)
		follow(m.place, 0)
	}
	if m.sets(e, m.engine) && m.is(after, m.engine, isOff) {
		for _, f := range m.proved {
			follow(f, 0)
		}
		follow(m.feeding, 0)
	}
	if m.sets(e, m.cutter) && m.is(after, m.cutter, isOff) {
		follow(m.feeding, 0)
	}
	if (m.sets(e, m.engine) || m.sets(e, m.cutter)) && m.is(after, m.engine, isRunning) && m.is(after, m.cutter, isOn) {
		follow(m.motion, 0)
	}
	return after, sets
}

func (m *model) sets(e effect, fact int) bool { return fact >= 0 && e.facts.has(fact) }

// left is how facts stand once nobody looks any more: after leaving, a hand-over, a
// long pause, the end of a procedure.
func (m *model) left(w world) world {
	for _, f := range []int{m.people, m.ignition, m.level} {
		if f >= 0 {
			w = m.layout.put(w, f, 0)
		}
	}
	if m.is(w, m.place, isOutdoors) || m.is(w, m.place, isOpenShed) {
		w = m.layout.put(w, m.place, 0)
	}
	if m.is(w, m.person, isInPlace) {
		w = m.layout.put(w, m.person, isBeside)
	}
	return w
}

// outingTo puts all four parts of the outing to a value.
func (m *model) outingTo(w world, value int) world {
	for _, f := range m.outing {
		w = m.layout.put(w, f, value)
	}
	return w
}

// pushed is what waits under an event that begins while another is open: each event
// once, the latest last.
func pushed(waiting []int, open, next int) []int {
	out := slices.DeleteFunc(slices.Clone(waiting), func(r int) bool { return r == next || r == open })
	if open != next {
		out = append(out, open)
	}
	return out
}

// length is how long a step waits that has a wait.
func (m *model) length(s *step) time.Duration {
	return time.Duration(Length(m.numbers, s.of.Wait).Amount().Quantity.Value * float64(time.Second))
}

// happen is how facts stand from the first moment of an event on.
func (m *model) happen(w world, r *run) world {
	w, _ = m.apply(w, r.world)
	switch {
	case r.after != "halt" && r.after != "return_only":
	case m.halts:
		w = m.outingTo(w, isHalt)
	default: // nothing tells it from open
		w = m.outingTo(w, isOpen)
	}
	return w
}

// given is one answer and what it does.
type given struct {
	after world
	sets  set
	reach hazardSet // the hazards that it reaches
}

// give answers a step. The answer, and whether its wait was over, may be other than
// the step has them: that is how guards are looked for.
func (m *model) give(w world, run int, s *step, a answer, over bool) given {
	e := s.makes
	if !a.good() {
		e = s.no
	}
	after, sets := m.apply(w, e)
	g := given{after: after, sets: sets}
	now := moment{after: after, answer: a}
	if over {
		now.waited = s.wait
	}
	before := now
	before.after = w
	var about hazardSet
	for f := sets; f != 0; f &= f - 1 {
		about.or(m.about[trailing(f)])
	}
	toEvent := !a.good() && s.then == "event"
	for i := range m.hazards {
		if !about.has(i) {
			continue
		}
		h := &m.hazards[i]
		if h.butTest && s.of.Test || h.away && m.runs[run].accepts.has(i) || h.at < 0 && toEvent {
			continue
		}
		if h.at >= 0 && h.is >= 0 && m.layout.get(after, h.at) != h.is {
			continue
		}
		if h.test.holds(m.layout, &now) && (h.at >= 0 || !h.test.holds(m.layout, &before)) {
			g.reach.add(i)
		}
	}
	return g
}

// ended are the hazards that an event ends with.
func (m *model) ended(w world) (reach hazardSet) {
	for i := range m.hazards {
		h := &m.hazards[i]
		if h.at < 0 && !h.away && h.test.holds(m.layout, &moment{after: w, answer: unanswered}) {
			reach.add(i)
		}
	}
	return reach
}

func trailing(f set) int { return bits.TrailingZeros64(uint64(f)) }
