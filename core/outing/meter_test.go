package outing_test

import (
	"strconv"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// TestTheMeterIsReadWhileOut: neither back nor faster than the clock, and a Mend whose
// hours it passes is a Halt from then on.
func TestTheMeterIsReadWhileOut(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.until(r.at("hydraulic_leaks"))
	r.must(outingtest.Fault("m", "hydraulic_leaks", "weep"))
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	known, at := r.u().HoursNow(), r.now()
	for name, c := range map[string]struct {
		machine, hours string
		rule           string
	}{
		"another machine":       {"x", "1", "outing.unknown_machine"},
		"nothing":               {"m", "", "reading.empty"},
		"words":                 {"m", "much", "reading.not_a_number"},
		"back":                  {"m", strconv.FormatFloat(known-1, 'f', 1, 64), "reading.hours_back"},
		"faster than the clock": {"m", strconv.FormatFloat(known+9, 'f', 1, 64), "reading.hours_faster"},
	} {
		t.Run(name, func(t *testing.T) {
			err := r.tryAt(at.Add(3*time.Hour), outing.ReadMeter{Machine: c.machine, Hours: c.hours})
			if got := ruleOf(err); string(got) != c.rule {
				t.Errorf("%q, want %q", got, c.rule)
			}
		})
	}
	if r.u().HoursNow() != known {
		t.Fatal("what was refused counts")
	}
	for _, step := range []struct {
		after time.Duration
		on    float64
		grade defect.Grade
	}{{time.Hour, 1, defect.Mend}, {150 * time.Minute, 2.3, defect.Halt}} {
		if err := r.tryAt(at.Add(step.after), outing.ReadMeter{Machine: "m", Hours: strconv.FormatFloat(known+step.on, 'f', 2, 64)}); err != nil {
			t.Fatal(err)
		}
		v := r.o.Judge(at.Add(step.after))
		if v.Grade != step.grade || (v.Outcome == outing.Halted) != (step.grade == defect.Halt) {
			t.Errorf("after %v h: %s, %s", step.on, v.Grade, v.Outcome)
		}
	}
}
