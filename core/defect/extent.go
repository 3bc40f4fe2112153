package defect

// How far a finding goes: what of a part is lost.

import (
	"math"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// ExtentOf says how a reading stands to its limits, and why when it is not
// sound.
//
// Outside a limit is lost; touching it is outside unless the sheet says
// inclusive. For classes A–D and limits marked safety a value within the
// instrument's uncertainty of the limit counts as outside, because it may be.
// Closer than the near margin is degraded, closer than the early margin early;
// left out, they are the uncertainty and twice that. Elsewhere a doubt alone
// is early only.
func ExtentOf(c *machine.Check, r *machine.Reading, value unit.Quantity) (machine.Extent, text.Reason) {
	worst, why := machine.Sound, text.Reason{}
	if r.Limits == nil {
		return worst, why
	}
	for _, side := range []struct {
		limit *float64
		sign  float64
	}{{r.Limits.Low, 1}, {r.Limits.High, -1}} {
		if side.limit == nil {
			continue
		}
		limit := r.Measure(*side.limit)
		inside := (value.Value - limit.Quantity.Value) * side.sign
		extent, reason := oneSide(c, r, value, limit, inside)
		if order(extent) > order(worst) {
			worst, why = extent, reason
		}
	}
	return worst, why
}

// oneSide judges one limit; inside is how far within it the value stands, in SI.
func oneSide(c *machine.Check, r *machine.Reading, value unit.Quantity, limit text.Measure, inside float64) (machine.Extent, text.Reason) {
	l, u := r.Limits, r.UnitOf()
	uncertainty := u.Span(r.Uncertainty)
	near, early := uncertainty, 2*uncertainty
	if l.Near != nil {
		near = u.Span(*l.Near)
	}
	if l.Early != nil {
		early = u.Span(*l.Early)
	}
	tiny := slack(value.Value)
	shown := text.Measure{Quantity: value, Unit: r.Unit}
	if inside < -tiny || inside <= tiny && !l.Inclusive {
		return machine.Lost, rulePast.Says(shown, limit, text.Key("source."+string(l.Source)))
	}
	within := func(margin float64) bool { return margin > 0 && inside <= margin+tiny }
	safety := c.Class.Decides() || l.Safety
	doubt := within(uncertainty) && !(l.Inclusive && inside >= uncertainty-tiny)
	switch {
	case safety && doubt:
		return machine.Lost, ruleDoubt.Says(shown, limit, span(uncertainty, r.Unit))
	case within(near) && (safety || near > uncertainty):
		return machine.Degraded, ruleNear.Says(shown, limit)
	case within(early) || within(uncertainty):
		return machine.Early, ruleNear.Says(shown, limit)
	}
	return machine.Sound, text.Reason{}
}

func order(e machine.Extent) int {
	switch e {
	case machine.Early:
		return 1
	case machine.Degraded:
		return 2
	case machine.Lost:
		return 3
	}
	return 0
}

// slack forgives what turning units into SI and back does to the last digits.
func slack(value float64) float64 { return 1e-9 * math.Max(1e-6, math.Abs(value)) }

// span is a difference in SI as something to show in the sheet's unit; for
// units without a zero point of their own it reads as the difference itself.
func span(difference float64, symbol string) text.Measure {
	u, _ := unit.Find(symbol)
	return text.Measure{Quantity: unit.Quantity{Value: u.Of(0).Value + difference, Dimension: u.Dimension}, Unit: symbol}
}
