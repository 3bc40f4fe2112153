package tell

// Angles, lengths, areas and masses in the visitor's units. What is told as a bound is
// rounded to its safe side: who does as it says is not refused again.

import (
	"math"

	"vespers/core/ground"
	"vespers/core/unit"
	"vespers/say"
)

// Degrees is an angle as it is always told: in degrees and per cent.
func Degrees(v *say.Voice, deg float64) string {
	return v.T("ground.deg", "deg", v.Number(deg, 1), "percent", v.Number(ground.Percent(deg), 0))
}

// in is a value of a metric unit in the visitor's, and that unit.
func in(v *say.Voice, value float64, symbol string) (float64, unit.Unit) {
	metric, _ := unit.Find(symbol)
	own := v.Unit(symbol)
	return own.In(metric.Of(value)), own
}

// slack keeps a number that is whole but for the last bits from being rounded on.
const slack = 1e-6

func up(x float64) float64   { return math.Ceil(x - slack) }
func down(x float64) float64 { return math.Floor(x + slack) }

// amount is a value with its unit, rounded in one way to some places; noughts at the end
// are left out.
func amount(v *say.Voice, value float64, symbol string, places int, round func(float64) float64) string {
	n, own := in(v, value, symbol)
	scale := math.Pow10(places)
	return Plain(v, round(n*scale)/scale) + " " + own.Symbol
}

// Metres is a distance.
func Metres(v *say.Voice, m float64) string { return amount(v, m, "m", 2, math.Round) }

// MetresUp is a distance that has to be at least so.
func MetresUp(v *say.Voice, m float64) string { return amount(v, m, "m", 2, up) }

// Kilograms is a weight.
func Kilograms(v *say.Voice, kg float64) string { return amount(v, kg, "kg", 0, math.Round) }

// KilogramsUp is a weight that has to be at least so.
func KilogramsUp(v *say.Voice, kg float64) string { return amount(v, kg, "kg", 0, up) }

// KilogramsDown is a weight that may be at most so.
func KilogramsDown(v *say.Voice, kg float64) string { return amount(v, kg, "kg", 0, down) }

// Area is square metres, or square feet.
func Area(v *say.Voice, m2 float64) string {
	side, own := in(v, 1, "m")
	return v.Number(m2*side*side, 0) + " " + own.Symbol + "²"
}

// Again is a kept value of a metric unit as it would be typed again: without its unit.
func Again(v *say.Voice, value float64, symbol string) string {
	n, _ := in(v, value, symbol)
	return Plain(v, n)
}

// Plain is a number with as many places as it has, four at most.
func Plain(v *say.Voice, n float64) string {
	places := 0
	for ; places < 4 && math.Abs(n*math.Pow10(places)-math.Round(n*math.Pow10(places))) > slack; places++ {
	}
	return v.Number(n, places)
}
