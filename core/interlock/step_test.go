package interlock

import (
	"math/rand/v2"
	"testing"
)

// TestTheGuideLeadsThroughPlans: what it says to do, done on a machine that is
// worked out anew at every act, brings each test about as planned, in as many
// movements, moves nothing while an engine is started, and keeps it running
// where it does not say that it is switched off.
func TestTheGuideLeadsThroughPlans(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 21))
	starts, renewed := 0, 0
	for range 600 {
		l := compiled(t, random(r, 2+r.IntN(4)))
		plan := l.Plan()
		m := &toy{slowly{l}, fault{contact: -1, on: -1, restarts: -1}, l.Rest, !l.engine(), make([]bool, len(l.drives)), make([]bool, len(l.drives))}
		m.look(0)
		g := l.Guide()
		moved, anew := 0, false
		move := func(moves []Move) {
			t.Helper()
			for _, one := range moves {
				i := l.index(one.Switch)
				if (m.x>>i&1 == 1) == one.Made {
					t.Fatalf("%s stands so already: %+v", one.Switch, plan)
				}
				on := m.on
				m.act(i)
				moved++
				if on && !m.on {
					t.Fatalf("the engine went off by %+v", one)
				}
			}
		}
		same := func(want map[string]bool, when string) {
			t.Helper()
			if m.x != l.StateOf(want) || m.x != g.walker.at || m.on != g.walker.running {
				t.Fatalf("%s: %v, running %v; the guide has %v, %v; wanted %v", when, l.Positions(m.x), m.on, g.At(), g.walker.running, want)
			}
		}
		for _, test := range plan.Tests {
			a := g.Approach(test)
			if a.Stop {
				m.act(len(l.Switches) + 1)
			}
			if test.Kind == Refusal && m.on && l.engine() {
				t.Fatal("a refusal with the engine running")
			}
			move(a.Restart)
			if a.Start {
				starts++
				m.act(len(l.Switches))
				if !m.on || m.moves() != 0 || m.x&l.places != l.places {
					t.Fatalf("started with %b moving, running %v", m.moves(), m.on)
				}
			}
			move(a.Set)
			first := test.From
			if test.Kind == Refusal {
				first = test.To
			}
			if a.Anew {
				renewed++
				anew = true
			}
			same(first, "before the act")
			c := l.candidate(test)
			if test.Kind == DriveStop && !m.moving[c.effect] && l.engine() || test.Kind == Engage && m.moving[c.effect] {
				t.Fatalf("before %+v it moves: %v, %v", test, m.moving, plan)
			}
			if test.Kind == Refusal {
				continue
			}
			move0 := g.Act(test)
			m.act(l.index(move0.Switch))
			moved++
			if test.Kind != EngineStop && m.moving[c.effect] || test.Kind == EngineStop && m.on {
				t.Fatalf("after %+v it goes on", test)
			}
			if test.Return {
				back := g.Back(test)
				m.act(l.index(back.Switch))
				moved++
				if m.moving[c.effect] {
					t.Fatalf("after %+v it moves again", test)
				}
				same(test.From, "put back")
				continue
			}
			same(test.To, "after the act")
		}
		// Without an engine to switch off, some ways lead over rest.
		if moved != plan.Movements && !anew && l.engine() || moved < plan.Movements {
			t.Fatalf("%d controls moved, the plan says %d", moved, plan.Movements)
		}
	}
	if starts < 100 || renewed < 5 {
		t.Errorf("%d starts, %d latches reset", starts, renewed)
	}
}
