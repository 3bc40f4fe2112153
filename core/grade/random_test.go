package grade

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/record"
	"vespers/core/text"
)

// cases makes cases by chance.
type cases struct {
	*rand.Rand
	sheet *machine.Sheet
}

func (r cases) yes(share float64) bool { return r.Float64() < share }

func pick[T any](r cases, list []T) T { return list[r.IntN(len(list))] }

// small is a sheet of few points in which everything that grades occurs, with chance
// for its limits.
func small(r *rand.Rand) *machine.Sheet {
	c := cases{Rand: r}
	s := &machine.Sheet{ID: "small", Name: text.Text{EN: "Small", ES: "Chica"}, Conditions: []machine.Condition{{ID: "wet"}}}
	limit := 15.0
	s.Uses = []machine.Use{{ID: "slope", Limit: &limit, Unit: "°"}, {ID: pick(c, []string{"road", "fine_turf", "near_public", "dry_dust"})}}
	restrict := []string{"none", "no_slope", "no_road", "no_fine_turf", "no_near_public", "damp_ground_only", "daylight_only", "with_banksman"}
	for i := range 3 {
		k := machine.Check{ID: fmt.Sprintf("p%d", i), Class: pick(c, machine.Classes()), Critical: c.yes(0.2), Restrict: []string{pick(c, restrict)}}
		if c.yes(0.6) {
			k.System = pick(c, []string{"s", "t"})
		}
		for j, e := range []machine.Extent{machine.Early, machine.Degraded, machine.Lost} {
			f := machine.Fault{ID: fmt.Sprintf("f%d", j), Extent: e, Restrict: []string{pick(c, restrict)}, HoseBody: c.yes(0.1)}
			if c.yes(0.3) {
				f.Class = pick(c, machine.Classes())
			}
			if f.HoseBody {
				f.Class = machine.ClassD
			}
			if c.yes(0.4) {
				f.PutRight = &text.Text{EN: "Do it", ES: "Hágalo"}
			}
			k.Faults = append(k.Faults, f)
		}
		for j := range r.IntN(3) {
			rd := machine.Reading{ID: fmt.Sprintf("r%d", j), Unit: pick(c, []string{"mm", "kPa", "°C"}), Uncertainty: float64(r.IntN(4)) / 2}
			l := &machine.Limits{Safety: c.yes(0.3), Inclusive: c.yes(0.3)}
			if c.yes(0.8) {
				v := 10.0
				l.Low = &v
			}
			if l.Low == nil || c.yes(0.4) {
				v := 20.0
				l.High = &v
			}
			if c.yes(0.3) {
				v := float64(r.IntN(5)) / 2
				l.Near = &v
			}
			if c.yes(0.3) {
				v := float64(r.IntN(8)) / 2
				l.Early = &v
			}
			if c.yes(0.2) {
				l.By = "wet"
				a, b, d, e := 8.0, 12.0, 22.0, 18.0
				l.Bands = []machine.Band{{At: 0, Low: &a, High: &d}, {At: 1, Low: &b, High: &e}}
				l.Low, l.High = nil, nil
			}
			if c.yes(0.4) {
				w := float64(r.IntN(9)-4) / 10
				rd.Wear = &w
			}
			if c.yes(0.9) {
				rd.Limits = l
			}
			k.Readings = append(k.Readings, rd)
		}
		s.Checks = append(s.Checks, k)
	}
	return s
}

// finding is an answer of now, or of the past.
func (r cases) finding(past bool) Finding {
	c := pick(r, r.sheet.Checks)
	f := Finding{Check: c.ID}
	known := slices.Clone(c.Readings)
	if len(known) == 0 && c.Spot != nil {
		known = append(known, *c.Spot)
	}
	switch n := r.IntN(10); {
	case past && n < 2:
		f.Repaired, f.Replaced = n == 0, n == 1
		if len(known) > 0 && r.yes(0.5) {
			f.Of = pick(r, known).ID
		}
	case n < 3 || len(known) == 0 && n < 8:
		f.Fault = pick(r, c.Faults).ID
		f.PutRight = r.yes(0.2)
		if r.yes(0.2) {
			f.TakenBack = &TakenBack{Who: pick(r, []string{"", "ines", "osk"}), Why: pick(r, []string{"", "mistap"}), Second: pick(r, []string{"", "ines", "osk", "ruth"})}
		}
	case len(known) > 0 && n < 9:
		rd := pick(r, known)
		v := r.near(rd)
		f.Of, f.Reading = rd.ID, &v
		if r.yes(0.2) {
			u := float64(r.IntN(4)) / 2
			f.Uncertainty = &u
		}
		if r.yes(0.2) {
			again := r.near(rd)
			f.Again = &again
			if r.yes(0.5) {
				f.Slip = &Slip{Which: pick(r, []string{"first", "second"}), Who: pick(r, []string{"", "ines", "ruth"})}
			}
		}
		if past && r.yes(0.2) {
			f.PutRight = true
		}
	default:
		f.Sound = true
	}
	if r.yes(0.2) {
		at := morning.Add(-time.Duration(r.IntN(100)) * time.Hour)
		f.At = &at
	}
	return f
}

// near is a value about the limits of a reading, often on a margin.
func (r cases) near(rd machine.Reading) float64 {
	if rd.Limits == nil {
		return float64(r.IntN(30))
	}
	var at []float64
	for _, l := range []*float64{rd.Limits.Low, rd.Limits.High} {
		if l != nil {
			at = append(at, *l)
		}
	}
	if len(at) == 0 {
		return float64(r.IntN(60)) / 2
	}
	step := max(rd.Uncertainty, 0.1) / 2
	return pick(r, at) + float64(r.IntN(33)-12)*step
}

func (r cases) one() Case {
	at := morning
	c := Case{At: &at, Conditions: map[string]float64{}}
	for _, k := range r.sheet.Conditions {
		c.Conditions[k.ID] = float64(r.IntN(7)-1) / 4
	}
	if r.yes(0.8) {
		h := 1000 + float64(r.IntN(20))/4
		c.Hours = &h
	}
	if r.yes(0.5) {
		c.Who = pick(r, []string{"ines", "osk"})
	}
	if r.yes(0.3) {
		begun := at.Add(-time.Duration(r.IntN(40)) * time.Hour / 2)
		c.Begun = &begun
	}
	if r.yes(0.4) {
		days, within, leak := 1+r.IntN(10), r.IntN(6), r.yes(0.3)
		c.House = &House{MendDays: &days, AgainWithin: &within, LeakIsHalt: &leak}
	}
	for range r.IntN(4) {
		c.Findings = append(c.Findings, r.finding(false))
	}
	hours, ago := 960+float64(r.IntN(30)), 8
	for range r.IntN(9) {
		f := r.finding(true)
		h := hours
		hours += float64(r.IntN(8)) / 2
		if r.yes(0.9) {
			f.Hours = &h
		}
		ago = max(1, ago-r.IntN(3))
		if r.yes(0.9) {
			n := ago
			f.Ago = &n
		}
		c.History = append(c.History, f)
	}
	for range r.IntN(3) {
		k := Carried{Check: pick(r, r.sheet.Checks).ID, Grade: pick(r, defect.Grades()[1:])}
		if r.yes(0.1) {
			k.Check = "gone"
		}
		if r.yes(0.4) {
			k.Restrictions = []machine.Restriction{pick(r, machine.Restrictions())}
		}
		found, h := at.Add(-time.Duration(r.IntN(300))*time.Hour), 990+float64(r.IntN(20))
		k.At, k.Hours = &found, &h
		if r.yes(0.6) {
			u := h + float64(r.IntN(30))
			k.Deadline.Hours = &u
		}
		if r.yes(0.6) {
			d := found.Add(time.Duration(r.IntN(400)) * time.Hour)
			k.Deadline.At = &d
		}
		c.Carried = append(c.Carried, k)
	}
	for range r.IntN(3) {
		if r.yes(0.3) {
			c.Tests = append(c.Tests, Test{pick(r, []string{"1", "2"}), pick(r, []string{Passed, Passed, Void, Failed})})
		}
	}
	for range r.IntN(4) {
		c.Uses = append(c.Uses, pick(r, []string{"slope:2", "slope:3", "slope:12", "slope:15", "slope:20", "wet_slope:2", "wet_slope:9", "road", "dry_dust", "fine_turf", "near_public", "dusk", "under_trees"}))
	}
	if r.yes(0.4) {
		p := float64(r.IntN(20)) / 2
		c.PlannedHours = &p
	}
	return c
}

// agree holds a report against what the second judge says.
func agree(c Case, sheet *machine.Sheet) error {
	got, err := c.Judge(sheet)
	if err != nil {
		var refused *record.Refused
		if errors.As(err, &refused) {
			return fmt.Errorf("refused: %+v", refused.Reason)
		}
		return err
	}
	want := c.judgeAgain(sheet)
	if string(got.Grade) != scale[want.grade] {
		return fmt.Errorf("grade %s, want %s", got.Grade, scale[want.grade])
	}
	for i, f := range got.Findings {
		if string(f.Extent) != want.extents[i] || string(f.Grade) != scale[want.grades[i]] {
			return fmt.Errorf("finding %d: %s %s, want %s %s; %+v", i, f.Extent, f.Grade, want.extents[i], scale[want.grades[i]], f.Reasons)
		}
		if f.Grade != defect.Sound && len(f.Reasons) == 0 {
			return fmt.Errorf("finding %d: no reason", i)
		}
	}
	if (got.Deadline.Hours == nil) != (want.hours == nil) || want.hours != nil && math.Abs(*got.Deadline.Hours-*want.hours) > 1e-6 {
		return fmt.Errorf("hours %v, want %v", says(got.Deadline.Hours), says(want.hours))
	}
	if (got.Deadline.At == nil) != (want.date == nil) || want.date != nil && got.Deadline.At.Sub(*want.date).Abs() > time.Millisecond {
		return fmt.Errorf("date %v, want %v", got.Deadline.At, want.date)
	}
	if len(got.Restrictions) != len(want.takes) {
		return fmt.Errorf("takes away %v, want %v", got.Restrictions, want.takes)
	}
	for _, r := range got.Restrictions {
		if !want.takes[string(r)] {
			return fmt.Errorf("takes away %v, want %v", got.Restrictions, want.takes)
		}
	}
	refused := map[string]bool{}
	for _, u := range got.Refused {
		refused[u.Use] = true
	}
	if fmt.Sprint(refused) != fmt.Sprint(want.refused) {
		return fmt.Errorf("refuses %v, want %v", refused, want.refused)
	}
	if (len(got.NotReleased) > 0) != want.notReleased {
		return fmt.Errorf("not released because %v, want %v", got.NotReleased, want.notReleased)
	}
	return nil
}

func says(v *float64) any {
	if v == nil {
		return nil
	}
	return *v
}

// TestTheSecondJudgeAgrees on small sheets made by chance, and on every machine.
func TestTheSecondJudgeAgrees(t *testing.T) {
	seen := map[string]int{}
	check := func(t *testing.T, sheet *machine.Sheet, r *rand.Rand, n int) {
		for range n {
			c := cases{r, sheet}.one()
			if err := agree(c, sheet); err != nil {
				data, _ := json.Marshal(c)
				of, _ := json.Marshal(sheet.Checks)
				t.Fatalf("%v\n%s\n%.900s", err, data, of)
			}
			got, _ := c.Judge(sheet)
			for _, f := range got.Findings {
				for _, reason := range f.Reasons {
					seen[string(reason.Rule)]++
				}
			}
		}
	}
	t.Run("small", func(t *testing.T) {
		for seed := range uint64(600) {
			r := rand.New(rand.NewPCG(seed, 11))
			check(t, small(r), r, 40)
		}
	})
	for i, one := range machinetest.All(t) {
		t.Run(one.Sheet.ID, func(t *testing.T) {
			check(t, one.Sheet, rand.New(rand.NewPCG(uint64(i), 12)), 400)
		})
	}
	for _, rule := range []string{"grade.cell", "grade.weep", "grade.hose_body", "grade.critical", "grade.house_leak", "grade.doubt", "grade.past_limit", "grade.near_limit",
		"grade.again", "grade.did_not_hold", "grade.two_watches", "grade.trend", "grade.trend_by_wear", "grade.put_right", "grade.taken_back"} {
		if seen[rule] < 20 {
			t.Errorf("%s was met %d times", rule, seen[rule])
		}
	}
}
