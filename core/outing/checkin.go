package outing

// Looking for who works alone: when they are to be heard of, that they were, and who
// goes to look where they were not.

import (
	"time"

	"vespers/core/record"
	"vespers/core/text"
)

type checkInStage struct{ quiet }

var (
	ruleCheckInOver = text.NewRule("check_in.time_is_over")
	ruleNoCheckIn   = text.NewRule("check_in.none_is_due")
	ruleWhoGoes     = text.NewRule("check_in.who_goes")
	ruleNotMissed   = text.NewRule("check_in.not_missed", text.Slot{Name: "due", Kind: text.Moment})
)

// NextLook is how long until somebody looks again, where nothing else is said (house
// rule).
const NextLook = 2 * time.Hour

// CheckedIn says that the operator is well, and when somebody looks for them next.
type CheckedIn struct {
	Next string    `json:"next"` // 15:04
	Due  time.Time `json:"due"`
}

// Sought says who goes to look for an operator who was not heard of.
type Sought struct {
	Who string `json:"who"`
}

var _ = record.Register(CheckedIn{}, Sought{})

// Kind implements record.Event.
func (CheckedIn) Kind() string { return "checked_in" }

// Kind implements record.Event.
func (Sought) Kind() string { return "sought" }

func (checkInStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	switch c := c.(type) {
	case CheckIn:
		if o.Now().Due.IsZero() {
			return nil, true, record.Refuse(ruleNoCheckIn.Says())
		}
		due, err := o.checkInAt(c.Next, by.At)
		return one(CheckedIn{Next: c.Next, Due: due}, err)
	case Seek:
		who, ok := by.crew.Person(c.Who)
		switch due := o.Now().Due; {
		case due.IsZero():
			return nil, true, record.Refuse(ruleNoCheckIn.Says())
		case !o.Missed(by.At):
			return nil, true, record.Refuse(ruleNotMissed.Says(due))
		case !ok || !who.Here() || who.ID == o.Operator():
			return nil, true, record.Refuse(ruleWhoGoes.Says())
		}
		return one(Sought{Who: c.Who}, nil)
	}
	return pass()
}

func (checkInStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	switch e := e.(type) {
	case CheckedIn:
		o.turn(func(t *Turn) { t.Due, t.Sought, t.SoughtBy, t.Heard = e.Due, "", record.Meta{}, m })
	case Sought:
		o.turn(func(t *Turn) { t.Sought, t.SoughtBy = e.Who, m })
	default:
		return false
	}
	return true
}

// checkInAt is the next moment of a time of day, in the zone of the outing's day. It
// has to come before that day ends: who is looked for tomorrow is looked for by nobody.
func (o *Outing) checkInAt(clock string, now time.Time) (time.Time, error) {
	if !timeOfDay.MatchString(clock) {
		return time.Time{}, record.Refuse(ruleCheckInTime.Says())
	}
	zone := now.Location()
	if !o.Until.IsZero() {
		zone = o.Until.Location()
	}
	at, _ := time.ParseInLocation("15:04", clock, zone)
	local := now.In(zone)
	due := time.Date(local.Year(), local.Month(), local.Day(), at.Hour(), at.Minute(), 0, 0, zone)
	if !due.After(now) {
		due = due.AddDate(0, 0, 1)
	}
	if !o.Until.IsZero() && due.After(o.Until) || due.Sub(now) > 24*time.Hour {
		return time.Time{}, record.Refuse(ruleCheckInOver.Says())
	}
	return due, nil
}

// Missed reports whether its operator was to be heard of and was not.
func (o *Outing) Missed(now time.Time) bool {
	due := o.Now().Due
	return o.Status != Closed && !due.IsZero() && now.After(due)
}
