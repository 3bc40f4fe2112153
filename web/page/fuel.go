package page

// Fuel in words: how much is in a tank, and what a machine burns.

import (
	"vespers/core/fuel"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
)

// Litres is a volume of fuel in the person's unit.
func (v *Visit) Litres(l float64) string {
	u, _ := unit.Find("L")
	return v.Amount(text.Measure{Quantity: u.Of(l), Unit: "L"})
}

// InTank says how much is in the tank of a machine that is out, and since when that is
// known; "" where nobody has looked.
func (v *Visit) InTank(u *outing.UnitState) string {
	in, at, known := u.InTank()
	if !known {
		return ""
	}
	return v.T("fuel.in_tank", "litres", v.Litres(in), "when", v.When(at, v.Now))
}

// Burns says what a machine burns, and, where it burns otherwise than it did, that.
func (v *Visit) Burns(sheet *machine.Sheet, past [][]fuel.Fill) (burns, drift string) {
	need, ok := outing.Burns(sheet, past)
	if !ok {
		return "", ""
	}
	key := "fuel.burns_sheet"
	if need.FromFills {
		key = "fuel.burns_fills"
	}
	u, _ := unit.Find("L/h")
	burns = v.T(key, "burn", v.Amount(text.Measure{Quantity: u.Of(need.Burn), Unit: "L/h"}))
	switch d := need.Drift; {
	case d.Flagged && d.Share > 1:
		drift = v.T("fuel.drift_more", "percent", v.Number((d.Share-1)*100, 0))
	case d.Flagged:
		drift = v.T("fuel.drift_less", "percent", v.Number((1-d.Share)*100, 0))
	}
	return burns, drift
}
