package interlock

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
	effect   int // -2 cranks, -1 runs, else place in drives
	from     State
	to       State
	back     bool
	required int // place among the required tests, from 1; 0 if it is not one
	catches  set
}

const (
	watchCranks = -2
	watchRuns   = -1
)

// bench holds what the tests are judged by: the healthy effects, every
// dangerous fault, and for each effect and state the faults that show in it.
type bench struct {
	logic     *Logic
	sound     effects
	dangerous []string
	latches   []int   // by drive: the number of its restart fault, or -1
	cranks    []set   // by state
	runs      []set   // by state
	moves     [][]set // by drive, by state
}

func newBench(l *Logic) *bench {
	states := 1 << len(l.Switches)
	b := &bench{logic: l, sound: l.with(healthy), cranks: make([]set, states), runs: make([]set, states)}
	for range l.drives {
		b.moves = append(b.moves, make([]set, states))
		b.latches = append(b.latches, -1)
	}
	for _, f := range l.faults() {
		with := l.with(f)
		if !f.dangerous(b.sound, with) {
			continue
		}
		number := len(b.dangerous)
		b.dangerous = append(b.dangerous, f.name)
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

// mark notes fault number in every state where its table is true.
func mark(into []set, t table, number int) {
	for x := range into {
		if t.has(State(x)) {
			into[x].add(number)
		}
	}
}

// each calls try with every legal test, heeding the states that no test may
// use unless free is set.
func (b *bench) each(free bool, try func(candidate)) {
	l := b.logic
	allowed := func(reach int, x State) bool { return free || !l.nowhere[reach].has(x) }
	states := State(1 << len(l.Switches))
	if l.start >= 0 {
		for x := range states {
			if allowed(0, x) && !b.sound.cranks.has(x) {
				try(candidate{effect: watchCranks, to: x, catches: b.cranks[x]})
			}
		}
	}
	if !b.canRun(free) {
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
				try(candidate{effect: watchRuns, from: f, to: x, catches: b.runs[f].meet(b.runs[x])})
			}
			for d := range l.drives {
				if b.sound.moves[d].has(f) && !b.sound.moves[d].has(x) {
					b.tryDrive(d, f, x, try)
				}
			}
		}
	}
}

// tryDrive offers a drive stop, and the same with the control put back where
// the drive must then stay still.
func (b *bench) tryDrive(d int, f, x State, try func(candidate)) {
	c := candidate{effect: d, from: f, to: x, catches: b.moves[d][f].meet(b.moves[d][x])}
	restart := b.latches[d]
	try(c)
	if b.mayReturn(d, f, x) {
		c.back = true
		c.catches.add(restart)
		try(c)
	}
}

func (b *bench) mayReturn(d int, f, x State) bool {
	p := b.logic.permits[b.logic.drives[d]]
	return b.latches[d] >= 0 && b.sound.runs.has(x) && (p.latchedBy == 0 || p.latchedBy&(f^x) != 0)
}

// canRun reports whether stop tests are possible: a machine with a start or
// run permit needs a state, allowed in stops, in which it cranks and runs.
func (b *bench) canRun(free bool) bool {
	l := b.logic
	if l.start < 0 && l.run < 0 {
		return true
	}
	for x := range State(1 << len(l.Switches)) {
		if (free || !l.nowhere[1].has(x)) && b.sound.cranks.has(x) && b.sound.runs.has(x) {
			return true
		}
	}
	return false
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

// find is the legal test that a required one describes; a switch that is not
// named stands as at rest.
func (b *bench) find(r machine.RequiredTest) (candidate, bool) {
	l := b.logic
	position := func(named map[string]bool) (State, bool) {
		x := l.Rest
		for name, made := range named {
			i := l.index(name)
			if i < 0 {
				return 0, false
			}
			x &^= 1 << i
			if made {
				x |= 1 << i
			}
		}
		return x, true
	}
	to, okTo := position(r.To)
	from, okFrom := position(r.From)
	effect, okPermit := l.watched(r.Kind, r.Permit)
	if !okTo || !okFrom || !okPermit || (r.Kind == Refusal) != (r.From == nil) {
		return candidate{}, false
	}
	var found candidate
	ok := false
	b.each(false, func(c candidate) {
		if c.effect == effect && c.to == to && c.back == r.Return && (effect == watchCranks || c.from == from) {
			found, ok = c, true
		}
	})
	return found, ok
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

// test writes a candidate out.
func (b *bench) test(c candidate) Test {
	l := b.logic
	t := Test{To: l.Positions(c.to), Return: c.back, Catches: b.namesOf(c.catches)}
	switch c.effect {
	case watchCranks:
		t.Kind, t.Permit = Refusal, l.permits[l.start].id
	case watchRuns:
		t.Kind, t.Permit, t.From = EngineStop, l.permits[l.run].id, l.Positions(c.from)
	default:
		t.Kind, t.Permit, t.From = DriveStop, l.permits[l.drives[c.effect]].id, l.Positions(c.from)
	}
	return t
}

func (b *bench) namesOf(s set) []string {
	out := []string{}
	for i, name := range b.dangerous {
		if s.has(i) {
			out = append(out, name)
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
