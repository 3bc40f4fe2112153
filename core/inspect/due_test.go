package inspect_test

import (
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
)

// TestDue says of one interval each how a point stands, on a morning at six on
// the 24th, with 100 hours on the meter; the machine came a year ago with 10.
func TestDue(t *testing.T) {
	today := time.Date(2026, 11, 24, 4, 0, 0, 0, time.UTC)
	day := func(month time.Month, day, hour int) time.Time {
		return time.Date(2026, month, day, hour, 0, 0, 0, time.UTC)
	}
	seen := func(at time.Time, hours float64) *inspect.Seen { return &inspect.Seen{At: at, Hours: hours} }
	for name, c := range map[string]struct {
		every    *machine.Interval
		last     *inspect.Seen
		repaired *inspect.Seen
		blind    bool
		want     inspect.Due
	}{
		"at every outing":                 {nil, seen(morning, 100), nil, false, inspect.DueNow},
		"never yet, within its months":    {&machine.Interval{Months: 18}, nil, nil, false, inspect.DueNow},
		"never yet, its months gone":      {&machine.Interval{Months: 6}, nil, nil, false, inspect.Overdue},
		"never yet, its hours gone":       {&machine.Interval{Hours: 90}, nil, nil, false, inspect.Overdue},
		"daily, looked at yesterday":      {&machine.Interval{Days: 1}, seen(day(11, 23, 20), 99), nil, false, inspect.Overdue},
		"daily, before four this morning": {&machine.Interval{Days: 1}, seen(day(11, 24, 3), 99), nil, false, inspect.Overdue},
		"daily, at four this morning":     {&machine.Interval{Days: 1}, seen(day(11, 24, 4), 100), nil, false, inspect.NotDue},
		"weekly, seven days ago":          {&machine.Interval{Days: 7}, seen(day(11, 17, 9), 90), nil, false, inspect.Overdue},
		"weekly, due tomorrow":            {&machine.Interval{Days: 7}, seen(day(11, 18, 9), 90), nil, false, inspect.Soon},
		"weekly, two days ago":            {&machine.Interval{Days: 7}, seen(day(11, 22, 9), 90), nil, false, inspect.NotDue},
		"by hours, to the minute":         {&machine.Interval{Hours: 50}, seen(day(11, 20, 9), 50), nil, false, inspect.Overdue},
		"by hours, a little before":       {&machine.Interval{Hours: 50}, seen(day(11, 20, 9), 50.1), nil, false, inspect.Soon},
		"by hours, a tenth before":        {&machine.Interval{Hours: 50}, seen(day(11, 20, 9), 55), nil, false, inspect.Soon},
		"by hours, just short of that":    {&machine.Interval{Hours: 50}, seen(day(11, 20, 9), 55.1), nil, false, inspect.NotDue},
		"by hours, the meter dead":        {&machine.Interval{Hours: 50}, seen(day(11, 20, 9), 99), nil, true, inspect.Overdue},
		"by months, the meter dead":       {&machine.Interval{Months: 12}, seen(day(11, 20, 9), 99), nil, true, inspect.NotDue},
		"by months, to the hour":          {&machine.Interval{Months: 2}, seen(day(9, 24, 6), 80), nil, false, inspect.Overdue},
		"by months, the day before":       {&machine.Interval{Months: 2}, seen(day(9, 25, 6), 80), nil, false, inspect.Soon},
		"whichever comes first: hours":    {&machine.Interval{Hours: 50, Months: 12}, seen(day(11, 1, 9), 40), nil, false, inspect.Overdue},
		"whichever comes first: months":   {&machine.Interval{Hours: 500, Months: 1}, seen(day(10, 1, 9), 99), nil, false, inspect.Overdue},
		"after a repair":                  {&machine.Interval{After: []string{"repair"}}, seen(day(11, 20, 9), 90), seen(day(11, 21, 9), 92), false, inspect.DueNow},
		"looked at since the repair":      {&machine.Interval{After: []string{"repair"}}, seen(day(11, 22, 9), 95), seen(day(11, 21, 9), 92), false, inspect.NotDue},
		"no repair ever":                  {&machine.Interval{After: []string{"repair"}}, seen(day(11, 22, 9), 95), nil, false, inspect.NotDue},
		"a repair that does not ask":      {&machine.Interval{Months: 12}, seen(day(11, 20, 9), 90), seen(day(11, 21, 9), 92), false, inspect.NotDue},
		"first hours after a repair":      {&machine.Interval{FirstHours: 8}, seen(day(11, 20, 9), 93), seen(day(11, 20, 8), 92), false, inspect.DueNow},
		"first hours not yet":             {&machine.Interval{FirstHours: 8.1}, seen(day(11, 20, 9), 93), seen(day(11, 20, 8), 92), false, inspect.NotDue},
		"first hours done":                {&machine.Interval{FirstHours: 8}, seen(day(11, 24, 5), 100), seen(day(11, 20, 8), 92), false, inspect.NotDue},
		"first hours, came used":          {&machine.Interval{FirstHours: 8}, seen(day(11, 20, 9), 12), nil, false, inspect.NotDue},
		"first hours, came as new":        {&machine.Interval{FirstHours: 20}, seen(day(1, 20, 9), 12), nil, false, inspect.DueNow},
		"first hours, the meter dead":     {&machine.Interval{FirstHours: 8}, seen(day(11, 20, 9), 93), nil, true, inspect.DueNow},
	} {
		t.Run(name, func(t *testing.T) {
			past := inspect.Past{Looked: map[string]inspect.Seen{}, Added: inspect.Seen{At: day(11, 24, 6).AddDate(-1, 0, 0), Hours: 10}, Repaired: c.repaired, Today: today, Blind: c.blind}
			if c.last != nil {
				past.Looked["oil"] = *c.last
			}
			if got := past.Due(&machine.Check{ID: "oil", Every: c.every}, 100, morning); got != c.want {
				t.Errorf("%s, not %s", got, c.want)
			}
		})
	}
}
