package catalogue

// How a sheet is put together from shared parts: includes, options and what
// overrides what.

import (
	"fmt"
	"io/fs"
	"path"
	"slices"
	"sort"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

// Problem is one thing wrong in a sheet file.
type Problem struct {
	File string
	Line int
	// Field is where it is in the sheet as it is computed with, a JSON pointer; ""
	// where the file cannot be read so far.
	Field   string
	Warning bool
	Reason  text.Reason
}

// RuleEdition: a yard's sheet under an edition that says otherwise already.
var RuleEdition = text.NewRule("sheet.edition_taken", text.Slot{Name: "edition", Kind: text.Name})

var (
	ruleYAML       = text.NewRule("sheet.yaml", text.Slot{Name: "problem", Kind: text.Name})
	ruleUnknownKit = text.NewRule("sheet.unknown_kit", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleBadKit     = text.NewRule("sheet.bad_kit", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "section", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleOverride   = text.NewRule("sheet.override_unknown", text.Slot{Name: "id", Kind: text.Name})
	ruleNotMapping = text.NewRule("sheet.not_a_mapping")
)

// sections that a kit may bring; lists grow, in the order of the kits.
var kitSections = []string{"options", "settings", "checks", "protection", "uses", "places", "numbers", "controls", "shapes", "cautions", "hazards", "fitted", "facts", "procedures", "events"}

// byName are the sections whose things are named by keys.
var byName = []string{"facts", "procedures", "events"}

// composer resolves one sheet: its kits, then its own sections, then its
// overrides and removals.
type composer struct {
	kits  []fs.FS // searched in order for ID.yaml
	found []Problem
}

func (c *composer) add(n *node, r text.Reason) {
	c.found = append(c.found, Problem{File: n.file, Line: n.line, Reason: r})
}

func (c *composer) compose(sheet *node) *node {
	out := &node{file: sheet.file, line: sheet.line, mapping: true, fields: map[string]*node{}}
	if !sheet.mapping {
		c.add(sheet, ruleNotMapping.Says())
		return out
	}
	if kits := sheet.fields["kits"]; kits != nil {
		for _, k := range kits.items {
			c.kit(out, k)
		}
	}
	for _, k := range sheet.keys {
		switch k {
		case "override", "remove":
		default:
			c.join(out, k, sheet.fields[k])
		}
	}
	if over := sheet.fields["override"]; over != nil {
		for _, missing := range out.merge(over) {
			c.add(missing, ruleOverride.Says(fmt.Sprint(missing.scalar)))
		}
	}
	c.remove(out, sheet.fields["remove"])
	normaliseNever(out)
	normaliseStarting(out)
	normaliseEvery(out)
	normaliseRuns(out)
	normaliseHarm(out)
	normaliseIf(out)
	return out
}

func (c *composer) join(out *node, key string, value *node) {
	switch have := out.fields[key]; {
	case key == "procedures" || key == "events":
		c.joinRuns(out, key, value)
		return
	case key == "procedure" && value.list: // numbers, as procedures called them first
		c.join(out, "numbers", value)
		return
	case key == "facts" && have != nil && have.mapping && value.mapping:
		for _, fact := range value.keys {
			have.put(fact, value.fields[fact].copy())
		}
		return
	case key == "fitted" && have != nil && have.list && value.list:
		for _, item := range value.items {
			if !slices.ContainsFunc(have.items, func(n *node) bool { return n.scalar == item.scalar }) {
				have.items = append(have.items, item.copy())
			}
		}
		return
	case key == "options" && value.mapping: // ways alone, without names
		value = bareOptions(value)
	}
	if have := out.fields[key]; have != nil && have.list && value.list {
		have.items = append(have.items, value.items...)
		return
	}
	out.put(key, value.copy())
}

func (c *composer) kit(out, name *node) {
	id, _ := name.scalar.(string)
	var data []byte
	err := fs.ErrNotExist
	for _, dir := range c.kits {
		if data, err = fs.ReadFile(dir, id+".yaml"); err == nil {
			break
		}
	}
	if err != nil || id == "" {
		c.add(name, ruleUnknownKit.Says(fmt.Sprint(name.scalar), strings.Join(c.known(), ", ")))
		return
	}
	kit, err := parse("kits/"+id+".yaml", data)
	if err != nil {
		c.add(&node{file: "kits/" + id + ".yaml", line: 1}, ruleYAML.Says(err.Error()))
		return
	}
	if given := kit.fields["kit"]; given == nil || given.scalar != id {
		c.add(kit, ruleBadKit.Says(id, "kit: "+id, "kit"))
		return
	}
	for _, section := range kit.keys {
		switch {
		case section == "kit":
		case !contains(kitSections, section) || !kit.fields[section].list && !contains(byName, section):
			c.add(kit.fields[section], ruleBadKit.Says(id, section, strings.Join(kitSections, ", ")))
		default:
			c.join(out, section, kit.fields[section])
		}
	}
}

func (c *composer) known() []string {
	var ids []string
	for _, dir := range c.kits {
		files, _ := fs.Glob(dir, "*.yaml")
		for _, f := range files {
			ids = append(ids, strings.TrimSuffix(path.Base(f), ".yaml"))
		}
	}
	sort.Strings(ids)
	return ids
}

// remove takes out the things named by section and id.
func (c *composer) remove(out, remove *node) {
	if remove == nil {
		return
	}
	for _, section := range remove.keys {
		list := out.fields[section]
		if remove.fields[section].mapping {
			c.removeSteps(list, remove.fields[section])
			continue
		}
		for _, name := range remove.fields[section].items {
			id, _ := name.scalar.(string)
			if list == nil || list.byID(id) == nil {
				c.add(name, ruleOverride.Says(id))
				continue
			}
			for i, item := range list.items {
				if item.id() == id {
					list.items = append(list.items[:i:i], list.items[i+1:]...)
					break
				}
			}
		}
	}
}

// normaliseNever writes a plain string in interlock.never as a state for all
// kinds of test, and a kind of test without a list as a list of one.
func normaliseNever(out *node) {
	section := out.fields["interlock"]
	if section == nil || section.fields["never"] == nil {
		return
	}
	for i, item := range section.fields["never"].items {
		if _, ok := item.scalar.(string); ok {
			wrapped := &node{file: item.file, line: item.line, mapping: true, fields: map[string]*node{}}
			wrapped.put("state", item)
			section.fields["never"].items[i] = wrapped
		}
		if in := item.fields["in"]; in != nil && in.scalar != nil {
			item.put("in", &node{file: in.file, line: in.line, list: true, items: []*node{in}})
		}
	}
}

// normaliseStarting writes one way to start a machine as a list of one.
func normaliseStarting(out *node) {
	section := out.fields["interlock"]
	if section == nil || section.fields["starting"] == nil {
		return
	}
	if one := section.fields["starting"]; one.mapping {
		section.put("starting", &node{file: one.file, line: one.line, list: true, items: []*node{one}})
	}
}

// normaliseIf writes one way that a part belongs to as a list of one.
func normaliseIf(n *node) {
	if condition := n.fields["if"]; condition != nil && condition.mapping {
		for _, option := range condition.keys {
			if way := condition.fields[option]; way.scalar != nil {
				condition.put(option, &node{file: way.file, line: way.line, list: true, items: []*node{way}})
			}
		}
	}
	for _, key := range n.keys {
		normaliseIf(n.fields[key])
	}
	for _, item := range n.items {
		normaliseIf(item)
	}
}

// words are the intervals that a point may name by a word.
var words = map[string]int{"day": 1, "week": 7}

// normaliseEvery writes an interval that is named by a word as one in days, by
// trade practice; a point of every use has none.
func normaliseEvery(out *node) {
	checks := out.fields["checks"]
	if checks == nil {
		return
	}
	for _, c := range checks.items {
		every := c.fields["every"]
		if every == nil {
			continue
		}
		word, _ := every.scalar.(string)
		switch days, known := words[word]; {
		case word == "use":
			c.drop("every")
		case known:
			as := &node{file: every.file, line: every.line, mapping: true, fields: map[string]*node{}}
			as.put("days", &node{file: every.file, line: every.line, scalar: uint64(days)})
			as.put("source", &node{file: every.file, line: every.line, scalar: string(machine.Trade)})
			c.put("every", as)
		}
	}
}

// bareOptions writes options that are only lists of ways with those as their names.
func bareOptions(value *node) *node {
	here := func(scalar any, at *node) *node { return &node{file: at.file, line: at.line, scalar: scalar} }
	named := func(id string, at *node) *node {
		out := &node{file: at.file, line: at.line, mapping: true, fields: map[string]*node{}}
		name := &node{file: at.file, line: at.line, mapping: true, fields: map[string]*node{}}
		name.put("en", here(id, at))
		name.put("es", here(id, at))
		out.put("id", here(id, at))
		out.put("name", name)
		return out
	}
	list := &node{file: value.file, line: value.line, list: true}
	for _, id := range value.keys {
		option := named(id, value.fields[id])
		choices := &node{file: value.file, line: value.line, list: true}
		for _, way := range value.fields[id].items {
			word, _ := way.scalar.(string)
			choices.items = append(choices.items, named(word, way))
		}
		option.put("choices", choices)
		list.items = append(list.items, option)
	}
	return list
}

func contains(list []string, s string) bool {
	for _, v := range list {
		if v == s {
			return true
		}
	}
	return false
}

// placed gives core problems their file and line.
func placed(root *node, problems []machine.Problem, warning func(text.Rule) bool) []Problem {
	var out []Problem
	for _, p := range problems {
		n := root.at(p.Pointer)
		out = append(out, Problem{File: n.file, Line: n.line, Field: root.named(p.Pointer), Warning: warning(p.Reason.Rule), Reason: p.Reason})
	}
	return out
}
