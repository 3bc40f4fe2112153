package interlock

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestBlocked: every way out works and none is shorter; every suspect explains
// what is seen.
func TestBlocked(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for range 300 {
		l := compiled(t, random(r, 4))
		s := slowly{l}
		x := State(r.IntN(16))
		startable := func(y State) bool {
			good := s.effect(watchCranks, y) && s.effect(watchRuns, y) && !l.nowhere[stops].has(y) && y&l.places == l.places && y&l.atStart == l.atStart
			for d := range l.drives {
				good = good && !s.effect(d, y)
			}
			return good
		}
		for _, seen := range []Symptom{Dead, NoStart, Dies} {
			watch := watchRuns
			if seen == Dead {
				watch = watchCranks
			}
			got := l.Blocked(seen, "", l.Positions(x))
			if s.effect(watch, x) != (len(got.Changes) == 0) && len(got.Changes) > 0 {
				t.Fatalf("changes %v where the controls stand right", got.Changes)
			}
			for _, change := range got.Changes {
				y := x
				for _, m := range change {
					y ^= 1 << l.index(m.Switch)
				}
				if !s.effect(watch, y) || !startable(y) || distance(x, y) != len(got.Changes[0]) {
					t.Fatalf("%v is no way out of %v", change, l.Positions(x))
				}
				for z := range State(16) {
					if distance(x, z) < len(change) && s.effect(watch, z) && startable(z) {
						t.Fatalf("%v is nearer than %v", l.Positions(z), change)
					}
				}
			}
			for _, f := range l.faults() {
				explains := s.effect(watch, x) && f.contact >= 0 && !s.effect(watch, x, f)
				if explains != slices.Contains(got.Suspects, f.name) {
					t.Fatalf("%s explains it: %v, suspects %v", f.name, explains, got.Suspects)
				}
			}
		}
	}
}

func TestBlockedZeroTurn(t *testing.T) {
	l := compiled(t, zeroTurn(""))
	at := l.Positions(l.Rest)
	at["brake"] = false
	if got := l.Blocked(Dead, "", at); len(got.Changes) != 1 || len(got.Changes[0]) != 1 || got.Changes[0][0] != (Move{"brake", true}) {
		t.Errorf("brake released: %+v", got)
	}
	at["brake"] = true
	if got := l.Blocked(Dead, "", at); len(got.Changes) != 0 || !slices.Equal(got.Suspects, []string{"brake:broken", "cutters:broken", "lever_l:broken", "lever_r:broken"}) {
		t.Errorf("all set: %+v", got)
	}
	if got := l.Blocked(NoDrive, "blades", at); len(got.Changes) != 1 || got.Changes[0][0] != (Move{"cutters", false}) {
		t.Errorf("blades: %+v", got)
	}
}
