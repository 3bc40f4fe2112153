package review_test

import (
	"fmt"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
	"vespers/core/review"
)

var morning = outingtest.Morning

// walkedIn goes through the cold walk at a pace.
func walkedIn(t *testing.T, pace time.Duration, faults map[string]string, began time.Time, doubt bool) *outing.Outing {
	t.Helper()
	s := machinetest.Of(t, "zero_turn")
	o := outingtest.Begin(t, "ida", outingtest.Machine("m", s), nil)
	o.Until = time.Time{} // it may begin on any day
	crew := outingtest.Crew{}.Add(outingtest.Schooled("ida", operator.Operator, s.Sheet), outingtest.Schooled(outingtest.Company, operator.Lead))
	at := began
	for n := 0; o.Stage() == outing.StageReady || o.Stage() == outing.StageWalk; n++ {
		c := outingtest.Next(o, at)
		if a, ok := c.(outing.Answer); ok {
			if fault := faults[a.Check]; fault != "" && len(o.Units[0].Given(a.Check, "")) == 0 {
				c = outingtest.Fault("m", a.Check, fault)
			}
		}
		at = at.Add(pace)
		meta := record.Meta{ID: fmt.Sprint(began, n), By: "ida", At: at, Doubtful: doubt && n == 5}
		events, err := outing.Decide(o, c, meta, crew)
		if err != nil {
			t.Fatal(err)
		}
		o = o.Apply(meta, events[0])
	}
	return o
}

func TestHurried(t *testing.T) {
	for pace, want := range map[time.Duration]bool{100 * time.Millisecond: true, 15 * time.Second: false} {
		t.Run(fmt.Sprint(pace), func(t *testing.T) {
			o := walkedIn(t, pace, nil, morning, false)
			walks := review.Walks(o)
			if len(walks) != 1 || walks[0].Hurried() != want || walks[0].By != "ida" || walks[0].Least <= 0 {
				t.Errorf("an answer every %v: %+v", pace, walks)
			}
		})
	}
	if walks := review.Walks(outingtest.Begin(t, "ida", outingtest.Machine("m", machinetest.Of(t, "zero_turn")), nil)); len(walks) != 0 {
		t.Errorf("a walk that has not begun: %+v", walks)
	}
	if walks := review.Walks(walkedIn(t, 100*time.Millisecond, nil, morning, true)); len(walks) != 0 {
		t.Errorf("somebody is called hurried by a clock that was wrong: %+v", walks)
	}
}

func TestMissedByTheOneBefore(t *testing.T) {
	lost := ""
	c, _ := machinetest.Of(t, "zero_turn").Sheet.Check("castors")
	for _, f := range c.Faults {
		if f.Extent == machine.Lost {
			lost = f.ID
		}
	}
	first := walkedIn(t, 15*time.Second, nil, morning, false)
	for after, want := range map[time.Duration]int{20 * time.Hour: 1, 60 * time.Hour: 0} {
		t.Run(fmt.Sprint(after), func(t *testing.T) {
			second := walkedIn(t, 15*time.Second, map[string]string{"castors": lost}, morning.Add(after), false)
			missed := review.MissedBy(second, "m", first)
			if len(missed) != want || want == 1 && (missed[0].Check != "castors" || missed[0].By != "ida") {
				t.Errorf("found %v later: %+v", after, missed)
			}
		})
	}
}
