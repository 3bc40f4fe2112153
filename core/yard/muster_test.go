package yard_test

import (
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// TestWhoIsHere: by their own word or a lead's, once; who has gone home comes again; and
// nobody is here tomorrow because they were today.
func TestWhoIsHere(t *testing.T) {
	w := newTown(t)
	w.must("ida", yard.Come{})
	w.refused("ida", yard.Come{}, "muster.came_already")
	w.refused("maren", yard.SayCame{Person: "ida"}, "muster.came_already")
	w.refused("maren", yard.SayCame{Person: "ghost"}, "yard.no_such_person")
	w.refused("ida", yard.SayCame{Person: "otto"}, "who.not_your_role")
	w.must("maren", yard.SayCame{Person: "otto"})
	m := yard.Muster(w, w.at)
	here := func(id string) *yard.Came {
		i := slices.IndexFunc(m.People, func(p yard.AtMuster) bool { return p.ID == id })
		return m.People[i].Came
	}
	if here("ida") == nil || here("ida").By != "ida" || here("otto") == nil || here("otto").By != "maren" || here("jonah") != nil {
		t.Errorf("%+v", m.People)
	}

	// Who came and took nothing still has to be home before the day is sealed.
	keeps := func() []string { _, people := yard.Close(w, w.at).Keeps(); return people }
	if got := keeps(); !slices.Equal(got, []string{w.people["ida"].Name, w.people["otto"].Name}) {
		t.Errorf("the day is kept open by %v", got)
	}
	w.must("ida", yard.GoHome{})
	w.must("otto", yard.GoHome{})
	if got := keeps(); got != nil {
		t.Errorf("all are home, and the day is kept open by %v", got)
	}
	w.at = w.at.Add(time.Hour)
	w.must("ida", yard.Come{}) // again
	if got := keeps(); len(got) != 1 {
		t.Errorf("she has come again, and the day is kept open by %v", got)
	}
	if _, here := yard.Here(w, "ida", w.at.AddDate(0, 0, 1)); here {
		t.Error("she is here tomorrow")
	}
}

// TestAMachineIsGiven: to who is here, has read and practised it and may have one; not
// what is on Halt or out; for the day.
func TestAMachineIsGiven(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger").ID
	give := func(to string) yard.GiveMachine { return yard.GiveMachine{Machine: verger, Person: to} }
	w.refused("maren", give("ida"), "muster.not_come")
	for _, id := range []string{"ida", "otto", "osk"} {
		w.must("maren", yard.SayCame{Person: id})
	}
	w.refused("maren", give(""), "muster.given_so_already")
	w.refused("maren", give("ghost"), "yard.no_such_person")
	w.refused("maren", give("osk"), "muster.not_their_role")
	w.refused("maren", yard.GiveMachine{Machine: "none", Person: "ida"}, "yard.no_such_machine")
	w.refused("maren", give("otto"), "muster.not_schooled")
	sheet, _ := w.Sheet(w.machine("Verger").Sheet)
	for _, id := range []string{"ida", "otto"} {
		read := outingtest.Schooled(id, operator.Operator, sheet)
		w.person(id, func(p *operator.Person) {
			p.Manuals, p.Qualifications, p.Born = read.Manuals, read.Qualifications, read.Born
		})
	}
	w.must("maren", give("ida"))
	w.refused("maren", give("ida"), "muster.given_so_already")
	if got := yard.GivenTo(w, "ida", w.at); len(got) != 1 || got[0].ID != verger {
		t.Errorf("%+v", got)
	}
	w.must("maren", give("otto")) // changed over
	if got := yard.GivenTo(w, "ida", w.at); len(got) != 0 {
		t.Errorf("two have it: %+v", got)
	}
	w.must("maren", give(""))
	if _, ok := yard.GivenToday(w, verger, w.at); ok {
		t.Error("taken back, and it is somebody's")
	}
	w.must("maren", give("ida"))
	if _, ok := yard.GivenToday(w, verger, w.at.AddDate(0, 0, 1)); ok {
		t.Error("it is hers tomorrow")
	}
	w.must("ida", yard.TakeOut{Machine: verger})
	w.refused("maren", give("otto"), "muster.out_already")
	if got := yard.GivenTo(w, "ida", w.at); len(got) != 0 {
		t.Error("she has it out, and is told that it is hers")
	}
	halted := w.machine("Sexton").ID
	w.found(halted, defect.Halt, nil)
	m := w.machines[halted]
	m.Grade = defect.Halt
	w.machines[halted] = m
	w.refused("maren", yard.GiveMachine{Machine: halted, Person: "ida"}, "muster.on_halt")
	for _, s := range yard.Muster(w, w.at).Machines {
		want := yard.IsReady
		switch s.ID {
		case verger:
			want = yard.IsOut
		case halted:
			want = yard.OnHalt
		}
		if s.State != want {
			t.Errorf("%s: %s, want %s", s.Name, s.State, want)
		}
	}
	if first := yard.Muster(w, w.at).Machines[0]; first.ID != halted || len(first.Why) != 1 {
		t.Errorf("what needs somebody is not first: %+v", first)
	}
}

// TestQuietHours: of the day, in their order, until somebody takes them back.
func TestQuietHours(t *testing.T) {
	w := newTown(t)
	for _, c := range []struct {
		q    yard.SayQuiet
		want string
	}{
		{yard.SayQuiet{From: "10:30", Until: "11:30", What: " "}, "muster.quiet_what"},
		{yard.SayQuiet{From: "soon", Until: "11:30", What: "A burial"}, "muster.quiet_time"},
		{yard.SayQuiet{From: "10:30", Until: "25:00", What: "A burial"}, "muster.quiet_time"},
		{yard.SayQuiet{From: "11:30", Until: "11:30", What: "A burial"}, "muster.quiet_order"},
		{yard.SayQuiet{From: "14:00", Until: "15:00", What: "A burial, upper chapel"}, ""},
		{yard.SayQuiet{From: "10:30", Until: "11:30", What: "A service"}, ""},
	} {
		if got := w.rule("maren", c.q); got != c.want {
			t.Errorf("%+v: %q, want %q", c.q, got, c.want)
		}
	}
	list := yard.QuietToday(w, w.at)
	if len(list) != 2 || list[0].What != "A service" || list[0].Until.Sub(list[0].From) != time.Hour {
		t.Fatalf("%+v", list)
	}
	if tomorrow := yard.QuietToday(w, w.at.AddDate(0, 0, 1)); len(tomorrow) != 0 {
		t.Errorf("tomorrow is quiet: %+v", tomorrow)
	}
	w.must("maren", yard.DropQuiet{Record: list[0].Record})
	w.refused("maren", yard.DropQuiet{Record: list[0].Record}, "muster.no_such_quiet")
	if left := yard.QuietToday(w, w.at); len(left) != 1 {
		t.Errorf("%+v", left)
	}
}

// TestTheWeather: all of it or nothing, and not yesterday's.
func TestTheWeather(t *testing.T) {
	w := newTown(t)
	w.refused("maren", yard.SayWeather{Grass: "wet", Light: "good"}, "muster.weather")
	w.refused("maren", yard.SayWeather{Grass: "damp", Light: "good", Storm: "none"}, "muster.weather")
	w.must("maren", yard.SayWeather{Grass: "wet", Light: "poor", Storm: "about"})
	if now, ok := yard.WeatherToday(w, w.at); !ok || now.Grass != "wet" || now.By != "maren" {
		t.Errorf("%+v", now)
	}
	if _, ok := yard.WeatherToday(w, w.at.AddDate(0, 0, 1)); ok {
		t.Error("yesterday's weather is today's")
	}
}
