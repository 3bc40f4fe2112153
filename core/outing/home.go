package outing

// The end of an outing, and what a lead puts right about its meter meanwhile.

import (
	"time"

	"vespers/core/record"
)

type homeStage struct{ quiet }

func (homeStage) decide(o *Outing, c Command, _ speech) ([]record.Event, bool, error) {
	if _, mine := c.(End); !mine {
		return pass()
	}
	if o.Status == Out {
		return one(Ended{How: EndHome}, nil)
	}
	return one(Ended{How: EndGivenUp}, nil)
}

func (homeStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	switch e := e.(type) {
	case Ended:
		o.Status, o.End, o.Home = Closed, &e, m
	case Metered:
		o.change(e.Machine, func(u *UnitState) { u.State = u.State.Metered(e.Hours) })
	default:
		return false
	}
	return true
}

// shortMove is how long a machine may have been out without having worked: a
// move across the yard leaves it as cool as it was (house rule).
const shortMove = time.Minute

// WorkedUntil reports whether the machines worked, if they come home by a record.
// Where the clock was wrong nobody knows for how long they were out: then they
// did.
func (o *Outing) WorkedUntil(home record.Meta) bool {
	unknown := home.Doubtful || o.Release.Doubtful
	return o.Verdict != nil && (unknown || home.At.Sub(o.Release.At) >= shortMove)
}
