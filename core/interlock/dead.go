package interlock

// What no machine is built like, though it can be planned.

import (
	"vespers/core/machine"
	"vespers/core/text"
)

var ruleDead = text.NewRule("interlock.never_holds", text.Slot{Name: "id", Kind: text.Name})

// Unbuilt finds permits that no state of the switches ever gives: an engine that
// can never crank or run, a drive that can never move. A round can be planned
// for such a section, and would prove nothing.
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
	return out
}

// SheetWarning reports whether a problem of a sheet's interlocks is only worth a
// look: an engine that cannot be started with nothing moving is more than that.
func SheetWarning(r text.Rule) bool { return r == ruleMadeUnsafe }
