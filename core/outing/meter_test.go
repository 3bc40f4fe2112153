package outing_test

import (
	"strconv"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/record"
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

// TestWhatIsNoWork: what the meter is read as before it goes out, and what a lead puts
// right, takes no hours of a Mend; a machine without a meter has nothing to read.
func TestWhatIsNoWork(t *testing.T) {
	hours := func(of float64) string { return strconv.FormatFloat(of, 'f', 2, 64) }
	weeps := func(t *testing.T) *runner {
		r := newRunner(t, machinetest.Of(t, "zero_turn"))
		r.until(r.at("hydraulic_leaks"))
		r.must(outingtest.Fault("m", "hydraulic_leaks", "weep")) // two hours
		return r
	}
	left := func(r *runner, at time.Time) float64 {
		return *r.o.Judge(at).Deadline.Hours - r.u().HoursNow()
	}
	t.Run("before it goes out", func(t *testing.T) {
		r := weeps(t)
		at := r.now().Add(2 * time.Hour)
		before := left(r, r.now())
		if err := r.tryAt(at, outing.ReadMeter{Machine: "m", Hours: hours(r.u().HoursNow() + 1)}); err != nil {
			t.Fatal(err)
		}
		if now := left(r, at); now != before {
			t.Errorf("%v h are left, before %v", now, before)
		}
	})
	t.Run("put right by a lead", func(t *testing.T) {
		r := weeps(t)
		r.until(r.stage(outing.StageVerdict))
		r.must(outing.Release{})
		at, known := r.now().Add(2*time.Hour), r.u().HoursNow()
		if err := r.tryAt(at, outing.ReadMeter{Machine: "m", Hours: hours(known + 1)}); err != nil {
			t.Fatal(err)
		}
		before := left(r, at)
		r.o = r.o.Apply(record.Meta{ID: "lead", By: "lea", At: at.Add(time.Minute)}, outing.Metered{Machine: "m", Hours: known + 51})
		if now := left(r, at.Add(time.Minute)); before > 1.01 || now < before-0.01 || now > before+0.01 {
			t.Errorf("%v h are left, before %v", now, before)
		}
	})
	t.Run("without a meter", func(t *testing.T) {
		r := newRunner(t, machinetest.Of(t, "petrol_chainsaw"))
		r.until(r.stage(outing.StageVerdict))
		r.must(outing.Release{})
		if got := ruleOf(r.try(outing.ReadMeter{Machine: "m", Hours: "1"})); got != "fuel.no_meter" {
			t.Errorf("%q", got)
		}
	})
}
