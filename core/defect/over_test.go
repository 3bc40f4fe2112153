package defect

import (
	"slices"
	"testing"
	"time"

	"vespers/core/machine"
	"vespers/core/text"
)

// TestEverythingTogether: the worst grade, every restriction, the first deadline of a
// Mend that has not passed, whatever else is Halt.
func TestEverythingTogether(t *testing.T) {
	mend := func(hours float64, days int, not machine.Restriction) Finding {
		return Finding{Grade: Mend, Deadline: Deadline{Hours: &hours, At: at(time.Duration(days) * 24 * time.Hour)}, Restrictions: []machine.Restriction{not}}
	}
	halt := Finding{Grade: Halt, Restrictions: []machine.Restriction{machine.NoFineTurf}, Deadline: Deadline{Hours: ptr(1)}}
	for name, c := range map[string]struct {
		list  []Finding
		grade Grade
		until string
		not   int
	}{
		"nothing":          {nil, Sound, "", 0},
		"one":              {[]Finding{mend(102, 7, machine.NoRoad)}, Mend, "102h 7d", 1},
		"each for itself":  {[]Finding{mend(102, 7, machine.NoRoad), mend(110, 3, machine.NoSlope)}, Mend, "102h 3d", 2},
		"a Halt beside":    {[]Finding{mend(102, 7, machine.NoRoad), halt}, Halt, "102h 7d", 2},
		"a Halt alone":     {[]Finding{halt}, Halt, "", 1},
		"one passed":       {[]Finding{mend(99, 7, machine.NoRoad), mend(110, 5, machine.NoRoad)}, Halt, "110h 5d", 1},
		"a Watch has none": {[]Finding{{Grade: Watch, Deadline: Deadline{Hours: ptr(101)}}}, Watch, "", 0},
	} {
		t.Run(name, func(t *testing.T) {
			s := Over(c.list, 100, found)
			if s.Grade != c.grade || says(s.Deadline) != c.until || len(s.Restrictions) != c.not {
				t.Errorf("%+v until %q", s, says(s.Deadline))
			}
		})
	}
}

// TestPlannedHours: ending on a deadline is allowed, beyond it is not.
func TestPlannedHours(t *testing.T) {
	d := Deadline{Hours: ptr(105), At: at(6 * time.Hour)}
	meter := 100.0
	for _, c := range []struct {
		planned float64
		meter   *float64
		rules   []text.Rule
	}{
		{5, &meter, nil}, {5.01, &meter, []text.Rule{"use.past_hours"}}, {6, nil, nil}, {6.01, nil, []text.Rule{"use.past_date"}},
		{6.01, &meter, []text.Rule{"use.past_hours", "use.past_date"}},
	} {
		var got []text.Rule
		for _, r := range d.Outlasts(c.planned, c.meter, found) {
			got = append(got, r.Rule)
		}
		if !slices.Equal(got, c.rules) {
			t.Errorf("%g h: %v, want %v", c.planned, got, c.rules)
		}
	}
	if got := (Deadline{}).Outlasts(24, &meter, found); len(got) != 0 {
		t.Errorf("%v", got)
	}
}
