package interlock

// A carrier and its implement as one machine.

import (
	"vespers/core/machine"
	"vespers/core/text"
)

// Join makes one section of a carrier and the implement that one of its drives
// turns: what the implement lets move does so only while the carrier lets its
// drive move. An id that both use is written i_ID for the implement. ok is false
// where the two cannot be tested as one: an engine of its own, no such drive, or
// too many switches.
func Join(carrier, implement machine.Interlock, drive string) (joined machine.Interlock, ok bool) {
	turns := ""
	taken := map[string]bool{}
	for _, p := range carrier.Permits {
		taken[p.ID] = true
		if p.ID == drive && p.Kind == "drive" {
			turns = p.When
		}
	}
	for _, s := range carrier.Switches {
		taken[s.ID] = true
	}
	if turns == "" || implement.None != nil || len(carrier.Switches)+len(implement.Switches) > maxSwitches {
		return joined, false
	}
	joined = machine.Interlock{Switches: append([]machine.Switch{}, carrier.Switches...), Permits: append([]machine.Permit{}, carrier.Permits...),
		Never: append([]machine.Never{}, carrier.Never...), Required: append([]machine.RequiredTest{}, carrier.Required...),
		Cautions: append([]text.Text{}, carrier.Cautions...), Codes: carrier.Codes}
	renamed := func(id string) string {
		for taken[id] {
			id = "i_" + id
		}
		return id
	}
	names := map[string]string{}
	for _, s := range implement.Switches {
		names[s.ID] = renamed(s.ID)
		s.ID = names[s.ID]
		joined.Switches = append(joined.Switches, s)
	}
	rewrite := func(source string) string {
		e, err := Parse(source)
		if err != nil {
			ok = false
			return source
		}
		return rename(e, names).String()
	}
	positions := func(of map[string]bool) map[string]bool {
		if of == nil {
			return nil
		}
		out := map[string]bool{}
		for id, made := range of {
			out[names[id]] = made
		}
		return out
	}
	ok = true
	for _, p := range implement.Permits {
		if p.Kind != "drive" {
			return machine.Interlock{}, false
		}
		id := renamed(p.ID)
		p.When = "(" + turns + ") && (" + rewrite(p.When) + ")"
		for i, by := range p.LatchedBy {
			p.LatchedBy = append(append([]string{}, p.LatchedBy[:i]...), append([]string{names[by]}, p.LatchedBy[i+1:]...)...)
		}
		names[p.ID], p.ID = id, id
		joined.Permits = append(joined.Permits, p)
	}
	for _, n := range implement.Never {
		n.State = rewrite(n.State)
		joined.Never = append(joined.Never, n)
	}
	for _, r := range implement.Required {
		r.Permit, r.From, r.To = names[r.Permit], positions(r.From), positions(r.To)
		joined.Required = append(joined.Required, r)
	}
	joined.Cautions = append(joined.Cautions, implement.Cautions...)
	if logic, _ := Compile(joined); logic == nil {
		return machine.Interlock{}, false
	}
	return joined, ok
}

// rename writes an expression with other names for its switches.
func rename(e Expr, names map[string]string) Expr {
	all := func(terms []Expr) []Expr {
		out := make([]Expr, len(terms))
		for i, t := range terms {
			out[i] = rename(t, names)
		}
		return out
	}
	switch e := e.(type) {
	case Name:
		return Name(names[string(e)])
	case Not:
		return Not{rename(e.X, names)}
	case And:
		return And{all(e.Terms)}
	case Or:
		return Or{all(e.Terms)}
	}
	return e
}

// OfImplement reports whether a permit of a joined section is one of the
// implement: the carrier does not have it.
func OfImplement(carrier machine.Interlock, permit string) bool {
	for _, p := range carrier.Permits {
		if p.ID == permit {
			return false
		}
	}
	return true
}
