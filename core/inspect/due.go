package inspect

// What is due: how often a point is looked at, against when it was last.

import (
	"slices"
	"time"

	"vespers/core/machine"
)

// Seen is when something was last done to a machine, and what its hour meter
// said then, in hours.
type Seen struct {
	At    time.Time
	Hours float64
}

// Past is what is known of a machine that decides what is due on it.
type Past struct {
	// Looked is when each point was last looked at, by its id.
	Looked map[string]Seen
	// Added is when the machine came into the yard; Repaired when it was last
	// returned to service, nil if never.
	Added    Seen
	Repaired *Seen
	// Today is when the yard's day began.
	Today time.Time
	// Proved is when a whole round last proved its interlocks, ProvedAs the key of its
	// sheet then; zero where none did.
	Proved   time.Time
	ProvedAs string
	// Blind: the hour meter is known not to count, so that whatever goes by
	// hours may be due at any time.
	Blind bool
}

// Due is how a point stands between two looks.
type Due string

// The ways it stands, least first. What was never looked at is due at once, and
// overdue when its interval has gone by since the machine came.
const (
	NotDue  Due = "not_due"
	Soon    Due = "soon" // nine tenths of the way (house rule)
	DueNow  Due = "due"
	Overdue Due = "overdue"
)

// soonShare is the share of an interval after which a point is soon due.
const soonShare = 0.9

// Due says how a point stands now, with the hour meter at hours.
func (p Past) Due(c *machine.Check, hours float64, now time.Time) Due {
	every := c.Every
	if every == nil {
		return DueNow
	}
	last, seen := p.Looked[c.ID]
	if !seen {
		if p.gone(every, p.Added, hours, now) >= 1 {
			return Overdue
		}
		return DueNow
	}
	switch share := p.gone(every, last, hours, now); {
	case share >= 1:
		return Overdue
	case p.asked(every, last, hours):
		return DueNow
	case share >= soonShare:
		return Soon
	}
	return NotDue
}

// Falls is when a point falls due by the calendar: from then on it is overdue, whatever the
// meter says. What was never looked at falls due as if it had been when the machine came.
// ok is false for what goes by hours alone.
func (p Past) Falls(c *machine.Check) (at time.Time, ok bool) {
	if c.Every == nil {
		return at, false
	}
	last, seen := p.Looked[c.ID]
	if !seen {
		last = p.Added
	}
	if c.Every.Days > 0 {
		day := p.Today.AddDate(0, 0, -int(p.Today.Sub(last.At).Hours()/24))
		for ; day.After(last.At); day = day.AddDate(0, 0, -1) {
		}
		for ; !day.AddDate(0, 0, 1).After(last.At); day = day.AddDate(0, 0, 1) {
		}
		at, ok = day.AddDate(0, 0, c.Every.Days), true
	}
	if c.Every.Months > 0 {
		if months := last.At.AddDate(0, c.Every.Months, 0); !ok || months.Before(at) {
			at, ok = months, true
		}
	}
	return at, ok
}

// gone is how much of an interval has gone by since something: 1 is all of it.
func (p Past) gone(every *machine.Interval, since Seen, hours float64, now time.Time) float64 {
	share := 0.0
	if first := p.Today.AddDate(0, 0, 1-every.Days); every.Days > 0 {
		switch {
		case since.At.Before(first):
			return 1
		case every.Days > 1 && since.At.Before(first.AddDate(0, 0, 1)):
			share = soonShare // tomorrow
		}
	}
	if every.Hours > 0 {
		if p.Blind {
			return 1
		}
		share = max(share, (hours-since.Hours)/every.Hours)
	}
	if every.Months > 0 {
		whole := since.At.AddDate(0, every.Months, 0).Sub(since.At)
		share = max(share, float64(now.Sub(since.At))/float64(whole))
	}
	return share
}

// asked reports whether something has happened since that asks for the point.
func (p Past) asked(every *machine.Interval, last Seen, hours float64) bool {
	if p.Repaired != nil && slices.Contains(every.After, machine.AfterRepair) && p.Repaired.At.After(last.At) {
		return true
	}
	if every.FirstHours == 0 {
		return false
	}
	if p.Blind {
		return true
	}
	from, young := p.Added.Hours, p.Added.Hours < every.FirstHours // it came as new
	if young {
		from = 0
	}
	if p.Repaired != nil {
		from, young = p.Repaired.Hours, true
	}
	first := from + every.FirstHours
	return young && last.Hours < first && hours >= first
}
