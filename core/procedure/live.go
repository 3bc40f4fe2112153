package procedure

// Procedures in service: how one machine stands now, what may be answered, and what
// an answer does. The same rules of a turn as Check follows, with a clock.

import (
	"maps"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

const (
	// pauseMost is how long nobody has to answer until they count as gone (house
	// rule).
	pauseMost = 10 * time.Minute
	// hotAfter is how long an engine runs, moves added up, until its metal is hot
	// (trade practice: a move across the yard does not count).
	hotAfter = time.Minute
)

// The rules by which something is not done now.
var (
	RuleNotOpen  = text.NewRule("procedure.not_open")
	RuleOpen     = text.NewRule("procedure.other_open")
	RuleNotNow   = text.NewRule("procedure.not_now", text.Slot{Name: "fact", Kind: text.Term})
	RuleWaiting  = text.NewRule("procedure.waiting", text.Slot{Name: "until", Kind: text.Moment})
	RuleNoStep   = text.NewRule("procedure.no_step")
	RuleNoAnswer = text.NewRule("procedure.no_answer", text.Slot{Name: "answer", Kind: text.Name})
	RuleUnsure   = text.NewRule("procedure.clock_jumped")
)

// Live is how a machine stands in its procedures. It is a value: what changes it
// gives another.
type Live struct {
	m       *model
	w       world
	open    open
	waiting []int // events that begin again after the open one
	since   map[value]time.Time
	last    time.Time // when somebody last answered
	ran     time.Duration
	on      time.Time // since when the engine has run; zero while it is off
	jumped  time.Time // when the clock last jumped ahead; zero is never
}

// NewLive is a machine of which nobody knows anything yet.
func NewLive(s *machine.Sheet, way Way) *Live {
	return &Live{m: prepared(s, way, false), since: map[value]time.Time{}}
}

func (l *Live) clone() *Live {
	out := *l
	out.since = maps.Clone(l.since)
	return &out
}

// Stands are all facts by name.
func (l *Live) Stands() machine.Facts {
	out := machine.Facts{}
	for i, f := range l.m.layout.facts {
		out[f.ID] = l.m.layout.value(l.w, i)
	}
	return out
}

// Since is when a fact was last set to how it stands; ok is false where nobody told.
func (l *Live) Since(fact string) (at time.Time, ok bool) {
	i, known := l.m.layout.index[fact]
	if known {
		at, ok = l.since[value{i, l.m.layout.get(l.w, i)}]
	}
	return at, ok
}

// Open is the procedure that is open, or event:ID; "" is none.
func (l *Live) Open() string {
	if l.open.none() {
		return ""
	}
	return l.m.runs[l.open.run()].id
}

// Know is the machine with what is known of it otherwise: how facts stand, and since
// when. Names that it has not are left out.
func (l *Live) Know(facts machine.Facts, since map[string]time.Time) *Live {
	out := l.clone()
	for fact, is := range facts {
		if v, ok := l.m.layout.lookup(fact, is); ok {
			out.w = l.m.layout.put(out.w, v.fact, v.is)
			if at, ok := since[fact+"="+is]; ok {
				out.since[v] = at
			}
		}
	}
	return out.settled(time.Time{})
}

// Told is the machine after something was done to it elsewhere: facts that stand so
// from now on. Names that it has not are left out.
func (l *Live) Told(facts machine.Facts, now time.Time) *Live {
	out := l.clone()
	var sets set
	for fact, is := range facts {
		if v, ok := l.m.layout.lookup(fact, is); ok {
			out.w = l.m.layout.put(out.w, v.fact, v.is)
			sets |= 1 << v.fact
		}
	}
	out.moved(l.w, sets, now)
	return out.settled(now)
}

// Jumped is the machine after the clock has jumped ahead: no wait that spans the
// jump is over by the clock alone.
func (l *Live) Jumped(now time.Time) *Live {
	out := l.clone()
	out.jumped = now
	return out
}

// settled passes over what is to be passed over, and begins the wait of the step
// that is current then.
func (l *Live) settled(now time.Time) *Live {
	l.open = l.m.settle(l.w, l.open)
	if l.open.none() || now.IsZero() {
		return l
	}
	if i := l.m.current(l.open); i >= 0 {
		s := &l.m.runs[l.open.run()].steps[i]
		if _, begun := l.m.needed(s, l.w); s.wait != nil && begun {
			if _, known := l.since[*s.wait]; !known {
				l.since[*s.wait] = now
			}
		}
	}
	return l
}

// At is the machine at a moment: metal that has grown hot meanwhile, and who has
// looked away.
func (l *Live) At(now time.Time) *Live {
	out := l
	if m := l.m; m.is(l.w, m.metal, isCool) && l.running(now) >= hotAfter {
		out = l.clone()
		out.w = m.layout.put(l.w, m.metal, isHot)
		out.since[value{m.metal, isHot}] = now
		out.settled(now)
	}
	if !out.last.IsZero() && now.Sub(out.last) > pauseMost {
		out = out.paused(now)
		out.last = time.Time{}
	}
	return out
}

// paused is the machine after nobody has answered for long. Who was waiting is still
// about: what waits is begun again, and asks anew for what nobody looks at any more.
func (l *Live) paused(now time.Time) *Live {
	out := l.Left(now)
	turn, open := l.Turn(l.last)
	if !open || turn.Until.IsZero() || !out.open.none() {
		return out
	}
	run := l.open.run()
	if len(out.unmet(out.m.runs[run].begin)) > 0 {
		return out
	}
	out.open = opened(run, 0)
	return out.settled(now)
}

// Step is a step of a procedure or event:ID, or nil.
func (l *Live) Step(run, id string) *machine.Step {
	for r := range l.m.runs {
		for i := range l.m.runs[r].steps {
			if l.m.runs[r].id == run && l.m.runs[r].steps[i].id == id {
				return l.m.runs[r].steps[i].of
			}
		}
	}
	return nil
}

// TooLong reports whether the engine has idled for longer than it may at the step that is
// up, and since when: longest times warn, and refuse nothing.
func (l *Live) TooLong(now time.Time) (since time.Time, most time.Duration, too bool) {
	turn, open := l.Turn(now)
	if !open || turn.Step == nil || turn.Step.Wait == nil || !slices.Contains(turn.Step.Numbers, "idle_most") || !l.m.is(l.w, l.m.engine, isRunning) {
		return since, 0, false
	}
	for fact := range turn.Step.Wait.Since {
		since, _ = l.Since(fact)
	}
	most = l.m.sheet.With(l.m.sheet.Chosen()).Time("idle_most")
	return since, most, most > 0 && !since.IsZero() && now.Sub(since) > most
}

// Starts reports whether a step is a try to start the engine.
func Starts(s *machine.Step) bool {
	return s != nil && s.Makes["engine"] == "running" && s.Answer == machine.AnswerYesNo
}

func (l *Live) running(now time.Time) time.Duration {
	if l.on.IsZero() {
		return l.ran
	}
	return l.ran + now.Sub(l.on)
}

// Left is the machine after somebody has left it: nobody looks any more, a procedure
// is closed, an event begins again at its first step.
func (l *Live) Left(now time.Time) *Live {
	out := l.clone()
	out.w = l.m.left(l.w)
	if !l.open.none() && l.m.runs[l.open.run()].event {
		out.open = l.open.with(0)
	} else {
		out.open = 0
	}
	return out.settled(now)
}

// Unmet is a fact that stands otherwise than something needs it.
type Unmet struct {
	Fact, Is string
	Wants    []string
}

func (l *Live) unmet(list []condition) (out []Unmet) {
	for _, c := range list {
		if l.m.layout.meets(l.w, c) {
			continue
		}
		f := l.m.layout.facts[c.fact]
		u := Unmet{Fact: f.ID, Is: l.m.layout.value(l.w, c.fact)}
		for i, v := range f.Values {
			if c.any>>i&1 == 1 {
				u.Wants = append(u.Wants, v)
			}
		}
		out = append(out, u)
	}
	return out
}

// Choice is a procedure or event that may be begun, or why not.
type Choice struct {
	ID    string // event:ID for an event
	Unmet []Unmet
}

// Choices lists the procedures, then the events, in the sheet's order.
func (l *Live) Choices() (procedures, events []Choice) {
	for i := range l.m.runs {
		c := Choice{ID: l.m.runs[i].id, Unmet: l.unmet(l.m.runs[i].begin)}
		if i < l.m.events {
			procedures = append(procedures, c)
		} else {
			events = append(events, c)
		}
	}
	return procedures, events
}

// Unmet is what keeps a procedure or event from being begun.
func (l *Live) Unmet(id string) []Unmet {
	for r := range l.m.runs {
		if l.m.runs[r].id == id {
			return l.unmet(l.m.runs[r].begin)
		}
	}
	return nil
}

// Turn is what stands to be answered.
type Turn struct {
	Run  string
	Step *machine.Step // nil where nothing is left: the procedure is at its end
	// Answers are those it takes, the good one first.
	Answers []string
	Unmet   []Unmet
	// Until is when its wait is over, Since when it began; zero where it is over, or
	// there is none.
	Until, Since time.Time
	// Unsure: by the clock the wait is over, but the clock jumped; the person says.
	Unsure bool
	// Meanwhile are steps that may be answered while it waits.
	Meanwhile []*machine.Step
	// Behind counts the steps behind, of all.
	Behind, All int
}

// Turn is what stands to be answered now; ok is false where nothing is open.
func (l *Live) Turn(now time.Time) (t Turn, ok bool) {
	if l.open.none() {
		return t, false
	}
	r := &l.m.runs[l.open.run()]
	t.Run, t.All = r.id, len(r.steps)
	for i := range r.steps {
		if l.open.done()>>i&1 == 1 {
			t.Behind++
		}
	}
	i := l.m.current(l.open)
	if i < 0 {
		return t, true
	}
	s := &r.steps[i]
	t.Step, t.Unmet = s.of, l.unmet(s.needs)
	for _, a := range s.answers {
		t.Answers = append(t.Answers, a.String())
	}
	if s.wait != nil {
		var over time.Time
		over, t.Unsure = l.over(s, now)
		if over.After(now) {
			t.Until, t.Since = over, over.Add(-l.m.length(s))
			for j := i + 1; j < len(r.steps); j++ {
				if l.open.done()>>j&1 == 0 && len(t.Unmet) == 0 && l.m.fills(l.w, l.open, i, j) {
					t.Meanwhile = append(t.Meanwhile, r.steps[j].of)
				}
			}
		}
	}
	return t, true
}

// over is when the wait of a step is over. One that spans a jump of the clock begins
// anew there where it keeps fuel from fire; elsewhere the person has to say.
func (l *Live) over(s *step, now time.Time) (over time.Time, unsure bool) {
	length := l.m.length(s)
	since, known := l.since[*s.wait]
	if _, begun := l.m.needed(s, l.w); !known || !begun {
		return now.Add(length), false
	}
	if !l.jumped.IsZero() && since.Before(l.jumped) {
		if m := l.m; m.sets(s.makes, m.metal) || s.makes.facts&m.layout.setOf("spill") != 0 {
			return l.jumped.Add(length), false
		}
		return since.Add(length), true
	}
	return since.Add(length), false
}
