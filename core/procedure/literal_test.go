package procedure

// The rules written a second time, slowly and literally, over maps of words: no
// packing, no settling in advance, no sets. It shares only the reading of
// expressions with the other.

import (
	"fmt"
	"maps"
	"slices"
	"sort"
	"strings"

	"vespers/core/machine"
)

type words map[string]string

func (w words) key() string {
	var parts []string
	for f, v := range w {
		parts = append(parts, f+"="+v)
	}
	sort.Strings(parts)
	return strings.Join(parts, " ")
}

func (w words) meet(n machine.Needs) bool {
	for f, values := range n {
		if !slices.Contains(values, w[f]) {
			return false
		}
	}
	return true
}

func (w words) hold(f machine.Facts) bool {
	for k, v := range f {
		if w[k] != v {
			return false
		}
	}
	return true
}

// literalState is facts, what is open, its steps that are behind, and the events
// that wait under it.
type literalState struct {
	w       words
	run     string
	behind  map[string]bool
	waiting []string
	path    []string
}

func (s literalState) key() string {
	return fmt.Sprint(s.w.key(), "|", s.run, "|", slices.Sorted(maps.Keys(s.behind)), "|", s.waiting)
}

type literal struct {
	sheet   *machine.Sheet
	values  map[string][]string
	hazards []Hazard
	reached map[string][]string
	guarded map[string][]string
	dead    map[string]bool
	seen    map[string]bool
	moves   int
	house   House
	chosen  machine.Chosen
	halts   bool // something tells a halt from what is open
}

func literally(s *machine.Sheet) (l *literal, states int) {
	l = &literal{sheet: s, values: map[string][]string{}, reached: map[string][]string{}, guarded: map[string][]string{}, dead: map[string]bool{}, seen: map[string]bool{}}
	for _, f := range factsOf(s.Power, s.Fitted, s.Own) {
		l.values[f.ID] = f.Values
	}
	for _, way := range ways(s) {
		l.house, l.chosen = way.House, s.Ways(way.Options)
		l.hazards = nil
		for _, h := range every(s) {
			if l.applies(h) {
				l.hazards = append(l.hazards, h)
			}
		}
		l.halts = false
		named := func(lists ...machine.Needs) {
			for _, n := range lists {
				for _, values := range n {
					l.halts = l.halts || slices.Contains(values, "halt")
				}
			}
		}
		for _, p := range s.Procedures {
			named(p.Begin)
			for _, step := range l.steps(p.ID) {
				named(step.When, step.Needs)
			}
		}
		for _, e := range s.Events {
			named(e.Occurs)
			for _, step := range l.steps("event:" + e.ID) {
				named(step.When, step.Needs)
			}
		}
		states += l.explore()
	}
	return l, states
}

func (l *literal) applies(h Hazard) bool {
	if h.NotBattery && l.sheet.Power == "battery" {
		return false
	}
	ok := true
	e, _ := parse(h.When)
	e.each(func(c expression) {
		if c.kind == '=' && c.name == "answer" {
			return
		}
		if l.values[c.name] == nil {
			ok = false
		}
	})
	if at, _, _ := strings.Cut(h.At, "="); h.At != "" && l.values[at] == nil {
		ok = false
	}
	if q, c, named := strings.Cut(h.House, "="); named && l.house.Choice(q) != c {
		ok = false
	}
	return ok
}

// truth evaluates an expression at a moment.
func truth(e expression, w words, answer, waited string) bool {
	switch e.kind {
	case '&':
		for _, t := range e.terms {
			if !truth(t, w, answer, waited) {
				return false
			}
		}
		return true
	case '|':
		for _, t := range e.terms {
			if truth(t, w, answer, waited) {
				return true
			}
		}
		return false
	case '!':
		return !truth(e.terms[0], w, answer, waited)
	case 'w':
		return waited == e.name+"="+e.is[0]
	}
	if e.name == "answer" {
		return slices.Contains(e.is, answer)
	}
	return slices.Contains(e.is, w[e.name])
}

func (l *literal) steps(run string) (out []machine.Step) {
	var all []machine.Step
	for _, p := range l.sheet.Procedures {
		if p.ID == run {
			all = p.Steps
		}
	}
	for _, e := range l.sheet.Events {
		if "event:"+e.ID == run {
			all = e.Steps
		}
	}
	for _, s := range all {
		if there(&s, l.chosen, l.house) {
			out = append(out, s)
		}
	}
	return out
}

func (l *literal) event(run string) *machine.Event {
	for i := range l.sheet.Events {
		if "event:"+l.sheet.Events[i].ID == run {
			return &l.sheet.Events[i]
		}
	}
	return nil
}

func (l *literal) over(s machine.Step, w words) bool {
	return !w.meet(s.When) || s.Ask != "always" && len(s.Makes) > 0 && w.hold(s.Makes)
}

// make sets facts and what follows; set is what was set.
func (l *literal) make(w words, f machine.Facts) (after words, set map[string]bool) {
	after, set = maps.Clone(w), map[string]bool{}
	for k, v := range f {
		after[k], set[k] = v, true
	}
	follow := func(k, v string) {
		if _, said := f[k]; !said && l.values[k] != nil && after[k] != v {
			after[k], set[k] = v, true
		}
	}
	if f["travel"] == "moving" {
		follow("level", "unknown")
		follow("place", "unknown")
	}
	if f["engine"] == "off" {
		follow("proved_forward", "no")
		follow("proved_reverse", "no")
		follow("feeding", "no")
	}
	if f["cutter"] == "off" {
		follow("feeding", "no")
	}
	if (f["engine"] == "running" || f["cutter"] == "on") && after["engine"] == "running" && after["cutter"] == "on" {
		follow("motion", "turning")
	}
	return after, set
}

// judge lists the hazards that an answer reaches.
func (l *literal) judge(run string, s machine.Step, before, after words, set map[string]bool, answer string, over bool) (out []string) {
	waited := ""
	if over && s.Wait != nil {
		for f, v := range s.Wait.Since {
			waited = f + "=" + v
		}
	}
	toEvent := (answer == "no" || answer == "past") && strings.HasPrefix(s.No.Then, "event:")
	for _, h := range l.hazards {
		away := strings.HasPrefix(h.ID, "away_")
		if h.ButTest && s.Test || away && l.event(run) != nil && slices.Contains(l.event(run).Accepts, h.ID) {
			continue
		}
		e, _ := parse(h.When)
		now := truth(e, after, answer, waited)
		if h.At != "" {
			f, v, valued := strings.Cut(h.At, "=")
			if now && set[f] && (!valued || after[f] == v) {
				out = append(out, h.ID)
			}
			continue
		}
		if now && !truth(e, before, answer, waited) && !toEvent {
			out = append(out, h.ID)
		}
	}
	return out
}

func (l *literal) left(w words) words {
	w = maps.Clone(w)
	for _, f := range []string{"people", "ignition", "level"} {
		if l.values[f] != nil {
			w[f] = "unknown"
		}
	}
	if w["place"] == "outdoors" || w["place"] == "open_shed" {
		w["place"] = "unknown"
	}
	if w["person"] == "in_place" {
		w["person"] = "beside"
	}
	return w
}

// outing4 puts all four parts of the outing to a value.
func outing4(w words, value string) words {
	w = maps.Clone(w)
	for _, f := range outingFacts {
		w[f] = value
	}
	return w
}

func (l *literal) happens(w words, e *machine.Event) words {
	w, _ = l.make(w, e.World)
	if e.After == "halt" || e.After == "return_only" {
		w = outing4(w, "open")
		if l.halts {
			w = outing4(w, "halt")
		}
	}
	return w
}

func (l *literal) explore() int {
	start := literalState{w: words{}}
	for f, v := range l.values {
		start.w[f] = v[0]
	}
	queue, known := []literalState{}, map[string]bool{}
	add := func(s literalState, from []string, by ...string) {
		if from != nil || by != nil {
			l.moves++
		}
		s.behind = maps.Clone(s.behind)
		if s.behind == nil {
			s.behind = map[string]bool{}
		}
		for _, step := range l.steps(s.run) {
			if s.run == "" || !s.behind[step.ID] && !l.over(step, s.w) {
				break
			}
			s.behind[step.ID] = true
		}
		if k := s.key(); !known[k] {
			known[k] = true
			s.path = append(slices.Clone(from), by...)
			queue = append(queue, s)
		}
	}
	add(start, nil)
	for i := 0; i < len(queue); i++ {
		s := queue[i]
		l.guard(s)
		l.turn(s, func(next literalState, by ...string) { add(next, s.path, by...) })
	}
	return len(queue)
}

func (l *literal) reach(s literalState, hazards []string, by string) {
	for _, h := range hazards {
		if l.reached[h] == nil {
			l.reached[h] = append(slices.Clone(s.path), by)
			if l.guarded[h] == nil {
				l.guarded[h] = []string{}
			}
		}
	}
}

func (l *literal) turn(s literalState, to func(literalState, ...string)) {
	running := s.w["engine"] == "running"
	inEvent := l.event(s.run) != nil
	if s.run == "" {
		for _, p := range l.sheet.Procedures {
			if s.w.meet(p.Begin) {
				to(literalState{w: s.w, run: p.ID}, p.ID+"/begin")
			}
		}
		for part, f := range outingFacts {
			if s.w[f] != "passed" && (part == 0 || s.w[outingFacts[part-1]] == "passed") && running == (part >= 2) {
				w := maps.Clone(s.w)
				w[f] = "passed"
				to(literalState{w: w}, "outing/"+f)
			}
		}
	} else {
		l.inside(s, to)
	}
	if running && s.w["metal"] == "cool" {
		w := maps.Clone(s.w)
		w["metal"] = "hot"
		to(literalState{w: w, run: s.run, behind: s.behind, waiting: s.waiting}, "world/hot")
	}
	next := literalState{w: l.left(s.w)}
	if inEvent {
		next.run, next.waiting = s.run, s.waiting
	}
	to(next, "world/leave")
	next.w = outing4(next.w, "open")
	to(next, "world/hand_over")
	if !inEvent {
		for _, e := range l.sheet.Events {
			if s.w.meet(e.Occurs) {
				to(literalState{w: l.happens(s.w, &e), run: "event:" + e.ID}, "event:"+e.ID)
			}
		}
	}
}

func (l *literal) end(s literalState, by string, to func(literalState, ...string)) {
	next := literalState{w: l.left(s.w)}
	if l.event(s.run) != nil {
		var reached []string
		for _, h := range l.hazards {
			if e, _ := parse(h.When); h.At == "" && !strings.HasPrefix(h.ID, "away_") && truth(e, s.w, "", "") {
				reached = append(reached, h.ID)
			}
		}
		l.reach(s, reached, by)
		if n := len(s.waiting); n > 0 {
			next.run, next.waiting = s.waiting[n-1], s.waiting[:n-1]
		}
	}
	to(next, by)
}

func (l *literal) current(s literalState) *machine.Step {
	for _, step := range l.steps(s.run) {
		if !s.behind[step.ID] {
			return &step
		}
	}
	return nil
}

func begun(step *machine.Step, w words) bool { return step.Wait == nil || w.hold(step.Wait.Since) }

// reads and writes are the facts of a step, as rule 2 has them.
func reads(s machine.Step) map[string]bool {
	out := map[string]bool{}
	for f := range s.Needs {
		out[f] = true
	}
	for f := range s.When {
		out[f] = true
	}
	if s.Wait != nil {
		for f := range s.Wait.Since {
			out[f] = true
		}
	}
	return out
}

func (l *literal) writes(s machine.Step) map[string]bool {
	out := map[string]bool{}
	for f := range s.Makes {
		out[f] = true
	}
	if s.No != nil {
		for f := range s.No.Makes {
			out[f] = true
		}
	}
	if out["travel"] {
		out["level"], out["place"] = true, true
	}
	if out["engine"] || out["cutter"] {
		for _, f := range []string{"motion", "feeding", "proved_forward", "proved_reverse"} {
			out[f] = true
		}
	}
	return out
}

func meet(a, b map[string]bool) bool {
	for f := range a {
		if b[f] {
			return true
		}
	}
	return false
}

// fills reports whether a later step may be answered while the current one waits.
func (l *literal) fills(s literalState, later machine.Step) bool {
	current := l.current(s)
	if current.Wait == nil || !s.w.meet(current.Needs) || later.Answer != "" && later.Answer != "done" || later.Wait != nil || l.over(later, s.w) || !s.w.meet(later.Needs) {
		return false
	}
	for _, between := range l.steps(s.run) {
		if between.ID == later.ID {
			return true
		}
		if s.behind[between.ID] {
			continue
		}
		if meet(l.writes(later), reads(between)) || meet(l.writes(later), l.writes(between)) || meet(reads(later), l.writes(between)) {
			return false
		}
	}
	return true
}

func (l *literal) inside(s literalState, to func(literalState, ...string)) {
	current := l.current(s)
	if current == nil {
		l.end(s, s.run+"/end", to)
		return
	}
	offered := false
	if s.w.meet(current.Needs) && begun(current, s.w) {
		offered = true
		l.answer(s, *current, to)
	}
	for _, step := range l.steps(s.run) {
		if !s.behind[step.ID] && step.ID != current.ID && l.fills(s, step) {
			offered = true
			l.answer(s, step, to)
		}
	}
	if !offered {
		l.dead[s.run+"/"+current.ID] = true
	}
}

func kinds(s machine.Step) []string {
	switch s.Answer {
	case "wait":
		return []string{"waited"}
	case "yes_no":
		return []string{"yes", "no"}
	case "reading", "stopwatch":
		return []string{"within", "past"}
	}
	return []string{"done"}
}

func (l *literal) answer(s literalState, step machine.Step, to func(literalState, ...string)) {
	l.seen[s.run+"/"+step.ID] = true
	for _, a := range kinds(step) {
		by := s.run + "/" + step.ID + "=" + a
		bad := a == "no" || a == "past"
		makes, then := step.Makes, "next"
		if bad {
			makes, then = step.No.Makes, step.No.Then
		}
		after, set := l.make(s.w, makes)
		l.reach(s, l.judge(s.run, step, s.w, after, set, a, true), by)
		outcomes := []words{after}
		if bad && step.No.Finding != nil {
			outcomes = append(outcomes, outing4(after, "open"))
			if l.halts {
				outcomes = append(outcomes, outing4(after, "halt"))
			}
		}
		for i, w := range outcomes {
			next := literalState{w: w, run: s.run, behind: maps.Clone(s.behind), waiting: s.waiting, path: s.path}
			words := []string{by}
			if i > 0 {
				words = append(words, "outing/open")
			}
			id, back := strings.CutPrefix(then, "back:")
			event, toEvent := strings.CutPrefix(then, "event:")
			switch {
			case then == "next":
				next.behind[step.ID] = true
			case back:
				l.back(s.run, id, next.behind)
			case then == "stop":
				l.end(next, by, func(n literalState, _ ...string) { to(n, words...) })
				continue
			case toEvent:
				if l.event(s.run) != nil {
					next.waiting = slices.DeleteFunc(slices.Clone(s.waiting), func(r string) bool { return r == "event:"+event || r == s.run })
					if s.run != "event:"+event {
						next.waiting = append(next.waiting, s.run)
					}
				} else {
					next.waiting = nil
				}
				next.run, next.behind = "event:"+event, nil
				next.w = l.happens(w, l.event("event:"+event))
			}
			to(next, words...)
		}
	}
}

// back opens a step and all after it again.
func (l *literal) back(run, id string, behind map[string]bool) {
	var all []machine.Step
	for _, p := range l.sheet.Procedures {
		if p.ID == run {
			all = p.Steps
		}
	}
	if e := l.event(run); e != nil {
		all = e.Steps
	}
	from := slices.IndexFunc(all, func(s machine.Step) bool { return s.ID == id })
	for _, s := range all[from:] {
		delete(behind, s.ID)
	}
}

// guard finds what keeps hazards away, in the first state where something has to.
func (l *literal) guard(s literalState) {
	runs := []string{s.run}
	if s.run == "" {
		runs = nil
		for _, p := range l.sheet.Procedures {
			runs = append(runs, p.ID)
		}
	}
	for _, run := range runs {
		in := s
		var first []string
		if s.run == "" {
			in = literalState{w: s.w, run: run, behind: map[string]bool{}}
			for _, step := range l.steps(run) {
				if !l.over(step, s.w) {
					break
				}
				in.behind[step.ID] = true
			}
			for _, p := range l.sheet.Procedures {
				if p.ID == run {
					for f, v := range p.Begin {
						if !slices.Contains(v, s.w[f]) {
							first = append(first, run+".begin."+f)
						}
					}
				}
			}
		}
		for _, step := range l.steps(run) {
			if !in.behind[step.ID] && !l.over(step, s.w) {
				l.attempt(in, step, first)
			}
		}
	}
}

func (l *literal) attempt(s literalState, step machine.Step, against []string) {
	at := s.run + "/" + step.ID
	current := l.current(s)
	if current.ID != step.ID && !l.fills(s, step) {
		for _, before := range l.steps(s.run) {
			if before.ID == step.ID {
				break
			}
			if !s.behind[before.ID] && !l.over(before, s.w) {
				against = append(slices.Clone(against), s.run+"/"+before.ID)
			}
		}
	}
	for f, v := range step.Needs {
		if !slices.Contains(v, s.w[f]) {
			against = append(slices.Clone(against), at+".needs."+f)
		}
	}
	for _, over := range []bool{true, false} {
		if over && !begun(&step, s.w) || !over && step.Wait == nil {
			continue
		}
		answers := kinds(step)
		if answers[0] != "done" && answers[0] != "waited" {
			answers = append(answers, "done")
		}
		for _, a := range answers {
			guards := slices.Clone(against)
			if !over {
				guards = append(guards, at+".wait")
			}
			if a == "done" && kinds(step)[0] != "done" {
				guards = append(guards, at+".answer")
			}
			makes := step.Makes
			if a == "no" || a == "past" {
				makes = step.No.Makes
			}
			after, set := l.make(s.w, makes)
			for _, h := range l.judge(s.run, step, s.w, after, set, a, over) {
				if l.guarded[h] == nil && len(guards) > 0 {
					sort.Strings(guards)
					l.guarded[h] = guards
				}
			}
		}
	}
}
