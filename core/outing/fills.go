package outing

// What is filled into the machines of an outing, and how much is in their tanks.

import (
	"slices"
	"time"

	"vespers/core/inspect"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

type fuelStage struct{ quiet }

var (
	ruleNoTank     = text.NewRule("fuel.no_tank", text.Slot{Name: "machine", Kind: text.Name})
	ruleNoMeter    = text.NewRule("fuel.no_meter", text.Slot{Name: "machine", Kind: text.Name})
	ruleHowMuch    = text.NewRule("fuel.how_much")
	ruleOverTank   = text.NewRule("fuel.more_than_the_tank", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "tank", Kind: text.Amount})
	ruleNothing    = text.NewRule("fuel.nothing_filled", text.Slot{Name: "typed", Kind: text.Name})
	ruleFillLater  = text.NewRule("fuel.not_yet")
	ruleFillBefore = text.NewRule("fuel.before_the_outing", text.Slot{Name: "began", Kind: text.Moment})
	ruleFillWhen   = text.NewRule("fuel.when")
	ruleCanDay     = text.NewRule("fuel.can_day")
	ruleCanLater   = text.NewRule("fuel.can_of_tomorrow")
	ruleNoSuchFill = text.NewRule("fuel.no_such_fill")
)

// The forms of a day, and of a moment, as forms send them.
const (
	dayForm    = "2006-01-02"
	momentForm = "2006-01-02T15:04"
)

// Filled says what was filled into a machine. A record that supersedes another takes
// its place.
type Filled struct {
	Machine string `json:"machine"`
	// Litres is what was filled, nil where only the mark was looked at; ToMark: it
	// stands at the mark now.
	Litres *inspect.Value `json:"litres,omitempty"`
	ToMark bool           `json:"to_mark,omitempty"`
	// Hours is the hour meter, nil where it was not read or there is none.
	Hours *inspect.Value `json:"hours,omitempty"`
	// Can is from which day the fuel is, nil where nobody said.
	Can *time.Time `json:"can,omitempty"`
	// At is when it was, nil: when it was said.
	At *time.Time `json:"at,omitempty"`
}

var _ = record.Register(Filled{})

// Kind implements record.Event.
func (Filled) Kind() string { return "filled" }

// When is the moment of a fill that was said in a record.
func (e Filled) When(m record.Meta) time.Time {
	if e.At != nil {
		return *e.At
	}
	return m.At
}

// LitresIn is what was filled, in litres; ok is false where nobody said.
func (e Filled) LitresIn() (litres float64, ok bool) {
	if e.Litres == nil {
		return 0, false
	}
	return litre.In(e.Litres.Quantity), true
}

// HoursAt is the hour meter then, in hours; ok is false where nobody read it.
func (e Filled) HoursAt() (hours float64, ok bool) {
	if e.Hours == nil {
		return 0, false
	}
	return hour.In(e.Hours.Quantity), true
}

var (
	litre, _ = unit.Find("L")
	hour, _  = unit.Find("h")
)

// Fuelled is a fill with its record.
type Fuelled struct {
	Meta record.Meta
	Filled
	// before is how the hour meter was known before it, and since when; at is when it
	// was read with it.
	before   float64
	read, at time.Time
}

func (fuelStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if c, mine := c.(Fill); mine {
		return one(o.filled(c, by))
	}
	return pass()
}

func (o *Outing) filled(c Fill, by speech) (Filled, error) {
	e := Filled{Machine: c.Machine, ToMark: c.ToMark == "yes"}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	tank, ok := u.Tank()
	if !ok {
		return e, record.Refuse(ruleNoTank.Says(u.Name))
	}
	if err := o.fit(); err != nil {
		return e, err
	}
	hours, read, err := u.meterBefore(by.Supersedes)
	if err != nil {
		return e, err
	}
	if c.Litres == "" && !e.ToMark {
		return e, record.Refuse(ruleHowMuch.Says())
	}
	if c.Litres != "" {
		if e.Litres, err = typed("L", c.Litres, c.Unit); err != nil {
			return e, err
		}
		switch litres, _ := e.LitresIn(); {
		case litres <= 0:
			return e, record.Refuse(ruleNothing.Says(c.Litres))
		case litres > tank:
			return e, record.Refuse(ruleOverTank.Says(c.Litres, text.Measure{Quantity: litre.Of(tank), Unit: "L"}))
		}
	}
	if c.Hours != "" {
		if !u.Sheet.Metered() {
			return e, record.Refuse(ruleNoMeter.Says(u.Name))
		}
		if e.Hours, err = typed("h", c.Hours, "h"); err != nil {
			return e, err
		}
		now, _ := e.HoursAt()
		if err := inspect.FitsMeter(hours, read, now, by.At); err != nil {
			return e, err
		}
	}
	return e, o.dated(c, &e, by.At)
}

// dated fills in when it was, and from when the can is: not later than now, and the
// fill not before the outing.
func (o *Outing) dated(c Fill, e *Filled, now time.Time) error {
	zone := now.Location()
	if !o.Until.IsZero() {
		zone = o.Until.Location()
	}
	if c.When != "" {
		at, err := time.ParseInLocation(momentForm, c.When, zone)
		switch {
		case err != nil:
			return record.Refuse(ruleFillWhen.Says())
		case at.After(now):
			return record.Refuse(ruleFillLater.Says())
		case at.Before(o.Began.Truncate(time.Minute)):
			return record.Refuse(ruleFillBefore.Says(o.Began))
		}
		e.At = &at
	}
	if c.Can != "" {
		day, err := time.ParseInLocation(dayForm, c.Can, zone)
		switch {
		case err != nil:
			return record.Refuse(ruleCanDay.Says())
		case day.After(now):
			return record.Refuse(ruleCanLater.Says())
		}
		e.Can = &day
	}
	return nil
}

// meterBefore is how the hour meter was known before a fill, and since when: before
// the one that is put right, where one is.
func (u *UnitState) meterBefore(supersedes string) (hours float64, read time.Time, err error) {
	if supersedes == "" {
		return u.HoursNow(), u.ReadAt(), nil
	}
	i := slices.IndexFunc(u.fills, func(f Fuelled) bool { return f.Meta.ID == supersedes })
	if i < 0 {
		return 0, read, record.Refuse(ruleNoSuchFill.Says())
	}
	return u.fills[i].before, u.fills[i].read, nil
}

func (fuelStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	filled, mine := e.(Filled)
	if !mine {
		return false
	}
	o.change(filled.Machine, func(u *UnitState) { u.filled(m, filled, o.Status == Out) })
	return true
}

// filled takes in a fill, or puts one in the place of another: then the hour meter stays
// as it was read since.
func (u *UnitState) filled(m record.Meta, e Filled, out bool) {
	f := Fuelled{Meta: m, Filled: e, at: e.When(m)}
	f.before, f.read, _ = u.meterBefore(m.Supersedes)
	i := slices.IndexFunc(u.fills, func(old Fuelled) bool { return m.Supersedes != "" && old.Meta.ID == m.Supersedes })
	u.fills = slices.Clone(u.fills)
	if i < 0 {
		u.fills = append(u.fills, f)
	} else {
		f.at = u.fills[i].at
		u.fills[i] = f
	}
	hours, told := f.HoursAt()
	switch {
	case i >= 0 && u.ReadAt().After(f.at):
	case told:
		u.read(hours, f.at, out)
	case i >= 0:
		u.read(f.before, f.at, out)
		u.HoursAt = f.read
	}
}

// Fills are what was filled into it in this outing, in the order it was said.
func (u *UnitState) Fills() []Fuelled { return slices.Clip(u.fills) }

// Tank is what its tank holds to its mark, in litres; ok is false where it has none,
// or the sheet does not say.
func (u *UnitState) Tank() (litres float64, ok bool) {
	n, ok := u.Sheet.Number("tank")
	if !ok {
		return 0, false
	}
	return litre.In(n.Amount().Quantity), true
}

// InTank is how many litres were in its tank last, and when that was known; ok is
// false where nobody looked in this outing.
func (u *UnitState) InTank() (litres float64, at time.Time, ok bool) {
	tank, has := u.Tank()
	if !has {
		return 0, at, false
	}
	for i := range u.Sheet.Checks {
		c := &u.Sheet.Checks[i]
		for _, r := range c.Readings {
			if !r.Tank {
				continue
			}
			if g, read := u.Last(c.ID, r.ID); read && g.Now().Value != nil {
				litres, at, ok = tank*min(1, max(0, g.Now().Value.Quantity.Value)), g.Meta.At, true
				if g.Right != nil {
					at = g.RightMeta.At
				}
			}
		}
	}
	for _, f := range u.fills {
		when := f.When(f.Meta)
		if ok && when.Before(at) {
			continue // somebody has looked since
		}
		switch more, told := f.LitresIn(); {
		case f.ToMark:
			litres, at, ok = tank, when, true
		case told && ok:
			litres, at = min(tank, litres+more), when
		}
	}
	return litres, at, ok
}

// NotTold reports whether it was fuelled by its procedure in this outing and nobody
// has said since what went in.
func (u *UnitState) NotTold() bool {
	ended, ok := u.Ended(fuelsIt)
	if _, has := u.Tank(); !ok || !has {
		return false
	}
	return !slices.ContainsFunc(u.fills, func(f Fuelled) bool { return !f.Meta.At.Before(ended.At) })
}
