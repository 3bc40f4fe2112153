package yard_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// home brings what a person has out home.
func (w convoy) home(who, name string) {
	w.t.Helper()
	id := w.machine(name).Outing
	for range 40 {
		c, at := outingtest.Home(w.outings[id], w.at)
		if at.After(w.at) {
			w.at = at
		}
		w.must(who, yard.InOuting{Outing: id, Command: c})
		if w.outings[id].Status == outing.Closed {
			return
		}
	}
	w.t.Fatalf("%s never comes home", name)
}

// parked shuts a machine down and leaves it where it stands.
func (w convoy) parked(name string) {
	w.t.Helper()
	w.want(w.steps(name, "shutdown", ""), "")
}

// TestADayIsSealed: not with a machine out, not with a person of whom nobody knows, by a
// lead alone, and what comes after is the next day's.
func TestADayIsSealed(t *testing.T) {
	w := newConvoy(t, "Lancet", "Pardoner")
	day := yard.Close(w, w.at)
	if len(day.Machines) != 2 || len(day.People) != 1 || day.Past || day.Day != morning.Format(time.DateOnly) {
		t.Fatalf("%+v", day)
	}
	seal := yard.SealDay{Day: day.Day}
	w.refused("maren", yard.SealDay{Day: "soon"}, "close.no_such_day")
	w.refused("maren", yard.SealDay{Day: "2020-02-02"}, "close.another_day")
	w.refused("maren", seal, "close.machine_out")
	w.refused("ida", seal, "who.not_your_role")
	w.refused("ida", yard.GoHome{}, "close.has_machine")
	w.home("ida", "Lancet")
	w.refused("ida", yard.GoHome{}, "close.has_machine")

	// One stays where it stands: secured, by somebody's word, and somebody fetches it.
	where := outing.Leave{Where: "Lower terrace", Secured: "Chocked, clip out, key with me", Why: "Fog", Fetches: "otto"}
	w.want(w.say("Pardoner", where), "outing.shut_down_first")
	w.parked("Pardoner")
	for _, bad := range []outing.Leave{{Secured: "x", Why: "y", Fetches: "otto"}, {Where: "x", Why: "y", Fetches: "otto"}, {Where: "x", Secured: "y", Why: " ", Fetches: "otto"}} {
		w.want(w.say("Pardoner", bad), "leave.say_how")
	}
	w.want(w.say("Pardoner", outing.Leave{Where: "x", Secured: "y", Why: "z", Fetches: "nobody"}), "leave.who_fetches")
	w.want(w.say("Pardoner", where), "")
	day = yard.Close(w, w.at)
	if day.Machines[0].State != yard.StandsHome || day.Machines[1].State != yard.StandsOnSite || outing.LeftOnSiteAt(w.machine("Pardoner").Stood) != "Lower terrace" {
		t.Fatalf("%+v", day.Machines)
	}
	w.refused("maren", seal, "close.person_out")
	w.must("ida", yard.GoHome{})
	w.refused("ida", yard.GoHome{}, "close.home_already")
	w.refused("maren", yard.SayWhere{Person: "nobody"}, "yard.no_such_person")
	w.must("maren", seal)
	s := w.seals[0]
	if !slices.Equal(s.Home, []string{"Lancet"}) || !slices.Equal(s.Left, []string{"Pardoner"}) || len(s.People) != 1 || s.Day != day.Day || s.By != "maren" {
		t.Errorf("%+v", s)
	}
	if c := yard.Close(w, w.at); c.Sealed == nil || len(c.Machines) != 0 || len(c.OnSite) != 1 {
		t.Errorf("%+v", c)
	}
	w.refused("maren", seal, "close.another_day")

	// What comes later that evening is the next day's, and so is the morning.
	w.at = w.at.Add(time.Hour)
	w.goOut("Lancet")
	next := morning.AddDate(0, 0, 1).Format(time.DateOnly)
	if c := yard.Close(w, w.at); c.Day != next || c.Past || len(c.Machines) != 1 || c.People[0].Said != nil {
		t.Errorf("%+v", c)
	}
	w.home("ida", "Lancet")
	w.at = morning.AddDate(0, 0, 1)
	if c := yard.Close(w, w.at); c.Day != next || c.Past || len(c.Machines) != 1 {
		t.Errorf("%+v", c)
	}
	w.must("ida", yard.GoHome{})
	w.must("maren", yard.SealDay{Day: next})
}

// TestADayLeftOpen is closed late: seen first, sealed as what it was, and whoever has come
// again is there.
func TestADayLeftOpen(t *testing.T) {
	w := newConvoy(t, "Lancet")
	first := morning.Format(time.DateOnly)
	w.at = morning.Add(22 * time.Hour) // five in the morning, and it is still out
	c := yard.Close(w, w.at)
	if !c.Past || c.Day != first || c.Machines[0].State != yard.StandsMissing {
		t.Fatalf("%+v", c)
	}
	w.refused("maren", yard.SealDay{Day: first}, "close.machine_out")
	w.home("ida", "Lancet")
	w.refused("maren", yard.SealDay{Day: first}, "close.person_out")
	w.at = morning.AddDate(0, 0, 1)
	w.goOut("Lancet")
	w.must("maren", yard.SealDay{Day: first}) // Ida has come again
	if s := w.seals[0]; s.Day != first || !s.Until.Equal(morning.AddDate(0, 0, 1).Truncate(24*time.Hour).Add(4*time.Hour)) || len(s.Home) != 1 {
		t.Errorf("%+v", s)
	}
	if c := yard.Close(w, w.at); c.Past || c.Day == first || len(c.Machines) != 1 {
		t.Errorf("%+v", c)
	}
	w.home("ida", "Lancet")
	w.must("maren", yard.SayWhere{Person: "ida", Where: "With the ambulance, Edda says"})
	w.must("maren", yard.SayWhere{Person: "ida"}) // and then home
	w.at = w.at.AddDate(0, 0, 3)
	if c := yard.Close(w, w.at); !c.Past || c.Day != morning.AddDate(0, 0, 1).Format(time.DateOnly) {
		t.Errorf("days in which nothing went out hide it: %+v", c)
	}
}

// TestNothingWentOut: there is nothing to seal; what was begun and given up is nothing.
func TestNothingWentOut(t *testing.T) {
	w := convoy{newTown(t)}
	day := yard.Close(w, w.at)
	w.refused("maren", yard.SealDay{Day: day.Day}, "close.nothing_went_out")
	w.must("ida", yard.TakeOut{Machine: w.machine("Verger").ID})
	w.refused("maren", yard.SealDay{Day: day.Day}, "close.machine_out")
	w.must("ida", yard.InOuting{Outing: w.machine("Verger").Outing, Command: outing.End{}})
	w.refused("maren", yard.SealDay{Day: day.Day}, "close.nothing_went_out")
	w.must("otto", yard.GoHome{}) // who came and took nothing may say so
	w.refused("otto", yard.GoHome{}, "close.home_already")
}

// TestALongTimeOpen: days that nobody sealed are closed as one, a week back at most.
func TestALongTimeOpen(t *testing.T) {
	w := newConvoy(t, "Lancet")
	w.home("ida", "Lancet")
	w.must("ida", yard.GoHome{})
	w.must("maren", yard.SealDay{Day: morning.Format(time.DateOnly)})
	for _, days := range []int{1, 12} {
		w.at = morning.AddDate(0, 0, days)
		w.goOut("Lancet")
		w.home("ida", "Lancet")
	}
	w.at = morning.AddDate(0, 0, 13)
	c := yard.Close(w, w.at)
	last := morning.AddDate(0, 0, 12)
	if !c.Past || c.Day != last.Format(time.DateOnly) || c.Until.Sub(c.From) != 7*24*time.Hour || len(c.Machines) != 1 {
		t.Errorf("%+v", c)
	}
}
