package interlock

// Permits as truth tables.

import "math/bits"

// table is a truth table: one bit for every state of the switches.
type table []uint64

func newTable(states int) table { return make(table, (states+63)/64) }

func (t table) has(x State) bool { return t[x>>6]>>(x&63)&1 == 1 }
func (t table) set(x State)      { t[x>>6] |= 1 << (x & 63) }
func (t table) clear(x State)    { t[x>>6] &^= 1 << (x & 63) }

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

// without returns what is in t and not in u.
func (t table) without(u table) table {
	out := make(table, len(t))
	for i := range t {
		out[i] = t[i] &^ u[i]
	}
	return out
}

// step adds the states that moving switch i leads to from those of t in which
// it may be moved and is made, or broken. It reports whether any was new.
func (t table) step(i int, made bool, from table) (grown bool) {
	if i >= len(low) {
		stride := 1 << (i - len(low))
		for w := range t {
			if (w&stride != 0) != made {
				continue
			}
			to := &t[w^stride]
			if add := t[w] & from[w] &^ *to; add != 0 {
				*to |= add
				grown = true
			}
		}
		return grown
	}
	shift := uint(1) << i
	for w, states := range t {
		states &= from[w]
		if made {
			states = states & low[i] >> shift
		} else {
			states = states &^ low[i] << shift
		}
		if states&^t[w] != 0 {
			t[w] |= states
			grown = true
		}
	}
	return grown
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

// low masks, for each of the first six switches, the states of a word in which
// it is made.
var low = [6]uint64{0xaaaaaaaaaaaaaaaa, 0xcccccccccccccccc, 0xf0f0f0f0f0f0f0f0, 0xff00ff00ff00ff00, 0xffff0000ffff0000, 0xffffffff00000000}

// stuck is the table of a permit that sees switch i as made, or as broken,
// whatever its position.
func (t table) stuck(i int, made bool) table {
	out := make(table, len(t))
	if i >= len(low) {
		stride := 1 << (i - len(low))
		for w := range t {
			from := w &^ stride
			if made {
				from |= stride
			}
			out[w] = t[from]
		}
		return out
	}
	shift := uint(1) << i
	for w, states := range t {
		if made {
			half := states & low[i]
			out[w] = half | half>>shift
		} else {
			half := states &^ low[i]
			out[w] = half | half<<shift
		}
	}
	return out
}

// each calls do with every state in which t is true.
func (t table) each(do func(State)) {
	for w, states := range t {
		for ; states != 0; states &= states - 1 {
			do(State(w<<6 + bits.TrailingZeros64(states)))
		}
	}
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

// tabulate evaluates e in every state at once.
func (l *Logic) tabulate(e Expr) table {
	switch e := e.(type) {
	case Name:
		return l.variable(l.index(string(e)))
	case Const:
		if e {
			return l.full()
		}
	case Not:
		out, x := l.full(), l.tabulate(e.X)
		for i := range out {
			out[i] &^= x[i]
		}
		return out
	case And:
		out := l.full()
		for _, t := range e.Terms {
			out = out.and(l.tabulate(t))
		}
		return out
	case Or:
		out := newTable(1 << len(l.Switches))
		for _, t := range e.Terms {
			out.or(l.tabulate(t))
		}
		return out
	}
	return newTable(1 << len(l.Switches))
}
