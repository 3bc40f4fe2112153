package ground

// Lengths, areas and masses in the visitor's units. What is told as a bound is rounded to
// its safe side: who does as it says is not refused again.

import (
	"math"
	"strings"
	"unicode"

	"vespers/core/unit"
	"vespers/web/page"
)

// in is a value of a metric unit in the visitor's, and that unit.
func in(v *page.Visit, value float64, symbol string) (float64, unit.Unit) {
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
func amount(v *page.Visit, value float64, symbol string, places int, round func(float64) float64) string {
	n, own := in(v, value, symbol)
	scale := math.Pow10(places)
	return number(v, round(n*scale)/scale) + " " + own.Symbol
}

// metres is a distance, lengthUp one that has to be at least so.
func metres(v *page.Visit, m float64) string   { return amount(v, m, "m", 2, math.Round) }
func lengthUp(v *page.Visit, m float64) string { return amount(v, m, "m", 2, up) }

// mass is a weight, massUp at least so, massDown at most.
func mass(v *page.Visit, kg float64) string     { return amount(v, kg, "kg", 0, math.Round) }
func massUp(v *page.Visit, kg float64) string   { return amount(v, kg, "kg", 0, up) }
func massDown(v *page.Visit, kg float64) string { return amount(v, kg, "kg", 0, down) }

// area is square metres, or square feet.
func area(v *page.Visit, m2 float64) string {
	side, own := in(v, 1, "m")
	return v.Number(m2*side*side, 0) + " " + own.Symbol + "²"
}

// bare is a number as it was typed, with the visitor's unit where none was typed with it.
func bare(v *page.Visit, typed, symbol string) string {
	typed = strings.TrimSpace(typed)
	if typed == "" || symbol == "" || strings.ContainsFunc(typed, func(r rune) bool { return !unicode.IsDigit(r) && !strings.ContainsRune(".,'-+− ", r) }) {
		return typed
	}
	return typed + " " + v.Unit(symbol).Symbol
}

// again is a kept value as it would be typed: without its unit.
func again(v *page.Visit, value float64, symbol string) string {
	n, _ := in(v, value, symbol)
	return number(v, n)
}

// number is a plain number with as many places as it has, four at most.
func number(v *page.Visit, n float64) string {
	places := 0
	for ; places < 4 && math.Abs(n*math.Pow10(places)-math.Round(n*math.Pow10(places))) > slack; places++ {
	}
	return v.Number(n, places)
}
