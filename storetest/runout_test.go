package storetest

import (
	"strconv"
	"testing"
	"time"

	"vespers/core/outing"
)

// TestHoursThatMayBeUp: by the clock the hours of a Mend may be up long before anybody reads
// the meter. Then it is told; read, it is told again when they may be up once more, and
// it is a Halt as soon as the meter says so.
func TestHoursThatMayBeUp(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	o := take(t, s, "up", "tobias", "precentor", "")
	_, answer := release(t, s, o.ID, at)
	told := func() (lapsed, unread bool) {
		t.Helper()
		list, err := s.RunOut(ctx, *at)
		if err != nil || len(list) > 1 {
			t.Fatal(list, err)
		}
		for _, m := range list {
			if m.ID == "precentor" {
				return m.Lapsed(*at), m.Unread(m.Out.Released, *at)
			}
		}
		return false, false
	}
	m, err := s.Machine(ctx, "precentor")
	if err != nil || m.Deadline.Hours == nil {
		t.Fatal(m, err)
	}
	left := *m.Deadline.Hours - m.Hours
	work := func(hours float64) { *at = at.Add(time.Duration(hours * float64(time.Hour))) }
	says := func(lapsed, unread bool) {
		t.Helper()
		if l, u := told(); l != lapsed || u != unread {
			t.Errorf("after %v: on Halt %v, to be read %v", at, l, u)
		}
	}
	reads := func(on float64) {
		t.Helper()
		answer(outing.ReadMeter{Machine: "precentor", Hours: strconv.FormatFloat(m.Hours+on, 'f', 2, 64)})
	}
	says(false, false)
	work(left + 0.1)
	says(false, true)
	reads(left - 0.5)
	says(false, false)
	work(0.7)
	says(false, true)
	reads(left - 0.1)
	says(false, false)
	work(0.5)
	reads(left + 0.2)
	says(true, false)
	again, err := s.Outing(ctx, o.ID)
	if err != nil || again.Judge(*at).Outcome != outing.Halted {
		t.Errorf("its hours are up, and it is %s: %v", again.Judge(*at).Outcome, err)
	}
	whole(t, s)
}
