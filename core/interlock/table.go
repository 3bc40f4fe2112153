package interlock

// table is a truth table: one bit for every state of the switches.
type table []uint64

func newTable(states int) table { return make(table, (states+63)/64) }

func (t table) has(x State) bool { return t[x>>6]>>(x&63)&1 == 1 }
func (t table) set(x State)      { t[x>>6] |= 1 << (x & 63) }

func (t table) or(u table) {
	for i := range t {
		t[i] |= u[i]
	}
}

// and returns what is in both.
func (t table) and(u table) table {
	out := make(table, len(t))
	for i := range t {
		out[i] = t[i] & u[i]
	}
	return out
}

// beyond reports whether t is true somewhere u is not.
func (t table) beyond(u table) bool {
	for i := range t {
		if t[i]&^u[i] != 0 {
			return true
		}
	}
	return false
}

// full is the table that is true in every state.
func (l *Logic) full() table {
	n := 1 << len(l.Switches)
	t := newTable(n)
	for i := range t {
		t[i] = ^uint64(0)
	}
	if n < 64 {
		t[0] = 1<<n - 1
	}
	return t
}

// variable is the table of switch i: true where it is made.
func (l *Logic) variable(i int) table {
	t := newTable(1 << len(l.Switches))
	for x := range State(1 << len(l.Switches)) {
		if x>>i&1 == 1 {
			t.set(x)
		}
	}
	return t
}

// tabulate evaluates e in every state at once, the switches in made seen as
// made and those in broken seen as broken whatever their position.
func (l *Logic) tabulate(e Expr, made, broken State) table {
	switch e := e.(type) {
	case Name:
		i := l.index(string(e))
		switch {
		case made>>i&1 == 1:
			return l.full()
		case broken>>i&1 == 1:
			return newTable(1 << len(l.Switches))
		}
		return l.variable(i)
	case Const:
		if e {
			return l.full()
		}
	case Not:
		out, x := l.full(), l.tabulate(e.X, made, broken)
		for i := range out {
			out[i] &^= x[i]
		}
		return out
	case And:
		out := l.full()
		for _, t := range e.Terms {
			out = out.and(l.tabulate(t, made, broken))
		}
		return out
	case Or:
		out := newTable(1 << len(l.Switches))
		for _, t := range e.Terms {
			out.or(l.tabulate(t, made, broken))
		}
		return out
	}
	return newTable(1 << len(l.Switches))
}

// effects are the truth tables of everything that can happen: the engine
// cranks, it runs, each drive moves.
type effects struct {
	cranks, runs table
	moves        []table
}

// fault is one contact or permit that fails in one way; the zero fault is a
// healthy machine.
type fault struct {
	name     string
	on       int   // permit it touches, -1 for every permit
	made     State // switches stuck made
	broken   State // switches stuck broken
	always   int   // 0 no, 1 the permit is always true, 2 always false
	restarts int   // place in drives of the one that restarts, -1 if none
}

var healthy = fault{on: -1, restarts: -1}

// faults lists every fault of the section, in the sheet's order: contacts,
// permits, latches.
func (l *Logic) faults() []fault {
	var out []fault
	for i, name := range l.Switches {
		bit := State(1) << i
		shared := false
		for p := range l.permits {
			switch {
			case l.permits[p].per&bit != 0:
				at := name + "@" + l.permits[p].id
				out = append(out, fault{name: at + ":made", on: p, made: bit, restarts: -1},
					fault{name: at + ":broken", on: p, broken: bit, restarts: -1})
			case l.permits[p].named&bit != 0:
				shared = true
			}
		}
		if shared {
			out = append(out, fault{name: name + ":made", on: -1, made: bit, restarts: -1},
				fault{name: name + ":broken", on: -1, broken: bit, restarts: -1})
		}
	}
	for p := range l.permits {
		out = append(out, fault{name: l.permits[p].id + ":on", on: p, always: 1, restarts: -1},
			fault{name: l.permits[p].id + ":off", on: p, always: 2, restarts: -1})
	}
	for d, p := range l.drives {
		if l.permits[p].latched {
			out = append(out, fault{name: l.permits[p].id + ":restarts", on: -1, restarts: d})
		}
	}
	return out
}

// dangerous reports whether with f present something happens, in some state,
// that a healthy machine would not do.
func (f fault) dangerous(sound, with effects) bool {
	if f.restarts >= 0 || with.cranks.beyond(sound.cranks) || with.runs.beyond(sound.runs) {
		return true
	}
	for d := range sound.moves {
		if with.moves[d].beyond(sound.moves[d]) {
			return true
		}
	}
	return false
}

// with computes the effects while f is present.
func (l *Logic) with(f fault) effects {
	all := l.full()
	permitTable := func(p int) table {
		if p < 0 {
			return all
		}
		if f.on == p && f.always == 1 {
			return all
		}
		if f.on == p && f.always == 2 {
			return newTable(1 << len(l.Switches))
		}
		if f.on < 0 || f.on == p {
			return l.tabulate(l.permits[p].when, f.made, f.broken)
		}
		return l.tabulate(l.permits[p].when, 0, 0)
	}
	e := effects{cranks: permitTable(l.start), runs: permitTable(l.run)}
	for _, d := range l.drives {
		e.moves = append(e.moves, e.runs.and(permitTable(d)))
	}
	return e
}
