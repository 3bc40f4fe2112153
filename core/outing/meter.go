package outing

// The hour meter of a machine that is out: read by who has it, or put right by a lead.
// The hours of a deadline hang on it, and nobody else can see it.

import (
	"time"

	"vespers/core/inspect"
	"vespers/core/record"
)

type meterStage struct{ quiet }

func (meterStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if c, mine := c.(ReadMeter); mine {
		return one(o.meterRead(c, by.At))
	}
	return pass()
}

func (o *Outing) meterRead(c ReadMeter, now time.Time) (Metered, error) {
	e := Metered{Machine: c.Machine, Read: true}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	if !u.Sheet.Metered() {
		return e, record.Refuse(ruleNoMeter.Says(u.Name))
	}
	if err := o.fit(); err != nil {
		return e, err
	}
	value, err := typed("h", c.Hours, "h")
	if err != nil {
		return e, err
	}
	e.Hours = hour.In(value.Quantity)
	return e, inspect.FitsMeter(u.HoursNow(), u.ReadAt(), e.Hours, now)
}

func (meterStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	metered, mine := e.(Metered)
	if mine {
		o.change(metered.Machine, func(u *UnitState) { u.read(metered.Hours, m.At, metered.Read && o.Status == Out) })
	}
	return mine
}

// read takes in what the hour meter says: out, the hours since are hours of work.
func (u *UnitState) read(hours float64, at time.Time, out bool) {
	if out {
		u.State = u.State.Ran(hours, at)
		return
	}
	u.State = u.State.Metered(hours, at)
}
