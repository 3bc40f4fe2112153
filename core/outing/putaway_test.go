package outing_test

import (
	"strings"
	"testing"
	"time"

	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/procedure"
	"vespers/core/record"
)

// outUnder is a machine that is out, under what a house chose.
func outUnder(t *testing.T, family string, house procedure.House) *runner {
	t.Helper()
	r := runnerOf(t, outingtest.Begin(t, "ida", housed(outingtest.Machine("m", machinetest.Of(t, family)), house), nil))
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	return r
}

func housed(m outing.Machine, house procedure.House) outing.Machine {
	m.Practice = house
	return m
}

func chores(p outing.PutAway) string {
	var ids []string
	for _, c := range p.Chores {
		ids = append(ids, c.ID)
	}
	return strings.Join(ids, " ")
}

// TestWhatIsLeftInTheEvening: a house chooses what is done at night, and in which order;
// nothing with water or fuel is done to hot metal.
func TestWhatIsLeftInTheEvening(t *testing.T) {
	for name, c := range map[string]struct {
		house procedure.House
		want  string
	}{
		"as it comes":         {nil, "air wash grease park"},
		"fuelled at night":    {procedure.House{"refuel_when": "day_end"}, "air wash grease fuel park"},
		"greased warm":        {procedure.House{"grease_when": "warm"}, "grease air wash park"},
		"greased before work": {procedure.House{"grease_when": "before_work"}, "air wash park"},
		"air alone":           {procedure.House{"washing": "air_only"}, "air grease park"},
		"water alone":         {procedure.House{"washing": "water", "grease_when": "before_work"}, "air wash park"},
	} {
		t.Run(name, func(t *testing.T) {
			r := outUnder(t, "triplex", c.house)
			p := r.u().PutAway(record.Meta{At: r.now()})
			for _, ch := range p.Chores {
				if hot := ch.ID == outing.ChoreAir || ch.ID == outing.ChoreGrease; ch.Cool == hot || ch.Seconds <= 0 {
					t.Errorf("%+v", ch)
				}
			}
			if got := chores(p); got != c.want {
				t.Errorf("%q, want %q", got, c.want)
			}
			if p.Shutdown <= 0 || !p.Off.IsZero() || p.Cools < time.Minute {
				t.Errorf("it runs: %+v", p)
			}
		})
	}
}

// TestEveryMachineIsPutAway: of each sheet something is left until it stands where it
// stands at night, and what was done is not left any more.
func TestEveryMachineIsPutAway(t *testing.T) {
	for _, s := range alone(t) {
		r := out(t, s)
		before := r.u().PutAway(record.Meta{At: r.now()})
		if len(before.Chores) == 0 {
			t.Errorf("%s: nothing is left", s.Sheet.ID)
		}
		if !hasProcedure(s, "shutdown") {
			continue
		}
		r.follow("shutdown")
		p := r.u().PutAway(record.Meta{At: r.now()})
		if p.Off.IsZero() || p.Shutdown != 0 {
			t.Errorf("%s: shut down, and %+v", s.Sheet.ID, p)
		}
		if hasProcedure(s, "clean") {
			r.n += 3600 // it has cooled
			r.follow("clean")
			if got := chores(r.u().PutAway(record.Meta{At: r.now()})); strings.Contains(got, outing.ChoreWash) || strings.Contains(got, outing.ChoreAir) {
				t.Errorf("%s: clean, and %s", s.Sheet.ID, got)
			}
		}
	}
}
