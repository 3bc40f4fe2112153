package inspect_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/walk"
)

// TestSeveralFaultsAtAPoint: each further one stands beside the first with a grade
// of its own, is put right and taken back by itself, and is heard whatever the
// settings have become since.
func TestSeveralFaultsAtAPoint(t *testing.T) {
	act := text.Text{EN: "Tighten it", ES: "Apriételo"}
	faults := []machine.Fault{{ID: "loose", Extent: machine.Degraded, PutRight: &act}, {ID: "cracked", Extent: machine.Lost}, {ID: "dirty", Extent: machine.Early, Class: machine.ClassH}}
	l := begin(t)
	l.Sheet.Checks = append(l.Sheet.Checks, machine.Check{ID: "point", Class: machine.ClassB, Phase: machine.Cold, At: "rear", Needs: map[string]string{"deck": "raised"}, Faults: faults})
	route := append(l.Route, walk.Stop{Do: walk.Check, ID: "point", At: "rear", Phase: machine.Cold})
	l.State = inspect.Begin(inspect.State{Machine: "m", Sheet: l.Sheet, Route: route, House: l.House, Hours: 100})
	further := func(fault string) inspect.Answer { return say("point", inspect.Also(fault), "fault", fault, "") }
	grades := func() (out []defect.Grade) {
		for _, f := range l.Found() {
			if f.Check == "point" {
				out = append(out, f.Finding.Grade)
			}
		}
		return out
	}
	more := func() (ids []string) {
		for _, f := range l.More(l.Check("point")) {
			ids = append(ids, f.ID)
		}
		return ids
	}

	l.want(further("cracked"), "outing.unknown_fault") // nothing was found yet
	if len(more()) != 0 {
		t.Errorf("%v may be wrong too where nothing is", more())
	}
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	l.want(say("point", "", "fault", "loose", ""), "")
	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "down"})
	if got := more(); !slices.Equal(got, []string{"cracked", "dirty"}) {
		t.Errorf("%v may be wrong too", got)
	}
	l.want(further("loose"), "outing.unknown_fault") // it is the first
	l.want(say("point", inspect.Also("cracked"), "fault", "dirty", ""), "outing.unknown_fault")
	l.want(say("point", inspect.Also("cracked"), "not_reachable", "", ""), "outing.unknown_fault")
	l.want(say("point", inspect.Also("cracked"), "sound", "", ""), "outing.unknown_fault")
	l.want(say("point", inspect.Also("bent"), "fault", "bent", ""), "outing.unknown_point")
	l.want(further("cracked"), "")
	l.want(further("cracked"), "outing.already_answered")
	l.want(further("dirty"), "")
	if got := grades(); !slices.Equal(got, []defect.Grade{defect.Halt, defect.Halt, defect.Watch}) {
		t.Errorf("%v", got)
	}
	if len(l.Open("point")) != 0 || len(more()) != 0 {
		t.Errorf("open: %v, more: %v", l.Open("point"), more())
	}

	l.take(inspect.Set{Machine: "m", Setting: "deck", To: "raised"})
	back := say("point", inspect.Also("dirty"), "sound", "", "")
	back.Why = "a shadow"
	l.want(back, "", l.Given("point", inspect.Also("dirty"))[0].Meta.ID)
	back = say("point", inspect.Also("cracked"), "sound", "", "")
	back.Why = "a shadow"
	l.want(back, "outing.second_look", l.Given("point", inspect.Also("cracked"))[0].Meta.ID)
	if got := grades(); !slices.Equal(got, []defect.Grade{defect.Halt, defect.Halt}) || len(l.TakenBack()) != 1 {
		t.Errorf("%v, %d taken back", got, len(l.TakenBack()))
	}
	first := l.Given("point", "")[0].Meta.ID
	e, err := l.PutRight(first, say("point", "", "sound", "", ""), time.Time{})
	if err != nil {
		t.Fatal(err)
	}
	l.take(e)
	if got := grades(); !slices.Equal(got, []defect.Grade{defect.Halt}) {
		t.Errorf("put right, %v is left", got)
	}
	if got := l.Refit(l.Sheet, route); len(got.Given("point", inspect.Also("cracked"))) != 1 {
		t.Error("a further fault is lost with other options")
	}
}
