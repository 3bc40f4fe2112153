package defect

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
)

func ptr(v float64) *float64 { return &v }

func TestTable(t *testing.T) {
	want := map[machine.Class][3]Grade{
		"A": {Watch, Halt, Halt}, "B": {Watch, Halt, Halt}, "C": {Halt, Halt, Halt}, "D": {Mend, Halt, Halt},
		"E": {Watch, Mend, Halt}, "F": {Watch, Mend, Mend}, "G": {Watch, Mend, Mend}, "H": {Watch, Watch, Mend},
	}
	for _, class := range machine.Classes() {
		for i, extent := range []machine.Extent{machine.Early, machine.Degraded, machine.Lost} {
			c := &machine.Check{ID: "x", Class: class}
			f := OfFault(c, &machine.Fault{ID: "f", Extent: extent}, Context{Hours: 100})
			if f.Grade != want[class][i] {
				t.Errorf("%s %s: %s, want %s", class, extent, f.Grade, want[class][i])
			}
			if len(f.Reasons) == 0 {
				t.Errorf("%s %s has no reason", class, extent)
			}
		}
	}
}

func TestSpecialCells(t *testing.T) {
	d := &machine.Check{Class: machine.ClassD}
	weep := OfFault(d, &machine.Fault{Extent: machine.Early}, Context{Hours: 100})
	if weep.Grade != Mend || weep.Deadline.Hours == nil || *weep.Deadline.Hours != 102 || !slices.Contains(weep.Restrictions, machine.NoFineTurf) {
		t.Errorf("weep: %+v", weep)
	}
	if f := OfFault(d, &machine.Fault{Extent: machine.Early, HoseBody: true}, Context{}); f.Grade != Halt || f.Deadline.Hours != nil {
		t.Errorf("hose body: %+v", f)
	}
	if f := OfFault(d, &machine.Fault{Extent: machine.Early}, Context{House: House{LeakIsHalt: true}}); f.Grade != Halt {
		t.Errorf("house rule on leaks: %+v", f)
	}
	g := &machine.Check{Class: machine.ClassG, Critical: true}
	if f := OfFault(g, &machine.Fault{Extent: machine.Lost}, Context{}); f.Grade != Halt {
		t.Errorf("critical part lost: %+v", f)
	}
	e := &machine.Check{Class: machine.ClassE}
	if f := OfFault(e, &machine.Fault{Extent: machine.Early}, Context{}); f.Grade != Watch || !slices.Contains(f.Restrictions, machine.NoFineTurf) {
		t.Errorf("oil, early: %+v", f)
	}
	if f := OfFault(e, &machine.Fault{Extent: machine.Lost, Class: machine.ClassC}, Context{}); f.Grade != Halt {
		t.Errorf("fuel at an oil point: %+v", f)
	}
}

func TestExtents(t *testing.T) {
	blade := &machine.Check{Class: machine.ClassB}
	belt := &machine.Check{Class: machine.ClassG}
	for _, test := range []struct {
		name   string
		check  *machine.Check
		limits machine.Limits
		value  float64
		want   machine.Extent
	}{
		{"sound", blade, machine.Limits{Low: ptr(32)}, 40, machine.Sound},
		{"below", blade, machine.Limits{Low: ptr(32)}, 31, machine.Lost},
		{"touching is outside", belt, machine.Limits{Low: ptr(32)}, 32, machine.Lost},
		{"touching, inclusive, no safety", belt, machine.Limits{Low: ptr(32), Inclusive: true}, 32, machine.Early},
		{"doubt counts as past", blade, machine.Limits{Low: ptr(32)}, 32.4, machine.Lost},
		{"exactly the uncertainty away", blade, machine.Limits{Low: ptr(32)}, 32.5, machine.Lost},
		{"exactly the uncertainty away, inclusive", blade, machine.Limits{Low: ptr(32), Inclusive: true}, 32.5, machine.Early},
		{"early by default margin", blade, machine.Limits{Low: ptr(32)}, 32.9, machine.Early},
		{"near by the sheet", blade, machine.Limits{Low: ptr(32), Near: ptr(2), Early: ptr(4)}, 33.5, machine.Degraded},
		{"early by the sheet", blade, machine.Limits{Low: ptr(32), Near: ptr(2), Early: ptr(4)}, 35.5, machine.Early},
		{"doubt elsewhere is early", belt, machine.Limits{Low: ptr(32)}, 32.4, machine.Early},
		{"doubt elsewhere, larger near", belt, machine.Limits{Low: ptr(32), Near: ptr(2)}, 32.4, machine.Degraded},
		{"safety limit elsewhere", belt, machine.Limits{Low: ptr(32), Safety: true}, 32.4, machine.Lost},
		{"high side", belt, machine.Limits{High: ptr(40)}, 41, machine.Lost},
		{"between", belt, machine.Limits{Low: ptr(32), High: ptr(40)}, 36, machine.Sound},
	} {
		t.Run(test.name, func(t *testing.T) {
			r := &machine.Reading{Unit: "mm", Uncertainty: 0.5, Limits: &test.limits}
			got, _ := ExtentOf(test.check, r, r.Measure(test.value).Quantity)
			if got != test.want {
				t.Errorf("%s: %v is %s, want %s", test.name, test.value, got, test.want)
			}
		})
	}
}

// TestExtentIsMonotone: moving a reading away from a limit never makes it worse.
func TestExtentIsMonotone(t *testing.T) {
	for _, class := range machine.Classes() {
		c := &machine.Check{Class: class}
		r := &machine.Reading{Unit: "mm", Uncertainty: 0.5, Limits: &machine.Limits{Low: ptr(32), Near: ptr(1), Early: ptr(3)}}
		last := 4
		for v := 30.0; v < 40; v += 0.05 {
			extent, _ := ExtentOf(c, r, r.Measure(v).Quantity)
			if order(extent) > last {
				t.Fatalf("class %s: %v mm is %s, worse than just below it", class, v, extent)
			}
			last = order(extent)
		}
	}
}

func TestUneven(t *testing.T) {
	reading := func(id string) machine.Reading { return machine.Reading{ID: id, Unit: "kPa"} }
	c := &machine.Check{Class: machine.ClassG, Restrict: []string{"no_slope"}, Readings: []machine.Reading{reading("l"), reading("r")},
		Even: &machine.Evenness{Max: 14, Unit: "kPa", Pairs: [][2]string{{"l", "r"}}}}
	for _, test := range []struct {
		l, r float64
		want Grade
	}{{90, 90, Sound}, {90, 104, Sound}, {90, 105, Mend}, {105, 90, Mend}} {
		t.Run(fmt.Sprint(test.l, " ", test.r), func(t *testing.T) {
			f := OfUneven(c, map[string]Paired{"l": {Value: c.Readings[0].Measure(test.l)}, "r": {Value: c.Readings[1].Measure(test.r)}}, Context{})
			if f.Grade != test.want {
				t.Errorf("%v against %v: %s, want %s", test.l, test.r, f.Grade, test.want)
			}
			if f.Grade == Mend && !slices.Contains(f.Restrictions, machine.NoSlope) {
				t.Errorf("uneven tyres do not restrict: %+v", f)
			}
		})
	}
}

func TestDeadlines(t *testing.T) {
	now := time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC)
	later := now.Add(time.Hour)
	d := Deadline{Hours: ptr(100)}.Earlier(Deadline{Hours: ptr(90), At: &later}).Earlier(Deadline{Hours: ptr(95)})
	if *d.Hours != 90 || d.At == nil {
		t.Errorf("earlier: %+v", d)
	}
	if d.Passed(90, now) || !d.Passed(90.1, now) || !d.Passed(0, later.Add(time.Second)) {
		t.Error("deadlines pass at the wrong moment")
	}
}

// TestAHouseMayKeepEverythingIn: what would be a Watch or a Mend is a Halt, with the
// reason alone, and forbids what it forbade.
func TestAHouseMayKeepEverythingIn(t *testing.T) {
	house := House{MendDays: 7, AnyIsHalt: true, Edition: Edition}
	for _, class := range []machine.Class{machine.ClassA, machine.ClassD, machine.ClassE, machine.ClassH} {
		c := &machine.Check{ID: "point", Class: class, Faults: []machine.Fault{{ID: "worn", Extent: machine.Early, Restrict: []string{"no_road"}}}}
		f := OfFault(c, &c.Faults[0], Context{House: house})
		if f.Grade != Halt || !slices.Contains(f.Restrictions, machine.NoRoad) || f.Deadline != (Deadline{}) || len(f.Reasons) != 1 {
			t.Errorf("%s: %+v", class, f)
		}
		older := House{MendDays: 7, AnyIsHalt: true, Edition: 3}
		if f := OfFault(c, &c.Faults[0], Context{House: older}); f.Grade != Halt || len(f.Restrictions) != 0 || f.Reasons[0].Rule != "grade.cell" {
			t.Errorf("%s, as it was: %+v", class, f)
		}
		if plain := OfFault(c, &c.Faults[0], Context{House: DefaultHouse()}); plain.Grade == Sound {
			t.Errorf("%s: it was sound anyhow", class)
		}
	}
}
