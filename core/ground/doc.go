// Package ground says where a machine may go: how steep a bank is by what was measured on
// it, what ramp, bridge, trailer and straps carry it there. Degrees, metres, kilograms.
//
// Every measured number comes with the doubt of its instrument; what counts is the worst
// side, at the ends. Numbers from plates, labels and sheets carry none.
package ground

import "math"

// Flat is below this, in degrees (trade practice).
const Flat = 3.0

// equal is how near two numbers are that are the same.
const equal = 1e-9

// below reports whether a is under b; touching is not.
func below(a, b float64) bool { return a < b-equal }

// within reports whether a is no more than b; touching will do.
func within(a, b float64) bool { return a <= b+equal }

func degrees(radians float64) float64 { return radians * 180 / math.Pi }

func radians(degrees float64) float64 { return degrees * math.Pi / 180 }

// Percent is a slope of degrees in per cent.
func Percent(degrees float64) float64 { return 100 * math.Tan(radians(degrees)) }

// Measured is a number with the doubt of the instrument that it was measured with.
type Measured struct{ Value, Doubt float64 }

func (m Measured) most() float64  { return m.Value + m.Doubt }
func (m Measured) least() float64 { return m.Value - m.Doubt }
