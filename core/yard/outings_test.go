package yard_test

import (
	"fmt"
	"testing"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/yard"
)

// carried is a town with a boom, a tractor that carries it, and another mower.
func carried(t *testing.T) (w *town, boom, tractor string) {
	w = newTown(t)
	for name, family := range map[string]string{"Crozier": "boom_mower", "Archdeacon": "tractor"} {
		w.must("maren", yard.AddMachine{Name: name, Bay: "2", Sheet: machinetest.Of(t, family).Hash, Hours: "100"})
	}
	return w, w.machine("Crozier").ID, w.machine("Archdeacon").ID
}

func TestAnImplementGoesWithItsCarrier(t *testing.T) {
	w, boom, tractor := carried(t)
	verger := w.machine("Verger").ID
	w.refused("ida", yard.TakeOut{Machine: boom}, "take_out.needs_carrier")
	w.refused("ida", yard.TakeOut{Machine: boom, Carrier: verger}, "take_out.needs_carrier")
	w.refused("ida", yard.TakeOut{Machine: boom, Carrier: boom}, "take_out.needs_carrier")
	w.refused("ida", yard.TakeOut{Machine: boom, Carrier: "none"}, "yard.no_such_machine")
	halt := w.found(tractor, defect.Halt, nil)
	w.refused("ida", yard.TakeOut{Machine: boom, Carrier: tractor}, "take_out.on_halt")
	w.must("ruth", yard.BeginRepair{Defects: []string{halt}, Cause: "Sand", Work: "Cleaned"})
	if c := yard.Carriers(w, "tractor", w.at); len(c) != 1 || c[0].ID != tractor {
		t.Errorf("%+v", c)
	}
	w.must("ida", yard.TakeOut{Machine: boom, Carrier: tractor})
	o := w.outings[w.machine("Crozier").Outing]
	if len(o.Units) != 2 || o.Main().Machine != boom || w.machine("Archdeacon").Outing != o.ID {
		t.Errorf("%d machines, named after %s", len(o.Units), o.Main().Name)
	}
	if c := yard.Carriers(w, "tractor", w.at); len(c) != 0 {
		t.Errorf("a tractor that is out may carry: %+v", c)
	}
	// A machine of its own goes without, whatever is said.
	w.must("otto", yard.TakeOut{Machine: verger, Carrier: "none"})
	if o := w.outings[w.machine("Verger").Outing]; len(o.Units) != 1 {
		t.Errorf("%d machines", len(o.Units))
	}
}

// TestWhatStandsGoesAlong: open defects are carried into the outing.
func TestWhatStandsGoesAlong(t *testing.T) {
	w := newTown(t)
	verger, until := w.machine("Verger").ID, 108.0
	id := w.found(verger, defect.Mend, &until)
	w.must("ida", yard.TakeOut{Machine: verger})
	o := w.outings[w.machine("Verger").Outing]
	if c := o.Units[0].Carried; len(c) != 1 || c[0].ID != id || c[0].Finding.Grade != defect.Mend {
		t.Errorf("%+v", c)
	}
	w = newTown(t)
	verger, until = w.machine("Verger").ID, 99.0
	w.found(verger, defect.Mend, &until)
	w.refused("ida", yard.TakeOut{Machine: verger}, "take_out.on_halt") // its hours are up
}

// TestBothAreNamed where somebody has two out already.
func TestBothAreNamed(t *testing.T) {
	w, _, _ := carried(t)
	w.must("ida", yard.TakeOut{Machine: w.machine("Verger").ID})
	w.must("ida", yard.TakeOut{Machine: w.machine("Sexton").ID, Both: true})
	err := w.try("ida", yard.TakeOut{Machine: w.machine("Archdeacon").ID})
	refused, ok := err.(*record.Refused)
	if !ok || refused.Reason.Args[0].Plain != "Verger, Sexton" && refused.Reason.Args[0].Plain != "Sexton, Verger" {
		t.Errorf("%+v", err)
	}
}

// failed is a town in which Verger's round failed at a test of a kind, and the
// defect of it.
func failed(t *testing.T, kind string) (*town, string) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	for _, s := range []string{"ida"} {
		p := outingtest.Schooled(s, w.people[s].Role, w.sheet().Sheet)
		p.Name = w.people[s].Name
		w.people[s] = p
	}
	w.must("ida", yard.TakeOut{Machine: verger})
	id := w.machine("Verger").Outing
	for n := 0; n < 200; n++ {
		o := w.outings[id]
		r := o.Units[0].Round
		w.at = outingtest.Wait(o, w.at)
		if _, _, open := outingtest.Step(o.Units[0], w.at); !open && o.Stage() == outing.StageRound && r.Step() == round.StepTest && r.Plan.Tests[r.Next()].Kind == kind {
			w.must("ida", yard.InOuting{Outing: id, Command: outing.Test{Test: round.Test{Machine: verger, Attempt: r.Attempt, Test: r.Next(), Result: round.Bad}}})
			break
		}
		w.must("ida", yard.InOuting{Outing: id, Command: outingtest.Next(o, w.at)})
	}
	for _, d := range w.outings[id].Defects() {
		w.defects[d.ID] = yard.Defect{ID: d.ID, Machine: verger, Outing: id, Test: d.Test, Open: true, Finding: d.Finding, FoundBy: "ida", FoundAt: w.at}
		return w, d.ID
	}
	t.Fatal("nothing failed")
	return nil, ""
}

// TestClosingAHaltEndsTheOutingThatFoundIt, and nothing else does.
func TestClosingAHaltEndsTheOutingThatFoundIt(t *testing.T) {
	w, id := failed(t, interlock.EngineStop)
	outingID := w.defects[id].Outing
	mend := w.found(w.defects[id].Machine, defect.Mend, nil)
	one := w.defects[mend]
	one.Outing = outingID
	w.defects[mend] = one
	w.refused("ruth", yard.BeginRepair{Defects: []string{mend}, Cause: "Sand", Work: "Cleaned"}, "take_out.taken")
	if w.outings[outingID].Status != outing.Open {
		t.Error("mending a Mend ended the outing")
	}
	w.must("ruth", yard.BeginRepair{Defects: []string{id}, Cause: "Sand", Work: "Cleaned"})
	if w.outings[outingID].Status != outing.Closed {
		t.Error("closing the Halt did not end the outing that found it")
	}
}

// TestTheSearch asks for the next test, takes the words it has, and no answer of
// an old page.
func TestTheSearch(t *testing.T) {
	for _, kind := range []string{interlock.Refusal, interlock.EngineStop, interlock.DriveStop} {
		t.Run(kind, func(t *testing.T) {
			w, id := failed(t, kind)
			s, err := yard.Look(w, w.defects[id])
			if err != nil || s.Tried != 0 || len(s.All) == 0 {
				t.Fatalf("%+v %v", s, err)
			}
			if s.Result.Next == nil {
				t.Skip("one test told all")
			}
			next := *s.Result.Next
			w.refused("ruth", yard.TryFault{Defect: id, Tried: 1, Seen: "good"}, "defect.page_out_of_date")
			w.refused("ruth", yard.TryFault{Defect: id, Seen: ""}, "outing.no_such_result")
			w.refused("ruth", yard.TryFault{Defect: id, Seen: "fine"}, "outing.no_such_result")
			w.refused("ida", yard.TryFault{Defect: id, Seen: "good"}, "who.not_your_role")
			for seen, only := range map[string]bool{"not_before": next.Kind != interlock.Refusal, "restarted": next.Return, "good": true, "bad": true} {
				want := ""
				if !only {
					want = "outing.no_such_result"
				}
				w.refused("ruth", yard.TryFault{Defect: id, Seen: seen}, want)
				if !only {
					continue
				}
				o := w.said[0].Event.(yard.FaultTried).Observation
				moved := o.Observed != nil && *o.Observed
				was := o.AtFrom != nil && *o.AtFrom
				again := o.Restarted != nil && *o.Restarted
				if moved != (seen == "bad") || again != (seen == "restarted") || was != (next.Kind != interlock.Refusal && seen != "not_before") || (o.Observed == nil) != (seen == "not_before") {
					t.Errorf("%s of a %s: %+v", seen, next.Kind, o)
				}
				if next.Kind == interlock.Refusal && o.AtFrom != nil {
					t.Error("nothing is seen before a refusal")
				}
			}
			w.must("ruth", yard.DropTrials{Defect: id})
		})
	}
	w := newTown(t)
	other := w.found(w.machine("Verger").ID, defect.Halt, nil)
	w.refused("ruth", yard.TryFault{Defect: other, Seen: "good"}, "defect.nothing_to_search")
	w.refused("ruth", yard.TryFault{Defect: "none", Seen: "good"}, "yard.no_such_defect")
}

// TestWhoIsNotHere can be changed in nothing but that.
func TestWhoIsNotHere(t *testing.T) {
	w := newTown(t)
	w.must("maren", yard.LetGo{Person: "otto"})
	for _, who := range []string{"otto", "nobody"} {
		for _, c := range []yard.Command{yard.ChangePerson{Person: who, Name: "O", Role: "operator", Language: "en"}, yard.LendPIN{Person: who, PIN: "8351"}, yard.LetGo{Person: who},
			yard.SawManual{Person: who, Sheet: w.sheet().Hash}, yard.SawShown{Person: who, Kind: "licence"}, yard.SawBorn{Person: who, Born: "1988-09-30"}, yard.Withdraw{Person: who, Record: "x", Why: "y"}} {
			w.refused("maren", c, "yard.no_such_person")
		}
	}
	w.refused("maren", yard.TakeBack{Person: "nobody"}, "yard.no_such_person")
	w.must("maren", yard.TakeBack{Person: "otto"})
	w.must("maren", yard.ChangePerson{Person: "otto", Name: "Otto", Role: "visitor", Language: "en"}) // with no outing
}

func TestTheYardIsNamed(t *testing.T) {
	w := newTown(t)
	house := defect.House{MendDays: 5, LeakIsHalt: true}
	w.must("maren", yard.NameYard{Name: "Upper Wrenfield", Timezone: "Europe/Dublin", House: house})
	if s, _ := w.Settings(); s.Name != "Upper Wrenfield" || s.House != house || s.Timezone != "Europe/Dublin" {
		t.Errorf("%+v", s)
	}
	w.refused("maren", yard.NameYard{Name: "Wrenfield", Timezone: "Nowhere", House: house}, "yard.no_such_zone")
	for days, ok := range map[int]bool{-1: false, 0: false, 1: true, 60: true, 61: false} {
		c := yard.NameYard{Name: "Wrenfield", Timezone: "UTC", House: defect.House{MendDays: days}}
		if ok {
			w.must("maren", c)
		} else {
			w.refused("maren", c, "house.mend_days")
		}
	}
	w.must("maren", yard.NameYard{Name: "Upper Wrenfield", Timezone: "Europe/Dublin", House: house})
	w.refused("maren", yard.NameYard{Name: " ", Timezone: "UTC", House: house}, "person.name_needed")
	// The outing that begins now keeps the house as it is.
	w.must("ida", yard.TakeOut{Machine: w.machine("Verger").ID})
	if h := w.outings[w.machine("Verger").Outing].House; h.MendDays != 5 || !h.LeakIsHalt || h.Edition != defect.Edition {
		t.Errorf("%+v", h)
	}
}

// Example lets somebody take out a machine that is out already.
func Example() {
	refusal := func(err error) string { return err.Error() }
	t := &town{people: nil}
	_, err := yard.Decide(t, yard.TakeOut{Machine: "verger"}, record.Meta{ID: "r1", By: "nobody"})
	fmt.Println(refusal(err))
	// Output: refused by who.nobody_here
}
