package interlock

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestGameTellsTheTruth compares the table with the definitions.
func TestGameTellsTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(44, 1))
	for range 40 {
		l := compiled(t, random(r, 4))
		s := slowly{l}
		for _, f := range append([]fault{{contact: -1, on: -1, restarts: -1}}, l.faults()...) {
			g, ok := l.Game(f.name)
			if !ok {
				t.Fatalf("no game of %q", f.name)
			}
			for x := range State(16) {
				for effect := watchCranks; effect < len(l.drives); effect++ {
					if got := g.Effects[x]>>(effect-watchCranks)&1 == 1; got != s.effect(effect, x, f) {
						t.Fatalf("%s in %v: effect %d is %v", f.name, l.Positions(x), effect, got)
					}
				}
				for p, permit := range l.permits {
					want := permit.when.Eval(func(name string) bool { return x>>l.index(name)&1 == 1 })
					if g.Permits[x]>>p&1 == 1 != want {
						t.Fatalf("permit %s in %v", permit.id, l.Positions(x))
					}
				}
			}
		}
	}
}

// TestSearchFinds: every hidden fault is among those the search ends with, in
// no more tests than there are suspects.
func TestSearchFinds(t *testing.T) {
	for _, contacts := range []string{"shared", "per_permit"} {
		l := compiled(t, zeroTurn(contacts))
		for _, f := range l.Hidden() {
			s, ok := l.Search(f)
			if !ok || !slices.Contains(s.Alike, f) || s.Tests < 1 || s.Actions < s.Tests || s.Tests > len(l.faults()) {
				t.Errorf("%s: %+v, %v", f, s, ok)
			}
		}
	}
	l := compiled(t, zeroTurn(""))
	if _, ok := l.Search("nothing:made"); ok {
		t.Error("found a fault that there is not")
	}
	if _, ok := l.Game("seat:loose"); ok {
		t.Error("a game of a fault that there is not")
	}
}
