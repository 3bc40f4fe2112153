package outing_test

import (
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/demo"
)

// walkedIn goes through the cold walk at a pace.
func walkedIn(t *testing.T, pace time.Duration, faults map[string]string, began time.Time) *outing.Outing {
	t.Helper()
	s := sheetOf(t, "zero_turn")
	o := begin(t, s)
	at := began
	for n := 0; o.Stage() == outing.StepReady || o.Stage() == outing.StepWalk; n++ {
		e := demo.Next(o, ready(s))
		if a, ok := e.(outing.Answered); ok {
			if fault := faults[a.Check]; fault != "" && len(o.Units[0].Given(a.Check, "")) == 0 {
				e = outing.Answered{Machine: "m", Check: a.Check, Answer: outing.AnswerFault, Fault: fault}
			}
		}
		at = at.Add(pace)
		meta := outing.Meta{ID: began.String() + string(rune('a'+n)), By: "ida", At: at}
		if err := o.Accept(meta, e); err != nil {
			t.Fatal(err)
		}
		o.Apply(meta, e)
	}
	return o
}

func TestHurried(t *testing.T) {
	for pace, want := range map[time.Duration]bool{100 * time.Millisecond: true, 15 * time.Second: false} {
		o := walkedIn(t, pace, nil, morning)
		walks := o.Walks()
		if len(walks) != 1 || walks[0].Hurried() != want || walks[0].By != "ida" || walks[0].Least <= 0 {
			t.Errorf("an answer every %v: %+v", pace, walks)
		}
	}
	s := sheetOf(t, "zero_turn")
	r := &runner{t: t, o: begin(t, s)}
	r.until(ready(s), func() bool { return r.o.Ready != nil })
	if walks := r.o.Walks(); len(walks) != 0 {
		t.Errorf("a walk that has not begun: %+v", walks)
	}
}

func TestMissedByTheOneBefore(t *testing.T) {
	lost := ""
	c, _ := sheetOf(t, "zero_turn").Sheet.Check("tyre_condition")
	for _, f := range c.Faults {
		if f.Extent == machine.Lost {
			lost = f.ID
		}
	}
	first := walkedIn(t, 15*time.Second, nil, morning)
	for after, want := range map[time.Duration]int{20 * time.Hour: 1, 60 * time.Hour: 0} {
		second := walkedIn(t, 15*time.Second, map[string]string{"tyre_condition": lost}, morning.Add(after))
		missed := second.MissedBy("m", first)
		if len(missed) != want || want == 1 && (missed[0].Check != "tyre_condition" || missed[0].By != "ida") {
			t.Errorf("found %v later: %+v", after, missed)
		}
	}
}
