package walk_test

import (
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/walk"
)

func TestRouteKeepsEveryOrder(t *testing.T) {
	all := machinetest.All(t)
	for _, r := range all {
		stands, done := map[string]string{}, map[string]bool{}
		for _, s := range r.Sheet.Settings {
			stands[s.ID] = s.Start
		}
		phase := 0
		changes := 0
		for _, stop := range walk.Route(r.Sheet, walk.Options{}) {
			if p := slices.Index(machine.Phases(), stop.Phase); p < phase {
				t.Errorf("%s: %s comes after a later phase", r.Sheet.ID, stop.ID)
			} else {
				phase = p
			}
			if stop.Do == walk.Set {
				stands[stop.ID] = stop.To
				changes++
				continue
			}
			c, _ := r.Sheet.Check(stop.ID)
			for setting, want := range c.Needs {
				if stands[setting] != want {
					t.Errorf("%s: %s with %s %s", r.Sheet.ID, c.ID, setting, stands[setting])
				}
			}
			for _, before := range c.After {
				if !done[before] {
					t.Errorf("%s: %s before %s", r.Sheet.ID, c.ID, before)
				}
			}
			done[c.ID] = true
		}
		if len(done) != len(r.Sheet.Checks) {
			t.Errorf("%s: %d of %d points are on the route", r.Sheet.ID, len(done), len(r.Sheet.Checks))
		}
		once := 0 // what ends otherwise than it stood is changed once
		for _, s := range r.Sheet.Settings {
			if s.Start != s.End {
				once++
			}
		}
		if changes != 2*len(r.Sheet.Settings)-once {
			t.Errorf("%s: %d changes of %d settings", r.Sheet.ID, changes, len(r.Sheet.Settings))
		}
		for _, s := range r.Sheet.Settings {
			if stands[s.ID] != s.End {
				t.Errorf("%s: %s ends %s", r.Sheet.ID, s.ID, stands[s.ID])
			}
		}
		metres, seconds, points := walk.Left(r.Sheet, walk.Route(r.Sheet, walk.Options{}))
		if points != len(r.Sheet.Checks) || metres <= 0 || seconds < metres/walk.Pace {
			t.Errorf("%s: %v m, %v s, %d points", r.Sheet.ID, metres, seconds, points)
		}
	}
}
