package interlock

// Leading somebody through tests on a sound machine: which controls to move
// from where they stand, and what the machine does then.

// Guide knows how the controls stand, whether the engine runs and which drives
// wait to be asked for anew. Everything that it says to do it takes as done.
type Guide struct {
	walker *walker
	player player
	held   int
}

// Guide is a machine at rest, its engine off.
func (l *Logic) Guide() *Guide {
	g := &Guide{walker: newWalker(l.judge()), player: l.sound()}
	g.walker.running = !l.engine()
	return g
}

// At is how the controls stand.
func (g *Guide) At() map[string]bool { return g.walker.logic.Positions(g.walker.at) }

// Rest is how they stand when a round begins.
func (g *Guide) Rest() map[string]bool { return g.walker.logic.Positions(g.walker.logic.Rest) }

// Running reports whether the engine runs.
func (g *Guide) Running() bool { return g.walker.running }

func (g *Guide) standing() standing {
	return standing{x: g.walker.at, on: g.walker.running, held: g.held}
}

// Off switches the engine off.
func (g *Guide) Off() { g.walker.running, g.held = !g.walker.logic.engine(), 0 }

// crank turns the key.
func (g *Guide) crank() {
	after, _ := g.player.key(g.standing())
	g.walker.running, g.held = after.on, after.held
}

// move moves one control; one that stands so already stays.
func (g *Guide) move(m Move) {
	bit := State(1) << g.walker.logic.index(m.Switch)
	if (g.walker.at&bit != 0) == m.Made {
		return
	}
	after, _ := g.player.move(g.standing(), bit)
	g.walker.at, g.walker.running, g.held = after.x, after.on, after.held
}

// Approach is how a test is come to.
type Approach struct {
	// Stop: the running engine is switched off first, because the controls
	// cannot be moved as the test wants them while it runs.
	Stop bool
	// Start: it is started, with the controls moved so before.
	Start   bool
	Restart []Move
	// StartAt is how the controls stand when it is started.
	StartAt map[string]bool
	// Set is what is moved then.
	Set []Move
	// Anew: a latch holds the drive, which is asked for anew.
	Anew bool
}

// Approach comes to the beginning of a test.
func (g *Guide) Approach(t Test) Approach {
	c := g.walker.logic.candidate(t)
	a := g.come(c.first(), c)
	if c.effect >= 0 && !c.engage {
		g.renew(&a, int(c.effect), c)
	}
	return a
}

// ToMove comes to where a drive moves; ok is false if it never does in a state
// that a stop could begin in.
func (g *Guide) ToMove(drive string) (a Approach, ok bool) {
	w := g.walker
	d, known := w.logic.watched(DriveStop, drive)
	if !known {
		return a, false
	}
	best, cost := State(0), -1
	w.sound.moves[d].and(w.field.from).and(w.field.ready).each(func(x State) {
		if n := w.cost(candidate{effect: int8(d), from: x, to: x}); cost < 0 || n < cost {
			best, cost = x, n
		}
	})
	if cost < 0 {
		return a, false
	}
	c := candidate{effect: int8(d), from: best, to: best}
	a = g.come(best, c)
	g.renew(&a, d, c)
	return a, true
}

// ToStart comes to a state in which the engine is started, and starts it unless
// it runs there already.
func (g *Guide) ToStart(start map[string]bool) Approach {
	x := g.walker.logic.StateOf(start)
	if g.walker.running && g.walker.field.reaches(g.walker.at, x) {
		return Approach{Set: g.walk(x)}
	}
	a := Approach{Stop: g.walker.running && g.walker.logic.engine(), Start: g.walker.logic.engine()}
	g.Off()
	a.Restart, a.StartAt = g.walk(x), g.walker.logic.Positions(x)
	g.crank()
	return a
}

// Lay moves the controls to a state with the engine off.
func (g *Guide) Lay(at map[string]bool) Approach {
	a := Approach{Stop: g.walker.running && g.walker.logic.engine()}
	g.Off()
	a.Set = g.walk(g.walker.logic.StateOf(at))
	return a
}

// come goes to a state for c, by a start where it needs one.
func (g *Guide) come(x State, c candidate) (a Approach) {
	if c.effect == watchCranks {
		a.Stop = g.walker.running && g.walker.logic.engine()
		g.Off()
	}
	if u, need := g.walker.startFor(c); need {
		a.Stop, a.Start = g.walker.running, true
		g.Off()
		a.Restart, a.StartAt = g.walk(u), g.walker.logic.Positions(u)
		g.crank()
	}
	a.Set = g.walk(x)
	return a
}

// walk moves the controls to a state in the best order.
func (g *Guide) walk(x State) []Move {
	l := g.walker.logic
	order, ok := g.walker.field.way(g.walker.at, x, g.walker.running)
	if g.touches(g.walker.at, order) && g.byRest(x) {
		return append(g.walk(l.Rest), g.walk(x)...)
	}
	if !ok { // not while it runs: the sheet's own order
		order, _ = g.walker.field.way(g.walker.at, x, false)
	}
	var out []Move
	for _, i := range order {
		m := Move{Switch: l.Switches[i], Made: x>>i&1 == 1}
		g.move(m)
		out = append(out, m)
	}
	return out
}

// byRest reports whether a state is come to by the way of rest: there is no engine to
// switch off, where a control may not be touched as things stand.
func (g *Guide) byRest(x State) bool {
	l := g.walker.logic
	if g.walker.at == l.Rest || x == l.Rest {
		return false
	}
	there, _ := g.walker.field.way(g.walker.at, l.Rest, true)
	back, _ := g.walker.field.way(l.Rest, x, true)
	return !g.touches(g.walker.at, there) && !g.touches(l.Rest, back)
}

// touches reports whether an order moves a control that may not be touched as things
// stand, on what has no engine to be switched off first.
func (g *Guide) touches(at State, order []int) bool {
	if g.walker.logic.engine() {
		return false
	}
	for _, i := range order {
		next := at ^ 1<<i
		if !g.walker.field.mayMove(at, next) {
			return true
		}
		at = next
	}
	return false
}

// renew asks anew for a drive that a latch holds: its demand off and on again,
// or where nothing asks for it, by starting the engine anew.
func (g *Guide) renew(a *Approach, d int, c candidate) {
	w := g.walker
	if g.held>>d&1 == 0 {
		return
	}
	a.Anew = true
	for i, name := range w.logic.Switches {
		bit := State(1) << i
		y := w.at ^ bit
		if g.player.latch[d].demand&bit == 0 || w.sound.moves[d].has(y) || !w.sound.runs.has(y) || !w.field.mayMove(w.at, y) {
			continue
		}
		made := w.at&bit != 0
		for _, m := range []Move{{name, !made}, {name, made}} {
			g.move(m)
			a.Set = append(a.Set, m)
		}
		return
	}
	if !w.logic.engine() {
		return
	}
	was := a.Set
	g.Off()
	*a = g.come(w.at, c)
	a.Stop, a.Anew, a.Restart = true, true, append(was, a.Restart...)
}

// Act makes the one change of a test; Back undoes it.
func (g *Guide) Act(t Test) Move { return g.one(t.From, t.To) }

// Back puts the one control of a test back.
func (g *Guide) Back(t Test) Move { return g.one(t.To, t.From) }

func (g *Guide) one(from, to map[string]bool) (m Move) {
	for _, name := range g.walker.logic.Switches {
		if from != nil && from[name] != to[name] {
			m = Move{name, to[name]}
			g.move(m)
		}
	}
	return m
}
