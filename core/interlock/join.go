package interlock

// A carrier and its implement as one machine.

import (
	"slices"
	"strconv"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

var (
	ruleNoImplement    = text.NewRule("interlock.nothing_to_join")
	ruleCarrierDrive   = text.NewRule("interlock.carrier_drive", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	ruleCarrierPermit  = text.NewRule("interlock.carrier_permit", text.Slot{Name: "kind", Kind: text.Name})
	ruleImplementOwn   = text.NewRule("interlock.implement_permit", text.Slot{Name: "id", Kind: text.Name})
	ruleTurnedAlready  = text.NewRule("interlock.turned_already", text.Slot{Name: "id", Kind: text.Name})
	ruleCarrierUnknown = text.NewRule("interlock.names_carrier")
)

// Section is what a sheet says of interlocks by itself. What an implement
// requires may speak of its carrier and is judged when the two are joined.
func Section(sheet *machine.Sheet) machine.Interlock {
	section := sheet.Interlock
	if sheet.Carrier != nil && sheet.Carrier.Drives != "" {
		section.Required = nil
	}
	return section
}

// Of compiles the section of a sheet.
func Of(sheet *machine.Sheet) (*Logic, []machine.Problem) {
	logic, problems := Compile(Section(sheet))
	if sheet.Carrier == nil || sheet.Carrier.Drives == "" {
		return logic, problems
	}
	j := joiner{implement: sheet.Interlock, how: *sheet.Carrier}
	j.own()
	if problems = append(problems, j.found...); len(j.found) > 0 {
		logic = nil
	}
	return logic, problems
}

// Alone compiles the section of a file by itself. An implement whose tests speak
// of its carrier has to be joined for that.
func Alone(sheet *machine.Sheet) (*Logic, []machine.Problem) {
	logic, problems := Compile(sheet.Interlock)
	for i, p := range problems {
		if sheet.Carrier != nil && p.Reason.Rule == ruleRequired {
			problems[i].Reason = ruleCarrierUnknown.Says()
		}
	}
	return logic, problems
}

// Join makes one section of a carrier and of an implement that one of its drives
// turns: what the implement lets move does so only while that drive moves, and
// what it asks of its own switches is asked before the carrier cranks or runs.
// Problems are those of the implement, by their place in its sheet; with any
// that is no warning there is no section.
func Join(carrier machine.Interlock, implement *machine.Sheet) (joined machine.Interlock, problems []machine.Problem) {
	if implement.Carrier == nil || implement.Interlock.None != nil || carrier.None != nil {
		return joined, []machine.Problem{{Pointer: machine.Pointer("carrier"), Reason: ruleNoImplement.Says()}}
	}
	j := joiner{carrier: carrier, implement: implement.Interlock, how: *implement.Carrier}
	j.own()
	j.meets()
	if len(j.found) > 0 {
		return joined, j.found
	}
	joined = j.join()
	logic, found := Compile(joined)
	for _, p := range found {
		p.Pointer = j.inImplement(p.Pointer)
		problems = append(problems, p)
	}
	if logic == nil {
		joined = machine.Interlock{}
	}
	return joined, problems
}

type joiner struct {
	carrier, implement machine.Interlock
	how                machine.Carrier
	found              []machine.Problem
}

func (j *joiner) add(r text.Reason, path ...any) {
	j.found = append(j.found, machine.Problem{Pointer: machine.Pointer(path...), Reason: r})
}

// asked is what the implement asks before its carrier does something.
func (j *joiner) asked() [2]struct{ kind, source string } {
	return [2]struct{ kind, source string }{{"start", j.how.Start}, {"run", j.how.Run}}
}

// own looks at what the implement says for itself.
func (j *joiner) own() {
	known := map[string]bool{}
	var list []string
	for _, s := range j.implement.Switches {
		known[s.ID] = true
		list = append(list, s.ID)
	}
	for i, p := range j.implement.Permits {
		if p.Kind != "drive" {
			j.add(ruleImplementOwn.Says(p.ID), "interlock", "permits", i, "kind")
		}
		if p.TurnedBy != "" {
			j.add(ruleTurnedAlready.Says(p.ID), "interlock", "permits", i, "turned_by")
		}
	}
	for _, asked := range j.asked() {
		if asked.source == "" {
			continue
		}
		e, err := Parse(asked.source)
		if err != nil {
			j.add(ruleSyntax.Says(asked.source, err.(*SyntaxError).Offset+1), "carrier", asked.kind)
			continue
		}
		used := map[string]bool{}
		names(e, used)
		for name := range used {
			if !known[name] {
				j.add(ruleSwitch.Says(name, strings.Join(list, ", ")), "carrier", asked.kind)
			}
		}
	}
}

// meets looks at what the two have to do with each other.
func (j *joiner) meets() {
	taken, kinds, drive := map[string]bool{}, map[string]bool{}, false
	var drives []string
	for _, s := range j.carrier.Switches {
		taken[s.ID] = true
	}
	for _, p := range j.carrier.Permits {
		taken[p.ID], kinds[p.Kind] = true, true
		if p.Kind == "drive" && p.TurnedBy == "" {
			drives, drive = append(drives, p.ID), drive || p.ID == j.how.Drives
		}
	}
	if !drive {
		j.add(ruleCarrierDrive.Says(j.how.Drives, strings.Join(drives, ", ")), "carrier", "drives")
	}
	for _, asked := range j.asked() {
		if asked.source != "" && !kinds[asked.kind] {
			j.add(ruleCarrierPermit.Says(asked.kind), "carrier", asked.kind)
		}
	}
	for i, s := range j.implement.Switches {
		if taken[s.ID] {
			j.add(ruleDuplicate.Says(s.ID), "interlock", "switches", i, "id")
		}
	}
	for i, p := range j.implement.Permits {
		if taken[p.ID] {
			j.add(ruleDuplicate.Says(p.ID), "interlock", "permits", i, "id")
		}
	}
	if len(j.carrier.Switches)+len(j.implement.Switches) > maxSwitches {
		j.add(ruleTooMany.Says(text.Key("interlock.switches"), maxSwitches), "interlock", "switches")
	}
}

func (j *joiner) join() machine.Interlock {
	joined := machine.Interlock{
		Switches: concat(j.carrier.Switches, j.implement.Switches),
		Permits:  concat(j.carrier.Permits, j.implement.Permits),
		Never:    concat(j.carrier.Never, j.implement.Never),
		Required: concat(j.carrier.Required, j.implement.Required),
		Cautions: concat(j.carrier.Cautions, j.implement.Cautions),
		Codes:    slices.Concat(j.carrier.Codes, j.implement.Codes),
		Starting: j.carrier.Starting,
	}
	for i := range joined.Permits {
		p := &joined.Permits[i]
		if i >= len(j.carrier.Permits) {
			p.TurnedBy = j.how.Drives
			continue
		}
		for _, asked := range j.asked() {
			if p.Kind == asked.kind && asked.source != "" {
				p.When = "(" + p.When + ") && (" + asked.source + ")"
			}
		}
	}
	return joined
}

func concat[T any](a, b []T) []T { return append(append([]T{}, a...), b...) }

// inImplement turns a place in the joined section into one of the implement's.
func (j *joiner) inImplement(pointer string) string {
	parts := strings.Split(pointer, "/") // "", interlock, list, place, …
	if len(parts) < 4 {
		return pointer
	}
	before := map[string]int{"switches": len(j.carrier.Switches), "permits": len(j.carrier.Permits), "never": len(j.carrier.Never), "required": len(j.carrier.Required)}
	if at, err := strconv.Atoi(parts[3]); err == nil && at >= before[parts[2]] {
		parts[3] = strconv.Itoa(at - before[parts[2]])
	}
	return strings.Join(parts, "/")
}

// OfImplement reports whether a permit of a joined section is one of the
// implement: the carrier does not have it.
func OfImplement(carrier machine.Interlock, permit string) bool {
	return carrier.Permit(permit).ID == ""
}
