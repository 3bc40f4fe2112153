package interlock

// A test: what is changed, what is watched, which faults it catches.

import (
	"slices"

	"vespers/core/machine"
)

// The kinds of test.
const (
	Refusal    = "refusal"
	EngineStop = "engine_stop"
	DriveStop  = "drive_stop"
)

// Test is one thing to try: bring the controls to From (stop tests only), see
// the effect, change to To and see that it is gone.
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

// bench holds what the tests are judged by: the effects of a sound machine,
// every dangerous fault, and for each effect and state the faults that show in
// it.
type bench struct {
	logic     *Logic
	sound     effects
	dangerous []fault
	latches   []int   // by drive: the number of its restart fault, or -1
	cranks    []set   // by state
	runs      []set   // by state
	moves     [][]set // by drive, by state
	cold      []State // in which a stopped engine can be started, for stop tests
}

func newBench(l *Logic) *bench {
	states := 1 << len(l.Switches)
	b := &bench{logic: l, sound: l.with(nil), cranks: make([]set, states), runs: make([]set, states)}
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
	b.cold = b.starts(false)
	return b
}

// mark notes fault number in every state where its table is true.
func mark(into []set, t table, number int) {
	t.each(func(x State) { into[x].add(number) })
}

// engine reports whether the machine has one of its own that must be started.
func (l *Logic) engine() bool { return l.start >= 0 || l.run >= 0 }

// each calls try with every legal test and the dangerous faults it catches,
// heeding the states that no test may use unless free is set.
func (b *bench) each(free bool, try func(candidate, set)) {
	l := b.logic
	allowed := func(reach int, x State) bool { return free || !l.nowhere[reach].has(x) }
	states := State(1 << len(l.Switches))
	if l.start >= 0 {
		for x := range states {
			if allowed(0, x) && !b.sound.cranks.has(x) {
				try(candidate{effect: watchCranks, to: x}, b.cranks[x])
			}
		}
	}
	if len(b.starts(free)) == 0 && l.engine() {
		return
	}
	for f := range states {
		if !allowed(1, f) {
			continue
		}
		for i := range l.Switches {
			x := f ^ 1<<i
			if !allowed(1, x) {
				continue
			}
			if l.run >= 0 && b.sound.runs.has(f) && !b.sound.runs.has(x) {
				try(candidate{effect: watchRuns, from: f, to: x}, b.runs[f].meet(b.runs[x]))
			}
			for d := range l.drives {
				if !b.sound.moves[d].has(f) || b.sound.moves[d].has(x) {
					continue
				}
				c := candidate{effect: int8(d), from: f, to: x}
				catches := b.moves[d][f].meet(b.moves[d][x])
				try(c, catches)
				if b.mayReturn(d, f, x) {
					c.back = true
					catches.add(b.latches[d])
					try(c, catches)
				}
			}
		}
	}
}

// mayReturn: a latched drive may be tried again by putting the one switch
// back, while the engine runs on.
func (b *bench) mayReturn(d int, f, x State) bool {
	p := b.logic.permits[b.logic.drives[d]]
	return b.latches[d] >= 0 && b.sound.runs.has(x) && (p.latchedBy == 0 || p.latchedBy&(f^x) != 0)
}

// catches is every dangerous fault that c shows.
func (b *bench) catches(c candidate) set {
	switch {
	case c.effect == watchCranks:
		return b.cranks[c.to]
	case c.effect == watchRuns:
		return b.runs[c.from].meet(b.runs[c.to])
	}
	s := b.moves[c.effect][c.from].meet(b.moves[c.effect][c.to])
	if c.back {
		s.add(b.latches[c.effect])
	}
	return s
}

// starts lists the states, allowed in stops, in which the engine cranks and
// runs.
func (b *bench) starts(free bool) []State {
	var out []State
	b.sound.cranks.and(b.sound.runs).each(func(u State) {
		if free || !b.logic.nowhere[1].has(u) {
			out = append(out, u)
		}
	})
	return out
}

// required checks that the manual's own tests are legal ones.
func (c *compiler) required() {
	c.logic.required = c.section.Required
	if len(c.section.Required) == 0 {
		return
	}
	b := newBench(c.logic)
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
	want := candidate{effect: int8(effect), from: from, to: to, back: r.Return}
	return want, b.legal(want)
}

// legal reports whether c is a test that a plan may contain.
func (b *bench) legal(c candidate) bool {
	l := b.logic
	if c.effect == watchCranks {
		return !c.back && !l.nowhere[0].has(c.to) && !b.sound.cranks.has(c.to)
	}
	if l.nowhere[1].has(c.from) || l.nowhere[1].has(c.to) || distance(c.from, c.to) != 1 || l.engine() && len(b.cold) == 0 {
		return false
	}
	if c.effect == watchRuns {
		return !c.back && b.sound.runs.has(c.from) && !b.sound.runs.has(c.to)
	}
	moves := b.sound.moves[c.effect]
	return moves.has(c.from) && !moves.has(c.to) && (!c.back || b.mayReturn(int(c.effect), c.from, c.to))
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
	case DriveStop:
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
	t := Test{Permit: l.permits[l.permitOf(c.effect)].id, To: l.Positions(c.to), Return: c.back, Catches: b.namesOf(b.catches(c))}
	switch c.effect {
	case watchCranks:
		t.Kind = Refusal
	case watchRuns:
		t.Kind, t.From = EngineStop, l.Positions(c.from)
	default:
		t.Kind, t.From = DriveStop, l.Positions(c.from)
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
