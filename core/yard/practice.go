package yard

// Where good practitioners differ about the work itself. Procedures hang on some of
// these questions (core/procedure); the others are rules that people keep: they are
// shown at the procedure that they belong to, and on the card for the cab.

import (
	"slices"

	"vespers/core/procedure"
)

// Question is a house rule and its choices; the first is in force where nobody chose
// and its family has no choice of its own.
type Question struct {
	ID      string
	Choices []string
	// At is the procedure where it is kept, "" where steps of procedures hang on it.
	At string
	// Families are those that it concerns; none is every one. First is what is usual for
	// a family that is another thing than the rest.
	Families []string
	First    map[string]string
}

// kept are the rules that people keep, in the order of a day.
var kept = []Question{
	{ID: "test_rhythm", At: "start", Choices: []string{"each_use", "daily"}},
	{ID: "wet_grass", At: "work", Choices: []string{"no_wet_slopes", "dry_only", "wait"}, Families: []string{"zero_turn", "boom_mower"}},
	{ID: "light", At: "work", Choices: []string{"day_or_lit", "day_only", "good_light"}},
	{ID: "circle", At: "work", Choices: []string{"the_larger", "clear", "fixed", "cones"}, Families: []string{"zero_turn", "boom_mower", "disc_chipper", "tracked_trencher", "petrol_chainsaw"}},
	{ID: "slope_mowing", At: "work", Choices: []string{"across", "up_down"}, Families: []string{"zero_turn", "boom_mower"}, First: map[string]string{"boom_mower": "up_down"}},
	{ID: "slope_turn", At: "work", Choices: []string{"none_else_uphill", "uphill", "downhill_slow"}, Families: []string{"zero_turn"}},
	{ID: "boom_slope", At: "work", Choices: []string{"by_counterweight", "very_low"}, Families: []string{"boom_mower"}},
	{ID: "trench_slope", At: "work", Choices: []string{"sheet", "avoid", "sideways"}, Families: []string{"tracked_trencher"}},
	{ID: "setback", At: "work", Choices: []string{"two_widths", "one_width"}, Families: []string{"zero_turn", "tractor", "boom_mower", "ride_on_sweeper"}},
	{ID: "engage_at", At: "work", Choices: []string{"sheet", "idle", "half"}, Families: []string{"zero_turn", "boom_mower"}},
	{ID: "work_throttle", At: "work", Choices: []string{"sheet", "full", "suit"}, Families: []string{"zero_turn", "boom_mower", "tracked_trencher", "ride_on_sweeper"}},
	{ID: "reverse", At: "work", Choices: []string{"only_needed", "never"}, Families: []string{"zero_turn", "ride_on_sweeper"}},
	{ID: "low_branches", At: "work", Choices: []string{"prune_first", "folded_flat", "walk_behind"}, Families: []string{"zero_turn", "tractor"}},
	{ID: "first_pass", At: "work", Choices: []string{"middle", "side"}, Families: []string{"zero_turn"}},
	{ID: "turn_style", At: "work", Choices: []string{"teardrop", "loop", "y"}, Families: []string{"zero_turn"}},
	{ID: "clippings", At: "work", Choices: []string{"scattered", "carried"}, Families: []string{"zero_turn", "boom_mower"}},
	{ID: "first_practice", At: "work", Choices: []string{"cutters_off", "half_throttle"}},
	{ID: "defect_at_work", At: "work", Choices: []string{"by_grade", "always_stop"}},
	{ID: "deck_parked", At: "shutdown", Choices: []string{"on_the_ground", "raised"}, Families: []string{"zero_turn"}},
	{ID: "ramp", At: "load", Choices: []string{"backwards_up", "forwards_up"}, Families: []string{"zero_turn", "tracked_trencher", "ride_on_sweeper"}, First: map[string]string{"tracked_trencher": "forwards_up"}},
	{ID: "top_up", At: "fuel", Choices: []string{"fuel_and_oil", "all", "technician"}},
	{ID: "leak_source", At: "clean", Choices: []string{"technician", "card_and_goggles"}, Families: []string{"zero_turn", "tractor", "boom_mower", "disc_chipper", "tracked_trencher", "ride_on_sweeper"}},
	{ID: "air_filter_red", At: "clean", Choices: []string{"technician", "operator"}, Families: []string{"tractor", "disc_chipper", "ride_on_sweeper"}},
}

// Questions lists the house rules, as they are published.
func Questions() []Question {
	var out []Question
	for _, q := range procedure.Questions() {
		out = append(out, Question{ID: q.ID, Choices: q.Choices})
	}
	return append(out, kept...)
}

// Concerns reports whether a rule that people keep is one of a family.
func (q Question) Concerns(family string) bool {
	return q.At != "" && (len(q.Families) == 0 || slices.Contains(q.Families, family))
}

// Kept lists the rules that people keep at a procedure of a family; at every one of them
// where the procedure is "".
func Kept(family, at string) (out []Question) {
	for _, q := range kept {
		if q.Concerns(family) && (at == "" || q.At == at) {
			out = append(out, q)
		}
	}
	return out
}
