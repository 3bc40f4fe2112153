// Package unit holds quantities with units: what an operator reads off a
// gauge, what a manual gives as a limit, and how one is turned into the other.
//
// A Quantity is kept in the SI unit of its dimension (pascal, metre, kelvin,
// cubic metre, second, volt, radian, kilogram, ampere, one and what is made of them), so that two readings taken in
// different units compare without knowing how each was typed.
package unit

import "math"

// Dimension is the kind of thing a quantity measures.
type Dimension string

// The dimensions that machine sheets use.
const (
	Pressure    Dimension = "pressure"
	Length      Dimension = "length"
	Temperature Dimension = "temperature"
	Volume      Dimension = "volume"
	Time        Dimension = "time"
	Voltage     Dimension = "voltage"
	Angle       Dimension = "angle"
	Ratio       Dimension = "ratio"
	Vibration   Dimension = "vibration" // weighted acceleration at the hand
	Noise       Dimension = "noise"     // A-weighted level at the ear
	Rotation    Dimension = "rotation"  // turning speed
	Torque      Dimension = "torque"
	Mass        Dimension = "mass"
	Speed       Dimension = "speed"
	Current     Dimension = "current"
	Flow        Dimension = "flow"  // fuel that is burnt
	Count       Dimension = "count" // a bare number: times, parts, a cetane number
)

// System is a person's own choice of units.
type System string

// The two systems a person may choose between.
const (
	Metric System = "metric"
	US     System = "us"
)

// Quantity is an amount in the SI unit of its dimension.
type Quantity struct {
	Value     float64   `json:"value"`
	Dimension Dimension `json:"dimension"`
}

// Unit is one way to write a quantity down.
type Unit struct {
	// Symbol is how the unit is written in sheets and on pages: "kPa", "psi".
	Symbol string
	// Dimension is what the unit measures.
	Dimension Dimension
	// Decimals is how many places a value shown in this unit needs.
	Decimals int

	factor, offset float64 // SI = value*factor + offset
	aliases        []string
	other          string // the counterpart in the other system, "" if none
	system         System // the system it belongs to, "" for both
}

var units = []Unit{
	{Symbol: "kPa", Dimension: Pressure, factor: 1000, system: Metric, other: "psi"},
	{Symbol: "bar", Dimension: Pressure, factor: 100000, Decimals: 2, system: Metric, other: "psi"},
	{Symbol: "psi", Dimension: Pressure, factor: 6894.757293168, Decimals: 1, system: US, other: "kPa", aliases: []string{"lb", "lbs"}},
	{Symbol: "mm", Dimension: Length, factor: 0.001, Decimals: 1, system: Metric, other: "in"},
	{Symbol: "µm", Dimension: Length, factor: 1e-6, system: Metric, other: "thou", aliases: []string{"um", "μm", "micron", "microns", "micras"}},
	{Symbol: "thou", Dimension: Length, factor: 25.4e-6, Decimals: 1, system: US, other: "µm", aliases: []string{"mil", "mils", "milésimas"}},
	{Symbol: "cm", Dimension: Length, factor: 0.01, Decimals: 1, system: Metric, other: "in"},
	{Symbol: "m", Dimension: Length, factor: 1, Decimals: 1, system: Metric, other: "ft"},
	{Symbol: "in", Dimension: Length, factor: 0.0254, Decimals: 2, system: US, other: "mm", aliases: []string{`"`, "inch", "inches", "pulg", "pulgadas"}},
	{Symbol: "ft", Dimension: Length, factor: 0.3048, Decimals: 0, system: US, other: "m", aliases: []string{"feet", "pies"}},
	{Symbol: "°C", Dimension: Temperature, factor: 1, offset: 273.15, system: Metric, other: "°F", aliases: []string{"c"}},
	{Symbol: "°F", Dimension: Temperature, factor: 5.0 / 9, offset: 273.15 - 32*5.0/9, system: US, other: "°C", aliases: []string{"f"}},
	{Symbol: "L", Dimension: Volume, factor: 0.001, Decimals: 1, system: Metric, other: "gal", aliases: []string{"litres", "liters", "litros"}},
	{Symbol: "gal", Dimension: Volume, factor: 0.003785411784, Decimals: 1, system: US, other: "L", aliases: []string{"gallons", "galones"}},
	{Symbol: "mL", Dimension: Volume, factor: 1e-6, system: Metric, other: "fl oz", aliases: []string{"ml"}},
	{Symbol: "fl oz", Dimension: Volume, factor: 29.5735295625e-6, Decimals: 1, system: US, other: "mL", aliases: []string{"oz"}},
	{Symbol: "s", Dimension: Time, factor: 1, Decimals: 1, aliases: []string{"sec", "seg"}},
	{Symbol: "min", Dimension: Time, factor: 60},
	{Symbol: "h", Dimension: Time, factor: 3600, Decimals: 1, aliases: []string{"hours", "horas", "hrs"}},
	{Symbol: "d", Dimension: Time, factor: 86400, aliases: []string{"days", "días"}},
	{Symbol: "L/h", Dimension: Flow, factor: 0.001 / 3600, Decimals: 1, system: Metric, other: "gal/h", aliases: []string{"l/h"}},
	{Symbol: "gal/h", Dimension: Flow, factor: 0.003785411784 / 3600, Decimals: 2, system: US, other: "L/h"},
	{Symbol: "×", Dimension: Count, factor: 1, aliases: []string{"times", "veces"}},
	{Symbol: "CN", Dimension: Count, factor: 1},
	{Symbol: "V", Dimension: Voltage, factor: 1, Decimals: 1, aliases: []string{"volts", "voltios"}},
	{Symbol: "°", Dimension: Angle, factor: 0.017453292519943295, Decimals: 1, aliases: []string{"deg", "degrees", "grados"}},
	{Symbol: "%", Dimension: Ratio, factor: 0.01},
	{Symbol: "m/s²", Dimension: Vibration, factor: 1, Decimals: 1, aliases: []string{"m/s2"}},
	{Symbol: "dB", Dimension: Noise, factor: 1, aliases: []string{"dB(A)"}},
	{Symbol: "rpm", Dimension: Rotation, factor: math.Pi / 30, aliases: []string{"r/min", "1/min"}},
	{Symbol: "N·m", Dimension: Torque, factor: 1, system: Metric, other: "lb·ft", aliases: []string{"Nm", "N.m"}},
	{Symbol: "lb·ft", Dimension: Torque, factor: 1.3558179483314004, system: US, other: "N·m", aliases: []string{"lb-ft", "ft-lb", "ft·lb", "lbft", "ftlb"}},
	{Symbol: "kg", Dimension: Mass, factor: 1, system: Metric, other: "lb", aliases: []string{"kilos"}},
	{Symbol: "lb", Dimension: Mass, factor: 0.45359237, system: US, other: "kg", aliases: []string{"lbs", "pounds", "libras"}},
	{Symbol: "km/h", Dimension: Speed, factor: 1 / 3.6, Decimals: 1, system: Metric, other: "mph", aliases: []string{"kmh", "kph"}},
	{Symbol: "mph", Dimension: Speed, factor: 0.44704, Decimals: 1, system: US, other: "km/h", aliases: []string{"mi/h"}},
	{Symbol: "A", Dimension: Current, factor: 1, Decimals: 1, aliases: []string{"amps", "amperes", "amperios"}},
}

// bySymbol spares sheets, which write units as they are, the search by alias.
var bySymbol = func() map[string]Unit {
	m := make(map[string]Unit, len(units))
	for _, u := range units {
		m[u.Symbol] = u
	}
	return m
}()

// Find returns the unit with this symbol or one of its other spellings;
// upper and lower case are the same.
func Find(symbol string) (Unit, bool) {
	if u, ok := bySymbol[symbol]; ok {
		return u, true
	}
	for _, u := range units {
		if u.named(symbol) {
			return u, true
		}
	}
	return Unit{}, false
}

// findFor is Find for something of one dimension: pounds are another unit at a
// tyre gauge than at a load.
func findFor(symbol string, d Dimension) (Unit, bool) {
	for _, u := range units {
		if u.Dimension == d && u.named(symbol) {
			return u, true
		}
	}
	return Find(symbol)
}

// Symbols lists every unit's symbol, in a fixed order.
func Symbols() []string {
	out := make([]string, len(units))
	for i, u := range units {
		out[i] = u.Symbol
	}
	return out
}

// Of makes a quantity from a value in u.
func (u Unit) Of(value float64) Quantity {
	return Quantity{Value: value*u.factor + u.offset, Dimension: u.Dimension}
}

// In gives q's value in u. It panics when the dimensions differ, which is an
// error in the program: sheets and entries are checked before they get here.
func (u Unit) In(q Quantity) float64 {
	if q.Dimension != u.Dimension {
		panic("unit: " + string(q.Dimension) + " written in " + u.Symbol)
	}
	return (q.Value - u.offset) / u.factor
}

// Span turns a difference (an uncertainty, a margin) from u to SI: unlike a
// value it has no zero point.
func (u Unit) Span(difference float64) float64 { return difference * u.factor }

// Steps is Span turned round: a difference in SI, in u.
func (u Unit) Steps(difference float64) float64 { return difference / u.factor }

// For is the unit in which a person using system s reads what a sheet gives
// in u: the counterpart where there is one, else u itself.
func (u Unit) For(s System) Unit {
	if u.system == "" || u.system == s || u.other == "" {
		return u
	}
	other, _ := Find(u.other)
	return other
}
