package storetest

// One round a day, where the house says so, from take-out to take-out.

import (
	"testing"
	"time"

	"vespers/core/yard"
)

// TestOneRoundADay: the second outing of a day has none, the first of the next has one
// again, and so has every one where the house asks for it at each use.
func TestOneRoundADay(t *testing.T) {
	plain, _ := wrenfield(t)
	s, at := later(plain)
	y, err := s.Yard(ctx)
	if err != nil {
		t.Fatal(err)
	}
	zone, err := time.LoadLocation(y.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	*at = yard.DayStart(*at, zone).AddDate(0, 0, 1).Add(3 * time.Hour)
	tests := func(id string) int {
		t.Helper()
		o := take(t, s, id, "tobias", "verger", "")
		n := len(o.Units[0].Round.Plan.Tests)
		finish(t, s, o.ID, 30*time.Minute, at)
		*at = at.Add(time.Minute)
		return n
	}
	if tests("rhythm-1") == 0 || tests("rhythm-2") == 0 {
		t.Error("at each use, and there is no round")
	}
	if _, err := say(s, "rhythm-rule", "maren", yard.NameYard{Name: y.Name, Timezone: y.Timezone, House: y.House, Emergency: y.Emergency, Practice: yard.Practice{"test_rhythm": "daily"}}); err != nil {
		t.Fatal(err)
	}
	if tests("rhythm-3") != 0 {
		t.Error("proved today already")
	}
	*at = at.AddDate(0, 0, 1)
	if tests("rhythm-4") == 0 || tests("rhythm-5") != 0 {
		t.Error("one a day is one a day")
	}
}
