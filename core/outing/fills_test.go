package outing_test

// What is filled in, how much is in the tank, and what the day needs.

import (
	"errors"
	"math"
	"strconv"
	"testing"
	"time"

	"vespers/core/fuel"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

func ruleOf(err error) text.Rule {
	var refused *record.Refused
	if errors.As(err, &refused) {
		return refused.Reason.Rule
	}
	return ""
}

// TestAFillIsTakenOrRefused: what cannot be is refused by name, and nothing is kept.
func TestAFillIsTakenOrRefused(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	known := r.u().HoursNow()
	day := r.now().Format("2006-01-02")
	at := func(d time.Duration) string { return r.now().Add(d).Format("2006-01-02T15:04") }
	for _, c := range []struct {
		fill outing.Fill
		rule text.Rule
	}{
		{outing.Fill{Machine: "x", Litres: "1"}, "outing.unknown_machine"},
		{outing.Fill{}, "outing.unknown_machine"},
		{outing.Fill{Machine: "m"}, "fuel.how_much"},
		{outing.Fill{Machine: "m", ToMark: "on"}, "fuel.how_much"},
		{outing.Fill{Machine: "m", Litres: "19.1"}, "fuel.more_than_the_tank"},
		{outing.Fill{Machine: "m", Litres: "5.1 gal"}, "fuel.more_than_the_tank"},
		{outing.Fill{Machine: "m", Litres: "0"}, "fuel.nothing_filled"},
		{outing.Fill{Machine: "m", Litres: "-2"}, "fuel.nothing_filled"},
		{outing.Fill{Machine: "m", Litres: "9 kPa"}, "reading.wrong_unit"},
		{outing.Fill{Machine: "m", Litres: "nine"}, "reading.not_a_number"},
		{outing.Fill{Machine: "m", Litres: "9", Hours: "1"}, "reading.hours_back"},
		{outing.Fill{Machine: "m", Litres: "9", Hours: num(known + 3)}, "reading.hours_faster"},
		{outing.Fill{Machine: "m", Litres: "9", When: at(time.Hour)}, "fuel.not_yet"},
		{outing.Fill{Machine: "m", Litres: "9", When: at(24 * time.Hour)}, "fuel.not_yet"},
		{outing.Fill{Machine: "m", Litres: "9", When: at(-24 * time.Hour)}, "fuel.before_the_outing"},
		{outing.Fill{Machine: "m", Litres: "9", When: "yesterday"}, "fuel.when"},
		{outing.Fill{Machine: "m", Litres: "9", Can: r.now().Add(24 * time.Hour).Format("2006-01-02")}, "fuel.can_of_tomorrow"},
		{outing.Fill{Machine: "m", Litres: "9", Can: "31/12"}, "fuel.can_day"},
	} {
		if err := r.try(c.fill); ruleOf(err) != c.rule {
			t.Errorf("%+v: %v, want %s", c.fill, err, c.rule)
		}
	}
	if len(r.u().Fills()) != 0 || r.u().HoursNow() != known {
		t.Error("something of a refused fill was kept")
	}
	r.must(outing.Fill{Machine: "m", Litres: "4,5", Unit: "L", ToMark: "yes", Hours: num(known + 0.1), Can: day})
	f := r.u().Fills()[0]
	if l, _ := f.LitresIn(); math.Abs(l-4.5) > 1e-9 || !f.ToMark || f.Can == nil || r.u().HoursNow() != known+0.1 {
		t.Errorf("%+v at %v h", f.Filled, r.u().HoursNow())
	}
	if in, _, ok := r.u().InTank(); !ok || in != 19 {
		t.Errorf("at the mark: %v", in)
	}
	saw := out(t, machinetest.Of(t, "petrol_chainsaw"))
	saw.refused(outing.Fill{Machine: "m", Litres: "0.3", Hours: "12"}, "fuel.no_meter")
	saw.must(outing.Fill{Machine: "m", Litres: "0.3"})
	if _, _, ok := saw.u().InTank(); ok {
		t.Error("litres into a tank that nobody looked into: how much is in it?")
	}
}

func num(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// TestAFillIsPutRight: the record that supersedes it stands in its place, the meter as
// it was before it.
func TestAFillIsPutRight(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	known, tank := r.u().HoursNow(), 0.0
	tank, _, _ = r.u().InTank()
	r.n += 3600
	r.must(outing.Fill{Machine: "m", Litres: "8", Hours: num(known + 1)})
	wrong := r.u().Fills()[0].Meta.ID
	if err := r.try(outing.Fill{Machine: "m", Litres: "3"}, "nothing-such"); ruleOf(err) != "fuel.no_such_fill" {
		t.Error(err)
	}
	r.must(outing.Fill{Machine: "m", Litres: "3", Hours: num(known + 0.5)}, wrong)
	if n := len(r.u().Fills()); n != 1 || r.u().HoursNow() != known+0.5 {
		t.Errorf("%d fills, %v h", n, r.u().HoursNow())
	}
	if in, _, _ := r.u().InTank(); math.Abs(in-tank-3) > 1e-9 {
		t.Errorf("%v in the tank, %v before", in, tank)
	}
	r.must(outing.Fill{Machine: "m", Litres: "3"}, r.u().Fills()[0].Meta.ID)
	if r.u().HoursNow() != known {
		t.Errorf("no meter was read, and it stands at %v", r.u().HoursNow())
	}
}

// TestAnOlderFillPutRightTurnsNoMeterBack: what was read since stands, by another fill or
// by a lead; and the clock is held against the moment it was read, not put right.
func TestAnOlderFillPutRightTurnsNoMeterBack(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	known := r.u().HoursNow()
	r.n += 3600
	r.must(outing.Fill{Machine: "m", Litres: "3", Hours: num(known + 0.5)})
	first := r.u().Fills()[0].Meta
	r.n += 3600
	r.must(outing.Fill{Machine: "m", Litres: "2", Hours: num(known + 1.5)})
	r.must(outing.Fill{Machine: "m", Litres: "4", Hours: num(known + 0.5)}, first.ID)
	if got := r.u().Fills(); r.u().HoursNow() != known+1.5 || len(got) != 2 || got[0].Litres.Typed != "4" {
		t.Errorf("the meter stands at %v, %d fills", r.u().HoursNow(), len(got))
	}
	r.must(outing.Fill{Machine: "m", Litres: "4"}, r.u().Fills()[0].Meta.ID)
	if r.u().HoursNow() != known+1.5 {
		t.Errorf("the meter stands at %v", r.u().HoursNow())
	}
	last := r.u().Fills()[1].Meta
	r.n += 3600
	r.must(outing.Fill{Machine: "m", Litres: "2.5", Hours: num(known + 1.5)}, last.ID)
	if !r.u().ReadAt().Equal(last.At) {
		t.Errorf("read at %v, put right at %v", last.At, r.u().ReadAt())
	}
	r.must(outing.Fill{Machine: "m", Litres: "1", Hours: num(known + 2.4)}) // an hour has gone since
}

// TestWhoLookedLastKnows: a fill that was told late says nothing of a tank that somebody
// looked into since; one after another adds up, to the mark and no more.
func TestWhoLookedLastKnows(t *testing.T) {
	r := newRunner(t, machinetest.Of(t, "zero_turn"))
	began := r.now()
	r.n += 600
	r.until(r.stage(outing.StageVerdict))
	seen, _, _ := r.u().InTank()
	r.must(outing.Fill{Machine: "m", ToMark: "yes", When: began.Add(time.Minute).Format("2006-01-02T15:04")})
	if in, _, _ := r.u().InTank(); in != seen {
		t.Errorf("%v in the tank, and %v was seen since", in, seen)
	}
	r.must(outing.Fill{Machine: "m", Litres: "1"})
	r.must(outing.Fill{Machine: "m", Litres: "1.5"})
	if in, _, _ := r.u().InTank(); math.Abs(in-seen-2.5) > 1e-9 {
		t.Errorf("%v in the tank, %v before", in, seen)
	}
	r.must(outing.Fill{Machine: "m", Litres: "18"})
	if in, _, _ := r.u().InTank(); in != 19 {
		t.Errorf("%v in a tank of 19", in)
	}
}

// TestWhatADayNeeds: by what was seen in the tank, or typed; nobody is told a need that
// hangs on a tank nobody looked into.
func TestWhatADayNeeds(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	in, _, ok := r.u().InTank()
	if !ok || math.Abs(in-0.75*19) > 0.01 {
		t.Fatalf("three quarters of 19 l seen, and %v", in)
	}
	need := func(hours, inTank string) (fuel.Need, text.Rule) {
		n, err := r.u().FuelNeed(hours, inTank, "L", nil)
		return n, ruleOf(err)
	}
	n, _ := need("4", "")
	if math.Abs(n.Litres-(4.2*4+2-in)) > 1e-9 && math.Abs(n.Litres-(4.9*4+2-in)) > 1e-9 {
		t.Errorf("%+v", n)
	}
	if n, _ = need("12", "1"); n.Litres != 18 || n.Short <= 0 {
		t.Errorf("%+v", n)
	}
	for _, c := range [][3]string{{"25", "", "fuel.hours_planned"}, {"-1", "", "fuel.hours_planned"}, {"", "", "reading.empty"}, {"4", "20", "fuel.more_than_the_tank"}, {"4", "-1", "fuel.not_below_nothing"}} {
		if _, rule := need(c[0], c[1]); rule != text.Rule(c[2]) {
			t.Errorf("%v: %s", c, rule)
		}
	}
	fresh := newRunner(t, machinetest.Of(t, "zero_turn"))
	if _, err := fresh.u().FuelNeed("4", "", "L", nil); ruleOf(err) != "reading.empty" {
		t.Errorf("nobody has looked: %v", err)
	}
	saw := newRunner(t, machinetest.Of(t, "petrol_chainsaw")).u()
	mix, err := saw.Mix("2.5", "40", "5", "L")
	if err != nil || math.Abs(mix.Oil-(5.0/51-2.5/41)) > 1e-9 || math.Abs(mix.Oil+mix.Petrol-2.5) > 1e-9 {
		t.Errorf("%+v %v", mix, err)
	}
	if mix, err = saw.Mix("1", "1", "40", "L"); err != nil || math.Abs(mix.Oil-(40.0/51-0.5)) > 1e-9 {
		t.Errorf("half of it oil: %+v %v", mix, err)
	}
	for _, c := range [][4]string{{"", "", "", "reading.empty"}, {"2", "0", "5", "fuel.mix_ratio"}, {"4", "10", "5", "fuel.mix_too_small"}, {"x", "", "5", "reading.not_a_number"}} {
		if _, err := saw.Mix(c[0], c[1], c[2], "L"); ruleOf(err) != text.Rule(c[3]) {
			t.Errorf("%v: %v", c, err)
		}
	}
}

// TestSaidHowMuchWentIn: after it was fuelled somebody has to say.
func TestSaidHowMuchWentIn(t *testing.T) {
	r := out(t, machinetest.Of(t, "zero_turn"))
	r.follow("shutdown")
	if r.u().NotTold() {
		t.Error("nothing was fuelled")
	}
	r.follow("fuel")
	if !r.u().NotTold() {
		t.Error("it was fuelled and nobody has said how much")
	}
	r.must(outing.Fill{Machine: "m", ToMark: "yes"})
	if r.u().NotTold() {
		t.Error("said, and asked again")
	}
}
