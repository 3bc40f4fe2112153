package interlock

// In which order controls are moved from one state to another.

// Way is an order in which to move the controls that differ between two states,
// each once. With the engine running it goes on running all the way and nothing
// held is touched; ok is false if there is no such order. Of several the one
// with the fewest states on the way that the sheet rules out, that have the
// operator out of their place or something moving; then the one that takes the
// controls in the sheet's order.
func (l *Logic) Way(from, to map[string]bool, running bool) (order []string, ok bool) {
	way, ok := l.judge().field.way(l.StateOf(from), l.StateOf(to), running)
	for _, i := range way {
		order = append(order, l.Switches[i])
	}
	return order, ok
}

func (f *field) way(a, b State, running bool) (order []int, ok bool) {
	running = running && f.logic.engine()
	if running && !f.reaches(a, b) {
		return nil, false
	}
	w := wayfinder{f, a, b, running, map[State]int{b: 0}}
	if !f.logic.engine() { // it always runs: an order that touches nothing held, if there is one
		w.running = true
		if w.least(a) >= noWay {
			w.running, w.known = false, map[State]int{b: 0}
		}
	}
	for x := a; x != b; {
		for i := range f.logic.Switches {
			if y := x ^ 1<<i; w.may(x, i) && w.least(y)+w.weight(y) == w.least(x) {
				order, x = append(order, i), y
				break
			}
		}
	}
	return order, true
}

// wayfinder looks for the best order from one state to another.
type wayfinder struct {
	field    *field
	from, to State
	running  bool
	known    map[State]int // the least weight on the way from a state to the end
}

// The weights of what a state on the way is better without, and of no way.
const (
	weighMoves = 1
	weighLeft  = 16
	weighNever = 4096
	noWay      = 1 << 30
)

// may reports whether switch i is to be moved yet, and can be in state x.
func (w wayfinder) may(x State, i int) bool {
	return (x^w.to)>>i&1 == 1 && (!w.running || w.field.passable[i].has(x))
}

func (w wayfinder) weight(x State) (n int) {
	l, kind := w.field.logic, refusals
	if w.running {
		kind = stops
	}
	if x == w.from || x == w.to {
		return 0
	}
	if l.nowhere[kind].has(x) {
		n += weighNever
	}
	if stay := l.places & (w.from | w.to); x&stay != stay {
		n += weighLeft
	}
	for _, moves := range w.field.sound.moves {
		if w.running && moves.has(x) {
			n += weighMoves
		}
	}
	return n
}

func (w wayfinder) least(x State) int {
	if n, known := w.known[x]; known {
		return n
	}
	best := noWay
	for i := range w.field.logic.Switches {
		if y := x ^ 1<<i; w.may(x, i) {
			best = min(best, w.least(y)+w.weight(y))
		}
	}
	w.known[x] = best
	return best
}
