package interlock

// Why a machine does not start or run, told from its contacts.

import "slices"

// Symptom is what an operator sees when a machine will not start.
type Symptom string

// The symptoms.
const (
	Dead    Symptom = "dead"     // nothing happens at the key, or it only clicks
	NoStart Symptom = "no_start" // it cranks and does not catch
	Dies    Symptom = "dies"     // it starts and stops again
	NoDrive Symptom = "no_drive" // it runs, and what should move does not
)

// Symptoms lists them in the order in which a start goes.
func Symptoms() []Symptom { return []Symptom{Dead, NoStart, Dies, NoDrive} }

// Blocked is why a machine does not do what is asked, the nearest fix first.
type Blocked struct {
	// Changes are the smallest sets of controls to move, each a way out; none
	// where the controls stand right.
	Changes [][]Move
	// Suspects are the contacts that would explain it where the controls stand
	// right.
	Suspects []string
}

// Move is one control and how it has to stand.
type Move struct {
	Switch string
	Made   bool
}

// Blocked looks at how the controls stand and what is seen. Drive is the permit
// of what should move, for NoDrive only.
func (l *Logic) Blocked(seen Symptom, drive string, at map[string]bool) Blocked {
	x := l.StateOf(at)
	good := func(in condition, x State) bool {
		switch seen {
		case Dead:
			return l.happens(in, watchCranks, x)
		case NoDrive:
			d, _ := l.watched(DriveStop, drive)
			return d >= 0 && l.happens(in, d, x)
		}
		return l.happens(in, watchRuns, x)
	}
	var out Blocked
	if good(nil, x) {
		for _, f := range l.faults() {
			if f.contact >= 0 && !good(condition{f}, x) {
				out.Suspects = append(out.Suspects, f.name)
			}
		}
		return out
	}
	// What is asked for has to be a state in which an engine is started, or where
	// it runs already, one in which a drive may move.
	field := newField(l, l.with(nil), false)
	right := field.from
	if seen != NoDrive {
		right = newTable(1 << len(l.Switches))
		for _, u := range field.starts {
			right.set(u)
		}
	}
	nearest := len(l.Switches) + 1
	for y := range State(1 << len(l.Switches)) {
		n := distance(x, y)
		if n > nearest || !right.has(y) || !good(nil, y) {
			continue
		}
		if n < nearest {
			nearest, out.Changes = n, nil
		}
		out.Changes = append(out.Changes, l.moves(x, y))
	}
	slices.SortStableFunc(out.Changes, func(a, b []Move) int {
		return slices.CompareFunc(a, b, func(m, n Move) int { return l.index(m.Switch) - l.index(n.Switch) })
	})
	return out
}

// moves lists the controls that differ, in the sheet's order.
func (l *Logic) moves(x, y State) []Move {
	out := []Move{}
	for i, name := range l.Switches {
		if (x^y)>>i&1 == 1 {
			out = append(out, Move{Switch: name, Made: y>>i&1 == 1})
		}
	}
	return out
}

// Behind is the permit that a symptom points at: of a machine that does not
// crank, that does not run on, or a drive that does not move; "" if there is none.
func (l *Logic) Behind(seen Symptom, drive string) string {
	of := -1
	switch seen {
	case Dead:
		of = l.start
	case NoStart, Dies:
		of = l.run
	case NoDrive:
		for _, p := range l.drives {
			if l.permits[p].id == drive {
				of = p
			}
		}
	}
	if of < 0 {
		return ""
	}
	return l.permits[of].id
}
