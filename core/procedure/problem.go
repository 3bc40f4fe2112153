package procedure

// What can be wrong with the procedures of a sheet, and where.

import (
	"maps"
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// The rules that procedures are held to, besides those of any sheet.
var (
	ruleReadOnly   = text.NewRule("sheet.fact_read_only", text.Slot{Name: "fact", Kind: text.Name})
	ruleNeedsNo    = text.NewRule("sheet.answer_needs_no", text.Slot{Name: "answer", Kind: text.Name})
	ruleWithoutNo  = text.NewRule("sheet.answer_without_no", text.Slot{Name: "answer", Kind: text.Name})
	ruleNeedsWait  = text.NewRule("sheet.answer_needs_wait")
	ruleWaitTime   = text.NewRule("sheet.wait_time")
	ruleNotTime    = text.NewRule("sheet.wait_not_time", text.Slot{Name: "id", Kind: text.Name})
	ruleExpression = text.NewRule("sheet.expression", text.Slot{Name: "problem", Kind: text.Name})
	ruleFactValues = text.NewRule("sheet.fact_values")
	ruleFactsMost  = text.NewRule("sheet.too_many_facts", text.Slot{Name: "most", Kind: text.Count})
	ruleStepsMost  = text.NewRule("sheet.too_many_steps", text.Slot{Name: "most", Kind: text.Count})
)

// finder collects what is wrong with the procedures of a sheet.
type finder struct {
	sheet  *machine.Sheet
	layout *layout
	found  []machine.Problem
}

func (f *finder) add(r text.Reason, path ...any) {
	f.found = append(f.found, machine.Problem{Pointer: machine.Pointer(path...), Reason: r})
}

func (f *finder) unknown(id string, kind text.Key, known []string, path ...any) {
	f.add(machine.RuleUnknown.Says(id, kind, strings.Join(known, ", ")), path...)
}

func under(path []any, more ...any) []any { return append(slices.Clone(path), more...) }

// Problems finds what is wrong with the procedures, events, facts and hazards of a
// sheet. Without any, Check and Plan may be asked.
func Problems(s *machine.Sheet) []machine.Problem {
	f := &finder{sheet: s}
	if !f.facts() {
		return f.found
	}
	f.hazards()
	unique(f, "procedures", s.Procedures, func(p machine.Procedure) string { return p.ID })
	unique(f, "events", s.Events, func(e machine.Event) string { return e.ID })
	for i, p := range s.Procedures {
		f.needs(p.Begin, "procedures", i, "begin")
		f.steps(p.Steps, "procedures", i, "steps")
	}
	if len(s.Procedures) > 0 {
		for i, sw := range s.Interlock.Switches {
			f.makes(sw.Makes, "interlock", "switches", i, "makes")
		}
	}
	if t := s.Towed; t != nil {
		f.makes(t.Coupled, "towed", "coupled")
		f.needs(t.Way, "towed", "way")
	}
	if c := s.Carries; c != nil {
		f.needs(c.Open, "carries", "open")
		f.needs(c.Shut, "carries", "shut")
		f.makes(c.Aboard, "carries", "aboard")
		f.makes(c.Fastened, "carries", "fastened")
		f.makes(c.Empty, "carries", "empty")
	}
	var away []string
	for _, h := range every(s) {
		if strings.HasPrefix(h.ID, "away_") {
			away = append(away, h.ID)
		}
	}
	for i, e := range s.Events {
		f.needs(e.Occurs, "events", i, "occurs")
		f.makes(e.World, "events", i, "world")
		for j, id := range e.Accepts {
			if !slices.Contains(away, id) {
				f.unknown(id, "sheet.kind.hazard", away, "events", i, "accepts", j)
			}
		}
		f.look(e, "events", i, "look")
		f.steps(e.Steps, "events", i, "steps")
	}
	if len(s.Procedures)+len(s.Events) > runsMost {
		f.add(ruleStepsMost.Says(runsMost), "events")
	}
	return f.found
}

// Times finds parameters that are no times above 0, for a file that holds procedures
// alone: of a whole sheet other numbers are in order.
func Times(s *machine.Sheet) (out []machine.Problem) {
	for i, p := range s.Numbers {
		if !isTime(p) {
			out = append(out, machine.Problem{Pointer: machine.Pointer("numbers", i), Reason: ruleNotTime.Says(p.ID)})
		}
	}
	return out
}

func isTime(p machine.Parameter) bool {
	u, ok := unit.Find(p.Unit)
	return ok && u.Dimension == unit.Time && p.Value > 0
}

func unique[T any](f *finder, section string, items []T, id func(T) string) {
	seen := map[string]bool{}
	for i, item := range items {
		if seen[id(item)] {
			f.add(machine.RuleDuplicate.Says(id(item)), section, i, "id")
		}
		seen[id(item)] = true
	}
}

// facts checks the machine's own facts; ok is false where nothing can be packed.
func (f *finder) facts() (ok bool) {
	s := f.sheet
	for _, id := range slices.Sorted(maps.Keys(s.Own)) {
		values := s.Own[id]
		if slices.ContainsFunc(facts, func(known Fact) bool { return known.ID == id }) || id == "answer" {
			f.add(machine.RuleDuplicate.Says(id), "facts", id)
		}
		if len(values) < 2 || len(values) > 16 {
			f.add(ruleFactValues.Says(), "facts", id)
		}
		seen := map[string]bool{}
		for i, v := range values {
			if seen[v] {
				f.add(machine.RuleDuplicate.Says(v), "facts", id, i)
			}
			seen[v] = true
			if !word(v) {
				f.add(ruleFactValues.Says(), "facts", id, i)
			}
		}
		if !word(id) {
			f.add(ruleFactValues.Says(), "facts", id)
		}
	}
	if len(f.found) > 0 {
		return false
	}
	if f.layout, ok = newLayout(factsOf(s.Power, s.Fitted, s.Own)); !ok {
		f.add(ruleFactsMost.Says(bitsMost), "facts")
	}
	return ok
}

func (f *finder) hazards() {
	unique(f, "hazards", f.sheet.Hazards, func(h machine.SheetHazard) string { return h.ID })
	if len(f.sheet.Hazards)+len(hazards) > hazardsMost {
		f.add(ruleStepsMost.Says(hazardsMost), "hazards")
	}
	for i, h := range f.sheet.Hazards {
		if slices.ContainsFunc(hazards, func(known Hazard) bool { return known.ID == h.ID }) {
			f.add(machine.RuleDuplicate.Says(h.ID), "hazards", i, "id")
		}
		e, err := parse(h.When)
		if err != nil {
			f.add(ruleExpression.Says(err.Error()), "hazards", i, "when")
		} else {
			e.each(func(c expression) {
				for _, is := range c.is {
					if c.kind == '=' && c.name == "answer" {
						if _, ok := answerOf(is); !ok {
							f.unknown(is, "sheet.kind.answer", answerNames, "hazards", i, "when")
						}
						continue
					}
					f.value(c.name, is, "hazards", i, "when")
				}
			})
		}
		if fact, is, hasValue := strings.Cut(h.At, "="); hasValue {
			f.value(fact, is, "hazards", i, "at")
		} else if h.At != "" {
			f.fact(fact, "hazards", i, "at")
		}
		if q, choice, _ := strings.Cut(h.House, "="); h.House != "" {
			f.choice(q, choice, "hazards", i, "house")
		}
	}
}

func (f *finder) fact(id string, path ...any) bool {
	if f.layout.has(id) {
		return true
	}
	var known []string
	for _, k := range f.layout.facts {
		known = append(known, k.ID)
	}
	f.unknown(id, "sheet.kind.fact", known, path...)
	return false
}

func (f *finder) value(fact, is string, path ...any) {
	if !f.fact(fact, path...) {
		return
	}
	if _, ok := f.layout.lookup(fact, is); !ok {
		f.unknown(is, "sheet.kind.fact_value", f.layout.facts[f.layout.index[fact]].Values, path...)
	}
}

func (f *finder) choice(q, choice string, path ...any) {
	known := question(q)
	if known == nil {
		var ids []string
		for _, one := range questions {
			ids = append(ids, one.ID)
		}
		f.unknown(q, "sheet.kind.house_rule", ids, path...)
	} else if !slices.Contains(known.Choices, choice) {
		f.unknown(choice, "sheet.kind.house_choice", known.Choices, path...)
	}
}

func (f *finder) needs(n machine.Needs, path ...any) {
	for _, fact := range slices.Sorted(maps.Keys(n)) {
		for _, is := range n[fact] {
			f.value(fact, is, under(path, fact)...)
		}
		if len(n[fact]) == 0 {
			f.add(ruleFactValues.Says(), under(path, fact)...)
		}
	}
}

// makes checks what is made: no step passes the walk-around.
func (f *finder) makes(m machine.Facts, path ...any) {
	for _, fact := range slices.Sorted(maps.Keys(m)) {
		f.value(fact, m[fact], under(path, fact)...)
		if slices.Contains(outingFacts, fact) {
			f.add(ruleReadOnly.Says(fact), under(path, fact)...)
		}
	}
}

func (f *finder) steps(steps []machine.Step, path ...any) {
	if len(steps) > stepsMost {
		f.add(ruleStepsMost.Says(stepsMost), path...)
	}
	seen := map[string]bool{}
	for i := range steps {
		at := under(path, i)
		if seen[steps[i].ID] {
			f.add(machine.RuleDuplicate.Says(steps[i].ID), under(at, "id")...)
		}
		seen[steps[i].ID] = true
		f.step(steps, i, at)
	}
}

func (f *finder) step(steps []machine.Step, i int, at []any) {
	s := &steps[i]
	f.needs(s.When, under(at, "when")...)
	f.needs(s.Needs, under(at, "needs")...)
	f.makes(s.Makes, under(at, "makes")...)
	if s.School != nil {
		f.choice(s.School.Question, s.School.Choice, under(at, "school")...)
	}
	f.options(s, at)
	f.wait(s, at)
	for i, id := range s.Numbers {
		if known := f.numbers(); !slices.Contains(known, id) {
			f.unknown(id, "sheet.kind.number", known, under(at, "numbers", i)...)
		}
	}
	if s.Spot != "" && s.Spot != "operator_place" && f.sheet.OperatorPlace != "" {
		if _, ok := f.sheet.Spot(s.Spot); !ok {
			f.add(machine.UnknownSpot(f.sheet, s.Spot), under(at, "spot")...)
		}
	}
	switch two := s.Answer == machine.AnswerYesNo || s.Answer == machine.AnswerReading || s.Answer == machine.AnswerStopwatch; {
	case two && s.No == nil:
		f.add(ruleNeedsNo.Says(s.Answer), at...)
	case !two && s.No != nil:
		answer := s.Answer
		if answer == "" {
			answer = machine.AnswerDone
		}
		f.add(ruleWithoutNo.Says(answer), under(at, "no")...)
	case two:
		f.no(steps, i, at)
	}
}

func (f *finder) no(steps []machine.Step, i int, at []any) {
	no := steps[i].No
	f.makes(no.Makes, under(at, "no", "makes")...)
	if to, ok := strings.CutPrefix(no.Then, "back:"); ok {
		var before []string
		for _, s := range steps[:i+1] {
			before = append(before, s.ID)
		}
		if !slices.Contains(before, to) {
			f.unknown(to, "sheet.kind.step_before", before, under(at, "no", "then")...)
		}
	}
	if to, ok := strings.CutPrefix(no.Then, "event:"); ok {
		var events []string
		for _, e := range f.sheet.Events {
			events = append(events, e.ID)
		}
		if !slices.Contains(events, to) {
			f.unknown(to, "sheet.kind.event", events, under(at, "no", "then")...)
		}
	}
	if no.Finding == nil || len(f.sheet.Checks) == 0 { // a file may hold the procedures alone
		return
	}
	var checks, faults []string
	for _, c := range f.sheet.Checks {
		checks = append(checks, c.ID)
		if c.ID == no.Finding.Check {
			for _, fault := range c.Faults {
				faults = append(faults, fault.ID)
			}
		}
	}
	if !slices.Contains(checks, no.Finding.Check) {
		f.unknown(no.Finding.Check, "sheet.kind.check", checks, under(at, "no", "finding", "check")...)
	} else if !slices.Contains(faults, no.Finding.Fault) {
		f.unknown(no.Finding.Fault, "sheet.kind.fault", faults, under(at, "no", "finding", "fault")...)
	}
}

func (f *finder) options(s *machine.Step, at []any) {
	for _, option := range slices.Sorted(maps.Keys(s.If)) {
		var options, choices []string
		for _, o := range f.sheet.Options {
			options = append(options, o.ID)
			for _, c := range o.Choices {
				if o.ID == option {
					choices = append(choices, c.ID)
				}
			}
		}
		if !slices.Contains(options, option) {
			f.unknown(option, "sheet.kind.option", options, under(at, "if")...)
			continue
		}
		for _, way := range s.If[option] {
			if !slices.Contains(choices, way) {
				f.unknown(way, "sheet.kind.option_way", choices, under(at, "if")...)
			}
		}
	}
}

func (f *finder) wait(s *machine.Step, at []any) {
	if s.Wait == nil {
		if s.Answer == machine.AnswerWait {
			f.add(ruleNeedsWait.Says(), under(at, "answer")...)
		}
		return
	}
	for fact, is := range s.Wait.Since {
		f.value(fact, is, under(at, "wait", "since")...)
	}
	if (s.Wait.Parameter == "") == (s.Wait.Seconds == 0) {
		f.add(ruleWaitTime.Says(), under(at, "wait")...)
		return
	}
	if s.Wait.Parameter == "" {
		return
	}
	for _, p := range f.sheet.Numbers {
		if p.ID == s.Wait.Parameter && !isTime(p) {
			f.add(ruleNotTime.Says(p.ID), under(at, "wait", "parameter")...)
		}
	}
	if known := f.numbers(); !slices.Contains(known, s.Wait.Parameter) {
		f.unknown(s.Wait.Parameter, "sheet.kind.number", known, under(at, "wait", "parameter")...)
	}
}

// look checks the points that are looked over after an event: a machine that has
// worked is warm, and nobody waits for it to cool before the look.
func (f *finder) look(e machine.Event, path ...any) {
	if len(f.sheet.Checks) == 0 { // a file may hold the procedures alone
		return
	}
	var known []string
	for i := range f.sheet.Checks {
		if c := &f.sheet.Checks[i]; c.Phase == machine.Cold && c.Cool == 0 {
			known = append(known, c.ID)
		}
	}
	for i, id := range e.Look {
		if !slices.Contains(known, id) {
			f.unknown(id, "sheet.kind.check", known, under(path, i)...)
		}
	}
}

// numbers are the ids of those that the sheet gives.
func (f *finder) numbers() (known []string) {
	for _, p := range f.sheet.Numbers {
		known = append(known, p.ID)
	}
	return known
}
