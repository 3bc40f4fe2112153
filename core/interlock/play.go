package interlock

// Game is a machine to try things on, with or without a fault in it: everything
// it can be in, and what each act leads to, so that a page that shows it works
// nothing out.
type Game struct {
	Start  int  `json:"start"` // the place it stands at first
	Engine bool `json:"engine"`
	// Places is everything the machine can be in, as far as acts lead there.
	Places []Place `json:"places"`
	// Acts has, for every place, what each act leads to: a control moved, in the
	// sheet's order, then the key turned, then the engine switched off.
	Acts [][]Act `json:"acts"`
}

// Place is how the machine stands.
type Place struct {
	State  int `json:"state"`  // a bit for each switch that is made
	Moving int `json:"moving"` // a bit for each drive that moves
}

// Act is what an act leads to.
type Act struct {
	To    int    `json:"to"`
	Says  string `json:"says,omitempty"`  // what the engine does, where that is news
	Count bool   `json:"count,omitempty"` // it is one of the acts that a search counts
}

// What the engine does.
const (
	SaysNone     = "none" // there is none
	SaysStanding = "standing"
	SaysRunning  = "running"
	SaysRefused  = "refused"
	SaysStopped  = "stopped" // it stopped by itself
)

// standing is everything that decides what happens next.
type standing struct {
	x    State
	on   bool
	held int // drives that stay stopped until they are asked for anew
}

// player plays a machine with a fault in it.
type player struct {
	l     *Logic
	in    condition
	latch []latch
}

// latch says how a drive stays stopped: going back by one of its switches does
// not start it again, a new demand does.
type latch struct {
	by, demand State
	restarts   bool // it does start again: a fault
}

// Game is the machine with a fault in it, "" for none; ok is false if there is
// no such fault.
func (l *Logic) Game(hidden string) (g Game, ok bool) {
	in, ok := l.conditionOf(hidden)
	if !ok || l.None {
		return g, false
	}
	return l.player(in).game(), true
}

// sound is a player of a machine with nothing wrong.
func (l *Logic) sound() player { return l.player(nil) }

func (l *Logic) player(in condition) player {
	p := player{l: l, in: in}
	for d, of := range l.drives {
		one := latch{}
		if permit := l.permits[of]; permit.latched {
			one.by = permit.latchedBy
			if one.by == 0 {
				one.by = permit.named
			}
			one.demand = permit.named &^ one.by
			for _, f := range in {
				one.restarts = one.restarts || f.restarts == d
			}
		}
		p.latch = append(p.latch, one)
	}
	return p
}

// game goes wherever acts lead from rest.
func (p player) game() Game {
	g := Game{Engine: p.l.engine()}
	number := map[standing]int{}
	var order []standing
	place := func(s standing) int {
		n, known := number[s]
		if !known {
			n = len(order)
			number[s] = n
			order = append(order, s)
			g.Places = append(g.Places, Place{State: int(s.x), Moving: p.moving(s)})
		}
		return n
	}
	place(standing{x: p.l.Rest, on: !g.Engine})
	for i := 0; i < len(order); i++ {
		s := order[i]
		var acts []Act
		for b := range p.l.Switches {
			after, says := p.move(s, State(1)<<b)
			acts = append(acts, Act{To: place(after), Says: says, Count: s.on})
		}
		after, says := p.key(s)
		acts = append(acts, Act{To: place(after), Says: says, Count: !s.on})
		off := s
		if g.Engine {
			off.on = false
			acts = append(acts, Act{To: place(off), Says: SaysStanding})
		}
		g.Acts = append(g.Acts, acts)
	}
	return g
}

// happens reports whether an effect, by its number, is there.
func (p player) happens(effect int, x State) bool { return p.l.happens(p.in, effect, x) }

// may are the drives whose permits let them move, a bit each.
func (p player) may(s standing) int {
	out := 0
	for d := range p.l.drives {
		if s.on && p.happens(d, s.x) {
			out |= 1 << d
		}
	}
	return out
}

// moving are the drives that move.
func (p player) moving(s standing) int { return p.may(s) &^ s.held }

// move moves one control.
func (p player) move(s standing, bit State) (after standing, says string) {
	after = standing{x: s.x ^ bit, on: s.on, held: s.held}
	if s.on && p.l.engine() && !p.happens(watchRuns, after.x) {
		after.on, says = false, SaysStopped
	}
	was, may := p.moving(s), p.may(after)
	for d, l := range p.latch {
		if may>>d&1 == 1 {
			continue
		}
		if was>>d&1 == 1 && bit&l.by != 0 && !l.restarts {
			after.held |= 1 << d
		}
		if bit&l.demand != 0 {
			after.held &^= 1 << d
		}
	}
	return after, says
}

// key turns the key. A machine without an engine has none to turn.
func (p player) key(s standing) (after standing, says string) {
	switch {
	case s.on:
		return s, ""
	case !p.happens(watchCranks, s.x):
		return s, SaysRefused
	case !p.happens(watchRuns, s.x):
		return standing{x: s.x}, SaysStopped
	}
	return standing{x: s.x, on: true}, SaysRunning
}

func (l *Logic) conditionOf(name string) (condition, bool) {
	if name == "" {
		return nil, true
	}
	for _, f := range l.faults() {
		if f.name == name {
			return condition{f}, true
		}
	}
	return nil, false
}

// Hidden lists the faults that some allowed test would show: those worth
// looking for.
func (l *Logic) Hidden() []string {
	if l.None {
		return nil
	}
	b := newBench(l)
	return b.namesOf(newGoal(b).catchable)
}

// Search is how a fault is found with the best next test each time.
type Search struct {
	Tests int
	// Actions is what that takes: turns of the key, and controls moved while
	// the engine runs.
	Actions int
	// Alike are the faults that no test tells from it, itself among them.
	Alike []string
}

// Search looks for a fault as Diagnose advises. ok is false if there is no such
// fault.
func (l *Logic) Search(hidden string) (s Search, ok bool) {
	in, ok := l.conditionOf(hidden)
	if !ok || l.None {
		return s, false
	}
	b := newBench(l)
	var done []observed
	w := newWalker(b)
	for {
		suspects := l.suspects(done)
		next, more := b.next(done, suspects)
		if !more {
			for _, c := range suspects {
				for _, f := range c {
					s.Alike = append(s.Alike, f.name)
				}
			}
			return s, true
		}
		s.Tests++
		if next.effect == watchCranks {
			s.Actions++
		} else {
			from := w.at
			if u, need := w.startFor(next); need {
				s.Actions++ // the start
				from = u
			}
			s.Actions += distance(from, next.from) + next.moved()
		}
		o := observed{next, l.expect(in, next), true}
		done = append(done, o)
		w.leaveAfter(o)
	}
}
