package outing_test

import (
	"testing"

	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// TestTheShortestWay: an operator who lacks nothing keeps it; who lacks a manual hands it
// over; a no of today ends the operator's own way; of two alike the first.
func TestTheShortestWay(t *testing.T) {
	for name, c := range map[string]struct {
		ida    func(*operator.Person)
		others []string // schooled people who are there too
		over   string
		none   bool
	}{
		"keeps it":                 {others: []string{"otto"}},
		"has no manual":            {ida: func(p *operator.Person) { p.Manuals = nil }, others: []string{"otto", "ruth"}, over: "otto"},
		"nobody has it":            {ida: func(p *operator.Person) { p.Manuals = nil }, none: true},
		"a trainee needs a second": {ida: func(p *operator.Person) { p.Role = operator.Trainee }, others: []string{"otto"}},
		"has left":                 {ida: func(p *operator.Person) { p.Left = morning }, others: []string{"otto"}, over: "otto"},
	} {
		t.Run(name, func(t *testing.T) {
			m := outingtest.Machine("m", machinetest.Of(t, "zero_turn"))
			ida := outingtest.Schooled("ida", operator.Operator, m.Sheet)
			if c.ida != nil {
				c.ida(&ida)
			}
			r := runnerOf(t, takenOut(t, m, ida))
			crew := []operator.Person{ida}
			for _, id := range c.others {
				crew = append(crew, outingtest.Schooled(id, operator.Operator, m.Sheet))
			}
			way, ok := r.o.ShortestWay(crew, morning)
			if ok == c.none || way.Over != c.over {
				t.Errorf("%+v %v", way, ok)
			}
		})
	}
}

// TestTheWayGetsShorter with every answer, to nothing where it may be released; it is
// never less than what is then still said.
func TestTheWayGetsShorter(t *testing.T) {
	m := outingtest.Machine("m", machinetest.Of(t, "zero_turn"))
	ida := outingtest.Schooled("ida", operator.Operator, m.Sheet)
	r := runnerOf(t, takenOut(t, m, ida))
	r.crew.Add(ida)
	crew := []operator.Person{ida}
	last := 1 << 30
	r.until(func() bool {
		if r.o.Judge(r.now()).Outcome == outing.Clear {
			return true
		}
		way, ok := r.o.ShortestWay(crew, r.now())
		if !ok || way.Acts < 2 || way.Acts > last+1 { // a near stop is timed once more
			t.Fatalf("%s: %+v %v, before it took %d", r.o.Stage(), way, ok, last)
		}
		last = way.Acts
		return false
	})
	if way, ok := r.o.ShortestWay(crew, r.now()); ok {
		t.Errorf("it is clear, and takes %+v", way)
	}
	r2 := runnerOf(t, takenOut(t, m, ida))
	r2.crew.Add(ida)
	ready := outingtest.Ready(r2.o)
	ready.Fit = "no"
	r2.must(ready)
	if way, ok := r2.o.ShortestWay(crew, morning); ok {
		t.Errorf("they are not fit, and it takes them %+v", way)
	}
	otto := outingtest.Schooled("otto", operator.Operator, m.Sheet)
	if way, ok := r2.o.ShortestWay(append(crew, otto), morning); !ok || way.Over != "otto" {
		t.Errorf("%+v %v", way, ok)
	}
}

// TestWhatTheWayTakes: each answer that anybody has to give counts, once.
func TestWhatTheWayTakes(t *testing.T) {
	saw := outingtest.Machine("m", machinetest.Of(t, "petrol_chainsaw"))
	way := func(t *testing.T, r *runner, ok bool, crew ...operator.Person) outing.Way {
		t.Helper()
		w, found := r.o.ShortestWay(crew, r.now())
		if found != ok {
			t.Fatalf("%+v %v", w, found)
		}
		return w
	}
	t.Run("roles", func(t *testing.T) {
		ida := outingtest.Schooled("ida", operator.Operator, saw.Sheet)
		r := runnerOf(t, takenOut(t, saw, ida))
		keeps := way(t, r, true, ida)
		trainee, visitor, otto := ida, ida, outingtest.Schooled("otto", operator.Operator, saw.Sheet)
		trainee.Role, visitor.Role = operator.Trainee, operator.Visitor
		if w := way(t, r, true, trainee); w.Acts != keeps.Acts+2 { // who stands by, and their PIN
			t.Errorf("a trainee %+v, an operator %+v", w, keeps)
		}
		way(t, r, false, visitor)
		if w := way(t, r, true, visitor, otto); w.Over != "otto" || w.Acts != keeps.Acts+2 { // chosen, and their PIN
			t.Errorf("handed over %+v, kept %+v", w, keeps)
		}
	})
	t.Run("Ready?", func(t *testing.T) {
		ida := outingtest.Schooled("ida", operator.Operator, saw.Sheet)
		r := runnerOf(t, takenOut(t, saw, ida))
		r.crew.Add(ida)
		worn := 0
		for _, p := range saw.Sheet.Protection {
			if len(p.For) == 0 {
				worn++
			}
		}
		if worn == len(saw.Sheet.Protection) || saw.Sheet.Company == nil {
			t.Fatal("the saw no longer has what is worn for some uses alone, or nobody about")
		}
		before := way(t, r, true, ida)
		ready := outingtest.Ready(r.o)
		bare := ready
		bare.Worn = bare.Worn[:len(bare.Worn)-2]
		r.must(bare)
		lacks := way(t, r, true, ida)
		r.must(ready)
		after := way(t, r, true, ida)
		// fit, what is on, what is not, who is about, and that it is so
		if asked := before.Acts - after.Acts; asked != 1+worn+len(r.o.NotToWear())+1+1 {
			t.Errorf("%d answers at Ready?", asked)
		}
		if asked := lacks.Acts - after.Acts; asked != 3 { // both things, and that it is so
			t.Errorf("two things are not on: %d answers", asked)
		}
	})
	t.Run("somebody else looks", func(t *testing.T) {
		m := cared(t, 110)
		ida := outingtest.Schooled("ida", operator.Operator, m.Sheet)
		r := runnerOf(t, takenOut(t, m, ida))
		r.until(r.stage(outing.StageVerdict))
		if w := way(t, r, true, ida); w.Acts != 4 || w.Over != "" { // who, their PIN, the point, the release
			t.Errorf("%+v", w)
		}
	})
	t.Run("nothing of today", func(t *testing.T) {
		ida := outingtest.Schooled("ida", operator.Operator, saw.Sheet)
		r := runnerOf(t, takenOut(t, saw, ida))
		r.crew.Add(ida)
		if w, ok := r.o.ShortestWay([]operator.Person{ida}, morning.AddDate(0, 0, 2)); ok && !r.o.Until.IsZero() {
			t.Errorf("its day is over: %+v", w)
		}
		r.must(outing.End{})
		way(t, r, false, ida)
	})
}
