package interlock

// Game is a machine to try things on, with or without a fault in it: the whole
// truth of it as a table, for a page that holds no rule of its own.
type Game struct {
	// Effects has a number for every state of the switches: bit 0 the engine
	// cranks, bit 1 it runs, and from bit 2 each drive moves.
	Effects []int `json:"effects"`
	// Permits has a number for every state too: a bit for each permit that
	// says yes on a sound machine, in the sheet's order.
	Permits []int       `json:"permits"`
	Rest    int         `json:"rest"`
	Engine  bool        `json:"engine"`
	Drives  []GameDrive `json:"drives"`
}

// GameDrive says how a drive stays stopped.
type GameDrive struct {
	Permit string `json:"permit"`
	// Latch is a bit for each switch whose going back must not start it again;
	// 0 where none has to. Demand is the switches that set it free.
	Latch    int  `json:"latch"`
	Demand   int  `json:"demand"`
	Restarts bool `json:"restarts"` // it does start again: a fault
}

// Game is the machine with a fault in it, "" for none; ok is false if there is
// no such fault.
func (l *Logic) Game(hidden string) (g Game, ok bool) {
	in, ok := l.conditionOf(hidden)
	if !ok || l.None {
		return g, false
	}
	g = Game{Rest: int(l.Rest), Engine: l.engine(), Drives: []GameDrive{}}
	for x := range State(1 << len(l.Switches)) {
		effects, permits := 0, 0
		for effect := watchCranks; effect < len(l.drives); effect++ {
			if l.happens(in, effect, x) {
				effects |= 1 << (effect - watchCranks)
			}
		}
		for p := range l.permits {
			if l.says(nil, p, x) {
				permits |= 1 << p
			}
		}
		g.Effects, g.Permits = append(g.Effects, effects), append(g.Permits, permits)
	}
	for d, p := range l.drives {
		one := GameDrive{Permit: l.permits[p].id}
		if l.permits[p].latched {
			by := l.permits[p].latchedBy
			if by == 0 {
				by = l.permits[p].named
			}
			one.Latch, one.Demand = int(by), int(l.permits[p].named&^by)
			for _, f := range in {
				one.Restarts = one.Restarts || f.restarts == d
			}
		}
		g.Drives = append(g.Drives, one)
	}
	return g, true
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
	w := walker{bench: b, at: l.Rest}
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
		w.leave(o)
	}
}
