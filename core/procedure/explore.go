package procedure

// Check follows every way through every procedure of a sheet.

import (
	"slices"

	"vespers/core/machine"
)

// Report is what Check found.
type Report struct {
	Sheet       string `json:"sheet"`
	States      int    `json:"states"`
	Transitions int    `json:"transitions"`
	// Complete is false where there were more states than are followed.
	Complete     bool          `json:"complete"`
	Hazards      []HazardFound `json:"hazards"`
	DeadEnds     []DeadEnd     `json:"dead_ends"`
	NeverReached []string      `json:"never_reached"`
}

// HazardFound is what was found of one hazard.
type HazardFound struct {
	ID string `json:"id"`
	// Applies: the machine has its facts, and only guards keep it from being reached.
	Applies bool `json:"applies"`
	Holds   bool `json:"holds"`
	// Path is the shortest way to it; nil where there is none.
	Path []string `json:"path"`
	// Guards are what keeps it away, where first something has to; WithoutGuards is
	// the way there and the answer that would reach it.
	Guards        []string `json:"guards"`
	WithoutGuards []string `json:"without_guards"`
}

// DeadEnd is a step that cannot be answered and that nothing in its procedure
// mends.
type DeadEnd struct {
	At      string   `json:"at"`
	Because []string `json:"because"` // how the facts stand that stop it
	Path    []string `json:"path"`
}

// Sound reports whether every hazard is kept away, everything was followed, and no
// step is a dead end.
func (r *Report) Sound() bool {
	return r.Complete && len(r.DeadEnds) == 0 && !slices.ContainsFunc(r.Hazards, func(h HazardFound) bool { return !h.Holds })
}

// StatesMost is how many states of a sheet are followed at most.
const StatesMost = 1_000_000

// Check follows everything from the first values of all facts: every procedure,
// every answer, leaving and every event at every moment, for each combination of
// the options and house rules that steps name. The sheet must have no problems.
func Check(s *machine.Sheet) *Report {
	return check(s, nil, "")
}

// check is Check with guards taken away, if any are given, which ends as soon as a
// hazard is reached, if one is named.
func check(s *machine.Sheet, without []string, until string) *Report {
	r := &Report{Sheet: s.ID, Complete: true, DeadEnds: []DeadEnd{}, NeverReached: []string{}}
	for _, h := range every(s) {
		r.Hazards = append(r.Hazards, HazardFound{ID: h.ID, Holds: true, Guards: []string{}})
	}
	answered := map[string]bool{}
	for _, way := range ways(s) {
		m := newModel(s, way)
		m.without(without)
		x := &explorer{m: m, report: r, states: newStates(), most: StatesMost - r.States, answered: answered, stacks: [][]int{nil}, until: until}
		x.explore()
		if !r.Complete || x.over {
			break
		}
	}
	never := func(run string, steps []machine.Step) {
		for i := range steps {
			if at := run + "/" + steps[i].ID; !answered[at] {
				r.NeverReached = append(r.NeverReached, at)
			}
		}
	}
	for _, p := range s.Procedures {
		never(p.ID, p.Steps)
	}
	for _, e := range s.Events {
		never(eventID(e.ID), e.Steps)
	}
	return r
}

// moveKind is the kind of a transition.
type moveKind uint8

const (
	began moveKind = iota
	answered
	answeredOpen // a no with a finding that opened the outing too
	ended
	happened
	outed
	grewHot
	leftIt
	handedOver
)

// move is one transition.
type move struct {
	kind moveKind
	run  uint8 // of outed, the part of the outing
	step uint8
	with answer
}

// explorer follows one way, breadth first.
type explorer struct {
	m        *model
	report   *Report
	states   *states
	from     []int32 // the state each was first seen from
	by       []move
	most     int
	stacks   [][]int // events that wait under an open one, by the number of their stack
	answered map[string]bool
	seen     map[[2]int]bool // run and step that were answered
	reached  hazardSet
	guarded  hazardSet
	dead     map[[2]int]bool
	until    string // a hazard that ends it all
	over     bool
}

func (x *explorer) explore() {
	x.seen, x.dead = map[[2]int]bool{}, map[[2]int]bool{}
	x.adopt()
	x.add(state{}, -1, move{})
	for i := 0; i < len(x.states.list) && !x.over; i++ {
		if len(x.states.list) > x.most {
			x.report.Complete = false
			break
		}
		x.guard(int32(i))
		x.expand(int32(i))
	}
	x.report.States += len(x.states.list)
	for at := range x.seen {
		r := &x.m.runs[at[0]]
		x.answered[r.id+"/"+r.steps[at[1]].id] = true
	}
}

// adopt leaves alone what another way has shown already.
func (x *explorer) adopt() {
	for i, h := range x.m.hazards {
		found := x.found(h.id)
		if found.Path != nil {
			x.reached.add(i)
		}
		if found.Applies {
			x.guarded.add(i)
		}
	}
	for _, d := range x.report.DeadEnds {
		for r := range x.m.runs {
			for s := range x.m.runs[r].steps {
				if d.At == x.m.runs[r].id+"/"+x.m.runs[r].steps[s].id {
					x.dead[[2]int{r, s}] = true
				}
			}
		}
	}
}

func (x *explorer) found(id string) *HazardFound {
	return &x.report.Hazards[slices.IndexFunc(x.report.Hazards, func(h HazardFound) bool { return h.ID == id })]
}

// add numbers a state, settled, and remembers how it was first reached.
func (x *explorer) add(s state, from int32, by move) {
	s.o = x.m.settle(s.w, s.o)
	if _, fresh := x.states.add(s); fresh {
		x.from = append(x.from, from)
		x.by = append(x.by, by)
	}
}

// to goes on to a state by a transition.
func (x *explorer) to(s state, from int32, by move) {
	x.report.Transitions++
	x.add(s, from, by)
}

// expand follows every transition of a state.
func (x *explorer) expand(n int32) {
	s, m := x.states.list[n], x.m
	inEvent := false
	switch {
	case s.o.none():
		x.begin(n, s)
		x.outing(n, s)
	default:
		inEvent = m.runs[s.o.run()].event
		if m.current(s.o) < 0 {
			x.end(n, s, move{kind: ended, run: uint8(s.o.run())})
		} else if !m.offered(s.w, s.o, func(step int) { x.answer(n, s, step) }) {
			x.deadEnd(n, s)
		}
	}
	if m.is(s.w, m.engine, isRunning) && m.is(s.w, m.metal, isCool) {
		x.to(state{m.layout.put(s.w, m.metal, isHot), s.o}, n, move{kind: grewHot})
	}
	after := open(0)
	if inEvent { // it starts again at its own first step
		after = s.o.with(0)
	}
	left := m.left(s.w)
	x.to(state{left, after}, n, move{kind: leftIt})
	x.to(state{m.outingTo(left, isOpen), after}, n, move{kind: handedOver})
	if inEvent {
		return
	}
	for r := m.events; r < len(m.runs); r++ {
		if m.layout.all(s.w, m.runs[r].begin) {
			x.to(state{m.happen(s.w, &m.runs[r]), opened(r, 0)}, n, move{kind: happened, run: uint8(r)})
		}
	}
}

func (x *explorer) begin(n int32, s state) {
	for r := range x.m.events {
		if x.m.layout.all(s.w, x.m.runs[r].begin) {
			x.to(state{s.w, opened(r, 0)}, n, move{kind: began, run: uint8(r)})
		}
	}
}

// outing moves between procedures: the walk and the refusals with the engine off,
// then the stops and the release with it running. What has no engine that a round
// starts is released as it stands.
func (x *explorer) outing(n int32, s state) {
	m := x.m
	for part, fact := range m.outing {
		before := part == 0 || m.is(s.w, m.outing[part-1], isPassed)
		engine := isOff
		if part >= 2 {
			engine = isRunning
		}
		asItStands := part >= 2 && engineless(m.sheet)
		if before && (asItStands || m.is(s.w, m.engine, engine)) && !m.is(s.w, fact, isPassed) {
			x.to(state{m.layout.put(s.w, fact, isPassed), s.o}, n, move{kind: outed, run: uint8(part)})
		}
	}
}

// engineless reports whether no round of a sheet starts an engine: a battery tool, a
// trailer. What is carried shares its carrier's.
func engineless(s *machine.Sheet) bool {
	return s.Carrier == nil && (s.Power == "none" || len(s.Interlock.Permits) > 0 && !s.HasEngine())
}

// answer follows each answer of a step.
func (x *explorer) answer(n int32, s state, step int) {
	m, run := x.m, s.o.run()
	st := &m.runs[run].steps[step]
	x.seen[[2]int{run, step}] = true
	for _, a := range st.answers {
		g := m.give(s.w, run, st, a, true)
		by := move{kind: answered, run: uint8(run), step: uint8(step), with: a}
		x.reach(n, by, g.reach)
		x.lead(n, s, state{g.after, s.o}, st, step, a, by)
		if !a.good() && st.of.No.Finding != nil {
			by.kind = answeredOpen
			x.lead(n, s, state{m.outingTo(g.after, isOpen), s.o}, st, step, a, by)
			if m.halts {
				x.lead(n, s, state{m.outingTo(g.after, isHalt), s.o}, st, step, a, by)
			}
		}
	}
}

// lead follows an answer to where it leads.
func (x *explorer) lead(n int32, s, after state, st *step, i int, a answer, by move) {
	behind := s.o.done()
	then := "next"
	if !a.good() {
		then = st.then
	}
	switch then {
	case "next":
		after.o = s.o.with(behind | 1<<i)
	case "back":
		after.o = s.o.with(behind &^ (^uint64(0) << st.target))
	case "stop":
		x.end(n, after, by)
		return
	case "event":
		r := &x.m.runs[st.target]
		after.w = x.m.happen(after.w, r)
		after.o = opened(st.target, x.push(s.o, st.target))
	}
	x.to(after, n, by)
}

// push puts an open event under another that begins at once; a procedure is closed.
func (x *explorer) push(o open, next int) uint8 {
	if !x.m.runs[o.run()].event {
		return 0
	}
	return x.stack(pushed(x.stacks[o.stack()], o.run(), next))
}

// stack is the number under which a list of waiting events is kept.
func (x *explorer) stack(waiting []int) uint8 {
	for i, s := range x.stacks {
		if slices.Equal(s, waiting) {
			return uint8(i)
		}
	}
	if len(x.stacks) == 1<<stackBits {
		x.report.Complete = false
		return 0
	}
	x.stacks = append(x.stacks, slices.Clone(waiting))
	return uint8(len(x.stacks) - 1)
}

// end ends a procedure or event; what waits under an event begins again.
func (x *explorer) end(n int32, s state, by move) {
	m := x.m
	next := open(0)
	if m.runs[s.o.run()].event {
		x.reach(n, by, m.ended(s.w))
		if waiting := x.stacks[s.o.stack()]; len(waiting) > 0 {
			top := waiting[len(waiting)-1]
			next = opened(top, x.stack(waiting[:len(waiting)-1]))
		}
	}
	x.to(state{m.left(s.w), next}, n, by)
}

// reach notes hazards that are reached for the first time.
func (x *explorer) reach(n int32, by move, hazards hazardSet) {
	for i := range x.m.hazards {
		if hazards.has(i) && !x.reached.has(i) {
			x.reached.add(i)
			found := x.found(x.m.hazards[i].id)
			found.Applies, found.Holds = true, false
			found.Path = append(x.path(n), x.name(by)...)
			x.guarded.add(i)
			x.over = x.over || found.ID == x.until
		}
	}
}

func (x *explorer) deadEnd(n int32, s state) {
	m := x.m
	at := [2]int{s.o.run(), m.current(s.o)}
	if x.dead[at] {
		return
	}
	x.dead[at] = true
	r := &m.runs[at[0]]
	st := &r.steps[at[1]]
	d := DeadEnd{At: r.id + "/" + st.id, Because: []string{}, Path: x.path(n)}
	stands := func(fact int) {
		d.Because = append(d.Because, m.layout.facts[fact].ID+"="+m.layout.value(s.w, fact))
	}
	for _, c := range st.needs {
		if !m.layout.meets(s.w, c) {
			stands(c.fact)
		}
	}
	if _, begun := m.needed(st, s.w); !begun && len(d.Because) == 0 {
		stands(st.wait.fact)
	}
	x.report.DeadEnds = append(x.report.DeadEnds, d)
}

// path is the way to a state, in words.
func (x *explorer) path(n int32) []string {
	var back []move
	for ; x.from[n] >= 0; n = x.from[n] {
		back = append(back, x.by[n])
	}
	out := []string{}
	for _, by := range slices.Backward(back) {
		out = append(out, x.name(by)...)
	}
	return out
}

func (x *explorer) name(by move) []string {
	id := func() string { return x.m.runs[by.run].id }
	switch by.kind {
	case began:
		return []string{id() + "/begin"}
	case answered, answeredOpen:
		out := []string{id() + "/" + x.m.runs[by.run].steps[by.step].id + "=" + by.with.String()}
		if by.kind == answeredOpen {
			out = append(out, "outing/open")
		}
		return out
	case ended:
		return []string{id() + "/end"}
	case happened:
		return []string{id()}
	case outed:
		return []string{"outing/" + outingFacts[by.run]}
	case grewHot:
		return []string{"world/hot"}
	case leftIt:
		return []string{"world/leave"}
	}
	return []string{"world/hand_over"}
}
