package interlock

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestGameTellsTheTruth plays at random against a machine that is worked out
// anew at every act, from the expressions and the faults alone.
func TestGameTellsTheTruth(t *testing.T) {
	r := rand.New(rand.NewPCG(44, 1))
	for range 40 {
		l := compiled(t, random(r, 4))
		for _, f := range append([]fault{{contact: -1, on: -1, restarts: -1}}, l.faults()...) {
			g, ok := l.Game(f.name)
			if !ok {
				t.Fatalf("no game of %q", f.name)
			}
			m := &toy{slowly{l}, f, l.Rest, !l.engine(), make([]bool, len(l.drives)), make([]bool, len(l.drives))}
			m.look(0)
			at := g.Start
			for range 60 {
				if p := g.Places[at]; State(p.State) != m.x || p.Moving != m.moves() {
					t.Fatalf("%s: at %v with %b moving, the table says %v with %b", f.name, l.Positions(m.x), m.moves(), l.Positions(State(p.State)), p.Moving)
				}
				act := r.IntN(len(g.Acts[at]))
				step := g.Acts[at][act]
				says, counts := m.act(act)
				if step.Says != says || step.Count != counts {
					t.Fatalf("%s, act %d in %v: says %q and counts %v, the table %q and %v", f.name, act, l.Positions(m.x), says, counts, step.Says, step.Count)
				}
				at = step.To
			}
		}
	}
}

// toy is a machine with a fault in it, worked out slowly.
type toy struct {
	slowly
	fault        fault
	x            State
	on           bool
	moving, held []bool
}

func (m *toy) moves() (mask int) {
	for d, moves := range m.moving {
		if moves {
			mask |= 1 << d
		}
	}
	return mask
}

// look finds what moves after some switches changed.
func (m *toy) look(changed State) {
	for d, p := range m.l.drives {
		permit := m.l.permits[p]
		may := m.on && m.effect(d, m.x, m.fault)
		by := permit.latchedBy
		if by == 0 {
			by = permit.named
		}
		if permit.latched && !may {
			if m.moving[d] && changed&by != 0 && m.fault.restarts != d {
				m.held[d] = true
			}
			if changed&(permit.named&^by) != 0 {
				m.held[d] = false
			}
		}
		m.moving[d] = may && !m.held[d]
	}
}

// act does what the act of this number does.
func (m *toy) act(n int) (says string, counts bool) {
	switch key := len(m.l.Switches); {
	case n < key:
		counts = m.on
		bit := State(1) << n
		m.x ^= bit
		if m.on && m.l.engine() && !m.effect(watchRuns, m.x, m.fault) {
			m.on, says = false, SaysStopped
		}
		m.look(bit)
	case n == key:
		if m.on {
			return "", false
		}
		counts = true
		if !m.effect(watchCranks, m.x, m.fault) {
			return SaysRefused, true
		}
		for d := range m.held {
			m.held[d] = false
		}
		if m.on = m.effect(watchRuns, m.x, m.fault); !m.on {
			says = SaysStopped
		} else {
			says = SaysRunning
		}
		m.look(0)
	default:
		m.on, says = false, SaysStanding
		m.look(0)
	}
	return says, counts
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
