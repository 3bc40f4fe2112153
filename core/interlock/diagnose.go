package interlock

// Which faults are left after what was observed, and which test tells most.

import "slices"

// Observation is a test that was done and what was seen.
type Observation struct {
	Test
	// AtFrom: the effect was there before the change. Nil is as it should be:
	// yes for stops, no for engages. Refusals have none.
	AtFrom *bool `json:"at_from,omitempty"`
	// Observed: the effect was there at the end; nil where AtFrom is not as it
	// should be, for then the change is not made.
	Observed *bool `json:"observed,omitempty"`
	// Restarted: the drive moved again when the switch went back (return tests
	// in which it had stopped).
	Restarted *bool `json:"restarted,omitempty"`
}

// Diagnosis is what can be wrong, and the test that tells most.
type Diagnosis struct {
	// Suspects are sets of faults that explain everything observed: no fault
	// and every single one, or, where none of these does, every pair.
	Suspects [][]string `json:"suspects"`
	// Next is the test that leaves the fewest suspects at worst; nil if none
	// tells any apart.
	Next *Test `json:"next"`
}

// answer is what a test showed, or would show.
type answer int8

const (
	wrongAtFrom answer = iota // there was no effect to stop, or one before anything was tried
	seen
	notSeen
	notSeenAgain // it had stopped, and did not start again
	seenAgain
	answers
)

// diagnoseSteps bounds the search for the next test: tests times suspects.
const diagnoseSteps = 60_000_000

// Diagnose finds the faults that explain all observations. The error is a
// *Wrong.
func (l *Logic) Diagnose(observations []Observation) (Diagnosis, error) {
	out := Diagnosis{Suspects: [][]string{}}
	if l.None {
		if len(observations) > 0 {
			return out, &Wrong{Reason: ruleNoTest.Says(1)}
		}
		out.Suspects = append(out.Suspects, []string{})
		return out, nil
	}
	b := newBench(l)
	var done []observed
	for i, o := range observations {
		one, err := b.read(i, o)
		if err != nil {
			return out, err
		}
		done = append(done, one)
	}
	suspects := l.suspects(done)
	for _, s := range suspects {
		names := []string{}
		for _, f := range s {
			names = append(names, f.name)
		}
		out.Suspects = append(out.Suspects, names)
	}
	if next, ok := b.next(done, suspects); ok {
		test := b.test(next)
		out.Next = &test
	}
	return out, nil
}

// observed is an observation in the planner's terms.
type observed struct {
	test   candidate
	answer answer
	// known is false for a return test in which nobody looked whether it
	// started again.
	known bool
}

func (b *bench) read(i int, o Observation) (observed, error) {
	wrong := func(r *Wrong) (observed, error) { return observed{}, r }
	c, ok := b.legalOf(o.Test)
	switch {
	case !ok:
		return wrong(&Wrong{i, ruleNoTest.Says(i + 1)})
	case o.AtFrom != nil && c.effect == watchCranks:
		return wrong(&Wrong{i, ruleNotFrom.Says(i + 1)})
	case o.AtFrom != nil && *o.AtFrom == c.engage:
		if o.Observed != nil || o.Restarted != nil {
			return wrong(&Wrong{i, ruleNotFrom.Says(i + 1)})
		}
		return observed{c, wrongAtFrom, true}, nil
	case o.Observed == nil:
		return wrong(&Wrong{i, ruleNoResult.Says(i + 1)})
	case o.Restarted != nil && (!c.back || *o.Observed):
		return wrong(&Wrong{i, ruleNotStopped.Says(i + 1)})
	case *o.Observed:
		return observed{c, seen, true}, nil
	case !c.back:
		return observed{c, notSeen, true}, nil
	case o.Restarted == nil:
		return observed{c, notSeen, false}, nil
	case *o.Restarted:
		return observed{c, seenAgain, true}, nil
	}
	return observed{c, notSeenAgain, true}, nil
}

// expect is what test c shows on a machine in this condition.
func (l *Logic) expect(in condition, c candidate) answer {
	effect := int(c.effect)
	switch {
	case effect != watchCranks && l.happens(in, effect, c.from) == c.engage:
		return wrongAtFrom
	case c.engage && !l.happens(in, watchRuns, c.from):
		return notSeen // the engine is off before the demand is tried
	case l.happens(in, effect, c.to):
		return seen
	case !c.back:
		return notSeen
	}
	for _, f := range in {
		if f.restarts == effect && l.happens(in, watchRuns, c.to) {
			return seenAgain
		}
	}
	return notSeenAgain
}

func (l *Logic) explains(in condition, done []observed) bool {
	for _, o := range done {
		got := l.expect(in, o.test)
		if got != o.answer && (o.known || got != notSeenAgain && got != seenAgain) {
			return false
		}
	}
	return true
}

func (l *Logic) suspects(done []observed) []condition {
	var out []condition
	if l.explains(nil, done) {
		out = append(out, nil)
	}
	faults := l.faults()
	for _, f := range faults {
		if l.explains(condition{f}, done) {
			out = append(out, condition{f})
		}
	}
	if len(out) > 0 {
		return out
	}
	for i, f := range faults {
		for _, g := range faults[i+1:] {
			if both := (condition{f, g}); !f.sameThing(g) && l.explains(both, done) {
				out = append(out, both)
			}
		}
	}
	return out
}

// sameThing reports whether two faults are on one switch or on one permit,
// where only one can be at a time.
func (f fault) sameThing(g fault) bool {
	if f.contact >= 0 || g.contact >= 0 {
		return f.contact == g.contact
	}
	return f.on == g.on
}

// next is the allowed test, not yet done, whose worst answer leaves the fewest
// suspects; then the one nearest to where the last test left the controls; then
// the one whose states come first when written as 0/1 words.
func (b *bench) next(done []observed, suspects []condition) (candidate, bool) {
	var best choice
	found := false
	if len(suspects) < 2 {
		return candidate{}, false
	}
	w := newWalker(b)
	if n := len(done); n > 0 {
		w.leaveAfter(done[n-1])
	}
	steps := diagnoseSteps
	b.field.each(func(c candidate) {
		if steps -= len(suspects); steps < 0 {
			return
		}
		if slices.ContainsFunc(done, func(o observed) bool { return o.test.same(c) }) {
			return
		}
		one := choice{test: c}
		if one.largest = b.logic.largest(c, suspects); one.largest == len(suspects) || found && one.largest > best.largest {
			return
		}
		one.movements, one.words = w.cost(c), w.words(c)
		if !found || one.compare(best, b.logic) < 0 {
			best, found = one, true
		}
	})
	return best.test, found
}

// largest is the number of suspects that the least telling answer leaves.
func (l *Logic) largest(c candidate, suspects []condition) int {
	var groups [answers]int
	for _, s := range suspects {
		groups[l.expect(s, c)]++
	}
	return slices.Max(groups[:])
}

type choice struct {
	test      candidate
	largest   int
	movements int
	words     []uint16
}

func (x choice) compare(y choice, l *Logic) int {
	if d := x.largest - y.largest; d != 0 {
		return d
	}
	if d := x.movements - y.movements; d != 0 {
		return d
	}
	if d := slices.Compare(x.words, y.words); d != 0 {
		return d
	}
	return x.test.compare(y.test, l)
}

func (c candidate) same(o candidate) bool {
	return c.effect == o.effect && c.engage == o.engage && c.from == o.from && c.to == o.to && c.back == o.back
}

// leaveAfter puts the walker where an observed test ended: at its beginning
// where the change was not made or went back.
func (w *walker) leaveAfter(o observed) {
	at := o.test.to
	switch o.answer {
	case wrongAtFrom, notSeenAgain, seenAgain:
		at = o.test.from
	}
	w.leave(o.test, at)
}

// words is the states gone through to do c next.
func (w *walker) words(c candidate) []uint16 {
	var out []uint16
	if u, need := w.startFor(c); need {
		out = append(out, word(u))
	}
	if c.effect != watchCranks {
		out = append(out, word(c.from))
	}
	out = append(out, word(c.to))
	if c.back {
		out = append(out, word(c.from))
	}
	return out
}
