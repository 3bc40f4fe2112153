package outing_test

import (
	"slices"
	"testing"

	"vespers/core/defect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// walked is an outing in which a filter was put right, a mount was found, a tyre read
// low, and everything else was in order; ended before its round.
func walked(t *testing.T) (*outing.Outing, string) {
	r := newRunner(t, machinetest.All(t)[0])
	r.must(outingtest.Ready(r.o))
	for r.o.Stage() == outing.StageWalk {
		c := outingtest.Next(r.o, r.now())
		if a, ok := c.(outing.Answer); ok {
			switch {
			case a.Check == "air_filter":
				c = outingtest.Fault("m", "air_filter", "dirty")
			case a.Check == "wheel_right_rear":
				point := r.u().Sheet
				tyre, _ := point.Check("wheel_right_rear")
				c = read("wheel_right_rear", &tyre.Readings[0], 88)
			}
		}
		r.must(c)
		if g, ok := r.u().Last("air_filter", ""); ok && g.Fault != "" && g.Right == nil {
			r.must(outing.PutRight{Finding: g.Meta.ID, Now: outingtest.Sound("m", "air_filter").Answer})
		}
	}
	r.must(outing.End{})
	return r.o, "m"
}

// TestWhatIsRemembered of an outing: what was not sound with what became of it, what
// was read; by how many outings ago.
func TestWhatIsRemembered(t *testing.T) {
	o, id := walked(t)
	m := outing.Memory{}.Started().After(o, id)
	past, series := m.Recall()
	find := func(check string) (out []defect.Past) {
		for _, p := range past {
			if p.Check == check {
				out = append(out, p)
			}
		}
		return out
	}
	if f := find("air_filter"); len(f) != 1 || !f[0].Right || f[0].Fault != "dirty" || f[0].Ago != 1 {
		t.Errorf("%+v", f)
	}
	if f := find("wheel_right_rear"); len(f) != 1 || f[0].Item != "pressure" || f[0].Value == nil || f[0].Right || f[0].Over {
		t.Errorf("%+v", f)
	}
	at := slices.IndexFunc(series, func(s defect.Series) bool { return s.Check == "wheel_right_rear" })
	if at < 0 || len(series[at].Points) != 1 || series[at].Points[0].Value < 87.9 || series[at].Points[0].Value > 88.1 || series[at].Points[0].Hours != o.Units[0].HoursNow() {
		t.Errorf("%+v", series)
	}
	if slices.ContainsFunc(series, func(s defect.Series) bool { return s.Check == "hour_meter" }) {
		t.Error("the meter itself is no reading that wears")
	}
	// Four outings later it is five ago; after fifty it is forgotten.
	for range 4 {
		m = m.Started()
	}
	if past, _ = m.Recall(); find("air_filter")[0].Ago != 5 {
		t.Errorf("%+v", past)
	}
	for range 50 {
		m = m.Started()
	}
	if past, _ = m.Recall(); len(past) != 0 {
		t.Errorf("%+v", past)
	}
}

// TestWorkIsRemembered: what was replaced begins its wear anew, and what was repaired
// does not.
func TestWorkIsRemembered(t *testing.T) {
	o, id := walked(t)
	m := outing.Memory{}.Started().After(o, id)
	count := func(m outing.Memory) int {
		_, series := m.Recall()
		n := 0
		for _, s := range series {
			if s.Check == "wheel_right_rear" {
				n += len(s.Points)
			}
		}
		return n
	}
	if repaired := m.Mended("wheel_right_rear", defect.Repaired); count(repaired) != 1 {
		t.Error("a repair forgot what was read")
	}
	replaced := m.Mended("wheel_right_rear", defect.Replaced)
	past, _ := replaced.Recall()
	if last := past[len(past)-1]; count(replaced) != 0 || last.Work != defect.Replaced || last.Ago != 1 {
		t.Errorf("%+v", last)
	}
	if count(m) != 1 {
		t.Error("what was remembered before was changed")
	}
}

// TestAMeterPutRight moves what was read by it, or forgets what a wrong one read.
func TestAMeterPutRight(t *testing.T) {
	o, id := walked(t)
	m := outing.Memory{}.After(o, id)
	hours := func(m outing.Memory) (out []float64) {
		_, series := m.Recall()
		for _, s := range series {
			if s.Check == "wheel_right_rear" {
				for _, p := range s.Points {
					out = append(out, p.Hours)
				}
			}
		}
		return out
	}
	was := hours(m)[0]
	if got := hours(m.Metered(was, 3, true)); len(got) != 1 || got[0] != 3 {
		t.Errorf("a new meter: %v", got)
	}
	if got := hours(m.Metered(was, was-20, false)); len(got) != 0 {
		t.Errorf("a wrong meter: %v", got)
	}
	if got := hours(m.Metered(was, was+20, false)); len(got) != 1 || got[0] != was {
		t.Errorf("one that was behind: %v", got)
	}
}

// TestWhatIsSoundAgain is over: the same fault after it counts again.
func TestWhatIsSoundAgain(t *testing.T) {
	o, id := walked(t)
	m := outing.Memory{Begun: 3, Past: []outing.Remembered{{Past: defect.Past{Check: "seat_belt", Fault: "dirt"}, Outing: 3}}}
	after := m.Started().After(o, id)
	if !after.Past[0].Over || m.Past[0].Over {
		t.Errorf("%+v", after.Past[0])
	}
	still := outing.Memory{Begun: 4, Past: []outing.Remembered{{Past: defect.Past{Check: "seat_belt", Fault: "dirt"}, Outing: 4}}}.After(o, id)
	if still.Past[0].Over {
		t.Error("over in the outing that found it")
	}
}
