package fuel

// What goes into a can to make a mix of it.

import (
	"strconv"

	"vespers/core/text"
)

// Can is a can that a mix is made in: so many litres in it at one part of oil to a
// ratio of petrol, to be brought to a total at another.
type Can struct {
	In    float64 `json:"in"`    // litres in the can now
	At    float64 `json:"at"`    // its ratio, one to this; not needed where it is empty
	Total float64 `json:"total"` // litres wanted
	Ratio float64 `json:"ratio"` // one to this
}

// Mix is what is added.
type Mix struct {
	Oil    float64 `json:"oil"`
	Petrol float64 `json:"petrol"`
}

// Mixed computes what is added: V litres at 1:r hold V/(r+1) of oil. Where one of
// both would have to be taken out it is refused, with the smallest total that works.
func Mixed(c Can) (Mix, *text.Reason) {
	for _, v := range []struct {
		what string
		v    float64
	}{{"in", c.In}, {"total", c.Total}} {
		if r := negative(v.what, v.v); r != nil {
			return Mix{}, r
		}
	}
	if !(c.Ratio >= 1) || c.Ratio > ratioMost {
		r := RuleRatio.Says("ratio")
		return Mix{}, &r
	}
	if c.In > 0 && (!(c.At >= 1) || c.At > ratioMost) {
		r := RuleRatio.Says("at")
		return Mix{}, &r
	}
	oil, petrol := 0.0, 0.0
	if c.In > 0 {
		oil = c.In / (c.At + 1)
		petrol = c.In - oil
	}
	m := Mix{Oil: c.Total/(c.Ratio+1) - oil}
	m.Petrol = c.Total - c.In - m.Oil
	const rounding = 1e-9
	if m.Oil < -rounding || m.Petrol < -rounding {
		least := max(oil*(c.Ratio+1), petrol*(c.Ratio+1)/c.Ratio)
		r := RuleTooLittle.Says(strconv.FormatFloat(least, 'f', 3, 64) + " l")
		return Mix{}, &r
	}
	m.Oil, m.Petrol = max(0, m.Oil), max(0, m.Petrol)
	return m, nil
}

// ratioMost is the leanest mix that anybody makes.
const ratioMost = 200
