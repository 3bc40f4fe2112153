package grade

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
)

// plain is a sheet of one point, for slopes under a limit, fine turf and the public.
func plain(c machine.Check, limit float64) *machine.Sheet {
	if c.ID == "" {
		c.ID = "p"
	}
	return &machine.Sheet{ID: "plain", Name: text.Text{EN: "Plain", ES: "Simple"}, Checks: []machine.Check{c},
		Uses: []machine.Use{{ID: "slope", Limit: &limit, Unit: "°", Source: machine.Manual}, {ID: "fine_turf"}, {ID: "near_public"}}}
}

func judge(t *testing.T, sheet *machine.Sheet, c Case) Report {
	t.Helper()
	if c.At == nil {
		c.At = &morning
	}
	out, err := c.Judge(sheet)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// refused lists the refused uses with the rules that refuse them.
func refused(r Report) string {
	var out []string
	for _, u := range r.Refused {
		one := u.Use
		for _, b := range u.Because {
			one += " " + string(b.Rule)
		}
		out = append(out, one)
	}
	return strings.Join(out, ", ")
}

// rules lists the rules of a finding.
func rules(g Graded) string {
	var out []string
	for _, r := range g.Reasons {
		out = append(out, string(r.Rule))
	}
	return strings.Join(out, " ")
}

// TestABankIsRefusedAndNotTheMachine: a gauge that may be a degree wrong reads 14.2
// on a machine for slopes under 15. 15.2 counts; other ground is released.
func TestABankIsRefusedAndNotTheMachine(t *testing.T) {
	r := judge(t, plain(machine.Check{Class: machine.ClassH}, 15), Case{Hours: at(500), Uses: []string{"slope:14.5", "slope:15.2", "slope:15", "near_public"}})
	if r.Grade != defect.Sound || len(r.NotReleased) > 0 || refused(r) != "slope:15.2 use.too_steep, slope:15 use.too_steep" {
		t.Errorf("%s %v %q", r.Grade, r.NotReleased, refused(r))
	}
}

// blade is a width that must stay over half of new, and wears 0.06 mm an hour.
func blade() machine.Check {
	low, early, worn := 32.0, 3.0, -0.06
	return machine.Check{Class: machine.ClassB, Readings: []machine.Reading{{ID: "width", Unit: "mm", Uncertainty: 0.5, Wear: &worn,
		Limits: &machine.Limits{Low: &low, Early: &early, Safety: true, Source: machine.Manual}}}}
}

// TestABladeHasItsHours: 33.0 mm, sure to half a millimetre, over a limit of 32: a Mend
// with a good eight hours; six are released, ten refused.
func TestABladeHasItsHours(t *testing.T) {
	for hours, want := range map[float64]string{6: "", 8.3: "", 8.4: "hours use.past_hours", 10: "hours use.past_hours"} {
		v, planned := 33.0, hours
		r := judge(t, plain(blade(), 15), Case{Hours: at(1203.4), PlannedHours: &planned, Findings: []Finding{{Check: "p", Reading: &v}}})
		if r.Grade != defect.Mend || r.Deadline.Hours == nil || *r.Deadline.Hours < 1211.7 || *r.Deadline.Hours > 1211.8 {
			t.Fatalf("%s %v", r.Grade, r.Deadline)
		}
		if refused(r) != want {
			t.Errorf("%g h: %q, want %q", hours, refused(r), want)
		}
		if got := rules(r.Findings[0]); !strings.HasPrefix(got, "grade.trend_by_wear") {
			t.Errorf("decided by %s", got)
		}
	}
}

// TestTheLineIsDrawn through what was read since the blade was new: a wrong one among
// them does not bend it, and what was read before the new one is forgotten.
func TestTheLineIsDrawn(t *testing.T) {
	sheet := plain(blade(), 15)
	read := func(hours, v float64) Finding { return Finding{Check: "p", Of: "width", Reading: &v, Hours: &hours} }
	since := []Finding{read(90, 33), {Check: "p", Replaced: true, Hours: at(95)}, read(100, 40), read(105, 39), read(110, 38), read(115, 33), read(120, 36)}
	v := 35.0 // at 125 h: a millimetre in five hours, and the line half a millimetre over the limit at 137.5
	for name, c := range map[string]struct {
		history []Finding
		hours   float64
		left    float64 // 0: no Mend
		rule    string
	}{
		"through all":                         {since, 125, 0, ""},
		"nearer":                              {append(slices.Clone(since), read(122, 35.6)), 130, 7.5, "grade.trend"},
		"only two, so by wear":                {[]Finding{read(100, 40)}, 125, 0, ""},
		"in less than five hours, so by wear": {[]Finding{read(121, 40), read(122, 38), read(123, 37)}, 125, 0, ""},
		"in five":                             {[]Finding{read(120, 40), read(122, 38), read(123, 37)}, 125, 2.5, "grade.trend"},
	} {
		t.Run(name, func(t *testing.T) {
			r := judge(t, sheet, Case{Hours: at(c.hours), History: c.history, Findings: []Finding{{Check: "p", Reading: &v}}})
			if c.left == 0 {
				if r.Deadline.Hours != nil {
					t.Errorf("%s %s %g h", r.Grade, rules(r.Findings[0]), *r.Deadline.Hours-c.hours)
				}
				return
			}
			if r.Grade != defect.Mend || r.Deadline.Hours == nil || *r.Deadline.Hours-c.hours > c.left+1e-6 || *r.Deadline.Hours-c.hours < c.left-1e-6 || !strings.HasPrefix(rules(r.Findings[0]), c.rule) {
				t.Errorf("%s %v, want %g h: %s", r.Grade, r.Deadline.Hours, c.left, rules(r.Findings[0]))
			}
		})
	}
}

// TestAWeepThenADrip: a Mend for two hours, not on fine turf; a drip when it is looked
// at again is a Halt.
func TestAWeepThenADrip(t *testing.T) {
	sheet := plain(machine.Check{Class: machine.ClassD, Faults: []machine.Fault{{ID: "weep", Extent: machine.Early}, {ID: "drip", Extent: machine.Degraded}}}, 15)
	two, three := 2.0, 2.1
	first := judge(t, sheet, Case{Hours: at(100), PlannedHours: &two, Uses: []string{"fine_turf", "slope:9"}, Findings: []Finding{{Check: "p", Fault: "weep"}}})
	if first.Grade != defect.Mend || *first.Deadline.Hours != 102 || refused(first) != "fine_turf release.restricted" {
		t.Errorf("%s %v %s", first.Grade, first.Deadline, refused(first))
	}
	longer := judge(t, sheet, Case{Hours: at(100), PlannedHours: &three, Findings: []Finding{{Check: "p", Fault: "weep"}}})
	if refused(longer) != "hours use.past_hours" {
		t.Errorf("%s", refused(longer))
	}
	carried := Carried{Check: "p", Grade: defect.Mend, Restrictions: first.Restrictions, Deadline: first.Deadline, Hours: at(100), At: &morning}
	then := judge(t, sheet, Case{Hours: at(102), Carried: []Carried{carried}, Findings: []Finding{{Check: "p", Fault: "drip"}}})
	if then.Grade != defect.Halt || len(then.NotReleased) == 0 || !slices.Contains(then.Restrictions, machine.NoFineTurf) {
		t.Errorf("%+v", then)
	}
	on := judge(t, sheet, Case{Hours: at(102), Carried: []Carried{carried}})
	past := judge(t, sheet, Case{Hours: at(102.1), Carried: []Carried{carried}})
	if on.Grade != defect.Mend || past.Grade != defect.Halt {
		t.Errorf("on its hour %s, past it %s", on.Grade, past.Grade)
	}
}

// TestWhereNoMeterRuns hours of work are hours by the clock.
func TestWhereNoMeterRuns(t *testing.T) {
	sheet := plain(machine.Check{Class: machine.ClassD, Faults: []machine.Fault{{ID: "weep", Extent: machine.Early}}}, 15)
	r := judge(t, sheet, Case{Findings: []Finding{{Check: "p", Fault: "weep"}}})
	if r.Deadline.Hours != nil || r.Deadline.At == nil || !r.Deadline.At.Equal(morning.Add(2*time.Hour)) {
		t.Errorf("%+v", r.Deadline)
	}
	until := 104.0
	carried := Carried{Check: "p", Grade: defect.Mend, Deadline: defect.Deadline{Hours: &until}, Hours: at(101.5), At: &morning}
	for after, want := range map[time.Duration]defect.Grade{150 * time.Minute: defect.Mend, 151 * time.Minute: defect.Halt} {
		now := morning.Add(after)
		if r := judge(t, sheet, Case{At: &now, Carried: []Carried{carried}}); r.Grade != want {
			t.Errorf("after %s: %s, want %s", after, r.Grade, want)
		}
	}
}

// TestAVoidTest keeps a machine in and makes it no worse; one that failed is a Halt,
// whatever a repeat shows.
func TestAVoidTest(t *testing.T) {
	sheet := plain(machine.Check{Class: machine.ClassH}, 15)
	for name, c := range map[string]struct {
		tests []Test
		grade defect.Grade
		in    bool
	}{
		"none":                {nil, defect.Sound, false},
		"passed":              {[]Test{{"1", Passed}}, defect.Sound, false},
		"void":                {[]Test{{"1", Void}}, defect.Sound, true},
		"void, then passed":   {[]Test{{"1", Void}, {"1", Passed}}, defect.Sound, false},
		"passed, then void":   {[]Test{{"1", Passed}, {"1", Void}}, defect.Sound, true},
		"another passed":      {[]Test{{"1", Void}, {"2", Passed}}, defect.Sound, true},
		"failed, then passed": {[]Test{{"1", Failed}, {"1", Passed}}, defect.Halt, true},
	} {
		t.Run(name, func(t *testing.T) {
			r := judge(t, sheet, Case{Tests: c.tests})
			if r.Grade != c.grade || len(r.NotReleased) > 0 != c.in {
				t.Errorf("%s %v", r.Grade, r.NotReleased)
			}
		})
	}
}

// TestTheDayEndsAtFour by the offset in which it was begun.
func TestTheDayEndsAtFour(t *testing.T) {
	sheet := plain(machine.Check{Class: machine.ClassH}, 15)
	east := time.FixedZone("east", 3*3600)
	for _, c := range []struct {
		begun, now time.Time
		in         bool
	}{
		{time.Date(2026, 3, 5, 23, 0, 0, 0, east), time.Date(2026, 3, 6, 3, 59, 0, 0, east), false},
		{time.Date(2026, 3, 5, 23, 0, 0, 0, east), time.Date(2026, 3, 6, 4, 0, 0, 0, east), true},
		{time.Date(2026, 3, 6, 3, 0, 0, 0, east), time.Date(2026, 3, 6, 4, 0, 0, 0, east), true},
		{time.Date(2026, 3, 6, 4, 0, 0, 0, east), time.Date(2026, 3, 6, 22, 0, 0, 0, east), false},
		{time.Date(2026, 3, 6, 4, 0, 0, 0, east), time.Date(2026, 3, 7, 1, 0, 0, 0, time.UTC), true},
		{time.Date(2026, 3, 6, 4, 0, 0, 0, east), time.Date(2026, 3, 7, 0, 59, 0, 0, time.UTC), false},
	} {
		if r := judge(t, sheet, Case{At: &c.now, Begun: &c.begun}); len(r.NotReleased) > 0 != c.in {
			t.Errorf("begun %s, at %s: %v", c.begun, c.now, r.NotReleased)
		}
	}
}

// TestNothingIsLeft: a machine to which every use is barred is on Halt.
func TestNothingIsLeft(t *testing.T) {
	sheet := plain(machine.Check{Class: machine.ClassF, Faults: []machine.Fault{
		{ID: "some", Extent: machine.Lost, Restrict: []string{"no_slope", "no_fine_turf"}}, {ID: "rest", Extent: machine.Lost, Restrict: []string{"no_near_public"}}}}, 15)
	one := judge(t, sheet, Case{Findings: []Finding{{Check: "p", Fault: "some"}}, Uses: []string{"slope:2", "slope:3"}})
	if one.Grade != defect.Mend || refused(one) != "slope:3 release.restricted" {
		t.Errorf("%s %s", one.Grade, refused(one))
	}
	both := judge(t, sheet, Case{Findings: []Finding{{Check: "p", Fault: "some"}, {Check: "p", Fault: "rest"}}})
	if both.Grade != defect.Halt || both.Deadline.At == nil || len(both.Reasons) != 1 {
		t.Errorf("%s %+v %v", both.Grade, both.Deadline, both.Reasons)
	}
}

// TestWhatCannotBeJudged says what is not known, or not given.
func TestWhatCannotBeJudged(t *testing.T) {
	low := 5.0
	bands := []machine.Band{{At: 0, Low: &low}, {At: 1, Low: &low}}
	c := machine.Check{Class: machine.ClassG, Faults: []machine.Fault{{ID: "f", Extent: machine.Lost}}, Readings: []machine.Reading{
		{ID: "a", Unit: "mm", Limits: &machine.Limits{Low: &low}}, {ID: "b", Unit: "mm", Limits: &machine.Limits{By: "wet", Bands: bands}}}}
	sheet := plain(c, 15)
	sheet.Conditions = []machine.Condition{{ID: "wet"}}
	v, minus, nan := 7.0, -1.0, 0.0
	nan /= nan
	zero := 0
	for name, one := range map[string]struct {
		c    Case
		rule text.Rule
	}{
		"no time":                {Case{}, ruleMissing},
		"no point":               {Case{At: &morning, Findings: []Finding{{Fault: "f"}}}, ruleMissing},
		"another point":          {Case{At: &morning, Findings: []Finding{{Check: "q", Fault: "f"}}}, ruleUnknown},
		"another fault":          {Case{At: &morning, Findings: []Finding{{Check: "p", Fault: "g"}}}, ruleUnknown},
		"which reading":          {Case{At: &morning, Findings: []Finding{{Check: "p", Reading: &v}}}, ruleMissing},
		"another reading":        {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "c", Reading: &v}}}, ruleUnknown},
		"another unit":           {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "a", Reading: &v, Unit: "kPa"}}}, ruleUnknown},
		"no number":              {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "a", Reading: &nan}}}, ruleWrong},
		"less than sure":         {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "a", Reading: &v, Uncertainty: &minus}}}, ruleWrong},
		"no condition":           {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "b", Reading: &v}}}, ruleMissing},
		"another condition":      {Case{At: &morning, Conditions: map[string]float64{"dry": 1}}, ruleUnknown},
		"no condition before":    {Case{At: &morning, History: []Finding{{Check: "p", Of: "b", Reading: &v}}}, ruleMissing},
		"two answers":            {Case{At: &morning, Findings: []Finding{{Check: "p", Fault: "f", Sound: true}}}, ruleOne},
		"no answer":              {Case{At: &morning, Findings: []Finding{{Check: "p"}}}, ruleOne},
		"another slip":           {Case{At: &morning, Findings: []Finding{{Check: "p", Of: "a", Reading: &v, Again: &v, Slip: &Slip{Which: "third"}}}}, ruleUnknown},
		"another use":            {Case{At: &morning, Uses: []string{"fly"}}, ruleUnknown},
		"a steep road":           {Case{At: &morning, Uses: []string{"road:5"}}, ruleUnknown},
		"steep as what":          {Case{At: &morning, Uses: []string{"slope:x"}}, ruleUnknown},
		"another grade":          {Case{At: &morning, Carried: []Carried{{Check: "p", Grade: "bad"}}}, ruleUnknown},
		"another restriction":    {Case{At: &morning, Carried: []Carried{{Check: "p", Grade: "mend", Restrictions: []machine.Restriction{"no_fun"}}}}, ruleUnknown},
		"hours from nothing":     {Case{At: &morning, Carried: []Carried{{Check: "p", Grade: "mend", Deadline: defect.Deadline{Hours: &v}, At: &morning}}}, ruleMissing},
		"another outcome":        {Case{At: &morning, Tests: []Test{{"1", "good"}}}, ruleUnknown},
		"hours less than none":   {Case{At: &morning, Hours: &minus}, ruleWrong},
		"planned less than none": {Case{At: &morning, PlannedHours: &minus}, ruleWrong},
		"no days":                {Case{At: &morning, House: &House{MendDays: &zero}}, "house.mend_days"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := one.c.Judge(sheet)
			if err == nil || !strings.Contains(fmt.Sprintf("%+v", err), string(one.rule)) {
				t.Errorf("%v, want %s", err, one.rule)
			}
		})
	}
	// What the sheet has no more is passed over in what came before, and its
	// restriction holds on.
	r := judge(t, sheet, Case{History: []Finding{{Check: "q", Fault: "x"}}, Carried: []Carried{{Check: "q", Grade: defect.Watch, Restrictions: []machine.Restriction{machine.NoFineTurf}}}, Uses: []string{"fine_turf"}})
	if r.Grade != defect.Watch || refused(r) != "fine_turf release.restricted" {
		t.Errorf("%s %s", r.Grade, refused(r))
	}
}
