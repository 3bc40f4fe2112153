package inspect

// More than one fault at a point: the first is found at the point as a whole, each
// further one has a place of its own beside it.

import (
	"strings"

	"vespers/core/machine"
)

// alsoMark begins the item of a further fault; no reading is named so.
const alsoMark = "+"

// Also is the item under which a further fault of a point is answered.
func Also(fault string) string { return alsoMark + fault }

// also is the fault that an item is for, and whether it is one for a further
// fault of the point.
func also(c *machine.Check, item string) (f *machine.Fault, ok bool) {
	id, marked := strings.CutPrefix(item, alsoMark)
	if !marked {
		return nil, false
	}
	return c.Fault(id)
}

// IsFurther reports whether an item is that of a further fault of a point.
func IsFurther(c *machine.Check, item string) bool {
	_, ok := also(c, item)
	return ok
}

// faultItems are the items under which faults of a point are answered: the point
// as a whole, and each further fault that was.
func (s State) faultItems(c *machine.Check) []string {
	items := []string{""}
	for _, f := range c.Faults {
		if len(s.points[place{c.ID, Also(f.ID)}]) > 0 {
			items = append(items, Also(f.ID))
		}
	}
	return items
}

// Places lists the items of a point that hold answers or ask for one: as a whole,
// further faults, readings.
func (s State) Places(c *machine.Check) []string {
	items := s.faultItems(c)
	if len(c.Readings) > 0 {
		items = append(items, Items(c)...)
	}
	return items
}

// More lists the faults that may still be found at a point at which one was: what
// is worse is always heard, so neither order nor settings matter.
func (s State) More(c *machine.Check) []machine.Fault {
	first, ok := s.Last(c.ID, "")
	if !ok || first.Answer != Fault {
		return nil
	}
	var out []machine.Fault
	for _, f := range c.Faults {
		if f.ID != first.Fault && len(s.points[place{c.ID, Also(f.ID)}]) == 0 {
			out = append(out, f)
		}
	}
	return out
}

// further checks a fault that is answered beside another.
func (s State) further(c *machine.Check, e Answered) bool {
	f, ok := also(c, e.Item)
	if !ok {
		return false
	}
	if e.Answer == Sound { // taken back
		last, answered := s.Last(c.ID, e.Item)
		return answered && last.Answer == Fault
	}
	first, found := s.Last(c.ID, "")
	return e.Answer == Fault && e.Fault == f.ID && found && first.Answer == Fault && first.Fault != f.ID
}
