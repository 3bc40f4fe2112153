package yard_test

// Who would take a machine, and which other one may.

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/ground"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// hill is the hillside with a Verger that nobody takes onto the bank, and a second mower
// that may go there, once somebody has practised.
func hill(t *testing.T) (w *town, verger string) {
	w, verger, whole := readyWith(t)
	steep := whole.Copy()
	steep.ID = "steep"
	for i := range steep.Uses {
		if limit := 35.0; steep.Uses[i].ID == "slope" {
			steep.Uses[i].Limit, steep.Uses[i].NeverAbove, steep.Uses[i].Up = &limit, nil, nil
		}
	}
	steep.Slopes = &machine.Slopes{Direction: machine.AnyWays}
	w.sheets["steep"] = steep
	second := w.machines[verger]
	second.ID, second.Name, second.Sheet = "second", "Second", "steep"
	w.machines["second"] = second
	for _, who := range []string{"ida", "otto"} {
		w.shown(who, steep)
	}
	return w, verger
}

// shown has somebody read and practise a machine; slopes too.
func (w *town) shown(who string, sheet *machine.Sheet) {
	w.person(who, func(p *operator.Person) {
		all := outingtest.Schooled(p.ID, p.Role, sheet)
		p.Manuals = append(slices.Clone(p.Manuals), all.Manuals...)
		p.Qualifications = append(slices.Clone(p.Qualifications), all.Qualifications...)
	})
}

func index(t *testing.T, takers *yard.Takers, machine string) int {
	t.Helper()
	i := slices.IndexFunc(takers.Machines, func(m ground.Machine) bool { return m.ID == machine })
	if i < 0 {
		t.Fatalf("no %s among them", machine)
	}
	return i
}

// takesOut puts a machine into an outing of somebody.
func (w *town) takesOut(t *testing.T, who, id string) {
	m := w.machines[id]
	o := outingtest.Begin(t, who, outingtest.Machine(id, machinetest.Resolved{Sheet: w.sheets[m.Sheet], Hash: m.Sheet}), nil)
	o.ID = "of_" + id
	w.outings[o.ID], m.Outing = o, o.ID
	w.machines[id] = m
}

// TestWhoWouldTakeIt: who has it out; else who asks, if they were shown it; else whose it is
// today, who has practised slopes, who is here, whoever releases it alone.
func TestWhoWouldTakeIt(t *testing.T) {
	for name, c := range map[string]struct {
		change       func(w *town, verger string)
		asking, want string
	}{
		"who asks":             {func(*town, string) {}, "otto", "otto"},
		"the other who asks":   {func(*town, string) {}, "ida", "ida"},
		"whose it is today":    {func(w *town, verger string) { w.must("maren", yard.GiveMachine{Machine: verger, Person: "ida"}) }, "otto", "ida"},
		"who has it out":       {func(w *town, verger string) { w.takesOut(t, "ida", verger) }, "otto", "ida"},
		"who was not shown it": {func(*town, string) {}, "maren", "ida"},
		"who practised slopes": {func(w *town, verger string) {
			w.sheets["whole"].Needs = &machine.Qualifications{SlopePractice: true}
			w.shown("otto", w.sheets["whole"])
		}, "maren", "otto"},
		"who is here": {func(w *town, verger string) { delete(w.came, "ida") }, "maren", "otto"},
		"who has it out, whatever they were shown": {func(w *town, verger string) {
			w.takesOut(t, "maren", verger)
		}, "ida", "maren"},
		"no trainee before others":   {func(w *town, verger string) { w.person("ida", func(p *operator.Person) { p.Role = operator.Trainee }) }, "maren", "otto"},
		"nobody who has another out": {func(w *town, verger string) { w.takesOut(t, "otto", "second") }, "otto", "ida"},
	} {
		w, verger := hill(t)
		c.change(w, verger)
		takers := yard.TakersOf(w, w.at).For(c.asking, w.at)
		if got := takers.Who(takers.Taker(index(t, takers, verger))).ID; got != c.want {
			t.Errorf("%s: %s, want %s", name, got, c.want)
		}
	}
	w, _ := hill(t)
	for id := range w.people {
		w.person(id, func(p *operator.Person) { p.Left = w.at.Add(-time.Hour) })
	}
	if takers := yard.TakersOf(w, w.at); takers.Taker(0) != -1 {
		t.Error("nobody works here, and somebody would take it")
	}
}

// TestWhichMachineMayInstead, and with whom: one that may be out, with somebody who is free
// to take it.
func TestWhichMachineMayInstead(t *testing.T) {
	for name, c := range map[string]struct {
		change func(w *town, verger string)
		want   string // machine, who; whether it is out
	}{
		"as it is": {func(*town, string) {}, "second ida false"},
		"it is out": {func(w *town, verger string) {
			w.takesOut(t, "otto", "second")
		}, "second otto false"}, // it was taken, and is not released yet
		"it is released": {func(w *town, verger string) {
			w.takesOut(t, "otto", "second")
			w.outings["of_second"].Status = outing.Out
		}, "second otto true"},
		"given to another": {func(w *town, verger string) { w.must("maren", yard.GiveMachine{Machine: "second", Person: "otto"}) }, "second otto false"},
		"who has another":  {func(w *town, verger string) { w.takesOut(t, "ida", verger) }, "second otto false"},
		"nobody is free": {func(w *town, verger string) {
			third := w.machines[verger]
			third.ID = "third"
			w.machines["third"] = third
			w.takesOut(t, "ida", verger)
			w.takesOut(t, "otto", "third")
		}, "none"},
		"on Halt": {func(w *town, verger string) {
			m := w.machines["second"]
			m.Grade = defect.Halt
			w.machines["second"] = m
		}, "none"},
		"kept in by care": {func(w *town, verger string) {
			due := w.sheets["steep"].Copy()
			due.Checks = append(due.Checks, w.sheet().Sheet.Copy().Checks...)
			w.sheets["steep"] = due
		}, "none"},
		"goes with another only": {func(w *town, verger string) {
			towed := w.sheets["steep"].Copy()
			towed.Towed = &machine.Towed{}
			w.sheets["steep"] = towed
		}, "none"},
		"other work": {func(w *town, verger string) {
			other := w.sheets["steep"].Copy()
			other.Does = []string{"sweep"}
			w.sheets["steep"] = other
		}, "none"},
		"more than are looked at": {func(w *town, verger string) {
			for i := range 30 {
				m := w.machines[verger]
				m.ID = fmt.Sprintf("a%02d", i)
				w.machines[m.ID] = m
			}
			delete(w.machines, "second")
		}, "unsure"},
	} {
		w, verger := hill(t)
		c.change(w, verger)
		site, err := yard.SiteToday(w, w.at)
		if err != nil {
			t.Fatal(err)
		}
		bank := slices.IndexFunc(site.Zones, func(z ground.Zone) bool { return z.ID == "bank" })
		takers := yard.TakersOf(w, w.at).For("ida", w.at)
		in, ok, sure := takers.Instead(&site, bank, index(t, takers, verger))
		got := "none"
		switch {
		case !sure:
			got = "unsure"
		case ok:
			got = fmt.Sprint(takers.What(in.Machine).ID, " ", takers.Who(in.Person).ID, " ", in.Out)
			if in.Room.Left <= 0 {
				t.Errorf("%s: nothing of the bank is left for it", name)
			}
		}
		if got != c.want {
			t.Errorf("%s: %s, want %s", name, got, c.want)
		}
	}
}

// TestWhatStandsFirst: what is out, then what could be, what is on Halt last; and what is on
// Halt is not looked at as if it were released.
func TestWhatStandsFirst(t *testing.T) {
	w, verger := hill(t)
	third := w.machines[verger]
	third.ID, third.Grade = "a_third", defect.Halt
	w.machines["a_third"] = third
	w.takesOut(t, "otto", verger)
	w.outings["of_"+verger].Status = outing.Out
	takers := yard.TakersOf(w, w.at)
	if got := []string{takers.What(0).ID, takers.What(1).ID, takers.What(2).ID}; !slices.Equal(got, []string{verger, "second", "a_third"}) {
		t.Errorf("%v", got)
	}
	for i, want := range []bool{true, true, false} {
		if got := takers.Would(i).Released; got != want {
			t.Errorf("%s released: %t", takers.What(i).ID, got)
		}
	}
	if takers.Machines[1].Released || takers.Holder(verger) != "otto" || takers.Holder("second") != "" {
		t.Error("what is looked at was changed, or somebody has what nobody has")
	}
}

// TestWhatStandsBeside a zone: within the house rule and the doubt of the plan.
func TestWhatStandsBeside(t *testing.T) {
	w := settled(t)
	for name, x := range map[string]string{"Near": "42.3 20", "Far": "42.5 20"} {
		w.must("maren", yard.DrawFeature{Name: name, Kind: "thing", Along: x, Properties: map[string]any{"thing": "stump"}})
	}
	site, err := yard.SiteToday(w, w.at)
	if err != nil {
		t.Fatal(err)
	}
	lawn := zone(t, w, "lawn")
	var got []string
	for _, thing := range yard.Beside(&site, &lawn) {
		got = append(got, thing.ID)
	}
	if !slices.Equal(got, []string{"near"}) { // two metres and the plan's 0.4
		t.Errorf("%v", got)
	}
}
