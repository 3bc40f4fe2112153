package catalogue

// Procedures and events as they are written in sheets and kits: by id, with what a
// sheet says in the place of what a kit brought.

import (
	"io/fs"
	"slices"

	"vespers/core/machine"
	"vespers/core/procedure"
)

// joinRuns lays the procedures or events of a sheet or kit on those that are there:
// a step of the same id takes the place of the one before, a new one comes last, or
// where it says: after or before another.
func (c *composer) joinRuns(out *node, key string, value *node) {
	if out.fields[key] == nil {
		out.put(key, &node{file: value.file, line: value.line, list: true})
	}
	all := out.fields[key]
	for _, one := range asList(value).items {
		one = one.copy()
		have := all.byID(one.id())
		if have == nil || !have.mapping {
			all.items = append(all.items, one)
			if steps := one.fields["steps"]; steps != nil {
				own := *steps
				steps.items = nil
				c.joinSteps(steps, own.items)
			}
			continue
		}
		for _, k := range one.keys {
			switch mine := have.fields[k]; {
			case k == "steps" && mine != nil && mine.list && one.fields[k].list:
				c.joinSteps(mine, one.fields[k].items)
			case k == "begin" && mine != nil && mine.mapping && one.fields[k].mapping:
				for _, fact := range one.fields[k].keys {
					mine.put(fact, one.fields[k].fields[fact])
				}
			default:
				have.put(k, one.fields[k])
			}
		}
		have.file, have.line = one.file, one.line
	}
}

// asList writes runs that are named by keys as a list of things with ids; steps
// alone are a procedure without begin.
func asList(value *node) *node {
	if !value.mapping {
		return value
	}
	out := &node{file: value.file, line: value.line, list: true}
	for _, id := range value.keys {
		one := value.fields[id].copy()
		if one.list {
			steps := one
			one = &node{file: steps.file, line: steps.line, mapping: true, fields: map[string]*node{}}
			one.put("steps", steps)
		}
		if one.mapping {
			one.put("id", &node{file: one.file, line: one.line, scalar: id})
		}
		out.items = append(out.items, one)
	}
	return out
}

func (c *composer) joinSteps(have *node, more []*node) {
	for _, step := range more {
		at, named := len(have.items), ""
		for key, behind := range map[string]int{"after": 1, "before": 0} {
			beside := step.fields[key]
			if beside == nil {
				continue
			}
			named, _ = beside.scalar.(string)
			step.drop(key)
			i := slices.IndexFunc(have.items, func(s *node) bool { return s.id() == named })
			if i < 0 {
				c.add(beside, ruleOverride.Says(named))
				continue
			}
			at = i + behind
		}
		if i := slices.IndexFunc(have.items, func(s *node) bool { return s.id() == step.id() }); i >= 0 && step.id() != "" && named == "" {
			if !slices.Contains(more, have.items[i]) { // twice in one list is a mistake that is told
				have.items[i] = step
				continue
			}
		}
		have.items = slices.Insert(have.items, at, step)
	}
}

// removeSteps takes steps out of procedures or events: by the run's id a list of
// them.
func (c *composer) removeSteps(all, remove *node) {
	for _, id := range remove.keys {
		var run *node
		if all != nil {
			run = all.byID(id)
		}
		if run == nil {
			c.add(remove.fields[id], ruleOverride.Says(id))
			continue
		}
		for _, name := range remove.fields[id].items {
			step, _ := name.scalar.(string)
			steps := run.fields["steps"]
			if steps == nil || steps.byID(step) == nil {
				c.add(name, ruleOverride.Says(step))
				continue
			}
			steps.items = slices.DeleteFunc(steps.items, func(s *node) bool { return s.id() == step })
		}
	}
}

// normaliseRuns writes what facts have to be as lists, and conditions on options as
// everywhere else in a sheet.
func normaliseRuns(out *node) {
	for section, needs := range map[string][]string{"towed": {"way"}, "carries": {"open", "shut"}} {
		for _, id := range needs {
			if part := out.fields[section]; part != nil {
				listed(part.fields[id])
			}
		}
	}
	for section, begin := range map[string]string{"procedures": "begin", "events": "occurs"} {
		all := out.fields[section]
		if all == nil {
			continue
		}
		for _, run := range all.items {
			listed(run.fields[begin])
			steps := run.fields["steps"]
			if steps == nil {
				continue
			}
			for _, step := range steps.items {
				listed(step.fields["needs"])
				listed(step.fields["when"])
				if condition := step.fields["if"]; condition != nil && condition.fields["has"] != nil && condition.fields["value"] != nil {
					option, _ := condition.fields["has"].scalar.(string)
					by := &node{file: condition.file, line: condition.line, mapping: true, fields: map[string]*node{}}
					by.put(option, condition.fields["value"])
					step.put("if", by)
				}
			}
		}
	}
}

// normaliseHarm writes the harm of a hazard that is one word for both languages.
func normaliseHarm(out *node) {
	hazards := out.fields["hazards"]
	if hazards == nil {
		return
	}
	for _, h := range hazards.items {
		harm := h.fields["harm"]
		if harm == nil {
			continue
		}
		if _, plain := harm.scalar.(string); plain {
			both := &node{file: harm.file, line: harm.line, mapping: true, fields: map[string]*node{}}
			both.put("en", harm)
			both.put("es", harm)
			h.put("harm", both)
		}
	}
}

// listed writes single values of a mapping as lists of one.
func listed(n *node) {
	if n == nil {
		return
	}
	for _, k := range n.keys {
		if v := n.fields[k]; v.scalar != nil {
			n.put(k, &node{file: v.file, line: v.line, list: true, items: []*node{v}})
		}
	}
}

// procedureKeys are what a file may have that holds only procedures.
var procedureKeys = []string{"sheet", "power", "fitted", "facts", "procedure", "options", "hazards", "procedures", "events"}

// Procedures reads what a file says of procedures: a whole sheet, or that part
// alone. The sheet is nil where it cannot be used.
func Procedures(file string, data []byte) (*machine.Sheet, []Problem) {
	source, err := parse(file, data)
	if err != nil {
		return nil, []Problem{{File: file, Line: syntaxLine(err), Reason: ruleYAML.Says(err.Error())}}
	}
	if !source.mapping {
		return nil, []Problem{{File: file, Line: 1, Reason: ruleNotMapping.Says()}}
	}
	if source.fields["format"] != nil {
		sheet, problems, err := CheckFile(file)
		if err != nil {
			return nil, []Problem{{File: file, Line: 1, Reason: ruleYAML.Says(err.Error())}}
		}
		return sheet, problems
	}
	c := &composer{kits: []fs.FS{beside(file), kits()}}
	for _, key := range source.keys {
		if !slices.Contains(procedureKeys, key) && key != "kits" && key != "remove" && key != "override" {
			c.add(source.fields[key], ruleUnknownField.Says(key))
		}
	}
	whole := c.compose(source)
	if len(c.found) > 0 {
		return nil, c.found
	}
	root := &node{file: file, line: 1, mapping: true, fields: map[string]*node{}}
	for _, key := range []string{"power", "fitted", "facts", "numbers", "options", "hazards", "procedures", "events"} {
		if n := whole.fields[key]; n != nil {
			root.put(key, n)
		}
	}
	if named := source.fields["sheet"]; named != nil {
		root.put("id", named)
	}
	var wrong []machine.Problem
	found := shape(root)
	for _, key := range root.keys {
		wrong = append(wrong, within("/"+key, found)...)
	}
	if root.fields["power"] == nil {
		wrong = append(wrong, machine.Problem{Reason: ruleRequired.Says("power")})
	}
	if problems := placed(root, wrong, none); len(problems) > 0 {
		return nil, problems
	}
	sheet, err := decode(root)
	if err != nil {
		return nil, []Problem{{File: file, Line: 1, Reason: ruleShape.Says(err.Error())}}
	}
	if problems := placed(root, append(procedure.Times(sheet), procedure.Problems(sheet)...), none); len(problems) > 0 {
		return nil, problems
	}
	return sheet, nil
}
