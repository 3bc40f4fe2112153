package machine

// How a machine goes on slopes, beside the limits of its uses.

import "slices"

// The directions of travel on a slope.
const (
	UpDown  = "up_down"
	Across  = "across"
	AnyWays = "any"
)

// Slopes is which way a machine goes on a slope, and what conditions take from its limits.
// One that is not named leaves the flat only; so does a sheet without a direction.
type Slopes struct {
	Direction string `json:"direction" jsonschema:"enum=up_down,enum=across,enum=any"`
	Off       []Off  `json:"off,omitempty"`
	Source    Source `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// Off is how many degrees a condition takes from each limit.
type Off struct {
	Condition string  `json:"condition" jsonschema:"enum=soft,enum=towing,enum=bagger_full,enum=attachment_raised,enum=bar_folded,enum=tyres_out"`
	Degrees   float64 `json:"degrees" jsonschema:"minimum=0,maximum=45"`
}

// Wet is the condition that has limits of its own, those of the use wet_slope.
const Wet = "wet"

// SlopeConditions lists what a slope is taken under, wet grass first.
func SlopeConditions() []string {
	return []string{Wet, "soft", "towing", "bagger_full", "attachment_raised", "bar_folded", "tyres_out"}
}

// Works lists what can be done in a zone.
func Works() []string { return []string{"mow", "sweep", "trench", "chip", "clear", "aerate"} }

// worked checks what it does in a zone, and what takes from its limits.
func (f *finder) worked() {
	for i, work := range f.sheet.Does {
		if !slices.Contains(Works(), work) {
			f.unknown(work, "sheet.kind.work", Works(), "does", i)
		}
	}
	if f.sheet.Slopes == nil {
		return
	}
	seen := map[string]bool{}
	for i, off := range f.sheet.Slopes.Off {
		switch {
		case !slices.Contains(SlopeConditions()[1:], off.Condition):
			f.unknown(off.Condition, "sheet.kind.condition", SlopeConditions()[1:], "slopes", "off", i, "condition")
		case seen[off.Condition]:
			f.add(RuleDuplicate.Says(off.Condition), "slopes", "off", i, "condition")
		case off.Degrees < 0 || off.Degrees > steepest:
			f.add(RuleSlopeLimit.Says(steepest), "slopes", "off", i, "degrees")
		}
		seen[off.Condition] = true
	}
}
