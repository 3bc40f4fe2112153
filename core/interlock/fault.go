package interlock

// What can be wrong with a contact or a line, and how a machine behaves with
// it.

import "strings"

// effects are the truth tables of everything that can happen: the engine
// cranks, it runs, each drive moves.
type effects struct {
	cranks, runs table
	moves        []table
}

// fault is one contact, permit or latch that fails in one way.
type fault struct {
	name     string
	contact  int   // switch it is on, -1 for a permit or latch
	on       int   // permit it touches, -1 for every permit
	made     State // switches stuck made
	broken   State // switches stuck broken
	always   int   // 0 no, 1 the permit is always true, 2 always false
	restarts int   // place in drives of the one that restarts, -1 if none
}

// condition is a machine with the faults that are in it; none is a sound one.
type condition []fault

// faults lists every fault of the section, in the sheet's order: contacts,
// permits, latches.
func (l *Logic) faults() []fault {
	var out []fault
	contact := func(i, on int, name string) {
		bit := State(1) << i
		out = append(out, fault{name: name + ":made", contact: i, on: on, made: bit, restarts: -1},
			fault{name: name + ":broken", contact: i, on: on, broken: bit, restarts: -1})
	}
	for i, name := range l.Switches {
		shared := false
		for p := range l.permits {
			switch {
			case l.permits[p].per>>i&1 == 1:
				contact(i, p, name+"@"+l.permits[p].id)
			case l.permits[p].named>>i&1 == 1:
				shared = true
			}
		}
		if shared {
			contact(i, -1, name)
		}
	}
	for p := range l.permits {
		out = append(out, fault{name: l.permits[p].id + ":on", contact: -1, on: p, always: 1, restarts: -1},
			fault{name: l.permits[p].id + ":off", contact: -1, on: p, always: 2, restarts: -1})
	}
	for d, p := range l.drives {
		if l.permits[p].latched {
			out = append(out, fault{name: l.permits[p].id + ":restarts", contact: -1, on: p, restarts: d})
		}
	}
	return out
}

// touches reports whether the fault changes what permit p says.
func (f fault) touches(p int) bool { return f.restarts < 0 && (f.on < 0 || f.on == p) }

// says is what permit p says in state x of a machine in this condition; a
// permit that the sheet does not have (-1) always says yes.
func (l *Logic) says(c condition, p int, x State) bool {
	if p < 0 {
		return true
	}
	for _, f := range c {
		if !f.touches(p) {
			continue
		}
		if f.always != 0 {
			return f.always == 1
		}
		x = x&^f.broken | f.made
	}
	return l.permits[p].truth.has(x)
}

// happens is whether an effect is there in state x of a machine in this
// condition.
func (l *Logic) happens(c condition, effect int, x State) bool {
	switch effect {
	case watchCranks:
		return l.says(c, l.start, x)
	case watchRuns:
		return l.says(c, l.run, x)
	}
	d := l.drives[effect]
	return l.says(c, l.run, x) && l.says(c, d, x) && l.says(c, l.permits[d].turnedBy, x)
}

// with tabulates the effects of a machine in this condition.
func (l *Logic) with(c condition) effects {
	permit := func(p int) table {
		if p < 0 {
			return l.full()
		}
		t := l.permits[p].truth
		for _, f := range c {
			if !f.touches(p) {
				continue
			}
			switch f.always {
			case 1:
				return l.full()
			case 2:
				return newTable(1 << len(l.Switches))
			}
			for i := range l.Switches {
				if f.made>>i&1 == 1 {
					t = t.stuck(i, true)
				}
				if f.broken>>i&1 == 1 {
					t = t.stuck(i, false)
				}
			}
		}
		return t
	}
	e := effects{cranks: permit(l.start), runs: permit(l.run)}
	for _, d := range l.drives {
		e.moves = append(e.moves, e.runs.and(permit(d)).and(permit(l.permits[d].turnedBy)))
	}
	return e
}

// dangerous reports whether in this condition something happens, in some
// state, that does not on a sound machine.
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

// FaultName is the name of a fault taken apart.
type FaultName struct {
	On     string // the switch it is on, or the permit
	Permit string // of a contact of its own, the permit it is in; else ""
	How    string // made, broken, on, off or restarts
}

// ReadFault takes the name of a fault apart.
func ReadFault(name string) FaultName {
	var f FaultName
	f.On, f.How, _ = strings.Cut(name, ":")
	f.On, f.Permit, _ = strings.Cut(f.On, "@")
	return f
}
