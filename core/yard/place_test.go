package yard_test

import (
	"testing"

	"vespers/core/defect"
	"vespers/core/yard"
)

// TestAMachineMoves, is renamed and hired; leaves, and comes back with what was wrong
// with it.
func TestAMachineMoves(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	for _, who := range []string{"ida", "ruth", "jonah", "osk"} {
		w.refused(who, yard.ChangeMachine{Machine: verger, Name: "Verger", Bay: "9"}, "who.not_your_role")
		w.refused(who, yard.SendAway{Machine: verger, Why: "Sold"}, "who.not_your_role")
	}
	w.refused("maren", yard.ChangeMachine{Machine: "none", Name: "x", Bay: "1"}, "yard.no_such_machine")
	w.refused("maren", yard.ChangeMachine{Machine: verger, Name: " SEXTON ", Bay: "9"}, "machine.named_so_already")
	for _, c := range []yard.ChangeMachine{{Machine: verger, Bay: "9"}, {Machine: verger, Name: "Verger"}, {Machine: verger, Name: "Verger", Bay: "123456789012345678901"}} {
		if w.rule("maren", c) == "" {
			t.Errorf("%+v was taken", c)
		}
	}
	w.must("maren", yard.ChangeMachine{Machine: verger, Name: "Verger II", Bay: "9", Hirer: "Fellgate Plant"})
	if m := w.machine("Verger II"); m.Bay != "9" || m.Hirer != "Fellgate Plant" {
		t.Errorf("%+v", m)
	}
	id := w.holds(verger, "chute", "tied", defect.Halt)
	w.refused("maren", yard.SendAway{Machine: verger, Why: " "}, "yard.reason_needed")
	w.must("maren", yard.SendAway{Machine: verger, Why: "Back to Fellgate Plant"})
	if len(w.Machines()) != 1 {
		t.Errorf("%+v", w.Machines())
	}
	w.refused("maren", yard.SendAway{Machine: verger, Why: "Again"}, "machine.left")
	w.refused("maren", yard.ChangeMachine{Machine: verger, Name: "x", Bay: "1"}, "machine.left")
	w.refused("ida", yard.TakeOut{Machine: verger}, "machine.left")
	for _, d := range yard.Desk(w, w.at) {
		if d.ID == id {
			t.Error("a machine that left stands on the desk")
		}
	}
	w.must("maren", yard.AddMachine{Name: "Verger II", Bay: "3", Sheet: w.sheet().Hash, Hours: "1"})
	w.refused("maren", yard.BringBack{Machine: verger, Bay: "4"}, "machine.named_so_already")
	w.must("maren", yard.ChangeMachine{Machine: w.machines["m-"+last(w)].ID, Name: "Verger III", Bay: "3"})
	w.must("maren", yard.BringBack{Machine: verger, Bay: "4"})
	w.refused("maren", yard.BringBack{Machine: verger, Bay: "4"}, "machine.is_here")
	w.refused("ida", yard.TakeOut{Machine: verger}, "take_out.on_halt")
	w.must("ida", yard.TakeOut{Machine: w.machine("Sexton").ID})
	w.refused("maren", yard.SendAway{Machine: w.machine("Sexton").ID, Why: "Sold"}, "machine.is_out")
}

// last is the newest machine's record.
func last(w *town) string {
	newest := ""
	for id := range w.machines {
		if id > newest {
			newest = id
		}
	}
	return newest[len("m-"):]
}
