package outing

// How much a day needs in the tank, and what goes into a can of mix, from what somebody
// types beside a machine.

import (
	"vespers/core/fuel"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

var (
	ruleHoursPlanned = text.NewRule("fuel.hours_planned", text.Slot{Name: "typed", Kind: text.Name})
	ruleNotBelow     = text.NewRule("fuel.not_below_nothing", text.Slot{Name: "typed", Kind: text.Name})
	ruleMixRatio     = text.NewRule("fuel.mix_ratio", text.Slot{Name: "typed", Kind: text.Name})
	perHour, _       = unit.Find("L/h")
	times, _         = unit.Find("×")
)

// hoursPlannedMost is the longest that a machine is worked in a day.
const hoursPlannedMost = 24

// FuelNeed is what is filled for so many hours of work, typed; so many litres are in the
// tank, typed, or where nothing is typed as it was last known. Past is what is known of
// earlier fills, in runs.
func (u *UnitState) FuelNeed(hours, inTank, as string, past [][]fuel.Fill) (fuel.Need, error) {
	tank, ok := u.Tank()
	if !ok {
		return fuel.Need{}, record.Refuse(ruleNoTank.Says(u.Name))
	}
	d := dayOf(u.Sheet, past)
	planned, err := typed("h", hours, "h")
	if err != nil {
		return fuel.Need{}, err
	}
	if d.Hours = hour.In(planned.Quantity); d.Hours < 0 || d.Hours > hoursPlannedMost {
		return fuel.Need{}, record.Refuse(ruleHoursPlanned.Says(hours))
	}
	if d.InTank, _, ok = u.InTank(); inTank != "" || !ok {
		if d.InTank, err = litres(inTank, as); err != nil {
			return fuel.Need{}, err
		}
		if d.InTank > tank {
			return fuel.Need{}, record.Refuse(ruleOverTank.Says(inTank, text.Measure{Quantity: litre.Of(tank), Unit: "L"}))
		}
	}
	need, refused := fuel.Needed(d)
	if refused != nil {
		return need, record.Refuse(*refused)
	}
	return need, nil
}

// Burns is what a machine burns an hour, by its sheet or its fills, and whether that has
// drifted; ok is false where it has no tank.
func Burns(sheet *machine.Sheet, past [][]fuel.Fill) (need fuel.Need, ok bool) {
	d := dayOf(sheet, past)
	if d.Usable == 0 {
		return need, false
	}
	need, refused := fuel.Needed(d)
	return need, refused == nil
}

func dayOf(sheet *machine.Sheet, past [][]fuel.Fill) fuel.Day {
	d := fuel.Day{Before: past}
	for id, into := range map[string]*float64{"tank": &d.Usable, "reserve": &d.Reserve} {
		if n, ok := sheet.Number(id); ok {
			*into = litre.In(n.Amount().Quantity)
		}
	}
	if n, ok := sheet.Number("burn"); ok {
		d.Burn = perHour.In(n.Amount().Quantity)
	}
	return d
}

// Mixes is at how many parts of petrol to one of oil it is run; ok is false where it
// is run on no mix.
func (u *UnitState) Mixes() (ratio float64, ok bool) {
	n, ok := u.Sheet.Number("mix_ratio")
	return n.Value, ok
}

// Mix is what is added to a can, from what is typed: litres in it, at which ratio
// (nothing typed: the machine's own), and litres wanted.
func (u *UnitState) Mix(in, at, total, as string) (fuel.Mix, error) {
	ratio, ok := u.Mixes()
	if !ok {
		return fuel.Mix{}, record.Refuse(ruleNoTank.Says(u.Name))
	}
	can := fuel.Can{Ratio: ratio, At: ratio}
	var err error
	if in != "" {
		if can.In, err = litres(in, as); err != nil {
			return fuel.Mix{}, err
		}
	}
	if at != "" {
		v, err := typed("×", at, "×")
		if err != nil {
			return fuel.Mix{}, err
		}
		if can.At = times.In(v.Quantity); can.At < 1 || can.At > 200 {
			return fuel.Mix{}, record.Refuse(ruleMixRatio.Says(at))
		}
	}
	if can.Total, err = litres(total, as); err != nil {
		return fuel.Mix{}, err
	}
	mix, refused := fuel.Mixed(can)
	if refused != nil {
		return mix, record.Refuse(*refused)
	}
	return mix, nil
}

// litres is a volume as it was typed, not below nothing.
func litres(said, as string) (float64, error) {
	v, err := typed("L", said, as)
	if err != nil {
		return 0, err
	}
	if v.Quantity.Value < 0 {
		return 0, record.Refuse(ruleNotBelow.Says(said))
	}
	return litre.In(v.Quantity), nil
}

// typed is a number as it was typed, of what a unit measures; without a unit of its own
// it is in as.
func typed(of, said, as string) (*inspect.Value, error) {
	return inspect.ParseValue(&machine.Reading{Unit: of}, said, as)
}
