package machine

// What of a sheet must come before what.

import (
	"slices"
	"strings"
)

// order checks that the "after" of checks can be kept: every name is a check
// of the same or an earlier phase, and none waits for itself.
func (f *finder) order() {
	phases := Phases()
	for i := range f.sheet.Checks {
		c := &f.sheet.Checks[i]
		for j, id := range c.After {
			before, ok := f.sheet.Check(id)
			switch {
			case !ok:
				f.unknown(id, "sheet.kind.check", checkIDs(f.sheet), "checks", i, "after", j)
			case slices.Index(phases, before.Phase) > slices.Index(phases, c.Phase):
				f.add(RuleLaterPhase.Says(id), "checks", i, "after", j)
			}
		}
	}
	const open, done = 1, 2
	state := map[string]int{}
	var path []string
	var visit func(id string) bool
	visit = func(id string) bool {
		if state[id] == done {
			return false
		}
		path = append(path, id)
		defer func() { path = path[:len(path)-1] }()
		if state[id] == open {
			cycle := path[slices.Index(path, id):]
			i := slices.IndexFunc(f.sheet.Checks, func(c Check) bool { return c.ID == id })
			f.add(RuleCycle.Says(strings.Join(cycle, " → ")), "checks", i, "after")
			return true
		}
		state[id] = open
		if c, ok := f.sheet.Check(id); ok {
			for _, before := range c.After {
				if visit(before) {
					return true
				}
			}
		}
		state[id] = done
		return false
	}
	for _, c := range f.sheet.Checks {
		if visit(c.ID) {
			return
		}
	}
}

func checkIDs(s *Sheet) []string {
	var ids []string
	for _, c := range s.Checks {
		ids = append(ids, c.ID)
	}
	return ids
}
