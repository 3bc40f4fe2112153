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
