package interlock

// What no machine is built like, though it can be planned.

import (
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
)

var (
	ruleDead   = text.NewRule("interlock.never_holds", text.Slot{Name: "id", Kind: text.Name})
	ruleNoHand = text.NewRule("interlock.no_hand", text.Slot{Name: "state", Kind: text.Name})
	ruleNoFoot = text.NewRule("interlock.no_foot", text.Slot{Name: "control", Kind: text.Name})
)

// Unbuilt finds permits that no state of the switches ever gives: an engine that
// can never crank or run, a drive that can never move; and states left to tests that
// nobody brings about. A round can be planned for such a section, and would prove
// nothing.
func Unbuilt(sheet *machine.Sheet) []machine.Problem {
	logic, _ := Compile(Section(sheet))
	if logic == nil || logic.None {
		return nil
	}
	var out []machine.Problem
	for i, p := range logic.permits {
		if !p.truth.beyond(newTable(1 << len(logic.Switches))) {
			out = append(out, machine.Problem{Pointer: machine.Pointer("interlock", "permits", i, "when"), Reason: ruleDead.Says(p.id)})
		}
	}
	return append(append(out, noHand(sheet, logic)...), noFoot(sheet, logic)...)
}

// open reports whether tests of some kind may use a state.
func (l *Logic) open(x State) bool {
	return slices.ContainsFunc(l.nowhere[:], func(nowhere table) bool { return !nowhere.has(x) })
}

// noHand finds controls that work several contacts, of which states are left to
// tests in which no position of the control puts them.
func noHand(sheet *machine.Sheet, logic *Logic) (out []machine.Problem) {
	for i := range sheet.Controls {
		c := &sheet.Controls[i]
		for x := range State(1 << len(logic.Switches)) {
			at := logic.Positions(x)
			if !logic.open(x) || c.Stands(at) != nil || !slices.ContainsFunc(logic.Switches, c.Works) {
				continue
			}
			var both []string
			for _, id := range logic.Switches {
				if c.Works(id) && !at[id] {
					both = append(both, "!"+id)
				} else if c.Works(id) {
					both = append(both, id)
				}
			}
			out = append(out, machine.Problem{Pointer: machine.Pointer("controls", i), Reason: ruleNoHand.Says(strings.Join(both, " && "))})
			break
		}
	}
	return out
}

// noFoot finds states left to tests in which somebody has risen and still holds a
// pedal that springs back.
func noFoot(sheet *machine.Sheet, logic *Logic) (out []machine.Problem) {
	for i := range sheet.Controls {
		c := &sheet.Controls[i]
		if !c.Foot {
			continue
		}
		for x := range State(1 << len(logic.Switches)) {
			if p := c.Stands(logic.Positions(x)); logic.open(x) && logic.places&^x != 0 && p != nil && p.SpringsTo != "" {
				out = append(out, machine.Problem{Pointer: machine.Pointer("controls", i), Reason: ruleNoFoot.Says(c.ID)})
				break
			}
		}
	}
	return out
}

// SheetWarning reports whether a problem of a sheet's interlocks is only worth a
// look: an engine that cannot be started with nothing moving is more than that.
func SheetWarning(r text.Rule) bool { return r == ruleMadeUnsafe }
