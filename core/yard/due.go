package yard

// What is due on the machines for somebody other than whoever takes them out.

import (
	"maps"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
)

// Due is a point of a machine that is due for trained people or a technician,
// or soon is.
type Due struct {
	Machine Machine
	Check   *machine.Check
	State   inspect.Due
	// Last is when it was looked at last, nil if never.
	Last *inspect.Seen
}

// Keeps reports whether the machine is not released before somebody has looked.
func (d Due) Keeps() bool { return d.State == inspect.Overdue && d.Check.Mandatory }

// DueOn lists what is due on a machine, what is most pressing first.
func DueOn(v View, m Machine, now time.Time) []Due {
	return dueOn(v, m, past(v, m.ID, now), now)
}

// DueAll lists what is due on every machine on which anything is: first those that
// are kept in, then as they stand in the yard.
func DueAll(v View, now time.Time) [][]Due {
	machines, today := v.Machines(), today(v, now)
	pasts := v.Pasts(forOthers(v, machines))
	var out [][]Due
	for _, m := range machines {
		p := pasts[m.ID]
		p.Today = today
		if due := dueOn(v, m, p, now); len(due) > 0 {
			out = append(out, due)
		}
	}
	slices.SortStableFunc(out, func(a, b []Due) int { return b[0].pressing() - a[0].pressing() })
	return out
}

// forOthers lists the points of machines that are for others than their operator.
func forOthers(v View, machines []Machine) []string {
	seen, points := map[string]bool{}, map[string]bool{}
	for _, m := range machines {
		if seen[m.Sheet] {
			continue
		}
		seen[m.Sheet] = true
		sheet, ok := v.Sheet(m.Sheet)
		if !ok {
			continue
		}
		for i := range sheet.Checks {
			if c := &sheet.Checks[i]; c.WhoLooks() != machine.ByOperator {
				points[c.ID] = true
			}
		}
	}
	return slices.Sorted(maps.Keys(points))
}

func dueOn(v View, m Machine, p inspect.Past, now time.Time) []Due {
	sheet, ok := v.Sheet(m.Sheet)
	if !ok {
		return nil
	}
	if m.Grade != defect.Sound {
		p.Blind = blind(v, m, sheet)
	}
	var out []Due
	for i := range sheet.Checks {
		c := &sheet.Checks[i]
		if c.WhoLooks() == machine.ByOperator {
			continue
		}
		d := Due{Machine: m, Check: c, State: p.Due(c, m.Hours, now)}
		if d.State == inspect.NotDue {
			continue
		}
		if last, seen := p.Looked[c.ID]; seen {
			d.Last = &last
		}
		out = append(out, d)
	}
	slices.SortStableFunc(out, func(a, b Due) int { return b.pressing() - a.pressing() })
	return out
}

// pressing is larger the less it can wait.
func (d Due) pressing() int {
	n := slices.Index([]inspect.Due{inspect.Soon, inspect.DueNow, inspect.Overdue}, d.State)
	if d.Keeps() {
		n++
	}
	return n
}

// blind reports whether the machine's hour meter is known not to count.
func blind(v View, m Machine, sheet *machine.Sheet) bool {
	return slices.ContainsFunc(v.OpenDefects(m.ID), func(d Defect) bool { return sheet.AtMeter(d.Point) })
}
