package outing

// The shortest way from what is missing to a release: who, with how many answers.

import (
	"slices"
	"time"

	"vespers/core/operator"
	"vespers/core/text"
)

// Way is a way to a release.
type Way struct {
	// Over is who takes the outing over, a person's id; "" where its operator keeps it.
	Over string
	// Acts is how many answers it takes, Seconds how long a practised person needs for
	// them.
	Acts    int
	Seconds float64
}

// The time of a tap that is no look at the machine, in seconds (trade practice).
const tapSeconds = 2

// ShortestWay looks among all who might finish the outing for the fewest answers, then the
// least time; of ways alike that of its operator, then of who stands first. ok is false
// where nothing is missing, or no answer of anybody here would release it: a Halt, a day
// that is over.
func (o *Outing) ShortestWay(crew []operator.Person, now time.Time) (best Way, ok bool) {
	v := o.Judge(now)
	if v.Outcome != Refusal || o.Stale(now) || o.Status != Open || o.Repair != nil {
		return best, false
	}
	self := slices.IndexFunc(crew, func(p operator.Person) bool { return p.ID == o.Operator() })
	if self >= 0 {
		best, ok = o.way(v, crew[self], now)
	}
	for _, p := range o.Mates(crew) {
		w, may := o.way(v, p, now)
		if may && (!ok || w.Acts < best.Acts || w.Acts == best.Acts && w.Seconds < best.Seconds) {
			best, ok = w, true
		}
	}
	return best, ok
}

// way is what it takes with a person as the operator; ok is false where their record
// lacks something, which no answer of today mends.
func (o *Outing) way(v Verdict, p operator.Person, now time.Time) (w Way, ok bool) {
	if !p.Here() || !p.Role.MayWork() || len(p.Readiness().Unschooled(o.Sheets(), now)) > 0 {
		return w, false
	}
	w.tap(1) // the release
	if !p.Role.MayRelease() {
		w.tap(2) // somebody to stand by, and their PIN
	}
	switch r := o.Ready(); {
	case p.ID != o.Operator():
		w.Over = p.ID
		w.tap(2 + o.readyTaps()) // chosen, and their PIN
	case r == nil:
		w.tap(o.readyTaps())
	case !r.Fit:
		return w, false // their own word for today
	default:
		for _, m := range v.Missing {
			if m.Step == StageReady {
				w.tap(readyAgain(m.Reason))
			}
		}
	}
	for _, m := range v.Missing {
		if m.Step == StageReady {
			continue
		}
		if m.Acts == 0 {
			return w, false
		}
		w.Acts, w.Seconds = w.Acts+m.Acts, w.Seconds+m.Seconds
		if u := o.Unit(m.Machine); u != nil && m.Check != "" && !u.Asks(m.Check) && !p.MayLookAt(u.Sheet, u.Check(m.Check), now) {
			w.tap(2) // somebody who may look, and their PIN
		}
	}
	return w, true
}

func (w *Way) tap(n int) { w.Acts, w.Seconds = w.Acts+n, w.Seconds+float64(n)*tapSeconds }

// readyTaps is how many taps "Ready?" takes: fit, each thing to wear and not to wear, who
// is about, and that it is so.
func (o *Outing) readyTaps() int {
	n := 2 + len(o.NotToWear())
	for _, p := range o.Protection() {
		if len(p.For) == 0 {
			n++
		}
	}
	for _, s := range o.Sheets() {
		if s.Company != nil {
			n++
		}
	}
	return n
}

// readyAgain is how many taps mend one thing that "Ready?" lacks: the list again, for
// each thing that is named, or one choice, and that it is so.
func readyAgain(r text.Reason) int {
	for _, arg := range r.Args {
		if len(arg.Subjects) > 0 {
			return 1 + len(arg.Subjects)
		}
	}
	return 2
}
