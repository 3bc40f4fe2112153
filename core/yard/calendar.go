package yard

// What falls due on a date: care, deadlines, practice that has to be shown again and what
// runs out; and the private address where somebody's own calendar reads it.

import (
	"regexp"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// CalendarOpened opens somebody's calendar under a private address; of the address only a
// hash is kept. It takes the place of the one before.
type CalendarOpened struct {
	Person string `json:"person"`
	Hash   string `json:"hash"`
}

// CalendarClosed closes it: the address leads nowhere from then on.
type CalendarClosed struct {
	Person string `json:"person"`
}

// Kind implements record.Event.
func (CalendarOpened) Kind() string { return "calendar_opened" }

// Kind implements record.Event.
func (CalendarClosed) Kind() string { return "calendar_closed" }

var _ = record.Register(CalendarOpened{}, CalendarClosed{})

// OpenCalendar opens the speaker's calendar; Hash is the SHA-256 of its new address, in
// hexadecimal digits.
type OpenCalendar struct{ Hash string }

// CloseCalendar closes the speaker's.
type CloseCalendar struct{}

// Act implements Command.
func (OpenCalendar) Act() operator.Act { return operator.OwnThings }

// Act implements Command.
func (CloseCalendar) Act() operator.Act { return operator.OwnThings }

var (
	ruleCalendarHash = text.NewRule("calendar.no_hash")
	ruleNoCalendar   = text.NewRule("calendar.none_open")
	hashLike         = regexp.MustCompile(`^[0-9a-f]{64}$`)
)

func (c OpenCalendar) decide(s speech) ([]Decided, error) {
	if !hashLike.MatchString(c.Hash) {
		return nil, record.Refuse(ruleCalendarHash.Says())
	}
	return just(CalendarOpened{Person: s.who.ID, Hash: c.Hash}), nil
}

func (CloseCalendar) decide(s speech) ([]Decided, error) {
	if !s.CalendarOpen(s.who.ID) {
		return nil, record.Refuse(ruleNoCalendar.Says())
	}
	return just(CalendarClosed{Person: s.who.ID}), nil
}

// Dated is something that falls due on a date: exactly one of Due, Defect and
// Qualification is set.
type Dated struct {
	On      time.Time
	Machine Machine // of care and deadlines
	Due     *machine.Check
	Defect  *Defect
	// Person is whose qualification runs out; Sheet what it is for, nil where it is for
	// none.
	Person        operator.Person
	Qualification *operator.Qualification
	Sheet         *machine.Sheet
}

// aheadMost is how far ahead a calendar reaches: what comes later moves before it comes.
const aheadMost = 180 * 24 * time.Hour

// Calendar is what falls due, as far as it concerns somebody: of machines for who sees
// the desk of defects, of everybody's record for who keeps it, and always of their own.
func Calendar(v View, who operator.Person, now time.Time) (out []Dated) {
	end := now.Add(aheadMost)
	if who.May(operator.Desk, operator.Own, now) {
		out = careAhead(v, now)
		for _, d := range v.EveryOpenDefect() {
			m, ok := v.Machine(d.Machine)
			if ok && m.Left.IsZero() && d.Finding.Grade == defect.Mend && d.Finding.Deadline.At != nil {
				out = append(out, Dated{On: *d.Finding.Deadline.At, Machine: m, Defect: &d})
			}
		}
	}
	people := []operator.Person{who}
	if who.May(operator.People, operator.Own, now) {
		people = v.People()
	}
	sheets := sheetsInUse(v)
	for _, p := range people {
		for _, q := range p.Qualifications {
			sheet := sheets[q.Sheet]
			if at := q.RunsOut(sheet); !at.IsZero() {
				out = append(out, Dated{On: at, Person: p, Qualification: &q, Sheet: sheet})
			}
		}
	}
	out = slices.DeleteFunc(out, func(d Dated) bool { return d.On.After(end) })
	slices.SortStableFunc(out, func(a, b Dated) int { return a.On.Compare(b.On) })
	return out
}

// papersAhead is how far ahead a lead's week tells what runs out (house rule).
const papersAhead = 60 * 24 * time.Hour

// PapersEnding is whose qualifications run out soon or have, as far as they concern somebody,
// the first first.
func PapersEnding(v View, who operator.Person, now time.Time) (out []Dated) {
	for _, d := range Calendar(v, who, now) {
		if d.Qualification != nil && d.On.Sub(now) <= papersAhead {
			out = append(out, d)
		}
	}
	return out
}

// Near is how near such a date is: 0 as far ahead as it is told, 1 once it is there.
func (d Dated) Near(now time.Time) float64 {
	return 1 - max(0, d.On.Sub(now).Hours()/papersAhead.Hours())
}

// careAhead is the care of every machine that goes by the calendar.
func careAhead(v View, now time.Time) (out []Dated) {
	machines, start := v.Machines(), today(v, now)
	pasts := v.Pasts(forOthers(v, machines))
	for _, m := range machines {
		sheet, ok := v.Sheet(m.Sheet)
		if !ok {
			continue
		}
		p := pasts[m.ID]
		p.Today = start
		out = append(out, falls(m, sheet, p)...)
	}
	return out
}

func falls(m Machine, sheet *machine.Sheet, p inspect.Past) (out []Dated) {
	for i := range sheet.Checks {
		c := &sheet.Checks[i]
		if at, ok := p.Falls(c); ok && c.WhoLooks() != machine.ByOperator {
			out = append(out, Dated{On: at, Machine: m, Due: c})
		}
	}
	return out
}

// sheetsInUse are the sheets of the machines in the yard, by id.
func sheetsInUse(v View) map[string]*machine.Sheet {
	out, seen := map[string]*machine.Sheet{}, map[string]bool{}
	for _, m := range v.Machines() {
		if seen[m.Sheet] {
			continue
		}
		seen[m.Sheet] = true
		if s, ok := v.Sheet(m.Sheet); ok {
			out[s.ID] = s
		}
	}
	return out
}
