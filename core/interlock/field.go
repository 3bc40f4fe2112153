package interlock

// Where tests may be done: the states that each kind may use, those an engine
// may be started in, and which can be come to while it runs.

// field is the room that tests have on a sound machine. A free one heeds
// nothing that the sheet rules out: it says what could be shown at all.
type field struct {
	logic *Logic
	sound effects
	free  bool

	refusal  table   // states a refusal may use
	engage   []table // by drive: those an engage may begin and end in
	from     table   // those a stop may begin in
	to       []table // by effect watched, the engine first: those a stop may end in
	starts   []State // in which an engine is started, and in no other
	ready    table   // in reach of a start, with the engine running
	held     []State // by state: the switches not to be touched in it
	runsTo   []table // by state: what is in reach of it; found when asked for
	passable []table // by switch: states in which it may be moved, the engine running
}

func newField(l *Logic, sound effects, free bool) *field {
	f := &field{logic: l, sound: sound, free: free}
	f.refusal = f.open(refusals, f.named(l.start))
	run := f.named(l.run)
	f.from = f.open(stops, 0)
	f.to = append(f.to, f.open(stops, run))
	for _, d := range l.drives {
		f.engage = append(f.engage, f.open(engages, l.permits[d].named))
		f.to = append(f.to, f.open(stops, run|l.permits[d].named))
	}
	f.hold()
	f.findStarts()
	return f
}

func (f *field) named(permit int) State {
	if permit < 0 {
		return 0
	}
	return f.logic.permits[permit].named
}

// open is the states that a kind of test may use: none of the sheet's never,
// and the operator in their place unless leaving it is what may prove
// something.
func (f *field) open(kind reach, leave State) table {
	out := f.logic.full()
	if f.free {
		return out
	}
	stay := f.logic.places &^ leave
	for x := range State(1 << len(f.logic.Switches)) {
		if f.logic.nowhere[kind].has(x) || x&stay != stay {
			out.clear(x)
		}
	}
	return out
}

// hold finds the switches that are not touched while what they hold moves, and
// so where each may be moved with the engine running.
func (f *field) hold() {
	l := f.logic
	states := State(1 << len(l.Switches))
	f.held = make([]State, states)
	f.runsTo = make([]table, states)
	if !f.free && l.still != 0 {
		for d, p := range l.drives {
			mine := l.still & (l.permits[p].named | f.named(l.run))
			f.sound.moves[d].each(func(x State) { f.held[x] |= mine })
		}
	}
	for i := range l.Switches {
		t := newTable(int(states))
		f.sound.runs.each(func(x State) {
			y := x ^ 1<<i
			if f.sound.runs.has(y) && f.mayMove(x, y) {
				t.set(x)
			}
		})
		f.passable = append(f.passable, t)
	}
}

// mayMove reports whether no held switch is changed from x to y.
func (f *field) mayMove(x, y State) bool { return (f.held[x]|f.held[y])&(x^y) == 0 }

// findStarts: somebody is in place, the engine cranks and runs, nothing moves.
func (f *field) findStarts() {
	still := f.sound.cranks.and(f.sound.runs).and(f.from)
	for _, moves := range f.sound.moves {
		still = still.without(moves)
	}
	f.ready = newTable(1 << len(f.logic.Switches))
	still.each(func(u State) {
		if must := f.logic.atStart; !f.free && u&must != must {
			return
		}
		f.starts = append(f.starts, u)
		f.ready.or(f.within(u))
	})
	if !f.logic.engine() {
		f.ready = f.logic.full()
	}
}

// within is everything in reach of a state: the switches that differ moved one
// at a time, each once, the engine running all the while and none of them held.
func (f *field) within(a State) table {
	if t := f.runsTo[a]; t != nil {
		return t
	}
	t := newTable(1 << len(f.logic.Switches))
	switch {
	case !f.logic.engine():
		t = f.logic.full()
	case f.sound.runs.has(a):
		t.set(a)
		for grown := true; grown; {
			grown = false
			for i := range f.logic.Switches {
				// Only away from a: a switch is moved once.
				grown = t.step(i, a>>i&1 == 1, f.passable[i]) || grown
			}
		}
	}
	f.runsTo[a] = t
	return t
}

// reaches reports whether b is in reach of a.
func (f *field) reaches(a, b State) bool { return f.within(a).has(b) }
