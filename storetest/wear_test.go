package storetest

import (
	"math"
	"testing"

	"vespers/core/defect"
)

// TestWhatWearsOn: what a week tells of wear is what the readings of each machine lead to,
// the first first.
func TestWhatWearsOn(t *testing.T) {
	s, _ := wrenfield(t)
	list, err := s.Wearings(ctx, 1000)
	if err != nil || len(list) == 0 {
		t.Fatalf("nothing wears: %v", err)
	}
	type key struct{ machine, point, item string }
	told := map[key]float64{}
	for i, one := range list {
		told[key{one.Machine, one.Point, one.Item}] = one.Left
		if i > 0 && one.Left < list[i-1].Left {
			t.Errorf("%s comes after what is later", one.Machine)
		}
	}
	machines, err := s.Machines(ctx)
	if err != nil {
		t.Fatal(err)
	}
	leads := 0
	for _, m := range machines {
		sheet, err := s.Sheet(ctx, m.Sheet)
		if err != nil {
			t.Fatal(err)
		}
		memory, err := s.Memory(ctx, m.ID)
		if err != nil {
			t.Fatal(err)
		}
		if !sheet.Metered() {
			continue
		}
		for _, series := range memory.Series {
			c, ok := sheet.Check(series.Check)
			if !ok {
				continue
			}
			r, ok := c.Reading(series.Item)
			if !ok || r.Limits == nil || r.Unit != series.Unit {
				continue
			}
			to, ok := defect.LeadsTo(c, r, series, m.Hours)
			left, is := told[key{m.ID, series.Check, series.Item}]
			if ok != is || ok && math.Abs(left-to.Left) > 0.2 {
				t.Errorf("%s, %s: %g hours left, told %v %g", m.ID, series.Check, to.Left, is, left)
			}
			if ok {
				leads++
			}
		}
	}
	if leads != len(list) {
		t.Errorf("%d lead to a limit, %d are told", leads, len(list))
	}
}
