package defect

// How far a finding goes: what of a part is lost.

import (
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// ExtentOf says how a reading stands to its limits, and why when it is not
// sound.
//
// Outside a limit is lost; touching it is outside, and touching a margin within
// it; where the sheet says inclusive, neither. For classes A–D and limits marked safety a value within the
// instrument's uncertainty of the limit counts as outside, because it may be.
// Closer than the near margin is degraded, closer than the early margin early;
// left out, they are the uncertainty and twice that. Elsewhere a doubt alone
// is early only.
func ExtentOf(c *machine.Check, r *machine.Reading, value unit.Quantity) (machine.Extent, text.Reason) {
	return Context{House: House{Edition: Edition}}.extentOf(c, r, value)
}

// extentOf is ExtentOf by the edition of the rules that is in force.
func (in Context) extentOf(c *machine.Check, r *machine.Reading, value unit.Quantity) (machine.Extent, text.Reason) {
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
		extent, reason := in.oneSide(c, r, value, limit, inside)
		if order(extent) > order(worst) {
			worst, why = extent, reason
		}
	}
	return worst, why
}

// oneSide judges one limit; inside is how far within it the value stands, in SI.
func (in Context) oneSide(c *machine.Check, r *machine.Reading, value unit.Quantity, limit text.Measure, inside float64) (machine.Extent, text.Reason) {
	l, u := r.Limits, r.UnitOf()
	uncertainty := u.Span(r.Uncertainty)
	near, early := uncertainty, 2*uncertainty
	if l.Near != nil {
		near = u.Span(*l.Near)
	}
	if l.Early != nil {
		early = u.Span(*l.Early)
	}
	tiny := slack(u)
	margins := tiny // touching a margin is within it
	if l.Inclusive && in.House.Remembers() {
		margins = -tiny
	}
	shown := text.Measure{Quantity: value, Unit: r.Unit}
	if inside < -tiny || inside <= tiny && !l.Inclusive {
		return machine.Lost, rulePast.Says(shown, limit, text.Key("source."+string(l.Source)))
	}
	within := func(margin float64) bool { return margin > 0 && inside <= margin+margins }
	safety := decides(c, r)
	doubt := within(uncertainty) && !(l.Inclusive && inside >= uncertainty-tiny)
	switch {
	case safety && doubt:
		return machine.Lost, ruleDoubt.Says(shown, limit, span(uncertainty, r.Unit))
	case within(near) && (safety || near > uncertainty+tiny):
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

// decides reports whether safety hangs on a reading, so that a doubt in it counts.
func decides(c *machine.Check, r *machine.Reading) bool {
	return c.Class.Decides() || r.Limits != nil && r.Limits.Safety
}

// equal is how far apart two values of a unit may be and still be the same.
const equal = 1e-9

// slack is what values of a unit may differ by and be the same, in SI: turning
// them into SI and back changes the last digits.
func slack(u unit.Unit) float64 { return u.Span(equal) }

// span is a difference in SI as something to show in the sheet's unit; for
// units without a zero point of their own it reads as the difference itself.
func span(difference float64, symbol string) text.Measure {
	u, _ := unit.Find(symbol)
	return text.Measure{Quantity: unit.Quantity{Value: u.Of(0).Value + difference, Dimension: u.Dimension}, Unit: symbol}
}

// Inside is how far a value stands within the nearer of its limits, in SI, less than
// 0 outside; ok is false where there are none.
func inside(r *machine.Reading, value unit.Quantity) (far float64, ok bool) {
	if r.Limits == nil {
		return 0, false
	}
	for _, side := range []struct {
		limit *float64
		sign  float64
	}{{r.Limits.Low, 1}, {r.Limits.High, -1}} {
		if side.limit == nil {
			continue
		}
		if d := (value.Value - r.Measure(*side.limit).Quantity.Value) * side.sign; !ok || d < far {
			far, ok = d, true
		}
	}
	return far, ok
}

// SecondCounts reports which of two readings of one thing counts: where safety hangs
// on it the worse, unless somebody else has said which was a slip (first or second);
// elsewhere the second. Limits are those of the day.
func SecondCounts(c *machine.Check, r *machine.Reading, first, second text.Measure, slip string) bool {
	if !decides(c, r) {
		return true
	}
	if slip != "" {
		return slip == "first"
	}
	was, ok := inside(r, first.Quantity)
	now, _ := inside(r, second.Quantity)
	return !ok || now <= was
}
