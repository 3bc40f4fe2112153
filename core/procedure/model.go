package procedure

// A sheet made ready to compute with, for one way of its options and of the house
// rules that its steps name.

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"vespers/core/machine"
)

// answer is what a step is answered with; the values are those of answerNames.
type answer uint8

const (
	done answer = iota
	waited
	yes
	no
	within
	past
	// unanswered is that of an event's end, where hazards are judged too.
	unanswered answer = 63
)

func (a answer) String() string { return answerNames[a] }

// good reports whether an answer is one with which all is well.
func (a answer) good() bool { return a != no && a != past }

func answerOf(name string) (answer, bool) {
	i := slices.Index(answerNames, name)
	return answer(i), i >= 0
}

// answersOf are the answers of a kind of step, the good one first.
func answersOf(kind string) []answer {
	switch kind {
	case machine.AnswerWait:
		return []answer{waited}
	case machine.AnswerYesNo:
		return []answer{yes, no}
	case machine.AnswerReading, machine.AnswerStopwatch:
		return []answer{within, past}
	}
	return []answer{done}
}

// Way is one way of a sheet's options and of the house rules.
type Way struct {
	Options machine.Chosen
	House   House
}

// model is a sheet for one way.
type model struct {
	sheet   *machine.Sheet
	numbers []machine.Parameter // those of this way
	layout  *layout
	runs    []run // procedures, then events, each in the sheet's order
	events  int   // where events begin in runs
	hazards []judged
	// about lists, for each fact, the hazards that name it.
	about []hazardSet
	// known facts by which things follow by themselves; -1 where there is none.
	engine, cutter, motion, travel, metal, person, place int
	level, people, ignition, feeding                     int
	proved                                               []int
	outing                                               []int
	// halts: some step tells a halt from what is merely open.
	halts bool
}

// run is a procedure or event.
type run struct {
	id      string // event:ID for an event
	event   bool
	begin   []condition // of an event, when it occurs
	world   effect
	after   string
	accepts hazardSet
	steps   []step
}

// step is a step of the way.
type step struct {
	of      *machine.Step
	id      string
	when    []condition
	needs   []condition
	makes   effect
	no      effect
	then    string
	target  int // of back: a step; of event: a run
	wait    *value
	answers []answer
	always  bool
	// reads and writes are the facts that decide whether a later step may come first.
	reads, writes set
	// could are the hazards that an answer might reach, by the facts that it sets.
	could hazardSet
	// free are steps before it that do not hold it back: for proving that the check
	// is not empty.
	free uint64
}

// condition is what one fact has to be.
type condition struct {
	fact int
	any  uint64 // a bit for each value that will do
}

func (l *layout) meets(w world, c condition) bool { return c.any>>l.get(w, c.fact)&1 == 1 }

func (l *layout) all(w world, list []condition) bool {
	for _, c := range list {
		if !l.meets(w, c) {
			return false
		}
	}
	return true
}

// effect is what an answer makes.
type effect struct {
	facts set
	clear uint64
	to    uint64
}

func (e effect) holds(w world) bool { return uint64(w)&e.clear == e.to }

// judged is a hazard of the way.
type judged struct {
	id      string
	test    test
	names   set // the facts of its expression
	at      int // a fact, or -1
	is      int // its value, or -1: any
	away    bool
	butTest bool
}

// hazardSet is a set of hazards by their index.
type hazardSet [4]uint64

func (s *hazardSet) add(i int)      { s[i>>6] |= 1 << (i & 63) }
func (s *hazardSet) has(i int) bool { return s[i>>6]>>(i&63)&1 == 1 }
func (s *hazardSet) or(t hazardSet) {
	for i := range s {
		s[i] |= t[i]
	}
}

// hazardsMost is how many hazards a sheet may be held to.
const hazardsMost = 64 * len(hazardSet{})

// every lists the hazards of the table and of a sheet.
func every(s *machine.Sheet) []Hazard {
	out := Hazards()
	for _, h := range s.Hazards {
		out = append(out, Hazard{ID: h.ID, At: h.At, When: h.When, House: h.House, Harm: h.Harm, Source: h.Source, Text: h.Text})
	}
	return out
}

// newModel makes a sheet that has no problems ready to be judged.
func newModel(s *machine.Sheet, way Way) *model { return prepared(s, way, true) }

// prepared makes a sheet ready; who only follows its procedures judges nothing.
func prepared(s *machine.Sheet, way Way, judge bool) *model {
	l, _ := newLayout(factsOf(s.Power, s.Fitted, s.Own))
	m := &model{sheet: s, numbers: s.With(s.Ways(way.Options)).Numbers, layout: l, about: make([]hazardSet, len(l.facts))}
	at := func(id string) int {
		if i, ok := l.index[id]; ok {
			return i
		}
		return -1
	}
	m.engine, m.cutter, m.motion, m.travel, m.metal = at("engine"), at("cutter"), at("motion"), at("travel"), at("metal")
	m.person, m.place, m.level, m.people, m.ignition, m.feeding = at("person"), at("place"), at("level"), at("people"), at("ignition"), at("feeding")
	for _, id := range []string{"proved_forward", "proved_reverse"} {
		if i := at(id); i >= 0 {
			m.proved = append(m.proved, i)
		}
	}
	for _, id := range outingFacts {
		m.outing = append(m.outing, at(id))
	}
	if judge {
		m.judge(way)
	}
	for _, p := range s.Procedures {
		m.runs = append(m.runs, run{id: p.ID, begin: m.conditions(p.Begin), steps: m.steps(p.Steps, way)})
	}
	m.events = len(m.runs)
	for _, e := range s.Events {
		r := run{id: eventID(e.ID), event: true, begin: m.conditions(e.Occurs), world: m.effect(e.World), after: e.After, steps: m.steps(e.Steps, way)}
		for i, h := range m.hazards {
			if slices.Contains(e.Accepts, h.id) {
				r.accepts.add(i)
			}
		}
		m.runs = append(m.runs, r)
	}
	m.targets()
	return m
}

func eventID(id string) string { return "event:" + id }

// judge takes up the hazards that apply.
func (m *model) judge(way Way) {
	for _, h := range every(m.sheet) {
		e, err := parse(h.When)
		if err != nil || h.NotBattery && m.sheet.Power == "battery" {
			continue
		}
		fitted, unknown := m.layout.fit(e)
		fact, is, hasValue := strings.Cut(h.At, "=")
		if unknown != "" || h.At != "" && !m.layout.has(fact) {
			continue
		}
		if q, choice, ok := strings.Cut(h.House, "="); ok && way.House.Choice(q) != choice {
			continue
		}
		j := judged{id: h.ID, test: fitted, at: -1, is: -1, away: strings.HasPrefix(h.ID, "away_"), butTest: h.ButTest}
		if h.At != "" {
			j.at = m.layout.index[fact]
			if hasValue {
				v, ok := m.layout.lookup(fact, is)
				if !ok {
					continue
				}
				j.is = v.is
			}
		}
		e.each(func(c expression) {
			if c.kind == '=' && c.name != "answer" {
				j.names |= m.layout.setOf(c.name)
			}
			m.halts = m.halts || slices.Contains(c.is, "halt")
		})
		for fact := range m.layout.facts {
			if j.at == fact || j.at < 0 && j.names.has(fact) {
				m.about[fact].add(len(m.hazards))
			}
		}
		m.hazards = append(m.hazards, j)
	}
}

func (m *model) conditions(n machine.Needs) (out []condition) {
	for _, fact := range slices.Sorted(maps.Keys(n)) {
		c := condition{fact: m.layout.index[fact]}
		for _, is := range n[fact] {
			v, _ := m.layout.lookup(fact, is)
			c.any |= 1 << v.is
			m.halts = m.halts || is == "halt"
		}
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b condition) int { return cmp.Compare(a.fact, b.fact) })
	return out
}

func (m *model) effect(f machine.Facts) (e effect) {
	for fact, is := range f {
		v, _ := m.layout.lookup(fact, is)
		e.facts |= 1 << v.fact
		e.clear |= m.layout.mask[v.fact] << m.layout.shift[v.fact]
		e.to |= uint64(v.is) << m.layout.shift[v.fact]
	}
	return e
}

// steps are those that are there in this way.
func (m *model) steps(all []machine.Step, way Way) (out []step) {
	for i := range all {
		if s := &all[i]; there(s, m.sheet.Ways(way.Options), way.House) {
			out = append(out, m.step(s))
		}
	}
	return out
}

// there reports whether a step is there with some ways of options and house rules.
func there(s *machine.Step, chosen machine.Chosen, house House) bool {
	for option, ways := range s.If {
		if !slices.Contains(ways, chosen[option]) {
			return false
		}
	}
	return s.School == nil || house.Choice(s.School.Question) == s.School.Choice
}

func (m *model) step(s *machine.Step) step {
	out := step{of: s, id: s.ID, when: m.conditions(s.When), needs: m.conditions(s.Needs), makes: m.effect(s.Makes), answers: answersOf(s.Answer), always: s.Ask == "always", target: -1}
	if s.No != nil {
		out.no, out.then = m.effect(s.No.Makes), s.No.Then
	}
	if s.Wait != nil {
		for fact, is := range s.Wait.Since {
			v, _ := m.layout.lookup(fact, is)
			out.wait = &v
			out.reads |= 1 << v.fact
		}
	}
	for _, list := range [][]condition{out.when, out.needs} {
		for _, c := range list {
			out.reads |= 1 << c.fact
		}
	}
	out.writes = out.makes.facts | out.no.facts
	l := m.layout
	if out.writes&l.setOf("travel") != 0 {
		out.writes |= l.setOf("level", "place")
	}
	if out.writes&l.setOf("engine", "cutter") != 0 {
		out.writes |= l.setOf("motion", "feeding", "proved_forward", "proved_reverse")
	}
	for f := out.writes; f != 0; f &= f - 1 {
		out.could.or(m.about[trailing(f)])
	}
	return out
}

// targets finds where the answers lead that go back or to an event. A step that is
// left out in this way stands for the next one that is there.
func (m *model) targets() {
	for i := range m.runs {
		r := &m.runs[i]
		source := m.source(i)
		for j := range r.steps {
			s := &r.steps[j]
			if to, ok := strings.CutPrefix(s.then, "back:"); ok {
				s.then = "back"
				from := slices.IndexFunc(source, func(o machine.Step) bool { return o.ID == to })
				for s.target = 0; s.target < j && slices.IndexFunc(source, func(o machine.Step) bool { return o.ID == r.steps[s.target].id }) < from; s.target++ {
				}
			} else if to, ok := strings.CutPrefix(s.then, "event:"); ok {
				s.then = "event"
				s.target = slices.IndexFunc(m.runs, func(r run) bool { return r.id == eventID(to) })
			}
		}
	}
}

// source are the steps of a run as the sheet has them.
func (m *model) source(i int) []machine.Step {
	if i < m.events {
		return m.sheet.Procedures[i].Steps
	}
	return m.sheet.Events[i-m.events].Steps
}

// ways lists the combinations of the options and house rules that steps name.
func ways(s *machine.Sheet) []Way {
	options, asked := map[string]bool{}, map[string]bool{}
	eachStep(s, func(s *machine.Step, _ ...any) {
		for option := range s.If {
			options[option] = true
		}
		if s.School != nil {
			asked[s.School.Question] = true
		}
	})
	all := []Way{{machine.Chosen{}, House{}}}
	for _, o := range s.Options {
		if !options[o.ID] {
			continue
		}
		var more []Way
		for _, w := range all {
			for _, c := range o.Choices {
				with := Way{maps.Clone(w.Options), w.House}
				with.Options[o.ID] = c.ID
				more = append(more, with)
			}
		}
		all = more
	}
	for _, q := range questions {
		if !asked[q.ID] {
			continue
		}
		var more []Way
		for _, w := range all {
			for _, c := range q.Choices {
				with := Way{w.Options, maps.Clone(w.House)}
				with.House[q.ID] = c
				more = append(more, with)
			}
		}
		all = more
	}
	return all
}

// eachStep calls see with every step of a sheet and where it stands in it.
func eachStep(s *machine.Sheet, see func(s *machine.Step, at ...any)) {
	for i := range s.Procedures {
		for j := range s.Procedures[i].Steps {
			see(&s.Procedures[i].Steps[j], "procedures", i, "steps", j)
		}
	}
	for i := range s.Events {
		for j := range s.Events[i].Steps {
			see(&s.Events[i].Steps[j], "events", i, "steps", j)
		}
	}
}
