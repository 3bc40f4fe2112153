package interlock

// Pairs counts the unordered pairs of dangerous switch faults on different
// switches, and those of them that the round shows while both are present: one
// fault can hide another.
type Pairs struct {
	All    int `json:"all"`
	Caught int `json:"caught"`
}

func (b *bench) pairs(tests []candidate) Pairs {
	var contacts []fault
	for _, f := range b.dangerous {
		if f.contact >= 0 {
			contacts = append(contacts, f)
		}
	}
	var p Pairs
	for i, f := range contacts {
		for _, g := range contacts[:i] {
			if f.contact == g.contact {
				continue
			}
			p.All++
			for _, c := range tests {
				if b.logic.shows(condition{g, f}, c) {
					p.Caught++
					break
				}
			}
		}
	}
	return p
}

// shows reports whether the effect that test c watches is there where it must
// not be, on a machine in this condition.
func (l *Logic) shows(in condition, c candidate) bool {
	effect := int(c.effect)
	at := l.happens(in, effect, c.to)
	switch {
	case effect == watchCranks:
		return at
	case c.engage:
		return l.happens(in, effect, c.from) || at && l.happens(in, watchRuns, c.from)
	}
	return at && l.happens(in, effect, c.from)
}
