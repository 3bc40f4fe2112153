package machine

// The numbers that cards and procedures need: one published list.

import (
	"math"
	"slices"

	"vespers/core/text"
	"vespers/core/unit"
)

// numbers is what each is measured in, and the span, in SI, beyond which it was
// typed wrong.
var numbers = map[string]struct {
	dimension unit.Dimension
	most      float64
}{
	"cool_before_fuel": {unit.Time, 4 * 3600},
	"warm_up":          {unit.Time, 3600},
	"crank":            {unit.Time, 120},
	"crank_rest":       {unit.Time, 1800},
	"cool_down_idle":   {unit.Time, 3600},
	"coast":            {unit.Time, 1800},
	"vapour":           {unit.Time, 4 * 3600},
	"thunder":          {unit.Time, 4 * 3600},
	"exclusion":        {unit.Length, 300},
	"vibration":        {unit.Vibration, 50},
	"noise":            {unit.Noise, 150},
	"transport_height": {unit.Length, 10},
	"crank_tries":      {unit.Count, 20},
	"idle_most":        {unit.Time, 4 * 3600},
	"tank":             {unit.Volume, 1},
	"burn":             {unit.Flow, 0.2 / 3600},
	"reserve":          {unit.Volume, 1},
	"mix_ratio":        {unit.Count, 200},
	"ethanol_most":     {unit.Ratio, 1},
	"cetane_least":     {unit.Count, 100},
	"fuel_age":         {unit.Time, 400 * 86400},
	"height_notch":     {unit.Length, 0.05},
	"cutting_width":    {unit.Length, 20},
	"overlap":          {unit.Length, 5},
	"working_speed":    {unit.Speed, 40 / 3.6},
	"travel_speed":     {unit.Speed, 80 / 3.6},
	"efficiency":       {unit.Ratio, 1},
	"set_up":           {unit.Time, 4 * 3600},
	"setback":          {unit.Length, 100},
	"reach":            {unit.Length, 30},
	"height":           {unit.Length, 10},
	"hand_dig":         {unit.Length, 10},
	"mass":             {unit.Mass, 30000},
	"ramp_slope":       {unit.Angle, steepest * math.Pi / 180},
}

// NumberIDs lists the numbers that a sheet may give, as they are published.
func NumberIDs() []string {
	var ids []string
	for id := range numbers {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	return ids
}

// ofFuel are the numbers that fuelling goes by.
var ofFuel = []string{"tank", "burn", "reserve", "mix_ratio", "ethanol_most", "cetane_least", "fuel_age"}

// OfFuel reports whether a number is one that fuelling goes by.
func (p *Parameter) OfFuel() bool { return slices.Contains(ofFuel, p.ID) }

// ofPlanning are those that work in a zone is reckoned by: nobody needs them in the cab.
var ofPlanning = []string{"overlap", "efficiency", "set_up"}

// OfPlanning reports whether a number is one that work is reckoned by.
func (p *Parameter) OfPlanning() bool { return slices.Contains(ofPlanning, p.ID) }

// steepest is the steepest slope that a sheet may clear a machine for, in
// degrees: beyond it is another trade.
const steepest = 45

// numbered checks numbers and the limits of uses: what they are measured in, and
// that they can be true.
func (f *finder) numbered() {
	for i, u := range f.sheet.Uses {
		slope := u.ID == "slope" || u.ID == "wet_slope"
		switch {
		case !slope && (u.Limit != nil || u.Up != nil || u.NeverAbove != nil):
			f.add(RuleNoDegree.Says(u.ID), "uses", i, "limit")
		case slope && u.Limit == nil:
			f.add(RuleSlopeLimit.Says(steepest), "uses", i)
		case slope && f.unit(u.Unit, "uses", i, "unit"):
			parsed, _ := unit.Find(u.Unit)
			degree, _ := unit.Find("°")
			if parsed.Dimension != unit.Angle {
				f.add(RuleMeasures.Says(u.Unit, text.Key("dimension.angle")), "uses", i, "unit")
				continue
			}
			for field, limit := range map[string]*float64{"limit": u.Limit, "up": u.Up, "never_above": u.NeverAbove} {
				if limit == nil {
					continue
				}
				if v := degree.In(parsed.Of(*limit)); v <= 0 || v > steepest {
					f.add(RuleSlopeLimit.Says(steepest), "uses", i, field)
				}
			}
			if u.NeverAbove != nil && *u.NeverAbove < *u.Limit {
				f.add(RuleUpsideDown.Says(number(*u.Limit), number(*u.NeverAbove)), "uses", i, "never_above")
			}
		}
	}
	for i, p := range f.sheet.Numbers {
		known, ok := numbers[p.ID]
		if !ok {
			f.unknown(p.ID, "sheet.kind.number", NumberIDs(), "numbers", i, "id")
			continue
		}
		if !f.unit(p.Unit, "numbers", i, "unit") {
			continue
		}
		u, _ := unit.Find(p.Unit)
		if u.Dimension != known.dimension {
			f.add(RuleMeasures.Says(p.Unit, text.Key("dimension."+string(known.dimension))), "numbers", i, "unit")
		} else if v := u.Of(p.Value).Value; v < 0 || v > known.most {
			f.add(RuleNumberRange.Says(number(p.Value)+" "+p.Unit), "numbers", i, "value")
		}
	}
}
