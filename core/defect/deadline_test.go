package defect

import (
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

var found = time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)

func at(d time.Duration) *time.Time {
	t := found.Add(d)
	return &t
}

// says is a deadline as one can read it in a table: hours, and days from found.
func says(d Deadline) string {
	out := ""
	if d.Hours != nil {
		out += fmt.Sprintf("%gh ", *d.Hours)
	}
	if d.At != nil {
		out += fmt.Sprintf("%gd", d.At.Sub(found).Hours()/24)
	}
	return out
}

func TestTheHouseDatesAMend(t *testing.T) {
	week, first := House{MendDays: 7, Edition: 2}, House{MendDays: 7}
	for name, c := range map[string]struct {
		house House
		f     Finding
		want  string
	}{
		"a Mend":                          {week, Finding{Grade: Mend}, "7d"},
		"with hours, both":                {week, Finding{Grade: Mend, Deadline: Deadline{Hours: ptr(102)}}, "102h 7d"},
		"with an earlier date":            {week, Finding{Grade: Mend, Deadline: Deadline{At: at(24 * time.Hour)}}, "1d"},
		"with a later date":               {week, Finding{Grade: Mend, Deadline: Deadline{At: at(240 * time.Hour)}}, "7d"},
		"first edition, none":             {first, Finding{Grade: Mend}, "7d"},
		"first edition, with hours":       {first, Finding{Grade: Mend, Deadline: Deadline{Hours: ptr(102)}}, "102h "},
		"a house without days":            {House{Edition: 2}, Finding{Grade: Mend}, ""},
		"a Watch has none":                {week, Finding{Grade: Watch}, ""},
		"a Halt has none":                 {week, Finding{Grade: Halt}, ""},
		"nothing found":                   {week, Finding{Grade: Sound}, ""},
		"first edition: a Halt has none":  {first, Finding{Grade: Halt}, ""},
		"first edition: a Watch has none": {first, Finding{Grade: Watch}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			if got := says(c.house.Dated(c.f, found).Deadline); got != c.want {
				t.Errorf("%q, want %q", got, c.want)
			}
		})
	}
}

func TestADeadlinePasses(t *testing.T) {
	for name, c := range map[string]struct {
		f     Finding
		hours float64
		now   time.Time
		want  Grade
	}{
		"to the hour":        {Finding{Grade: Mend, Deadline: Deadline{Hours: ptr(102)}}, 102, found, Mend},
		"past the hour":      {Finding{Grade: Mend, Deadline: Deadline{Hours: ptr(102)}}, 102.1, found, Halt},
		"to the moment":      {Finding{Grade: Mend, Deadline: Deadline{At: at(0)}}, 0, found, Mend},
		"past the moment":    {Finding{Grade: Mend, Deadline: Deadline{At: at(0)}}, 0, found.Add(time.Second), Halt},
		"whichever is first": {Finding{Grade: Mend, Deadline: Deadline{Hours: ptr(200), At: at(0)}}, 100, found.Add(time.Second), Halt},
		"without one":        {Finding{Grade: Mend}, 1e6, found.AddDate(9, 0, 0), Mend},
		"a Watch stays":      {Finding{Grade: Watch, Deadline: Deadline{Hours: ptr(1)}}, 2, found, Watch},
		"sound stays":        {Finding{Grade: Sound, Deadline: Deadline{Hours: ptr(1)}}, 2, found, Sound},
	} {
		t.Run(name, func(t *testing.T) {
			if got := c.f.GradeAt(c.hours, c.now); got != c.want {
				t.Errorf("%s, want %s", got, c.want)
			}
		})
	}
}

// TestHoursByTheClock: two hours from a meter at a hundred are two hours from
// when it was found.
func TestHoursByTheClock(t *testing.T) {
	day := 24 * time.Hour
	for name, c := range map[string]struct {
		d    Deadline
		want string
	}{
		"a day of hours":     {Deadline{Hours: ptr(124)}, "1d"},
		"and a later date":   {Deadline{Hours: ptr(124), At: at(3 * day)}, "1d"},
		"and an earlier one": {Deadline{Hours: ptr(172), At: at(day)}, "1d"},
		"a date alone":       {Deadline{At: at(day)}, "1d"},
		"none":               {Deadline{}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			if got := says(c.d.ByClock(found, 100)); got != c.want {
				t.Errorf("%q, want %q", got, c.want)
			}
		})
	}
	weep := func(in Context) string {
		return says(OfFault(&machine.Check{Class: machine.ClassD}, &machine.Fault{Extent: machine.Early}, in).Deadline)
	}
	now := Context{House: House{Edition: Edition}, Hours: 100, At: found}
	if got := weep(now); got != "102h " {
		t.Errorf("a weep by the meter: %q", got)
	}
	now.NoMeter = true
	if got := weep(now); got != fmt.Sprintf("%gd", 2.0/24) {
		t.Errorf("a weep by the clock: %q", got)
	}
	now.House.Edition = 0
	if got := weep(now); got != "102h " {
		t.Errorf("as it was in the first edition: %q", got)
	}
}

func TestEarlier(t *testing.T) {
	for _, c := range []struct{ a, b, want Deadline }{
		{Deadline{}, Deadline{}, Deadline{}},
		{Deadline{Hours: ptr(2)}, Deadline{}, Deadline{Hours: ptr(2)}},
		{Deadline{}, Deadline{Hours: ptr(2)}, Deadline{Hours: ptr(2)}},
		{Deadline{Hours: ptr(2)}, Deadline{Hours: ptr(1)}, Deadline{Hours: ptr(1)}},
		{Deadline{Hours: ptr(1)}, Deadline{Hours: ptr(2)}, Deadline{Hours: ptr(1)}},
		{Deadline{At: at(1)}, Deadline{At: at(2)}, Deadline{At: at(1)}},
		{Deadline{At: at(2)}, Deadline{At: at(1)}, Deadline{At: at(1)}},
		{Deadline{Hours: ptr(1), At: at(48 * time.Hour)}, Deadline{Hours: ptr(2), At: at(24 * time.Hour)}, Deadline{Hours: ptr(1), At: at(24 * time.Hour)}},
	} {
		t.Run(fmt.Sprint(c.a, " ", c.b), func(t *testing.T) {
			if got := c.a.Earlier(c.b); says(got) != says(c.want) {
				t.Errorf("the earlier of %q and %q is %q", says(c.a), says(c.b), says(got))
			}
		})
	}
}

// reading is one of a point, in mm with an uncertainty of a millimetre.
func reading(limits *machine.Limits) (*machine.Reading, func(mm float64) text.Measure) {
	r := &machine.Reading{ID: "r", Unit: "mm", Uncertainty: 1, Limits: limits}
	u, _ := unit.Find("mm")
	return r, func(mm float64) text.Measure { return text.Measure{Quantity: u.Of(mm), Unit: "mm"} }
}

// TestAReadingIsGraded: soundly, with the reason that says how it stands to its
// limit first, and restricted only where the table says so.
func TestAReadingIsGraded(t *testing.T) {
	restrict := []string{string(machine.NoSlope)}
	for name, c := range map[string]struct {
		class  machine.Class
		mm     float64
		grade  Grade
		rules  []text.Rule
		forbid bool
	}{
		"well within":                  {machine.ClassF, 10, Sound, nil, false},
		"early, F: no restriction":     {machine.ClassF, 6.5, Watch, []text.Rule{"grade.near_limit", "grade.cell"}, false},
		"lost, F: restricted":          {machine.ClassF, 4, Mend, []text.Rule{"grade.past_limit", "grade.cell"}, true},
		"early, G: no restriction":     {machine.ClassG, 6.5, Watch, []text.Rule{"grade.near_limit", "grade.cell"}, false},
		"lost, G: restricted":          {machine.ClassG, 4, Mend, []text.Rule{"grade.past_limit", "grade.cell"}, true},
		"lost, H: too":                 {machine.ClassH, 4, Mend, []text.Rule{"grade.past_limit", "grade.cell"}, true},
		"in doubt, A: outside":         {machine.ClassA, 5.5, Halt, []text.Rule{"grade.doubt", "grade.cell"}, true},
		"in doubt, H: early":           {machine.ClassH, 5.5, Watch, []text.Rule{"grade.near_limit", "grade.cell"}, false},
		"touching the limit is beyond": {machine.ClassH, 5, Mend, []text.Rule{"grade.past_limit", "grade.cell"}, true},
	} {
		t.Run(name, func(t *testing.T) {
			low := 5.0
			r, mm := reading(&machine.Limits{Low: &low})
			point := &machine.Check{ID: "p", Class: c.class, Restrict: restrict, Readings: []machine.Reading{*r}}
			f := OfReading(point, r, mm(c.mm), Context{House: House{Edition: Edition}, Hours: 100, At: found})
			var rules []text.Rule
			for _, reason := range f.Reasons {
				rules = append(rules, reason.Rule)
			}
			if f.Grade != c.grade || !slices.Equal(rules, c.rules) || slices.Contains(f.Restrictions, machine.NoSlope) != c.forbid {
				t.Errorf("%s %v %v", f.Grade, rules, f.Restrictions)
			}
		})
	}
}

// TestDegradedIsRestrictedWhereTheTableSaysSo: the near margin set apart.
func TestDegradedIsRestrictedWhereTheTableSaysSo(t *testing.T) {
	low, near := 5.0, 3.0
	for class, want := range map[machine.Class]bool{machine.ClassE: false, machine.ClassF: true, machine.ClassG: false, machine.ClassH: false} {
		t.Run(fmt.Sprint(class), func(t *testing.T) {
			r, mm := reading(&machine.Limits{Low: &low, Near: &near})
			point := &machine.Check{ID: "p", Class: class, Restrict: []string{string(machine.NoRoad)}, Readings: []machine.Reading{*r}}
			f := OfReading(point, r, mm(7.5), Context{House: House{Edition: Edition}})
			if f.Extent != machine.Degraded || slices.Contains(f.Restrictions, machine.NoRoad) != want {
				t.Errorf("%s: %s %v", class, f.Extent, f.Restrictions)
			}
		})
	}
}

// TestWhatACellForbids by itself: fine turf to whatever leaks oil, the milder never
// less than the worse; and nothing to anything else. Before the fourth edition only
// what leaks early forbade it.
func TestWhatACellForbids(t *testing.T) {
	for _, edition := range []int{3, 4} {
		for _, class := range machine.Classes() {
			for _, extent := range []machine.Extent{machine.Early, machine.Degraded, machine.Lost} {
				f := OfFault(&machine.Check{Class: class}, &machine.Fault{Extent: extent}, Context{House: House{Edition: edition}})
				want := (extent == machine.Early || edition >= 4) && (class == machine.ClassE || class == machine.ClassD)
				if slices.Contains(f.Restrictions, machine.NoFineTurf) != want {
					t.Errorf("%d: %s %s forbids %v", edition, class, extent, f.Restrictions)
				}
				if hours := f.Deadline.Hours != nil; hours != (class == machine.ClassD && extent == machine.Early) {
					t.Errorf("%d: %s %s has a deadline in hours: %v", edition, class, extent, hours)
				}
			}
		}
	}
}

// TestAReadingPastItsLimitForbids what its point says, of any class; before the fourth
// edition only where something warns or wears.
func TestAReadingPastItsLimitForbids(t *testing.T) {
	for edition, want := range map[int][]machine.Class{3: {machine.ClassF, machine.ClassG}, 4: machine.Classes()} {
		var got []machine.Class
		for _, class := range machine.Classes() {
			low := 5.0
			r, mm := reading(&machine.Limits{Low: &low})
			point := &machine.Check{ID: "p", Class: class, Restrict: []string{string(machine.NoSlope)}, Readings: []machine.Reading{*r}}
			if slices.Contains(OfReading(point, r, mm(4), Context{House: House{Edition: edition}}).Restrictions, machine.NoSlope) {
				got = append(got, class)
			}
		}
		if !slices.Equal(got, want) {
			t.Errorf("%d: %v, want %v", edition, got, want)
		}
	}
}

// TestWhatAMachineHasTwice: of two uneven pairs the reasons of both are told,
// and what forbids something forbids it.
func TestWhatAMachineHasTwice(t *testing.T) {
	r, mm := reading(nil)
	names := []string{"a", "b", "c", "d"}
	point := &machine.Check{ID: "p", Class: machine.ClassF, Restrict: []string{string(machine.NoSlope)}, Even: &machine.Evenness{Unit: "mm", Max: 2, Pairs: [][2]string{{"a", "b"}, {"c", "d"}}}}
	for _, n := range names {
		one := *r
		one.ID = n
		point.Readings = append(point.Readings, one)
	}
	for name, c := range map[string]struct {
		values  []float64
		reasons int
	}{
		"even":                    {[]float64{10, 12, 10, 8}, 0},
		"one pair":                {[]float64{10, 13, 10, 10}, 1},
		"the other, turned round": {[]float64{10, 10, 14, 10}, 1},
		"both":                    {[]float64{10, 13, 14, 10}, 2},
	} {
		t.Run(name, func(t *testing.T) {
			values := map[string]Paired{}
			for i, v := range c.values {
				values[names[i]] = Paired{Value: mm(v)}
			}
			f := OfUneven(point, values, Context{House: House{Edition: Edition}})
			uneven := 0
			for _, reason := range f.Reasons {
				if reason.Rule == "grade.uneven" {
					uneven++
				}
			}
			if uneven != c.reasons || (f.Grade == Mend) != (c.reasons > 0) || slices.Contains(f.Restrictions, machine.NoSlope) != (c.reasons > 0) {
				t.Errorf("%s, %d reasons, %v", f.Grade, uneven, f.Restrictions)
			}
			delete(values, "d")
			if half := OfUneven(point, values, Context{}); len(half.Reasons) > len(f.Reasons) {
				t.Error("a pair that is not complete was judged")
			}
		})
	}
}

// TestJoining two findings on one point takes the worse of everything.
func TestJoining(t *testing.T) {
	watch := Finding{Extent: machine.Early, Grade: Watch, Restrictions: []machine.Restriction{machine.NoRoad}, Reasons: []text.Reason{ruleWeep.Says()}}
	mend := Finding{Extent: machine.Lost, Grade: Mend, Restrictions: []machine.Restriction{machine.NoSlope}, Deadline: Deadline{Hours: ptr(5)}, Reasons: []text.Reason{ruleHose.Says(), ruleLeak.Says()}}
	for _, both := range []Finding{watch.with(mend), mend.with(watch)} {
		if both.Grade != Mend || both.Extent != machine.Lost || len(both.Reasons) != 3 || len(both.Restrictions) != 2 || both.Deadline.Hours == nil {
			t.Errorf("%+v", both)
		}
	}
	sound := Finding{Extent: machine.Sound, Grade: Sound}
	if f := sound.with(mend); f.Grade != Mend || len(f.Reasons) != 2 {
		t.Errorf("%+v", f)
	}
	if f := mend.with(sound); f.Grade != Mend || len(f.Reasons) != 2 {
		t.Errorf("%+v", f)
	}
}

// TestSlackIsSmall: it forgives the last digits and nothing that a hand could
// read off, in every unit.
func TestSlackIsSmall(t *testing.T) {
	for _, symbol := range unit.Symbols() {
		u, _ := unit.Find(symbol)
		for _, v := range []float64{0, 1, 250, 99999} {
			there := u.Of(u.In(u.Of(v)) + v - v).Value
			if math.Abs(there-u.Of(v).Value) > slack(u) || slack(u) > u.Span(1e-6) {
				t.Errorf("%g %s: slack of %g", v, symbol, slack(u))
			}
		}
	}
}

// Example grades a weep at a fitting, as a hand would find it on a cold morning.
func Example() {
	point := &machine.Check{ID: "hoses", Class: machine.ClassD}
	weep := &machine.Fault{ID: "weep", Extent: machine.Early}
	f := OfFault(point, weep, Context{House: DefaultHouse(), Hours: 412.4})
	fmt.Println(f.Grade, *f.Deadline.Hours, f.Restrictions)
	// Output: mend 414.4 [no_fine_turf recheck_two_hours]
}
