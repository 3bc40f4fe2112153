package procedure

// The plan: what is to be done, in which order, and what can be done while a wait
// runs.

import (
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// Given is how things stand when a plan is made.
type Given struct {
	Facts machine.Facts
	// Since is how many seconds ago a fact was last set to a value, by fact=value;
	// what is not there counts from now.
	Since   map[string]float64
	Options machine.Chosen
	House   House
}

// Plan is a way that leads through a procedure.
type Plan struct {
	Steps []Planned `json:"steps"`
	// Seconds is what it takes in all; WaitingSeconds how much of that there is
	// nothing to do.
	Seconds        float64 `json:"seconds"`
	WaitingSeconds float64 `json:"waiting_seconds"`
	// Impossible names what was asked where no way leads through it.
	Impossible string `json:"impossible,omitempty"`
}

// Planned is one step of a plan.
type Planned struct {
	Procedure string         `json:"procedure"`
	ID        string         `json:"id"`
	Answer    string         `json:"answer"`
	Needs     map[string]any `json:"needs"` // a value, or a list of those that will do
	Makes     machine.Facts  `json:"makes"`
	// Wait is what is left of its wait as it becomes current, in seconds; nil without
	// one. Meanwhile are the steps that fill it.
	Wait      *float64 `json:"wait_s,omitempty"`
	Meanwhile []string `json:"meanwhile,omitempty"`

	step *machine.Step
}

// Step is the step as the sheet has it.
func (p *Planned) Step() *machine.Step { return p.step }

// PlanRefused finds what is wrong with what a plan is asked for, by the field of
// Given it stands in.
func PlanRefused(s *machine.Sheet, do string, g Given) (field string, r text.Reason, wrong bool) {
	f := &finder{sheet: s}
	f.layout, _ = newLayout(factsOf(s.Power, s.Fitted, s.Own))
	var known []string
	for _, p := range s.Procedures {
		known = append(known, p.ID)
	}
	for _, e := range s.Events {
		known = append(known, eventID(e.ID))
	}
	if !slices.Contains(known, do) {
		f.unknown(do, "sheet.kind.procedure", known, "do")
	}
	for _, fact := range slices.Sorted(maps.Keys(g.Facts)) {
		f.value(fact, g.Facts[fact], "facts", fact)
	}
	for _, key := range slices.Sorted(maps.Keys(g.Since)) {
		fact, is, _ := strings.Cut(key, "=")
		f.value(fact, is, "since", key)
		if ago := g.Since[key]; ago < 0 || math.IsNaN(ago) || math.IsInf(ago, 0) {
			f.add(machine.RuleNumberRange.Says(key), "since", key)
		}
	}
	for _, q := range slices.Sorted(maps.Keys(g.House)) {
		f.choice(q, g.House[q], "house", q)
	}
	for _, option := range slices.Sorted(maps.Keys(g.Options)) {
		f.options(&machine.Step{If: machine.If{option: {g.Options[option]}}}, []any{"options"})
	}
	if len(f.found) == 0 {
		return "", r, false
	}
	return f.found[0].Pointer, f.found[0].Reason, true
}

// MakePlan plans a procedure, or an event by event:ID, from how things stand: whole
// procedures in front, as few as possible, until it may be begun and runs to its end
// without reaching a hazard, with good answers and nobody leaving.
func MakePlan(s *machine.Sheet, do string, g Given) Plan {
	m := newModel(s, Way{g.Options, g.House})
	p := planner{m}
	target := slices.IndexFunc(m.runs, func(r run) bool { return r.id == do })
	first := m.effect(g.Facts).to
	start := course{w: world(first), since: map[value]float64{}}
	for key, ago := range g.Since {
		fact, is, _ := strings.Cut(key, "=")
		if v, ok := m.layout.lookup(fact, is); ok {
			start.since[v] = -ago
		}
	}
	impossible := Plan{Steps: []Planned{}, Impossible: do}
	if m.is(start.w, m.engine, isRunning) {
		start = p.heated(start)
	}
	if m.runs[target].event {
		start.w = m.happen(start.w, &m.runs[target])
		if end, ok := p.run(start, target); ok {
			return end.plan()
		}
		return impossible
	}
	queue, seen := []course{start}, map[world]bool{start.w: true}
	for len(queue) > 0 {
		c := queue[0]
		queue = queue[1:]
		if end, ok := p.whole(c, target); ok {
			return end.plan()
		}
		for r := range m.events {
			if next, ok := p.whole(c, r); ok && !seen[next.w] {
				seen[next.w] = true
				queue = append(queue, next)
			}
		}
	}
	return impossible
}

// course is how far a plan has come.
type course struct {
	w       world
	at      float64           // seconds from now
	since   map[value]float64 // when a fact was last set to a value
	steps   []Planned
	waiting float64
}

func (c course) plan() Plan {
	if c.steps == nil {
		c.steps = []Planned{}
	}
	return Plan{Steps: c.steps, Seconds: c.at, WaitingSeconds: c.waiting}
}

type planner struct{ m *model }

// whole runs a procedure that may be begun to its end, and everybody looks away.
func (p planner) whole(c course, run int) (course, bool) {
	if !p.m.layout.all(c.w, p.m.runs[run].begin) {
		return c, false
	}
	c, ok := p.run(c, run)
	c.w = p.m.left(c.w)
	return c, ok
}

// run goes through a procedure with good answers; ok is false where it reaches a
// hazard or comes to a dead end.
func (p planner) run(c course, run int) (end course, ok bool) {
	m := p.m
	c.since, c.steps = maps.Clone(c.since), slices.Clone(c.steps)
	steps := m.runs[run].steps
	o := m.settle(c.w, opened(run, 0))
	for {
		now := m.current(o)
		if now < 0 {
			return c, !m.runs[run].event || m.ended(c.w) == (hazardSet{})
		}
		s := &steps[now]
		needs, begun := m.needed(s, c.w)
		if !needs {
			return c, false
		}
		place := len(c.steps)
		c.steps = append(c.steps, p.planned(run, s))
		if s.wait != nil {
			if !begun {
				return c, false
			}
			left := p.left(c, s)
			c.steps[place].Wait = &left
			over := c.at + left
			for i := now + 1; i < len(steps) && c.at < over; i++ {
				if o.done()>>i&1 == 1 || !m.fills(c.w, o, now, i) {
					continue
				}
				fill := p.planned(run, &steps[i])
				c.steps = append(c.steps, fill)
				c.steps[place].Meanwhile = append(c.steps[place].Meanwhile, fill.Procedure+"/"+fill.ID)
				if !p.answer(&c, run, &steps[i], false, seconds(fill.step)) {
					return c, false
				}
				o = o.with(o.done() | 1<<i)
				i = now // what one makes may let an earlier one fill in
			}
			if idle := over - c.at; idle > 0 {
				c.at, c.waiting = over, c.waiting+idle
			}
		}
		if !p.answer(&c, run, s, s.wait != nil, seconds(s.of)) {
			return c, false
		}
		o = m.settle(c.w, o.with(o.done()|1<<now))
	}
}

func (p planner) planned(run int, s *step) Planned {
	makes := s.of.Makes
	if makes == nil {
		makes = machine.Facts{}
	}
	return Planned{Procedure: p.m.runs[run].id, ID: s.id, Answer: s.answers[0].String(), Needs: told(s.of.Needs), Makes: makes, step: s.of}
}

// left is what is left of a step's wait that has begun, in seconds; one without a
// stored moment counts from now.
func (p planner) left(c course, s *step) float64 {
	since, known := c.since[*s.wait]
	if !known {
		since = c.at
		c.since[*s.wait] = since
	}
	return max(0, p.m.length(s).Seconds()-(c.at-since))
}

// answer gives the good answer; ok is false where it reaches a hazard.
func (p planner) answer(c *course, run int, s *step, over bool, takes float64) (ok bool) {
	g := p.m.give(c.w, run, s, s.answers[0], over)
	c.w, c.at = g.after, c.at+takes
	for f := g.sets; f != 0; f &= f - 1 {
		fact := trailing(f)
		c.since[value{fact, p.m.layout.get(c.w, fact)}] = c.at
	}
	if p.m.is(c.w, p.m.engine, isRunning) {
		*c = p.heated(*c)
	}
	return g.reach == (hazardSet{})
}

// heated is a course in which the metal is hot: an engine that runs makes it so.
func (p planner) heated(c course) course {
	if m := p.m; m.is(c.w, m.metal, isCool) {
		c.w = m.layout.put(c.w, m.metal, isHot)
		c.since[value{m.metal, isHot}] = c.at
	}
	return c
}

// stepSeconds is what a step takes that does not say.
const stepSeconds = 15

func seconds(s *machine.Step) float64 {
	if s.Seconds != nil {
		return *s.Seconds
	}
	return stepSeconds
}

// told writes needs as the sheet does: a value, or a list of several.
func told(n machine.Needs) map[string]any {
	out := map[string]any{}
	for fact, values := range n {
		if len(values) == 1 {
			out[fact] = values[0]
		} else {
			out[fact] = []string(values)
		}
	}
	return out
}

// Takes is how long some steps take together.
func Takes(steps []*machine.Step) time.Duration {
	total := 0.0
	for _, s := range steps {
		total += seconds(s)
	}
	return time.Duration(total * float64(time.Second))
}
