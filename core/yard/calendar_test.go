package yard_test

import (
	"strings"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/yard"
)

// TestACalendarOfOnesOwn: an operator reads what is theirs, a technician the machines too,
// a lead everybody's; what is on Halt already and what comes next year is in none.
func TestACalendarOfOnesOwn(t *testing.T) {
	w := newTown(t)
	day := func(n int) *time.Time { at := w.at.AddDate(0, 0, n); return &at }
	for id, until := range map[string]*time.Time{"ida": day(20), "otto": day(40), "ruth": day(400)} {
		w.person(id, func(p *operator.Person) {
			p.Qualifications = append(p.Qualifications, operator.Qualification{Kind: operator.Licence, On: morning, Until: until})
		})
	}
	mend := func(d defect.Finding) {
		id := w.found(w.machine("Verger").ID, d.Grade, nil)
		one := w.defects[id]
		one.Finding.Deadline.At = d.Deadline.At
		w.defects[id] = one
	}
	mend(defect.Finding{Grade: defect.Mend, Deadline: defect.Deadline{At: day(5)}})
	mend(defect.Finding{Grade: defect.Halt})
	count := func(who string) (dates, deadlines, others int) {
		for _, d := range yard.Calendar(w, w.people[who], w.at) {
			switch {
			case d.Defect != nil:
				deadlines++
			case d.Qualification != nil && d.Person.ID != who:
				others++
			case d.Qualification != nil:
				dates++
			}
		}
		return dates, deadlines, others
	}
	for who, want := range map[string][3]int{"ida": {1, 0, 0}, "otto": {1, 0, 0}, "ruth": {0, 1, 0}, "maren": {0, 1, 2}, "jonah": {0, 0, 0}} {
		if a, b, c := count(who); [3]int{a, b, c} != want {
			t.Errorf("%s reads %d of their own, %d deadlines, %d of others; want %v", who, a, b, c, want)
		}
	}
}

// TestWhoRunsOut: within sixty days or already, the first first.
func TestWhoRunsOut(t *testing.T) {
	w := newTown(t)
	for id, days := range map[string]int{"ida": 59, "otto": 62, "ruth": -3} {
		until := w.at.AddDate(0, 0, days)
		w.person(id, func(p *operator.Person) {
			p.Qualifications = append(p.Qualifications, operator.Qualification{Kind: operator.Licence, On: morning, Until: &until})
		})
	}
	out := yard.PapersEnding(w, w.people["maren"], w.at)
	if len(out) != 2 || out[0].Person.ID != "ruth" || out[1].Person.ID != "ida" {
		t.Fatalf("%+v", out)
	}
	if ruth, ida := out[0].Near(w.at), out[1].Near(w.at); ruth != 1 || ida <= 0 || ida > 0.1 {
		t.Errorf("as near as %g and %g", ruth, ida)
	}
	if out := yard.PapersEnding(w, w.people["ida"], w.at); len(out) != 1 {
		t.Errorf("ida sees %d", len(out))
	}
}

// TestTheAddressOfACalendar: only its hash is recorded; it is changed and closed by its
// own person.
func TestTheAddressOfACalendar(t *testing.T) {
	w := newTown(t)
	w.refused("ida", yard.CloseCalendar{}, "calendar.none_open")
	for _, bad := range []string{"", "secret", strings.Repeat("A1", 32), strings.Repeat("a1", 31)} {
		w.refused("ida", yard.OpenCalendar{Hash: bad}, "calendar.no_hash")
	}
	w.must("ida", yard.OpenCalendar{Hash: strings.Repeat("a1", 32)})
	w.must("ida", yard.OpenCalendar{Hash: strings.Repeat("b2", 32)})
	if w.calendar["ida"] != strings.Repeat("b2", 32) {
		t.Error("the old address holds")
	}
	w.refused("otto", yard.CloseCalendar{}, "calendar.none_open")
	w.must("ida", yard.CloseCalendar{})
}
