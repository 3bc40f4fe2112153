package procedure

// What is said to a machine in service: a procedure begun, an event, an answer, an end.

import (
	"maps"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// Start begins a procedure.
func (l *Live) Start(id string, now time.Time) (*Live, *text.Reason) {
	if !l.open.none() {
		return l, reason(RuleOpen.Says())
	}
	for r := range l.m.events {
		if l.m.runs[r].id != id {
			continue
		}
		if unmet := l.unmet(l.m.runs[r].begin); len(unmet) > 0 {
			return l, reason(RuleNotNow.Says(text.Key(FactKey(unmet[0].Fact, unmet[0].Is))))
		}
		out := l.clone()
		out.open, out.last = opened(r, 0), now
		return out.settled(now), nil
	}
	return l, reason(RuleNotOpen.Says())
}

// Happen begins an event, by event:ID. What is open is closed; another event waits
// and begins again after it.
func (l *Live) Happen(id string, now time.Time) (*Live, *text.Reason) {
	for r := l.m.events; r < len(l.m.runs); r++ {
		if l.m.runs[r].id == id {
			if unmet := l.unmet(l.m.runs[r].begin); len(unmet) > 0 {
				return l, reason(RuleNotNow.Says(text.Key(FactKey(unmet[0].Fact, unmet[0].Is))))
			}
			out := l.clone()
			out.to(r, now)
			out.last = now
			return out.settled(now), nil
		}
	}
	return l, reason(RuleNotOpen.Says())
}

// inMotion is how a machine may stand that runs and that nobody has told of since.
var inMotion = machine.Facts{"engine": "running", "key": "in", "cutter": "on", "motion": "turning", "travel": "moving", "brake": "off", "attachment": "up", "feeding": "yes"}

// Unseen is the machine where nothing of what may move counts as off, but for what is
// said of it: so that no act is passed over because of what nobody told.
func (l *Live) Unseen(but machine.Facts, now time.Time) *Live {
	stands := l.Stands()
	facts := maps.Clone(inMotion)
	maps.Copy(facts, but)
	maps.DeleteFunc(facts, func(fact, is string) bool { return stands[fact] == is })
	return l.Told(facts, now)
}

// Happened begins an event that did happen, whatever was told of the machine: where
// it can only happen while something runs, it runs; and where the engine runs, nobody
// can be sure of the rest.
func (l *Live) Happened(id string, now time.Time) (*Live, *text.Reason) {
	unmet := l.Unmet(id)
	as := machine.Facts{}
	for _, u := range unmet {
		as[u.Fact] = u.Wants[0]
	}
	if len(unmet) > 0 || l.m.is(l.w, l.m.engine, isRunning) {
		l = l.Unseen(as, now)
	}
	return l.Happen(id, now)
}

// to begins an event on a copy.
func (l *Live) to(r int, now time.Time) {
	if !l.open.none() && l.m.runs[l.open.run()].event {
		l.waiting = pushed(l.waiting, l.open.run(), r)
	}
	before := l.w
	l.w = l.m.happen(l.w, &l.m.runs[r])
	l.moved(before, l.m.runs[r].world.facts, now)
	l.open = opened(r, 0)
}

// moved keeps the moments of facts that were set, and how long the engine has run.
func (l *Live) moved(before world, sets set, now time.Time) {
	for f := sets; f != 0; f &= f - 1 {
		fact := trailing(f)
		l.since[value{fact, l.m.layout.get(l.w, fact)}] = now
	}
	m := l.m
	switch was, is := m.is(before, m.engine, isRunning), m.is(l.w, m.engine, isRunning); {
	case is && !was:
		l.on = now
	case was && !is:
		l.ran, l.on = l.running(now), time.Time{}
	}
	if m.metal >= 0 && sets.has(m.metal) && m.is(l.w, m.metal, isCool) {
		l.ran = 0
	}
}

// Outcome is what an answer led to.
type Outcome struct {
	// Finding is a fault of a point that it found.
	Finding *machine.StepFinding
	// Stopped: the procedure was ended by an answer that is not the good one.
	Stopped bool
	// Event is the event that it led to.
	Event string
	// Ended: nothing is open any more.
	Ended bool
	// After is what the machine is from here on, where an event began: halt, wait,
	// return_only.
	After string
}

// Answer answers a step of what is open: the current one, or one that fills its
// wait. Sure is what a person says where the clock has jumped: the wait is over.
func (l *Live) Answer(id, with string, sure bool, now time.Time) (*Live, Outcome, *text.Reason) {
	if l.open.none() {
		return l, Outcome{}, reason(RuleNotOpen.Says())
	}
	run := l.open.run()
	r := &l.m.runs[run]
	i := slices.IndexFunc(r.steps, func(s step) bool { return s.id == id })
	at := l.m.current(l.open)
	if i < 0 || at < 0 || l.open.done()>>i&1 == 1 {
		return l, Outcome{}, reason(RuleNoStep.Says())
	}
	s := &r.steps[i]
	a, ok := answerOf(with)
	if !ok || !slices.Contains(s.answers, a) {
		return l, Outcome{}, reason(RuleNoAnswer.Says(with))
	}
	if refused := l.refused(run, i, at, sure, now); refused != nil {
		return l, Outcome{}, refused
	}
	out := l.clone()
	g := l.m.give(l.w, run, s, a, s.wait != nil)
	out.w, out.last = g.after, now
	out.moved(l.w, g.sets, now)
	o := out.led(s, i, a, now)
	return out.settled(now), o, nil
}

func (l *Live) refused(run, i, current int, sure bool, now time.Time) *text.Reason {
	s := &l.m.runs[run].steps[i]
	if i != current {
		first := &l.m.runs[run].steps[current]
		if first.wait == nil || !l.m.fills(l.w, l.open, current, i) {
			return reason(RuleNoStep.Says())
		}
		return nil
	}
	if unmet := l.unmet(s.needs); len(unmet) > 0 {
		return reason(RuleNotNow.Says(text.Key(FactKey(unmet[0].Fact, unmet[0].Is))))
	}
	if s.wait == nil {
		return nil
	}
	over, unsure := l.over(s, now)
	switch {
	case over.After(now):
		return reason(RuleWaiting.Says(over))
	case unsure && !sure:
		return reason(RuleUnsure.Says())
	}
	return nil
}

// led moves a copy on to where an answer leads.
func (l *Live) led(s *step, i int, a answer, now time.Time) (o Outcome) {
	then := "next"
	if !a.good() {
		then, o.Finding = s.then, s.of.No.Finding
	}
	switch then {
	case "next":
		l.open = l.open.with(l.open.done() | 1<<i)
	case "back":
		l.open = l.open.with(l.open.done() &^ (^uint64(0) << s.target))
	case "stop":
		o.Stopped = true
		l.end()
		o.Ended = l.open.none()
	case "event":
		l.to(s.target, now)
		o.Event, o.After = l.m.runs[s.target].id, l.m.runs[s.target].after
	}
	return o
}

// end ends what is open on a copy; an event that waits under it begins again.
func (l *Live) end() {
	event := l.m.runs[l.open.run()].event
	l.w, l.open = l.m.left(l.w), 0
	if n := len(l.waiting); event && n > 0 {
		l.open, l.waiting = opened(l.waiting[n-1], 0), l.waiting[:n-1]
	}
}

// Finish ends a procedure or event of which no step is left.
func (l *Live) Finish(now time.Time) (*Live, *text.Reason) {
	if l.open.none() || l.m.current(l.open) >= 0 {
		return l, reason(RuleNotOpen.Says())
	}
	out := l.clone()
	out.end()
	if out.last = now; out.open.none() {
		out.last = time.Time{}
	}
	return out.settled(now), nil
}

func reason(r text.Reason) *text.Reason { return &r }
