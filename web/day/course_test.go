package day

import (
	"testing"
	"time"

	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"
	"vespers/store"
	"vespers/web/page"
)

// TestHoursAreThoseOfTheDay: full hours round everything that happened, to now on
// the day that still runs, at least a few, with not too many marks.
func TestHoursAreThoseOfTheDay(t *testing.T) {
	at := func(hour, minute int) time.Time { return time.Date(2026, 5, 4, hour, minute, 0, 0, time.UTC) }
	for name, test := range map[string]struct {
		now      time.Time
		today    bool
		steps    []time.Time
		from, to time.Time
		marks    int
	}{
		"a morning, four hours at least": {at(7, 40), true, []time.Time{at(6, 5), at(6, 16)}, at(6, 0), at(10, 0), 5},
		"to now":                         {at(14, 10), true, []time.Time{at(6, 5)}, at(6, 0), at(15, 0), 5},
		"a day that is over":             {at(23, 0), false, []time.Time{at(7, 0), at(16, 59)}, at(7, 0), at(17, 0), 6},
		"over midnight":                  {at(23, 0).AddDate(0, 0, 3), false, []time.Time{at(22, 30), at(22, 30).Add(4 * time.Hour)}, at(22, 0), at(3, 0).AddDate(0, 0, 1), 6},
	} {
		t.Run(name, func(t *testing.T) {
			v := &page.Visit{Voice: say.NewVoice(text.English, unit.Metric, time.UTC), Now: test.now}
			courses := map[string][]store.CourseStep{}
			for _, s := range test.steps {
				courses["o"] = append(courses["o"], store.CourseStep{At: s})
			}
			h := hoursOf(v, test.today, courses)
			if !h.from.Equal(test.from) || !h.to.Equal(test.to) || len(h.Marks) != test.marks {
				t.Errorf("%v to %v with %d marks, want %v to %v with %d", h.from, h.to, len(h.Marks), test.from, test.to, test.marks)
			}
			if h.place(h.from) != 0 || h.place(h.to) != 100 || h.place(h.from.Add(h.to.Sub(h.from)/4)) != 25 || h.place(h.to.Add(time.Hour)) != 100 {
				t.Error("moments lie elsewhere")
			}
		})
	}
}

// TestGroups: under who had it, or the machine, in the order of their first
// outing.
func TestGroups(t *testing.T) {
	list := []strip{{Thread: page.Thread{Who: "Ida", Machine: "Verger"}}, {Thread: page.Thread{Who: "Ola", Machine: "Verger"}}, {Thread: page.Thread{Who: "Ida", Machine: "Lector"}}}
	people := grouped(list, false)
	if len(people) != 2 || people[0].Name != "Ida" || len(people[0].Strips) != 2 || people[0].Strips[1].Name != "Lector" || people[1].Strips[0].Name != "Verger" {
		t.Errorf("%+v", people)
	}
	machines := grouped(list, true)
	if len(machines) != 2 || machines[0].Name != "Verger" || len(machines[0].Strips) != 2 || machines[0].Strips[1].Name != "Ola" {
		t.Errorf("%+v", machines)
	}
}
