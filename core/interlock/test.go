package interlock

// A test: what is changed, what is watched, which faults it catches.

import (
	"slices"

	"vespers/core/machine"
)

// The kinds of test.
const (
	Refusal    = "refusal"
	Engage     = "engage"
	EngineStop = "engine_stop"
	DriveStop  = "drive_stop"
)

// Test is one thing to try. A refusal turns the key with the controls at To. The
// others bring the controls to From first and change one to To: a stop sees the
// effect there and gone, an engage sees that there is none, before and after.
type Test struct {
	Kind   string          `json:"kind"`
	Permit string          `json:"permit"`
	From   map[string]bool `json:"from"`
	To     map[string]bool `json:"to"`
	Return bool            `json:"return"`
	// Catches names the dangerous faults that the test shows.
	Catches []string `json:"catches"`
}

// candidate is a Test in the planner's own terms.
type candidate struct {
	effect   int8 // watchCranks, watchRuns, else place in drives
	engage   bool // the drive must not move, from the first
	back     bool
	required int8 // place among the required tests, from 1; 0 if it is not one
	from     State
	to       State
}

const (
	watchCranks = -2
	watchRuns   = -1
)

// first is how they stand when it begins.
func (c candidate) first() State {
	if c.effect == watchCranks {
		return c.to
	}
	return c.from
}

// end is how the controls stand when the test is done.
func (c candidate) end() State {
	if c.back {
		return c.from
	}
	return c.to
}

// moved is how many controls the test itself moves, from its first state on.
func (c candidate) moved() int {
	switch {
	case c.effect == watchCranks:
		return 0
	case c.back:
		return 2
	}
	return 1
}

// kind orders tests as rounds do: refusals, engages, stops.
func (c candidate) kind() int {
	switch {
	case c.effect == watchCranks:
		return 0
	case c.engage:
		return 1
	}
	return 2
}

// bench holds what the tests are judged by: the effects of a sound machine and
// the room for tests on it, every dangerous fault, and for each effect and state
// the faults that show in it.
type bench struct {
	logic     *Logic
	sound     effects
	field     *field
	dangerous []fault
	latches   []int   // by drive: the number of its restart fault, or -1
	cranks    []set   // by state
	runs      []set   // by state
	moves     [][]set // by drive, by state
}

func newBench(l *Logic) *bench {
	states := 1 << len(l.Switches)
	b := &bench{logic: l, sound: l.with(nil), cranks: make([]set, states), runs: make([]set, states)}
	b.field = newField(l, b.sound, false)
	for range l.drives {
		b.moves = append(b.moves, make([]set, states))
		b.latches = append(b.latches, -1)
	}
	for _, f := range l.faults() {
		with := l.with(condition{f})
		if !f.dangerous(b.sound, with) {
			continue
		}
		number := len(b.dangerous)
		b.dangerous = append(b.dangerous, f)
		if f.restarts >= 0 {
			b.latches[f.restarts] = number
		}
		mark(b.cranks, with.cranks, number)
		mark(b.runs, with.runs, number)
		for d := range l.drives {
			mark(b.moves[d], with.moves[d], number)
		}
	}
	return b
}

// judge is a bench that knows which tests are legal, and nothing of faults.
func (l *Logic) judge() *bench {
	b := &bench{logic: l, sound: l.with(nil)}
	b.field = newField(l, b.sound, false)
	return b
}

// mark notes fault number in every state where its table is true.
func mark(into []set, t table, number int) {
	t.each(func(x State) { into[x].add(number) })
}

// engine reports whether the machine has one of its own that must be started.
func (l *Logic) engine() bool { return l.start >= 0 || l.run >= 0 }

// each calls try with every legal test of a field.
func (f *field) each(try func(candidate)) {
	l := f.logic
	if l.start >= 0 {
		f.refusal.without(f.sound.cranks).each(func(x State) { try(candidate{effect: watchCranks, to: x}) })
	}
	f.ready.each(func(from State) {
		for i := range l.Switches {
			to := from ^ 1<<i
			if !f.mayMove(from, to) {
				continue
			}
			for effect := watchRuns; effect < len(l.drives); effect++ {
				c := candidate{effect: int8(effect), from: from, to: to}
				if f.stops(c) {
					try(c)
					if c.back = true; f.stops(c) {
						try(c)
					}
					continue
				}
				if c.engage = true; f.engages(c) {
					try(c)
				}
			}
		}
	})
}

// legal reports whether c is a test that a plan may contain.
func (f *field) legal(c candidate) bool {
	if c.effect == watchCranks {
		return f.logic.start >= 0 && !c.back && !c.engage && f.refusal.has(c.to) && !f.sound.cranks.has(c.to)
	}
	if distance(c.from, c.to) != 1 || !f.ready.has(c.from) || !f.mayMove(c.from, c.to) {
		return false
	}
	if c.engage {
		return f.engages(c)
	}
	return f.stops(c)
}

// stops: the effect is there, one switch is changed, and it is gone. A drive
// that is latched may be tried again by putting the switch back, while the
// engine runs on.
func (f *field) stops(c candidate) bool {
	if c.engage || !f.from.has(c.from) || !f.to[c.effect+1].has(c.to) {
		return false
	}
	if c.effect == watchRuns {
		return f.logic.run >= 0 && !c.back && f.sound.runs.has(c.from) && !f.sound.runs.has(c.to)
	}
	moves := f.sound.moves[c.effect]
	if !moves.has(c.from) || moves.has(c.to) {
		return false
	}
	p := f.logic.permits[f.logic.drives[c.effect]]
	return !c.back || p.latched && f.sound.runs.has(c.to) && (p.latchedBy == 0 || p.latchedBy&(c.from^c.to) != 0)
}

// engages: a safeguard stands that alone keeps the drive still, and then the
// demand is tried.
func (f *field) engages(c candidate) bool {
	l := f.logic
	demand := c.from ^ c.to
	if c.effect < 0 || c.back || !f.free && demand&(l.still|l.places) != 0 {
		return false
	}
	moves, open := f.sound.moves[c.effect], f.engage[c.effect]
	if moves.has(c.from) || moves.has(c.to) || !open.has(c.from) || !open.has(c.to) || !f.sound.runs.has(c.from) || !f.sound.runs.has(c.to) {
		return false
	}
	for i := range l.Switches {
		if g := State(1) << i; g != demand && moves.has(c.to^g) && !moves.has(c.from^g) {
			return true
		}
	}
	return false
}

// catches is every dangerous fault that c shows.
func (b *bench) catches(c candidate) set {
	switch {
	case c.effect == watchCranks:
		return b.cranks[c.to]
	case c.effect == watchRuns:
		return b.runs[c.from].meet(b.runs[c.to])
	case c.engage: // at once, or when the demand is tried and the engine has not gone off
		moves := b.moves[c.effect]
		return moves[c.from].union(moves[c.to].meet(b.runs[c.from]))
	}
	s := b.moves[c.effect][c.from].meet(b.moves[c.effect][c.to])
	if c.back {
		s.add(b.latches[c.effect])
	}
	return s
}

// required checks that the manual's own tests are legal ones.
func (c *compiler) required() {
	c.logic.required = c.section.Required
	if len(c.section.Required) == 0 {
		return
	}
	b := c.logic.judge()
	for i, r := range c.section.Required {
		if _, ok := b.find(r); !ok {
			c.add(ruleRequired.Says(), "required", i)
		}
	}
}

// find is the legal test that a required one, or one somebody wrote down,
// describes; a switch that is not named stands as at rest.
func (b *bench) find(r machine.RequiredTest) (candidate, bool) {
	l := b.logic
	to, okTo := l.position(r.To)
	from, okFrom := l.position(r.From)
	effect, okPermit := l.watched(r.Kind, r.Permit)
	if !okTo || !okFrom || !okPermit || (r.Kind == Refusal) != (r.From == nil) {
		return candidate{}, false
	}
	if r.Kind == Refusal {
		from = 0
	}
	want := candidate{effect: int8(effect), engage: r.Kind == Engage, from: from, to: to, back: r.Return}
	return want, b.field.legal(want)
}

// position reads named positions strictly: ok is false if a switch is unknown.
func (l *Logic) position(named map[string]bool) (x State, ok bool) {
	for name := range named {
		if l.index(name) < 0 {
			return 0, false
		}
	}
	return l.StateOf(named), true
}

// watched is the effect that a test of this kind and permit looks at.
func (l *Logic) watched(kind, id string) (int, bool) {
	switch kind {
	case Refusal:
		return watchCranks, l.start >= 0 && l.permits[l.start].id == id
	case EngineStop:
		return watchRuns, l.run >= 0 && l.permits[l.run].id == id
	case DriveStop, Engage:
		d := slices.IndexFunc(l.drives, func(p int) bool { return l.permits[p].id == id })
		return d, d >= 0
	}
	return 0, false
}

// permitOf is the place in the sheet's permits of the one a test looks at.
func (l *Logic) permitOf(effect int8) int {
	switch effect {
	case watchCranks:
		return l.start
	case watchRuns:
		return l.run
	}
	return l.drives[effect]
}

// test writes a candidate out.
func (b *bench) test(c candidate) Test {
	l := b.logic
	t := Test{Permit: l.permits[l.permitOf(c.effect)].id, From: l.Positions(c.from), To: l.Positions(c.to), Return: c.back, Catches: b.namesOf(b.catches(c))}
	switch {
	case c.effect == watchCranks:
		t.Kind, t.From = Refusal, nil
	case c.effect == watchRuns:
		t.Kind = EngineStop
	case c.engage:
		t.Kind = Engage
	default:
		t.Kind = DriveStop
	}
	return t
}

func (b *bench) namesOf(s set) []string {
	out := []string{}
	for i, f := range b.dangerous {
		if s.has(i) {
			out = append(out, f.name)
		}
	}
	return out
}

// Positions names the position of every switch in x: true is made.
func (l *Logic) Positions(x State) map[string]bool {
	out := make(map[string]bool, len(l.Switches))
	for i, name := range l.Switches {
		out[name] = x>>i&1 == 1
	}
	return out
}

// StateOf is the opposite of Positions; a switch left out stands as at rest.
func (l *Logic) StateOf(positions map[string]bool) State {
	x := l.Rest
	for i, name := range l.Switches {
		if made, ok := positions[name]; ok {
			x &^= 1 << i
			if made {
				x |= 1 << i
			}
		}
	}
	return x
}
