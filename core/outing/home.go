package outing

// The end of an outing, and what a lead puts right about its meter meanwhile.

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

type homeStage struct{ quiet }

var ruleShutDown = text.NewRule("outing.shut_down_first", text.Slot{Name: "machine", Kind: text.Name})

func (homeStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if _, mine := c.(End); !mine {
		return pass()
	}
	e := Ended{How: EndGivenUp}
	if o.Status == Out {
		e.How = EndHome
	}
	for _, u := range o.Units {
		if !u.Recorded() {
			continue
		}
		live := u.Live(by.Meta)
		if r := u.open(live); r != nil {
			return nil, true, record.Refuse(*r)
		}
		if e.Stood == nil {
			e.Stood = map[string]machine.Facts{}
		}
		e.Stood[u.Machine] = left(live)
		if u.Behind != nil && *u.Behind != "" && Coupled(u.Sheet, e.Stood[u.Machine]) {
			e.Stood[u.Machine][stoodBehind] = *u.Behind
		}
	}
	if u := o.NotParked(); u != nil {
		return nil, true, record.Refuse(ruleShutDown.Says(u.Name))
	}
	return one(e, nil)
}

// NotParked is a machine that has to be shut down before the outing is home, or nil.
func (o *Outing) NotParked() *UnitState {
	if o.Order < orderShutDown || o.Status != Out {
		return nil
	}
	for _, u := range o.Units {
		if !u.Parked && slices.ContainsFunc(u.Sheet.Procedures, func(p machine.Procedure) bool { return p.ID == parksIt }) {
			return u
		}
	}
	return nil
}

// left is how a machine is left: what nobody looks at any more is unknown, and how far
// the outing was is no matter of the next.
func left(live *procedure.Live) machine.Facts {
	facts := live.Left(time.Time{}).Stands()
	for _, f := range append([]string{"metal"}, progressFacts...) {
		delete(facts, f)
	}
	return facts
}

func (homeStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	ended, mine := e.(Ended)
	if mine {
		o.Status, o.End, o.Home = Closed, &ended, m
	}
	return mine
}

// shortMove is how long a machine may have been out without having worked: a
// move across the yard leaves it as cool as it was (house rule).
const shortMove = time.Minute

// WorkedUntil reports whether the machines worked, if they come home by a record.
// Where the clock was wrong nobody knows for how long they were out: then they
// did.
func (o *Outing) WorkedUntil(home record.Meta) bool {
	unknown := home.Doubtful || o.Release.Doubtful
	return (o.Verdict != nil || o.ran != nil) && (unknown || o.RanUntil(home).Sub(o.Release.At) >= shortMove)
}

// RanUntil is when the machines were last set off, if they come home by a record: when
// they were shut down, or else then.
func (o *Outing) RanUntil(home record.Meta) time.Time {
	var last time.Time
	for _, u := range o.Units {
		off := home.At
		if live := u.procedures.live; live != nil && live.Stands()["engine"] == "off" && !home.Doubtful {
			if at, told := live.Since("engine"); told {
				off = at
			}
		}
		if off.After(last) {
			last = off
		}
	}
	return last
}
