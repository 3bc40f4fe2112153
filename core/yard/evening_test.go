package yard_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/evening"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/yard"
)

// TestAnEveningIsPlanned: what is out is in the plan once somebody says when it comes;
// what is late is counted as coming now; what is put away is not in it any more.
func TestAnEveningIsPlanned(t *testing.T) {
	w := newConvoy(t, "Lancet", "Almsman")
	e := yard.EveningOf(w, w.at)
	if len(e.Unsaid) != 2 || !e.Empty() {
		t.Fatalf("nobody said when they come: %+v", e)
	}
	w.want(w.say("Lancet", outing.Expect{Home: "soon"}), "expect.time")
	w.want(w.say("Lancet", outing.Expect{Home: w.at.Add(-5 * time.Minute).Format("15:04")}), "expect.over")
	home := w.at.Add(20 * time.Minute).Truncate(time.Minute)
	w.want(w.say("Lancet", outing.Expect{Home: home.Format("15:04")}), "")
	e = yard.EveningOf(w, w.at)
	if len(e.Unsaid) != 1 || len(e.Of.Machines) != 1 || len(e.Late) != 0 || !e.Due[w.machine("Lancet").ID].Equal(home) {
		t.Fatalf("%+v", e)
	}
	m := e.Of.Machines[0]
	if at := home.Sub(e.From).Minutes(); m.Arrives <= at || m.Arrives > at+10 || m.Cool <= 0 || e.Of.People[0].From != m.Arrives {
		t.Errorf("it comes in %v min and is shut down then: %+v", at, m)
	}
	plan := evening.Soon(e.Of)
	for _, j := range plan.Jobs {
		if j.Start < m.Arrives-1e-6 || (j.Job == outing.ChoreWash || j.Job == outing.ChorePark) && j.Start < m.Arrives+m.Cool-1e-6 {
			t.Errorf("%+v before it is there, or cool", j)
		}
		if place := map[string]string{outing.ChoreWash: "wash", outing.ChoreFuel: "fuel"}[j.Job]; j.Place != place {
			t.Errorf("%+v", j)
		}
	}

	// Late: as if it came now. Much later somebody goes and looks.
	late := home.Add(10 * time.Minute)
	if e = yard.EveningOf(w, late); len(e.Late) != 1 || e.Of.Machines[0].Arrives > 10 {
		t.Errorf("%+v", e)
	}
	state := func(at time.Time) yard.MachineState {
		c := yard.Close(w, at)
		i := slices.IndexFunc(c.Machines, func(m yard.ClosingMachine) bool { return m.Name == "Lancet" })
		return c.Machines[i].State
	}
	if got := state(late); got != yard.StandsOut {
		t.Errorf("a little late: %s", got)
	}
	if got := state(home.Add(31 * time.Minute)); got != yard.StandsMissing {
		t.Errorf("half an hour late: %s", got)
	}
	if machines, _ := yard.Close(w, home.Add(31*time.Minute)).Keeps(); !slices.Contains(machines, "Lancet") {
		t.Error("a day was closed with a machine missing")
	}

	// Shut down it is there, hot; put away it is gone from the plan.
	w.parked("Lancet")
	e = yard.EveningOf(w, w.at)
	m = e.Of.Machines[0]
	if m.Arrives != 0 || m.Cool <= 0 || len(e.Due) != 0 || e.Of.People[0].From != 0 {
		t.Errorf("it stands in the yard: %+v", e)
	}
	if cool := yard.EveningOf(w, w.at.Add(2*time.Hour)).Of.Machines[0].Cool; cool != 0 {
		t.Errorf("two hours later it cools for %v min more", cool)
	}
	w.home("ida", "Lancet")
	if e = yard.EveningOf(w, w.at); !e.Empty() {
		t.Errorf("%+v", e)
	}
}

// TestAMachinesOwnMinutes: the median of its last ten, once there are three.
func TestAMachinesOwnMinutes(t *testing.T) {
	w := newConvoy(t, "Lancet")
	w.parked("Lancet")
	id := w.machine("Lancet").ID
	minutes := func(list ...float64) float64 {
		w.spent = map[string]map[string][]float64{id: {outing.ChorePark: list}}
		for _, j := range yard.EveningOf(w, w.at).Of.Machines[0].Jobs {
			if j.ID == outing.ChorePark {
				return j.Minutes
			}
		}
		t.Fatal("it is not put away")
		return 0
	}
	sheet := minutes()
	for _, c := range []struct {
		list []float64
		want float64
	}{{[]float64{600, 600}, sheet}, {[]float64{600, 240, 6000}, 10}, {[]float64{60, 120, 180, 240}, 2.5}, {[]float64{60, 60, 60, 60, 60, 60, 60, 60, 60, 60, 9000, 9000, 9000}, 1}} {
		if got := minutes(c.list...); got != c.want {
			t.Errorf("%v: %v, want %v", c.list, got, c.want)
		}
	}
}

// TestWhoBringsItForward: somebody who has read and practised it, is at work and not out.
func TestWhoBringsItForward(t *testing.T) {
	e := yard.Evening{Has: map[string]string{"a": "ida", "b": "ida"}, Names: map[string]string{}}
	jobs := []evening.Job{{ID: "air", Minutes: 10}, {ID: "park", Minutes: 5}}
	e.Of = evening.Evening{Places: map[string]int{}, People: []evening.Person{{ID: "ida"}}, Machines: []evening.Machine{{ID: "a", Who: []string{"ida"}, Jobs: jobs}, {ID: "b", Who: []string{"ida"}, Jobs: jobs}}}
	plan := evening.Soon(e.Of)
	one, ok := e.Sooner(plan, map[string][]string{"b": {"otto"}})
	if !ok || one.Machine != "b" || one.To != "otto" || one.Close != 15 || plan.Close != 30 {
		t.Errorf("%+v %v", one, ok)
	}
	if _, ok := e.Sooner(plan, nil); ok {
		t.Error("nobody else may")
	}
	for i := range e.Of.Machines {
		e.Of.Machines[i].Jobs = []evening.Job{{ID: "air", Minutes: 1}}
	}
	if _, ok := e.Sooner(evening.Soon(e.Of), map[string][]string{"b": {"otto"}}); ok {
		t.Error("a minute is not worth a hand-over")
	}
}

// TestWhoIsAble: not who went home, has not practised it, or may not release.
func TestWhoIsAble(t *testing.T) {
	w := newConvoy(t, "Lancet")
	w.parked("Lancet")
	e := yard.EveningOf(w, w.at)
	day := yard.Close(w, w.at)
	otto := w.people["ida"]
	otto.ID, otto.Name = "otto", "Otto"
	trainee, stranger, gone := otto, otto, otto
	trainee.ID, trainee.Role = "tim", operator.Trainee
	stranger.ID, stranger.Manuals = "sam", nil
	gone.ID = "gil"
	day.People = append(day.People, yard.ClosingPerson{Person: otto}, yard.ClosingPerson{Person: trainee}, yard.ClosingPerson{Person: stranger}, yard.ClosingPerson{Person: gone, Said: &yard.Whereabouts{}})
	able := e.Able(w, day, w.at)[w.machine("Lancet").ID]
	if !slices.Contains(able, "otto") || slices.ContainsFunc(able, func(id string) bool { return id == "tim" || id == "sam" || id == "gil" }) {
		t.Errorf("%v", able)
	}
}

// TestPlacesOfTheEvening: from 1 to 20 of each.
func TestPlacesOfTheEvening(t *testing.T) {
	w := newConvoy(t)
	settings, _ := w.Settings()
	for places, want := range map[yard.Places]string{{Wash: 2, Fuel: 3}: "", {Wash: 21}: "house.places", {Fuel: -1}: "house.places"} {
		if got := w.rule("maren", yard.NameYard{Name: settings.Name, Timezone: settings.Timezone, House: settings.House, Places: places}); got != want {
			t.Errorf("%+v: %q, want %q", places, got, want)
		}
	}
}
