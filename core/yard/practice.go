package yard

// Where good practitioners differ about the work itself. Procedures hang on some of
// these questions (core/procedure); the others are rules that people keep: they are
// shown at the procedure that they belong to, and on the card for the cab.

import (
	_ "embed"
	"encoding/json"
	"maps"
	"slices"

	"vespers/core/machine"
	"vespers/core/procedure"
)

//go:embed practice.json
var practiceFile []byte

// ofFamilies are the questions that concern each family, with the choice that is usual
// for it where that is another than for the rest; "" where it is the first.
var ofFamilies = func() (of map[string]map[string]string) {
	if err := json.Unmarshal(practiceFile, &of); err != nil {
		panic("yard: practice.json: " + err.Error()) // it ships with the program
	}
	return of
}()

// Question is a house rule and its choices; the first is in force where nobody chose
// and its family has no choice of its own.
type Question struct {
	ID      string
	Choices []string
	// At is the procedure where it is kept, "" where steps of procedures hang on it.
	At string
	// Any: it concerns every family; else those that practice.json names it at.
	Any bool
}

// kept are the rules that people keep, in the order of a day.
var kept = []Question{
	{ID: "test_rhythm", At: "start", Choices: []string{"each_use", "daily"}, Any: true},
	{ID: "wet_grass", At: "work", Choices: []string{"no_wet_slopes", "dry_only", "wait"}},
	{ID: "light", At: "work", Choices: []string{"day_or_lit", "day_only", "good_light"}, Any: true},
	{ID: "circle", At: "work", Choices: []string{"the_larger", "clear", "fixed", "cones"}},
	{ID: "slope_mowing", At: "work", Choices: []string{"across", "up_down"}},
	{ID: "slope_turn", At: "work", Choices: []string{"none_else_uphill", "uphill", "downhill_slow"}},
	{ID: "boom_slope", At: "work", Choices: []string{"by_counterweight", "very_low"}},
	{ID: "trench_slope", At: "work", Choices: []string{"sheet", "avoid", "sideways"}},
	{ID: "setback", At: "work", Choices: []string{"two_widths", "one_width"}},
	{ID: "engage_at", At: "work", Choices: []string{"sheet", "idle", "half"}},
	{ID: "work_throttle", At: "work", Choices: []string{"sheet", "full", "suit"}},
	{ID: "reverse", At: "work", Choices: []string{"only_needed", "never"}},
	{ID: "low_branches", At: "work", Choices: []string{"prune_first", "folded_flat", "walk_behind"}},
	{ID: "first_pass", At: "work", Choices: []string{"middle", "side"}},
	{ID: "turn_style", At: "work", Choices: []string{"teardrop", "loop", "y"}},
	{ID: "clippings", At: "work", Choices: []string{"scattered", "carried"}},
	{ID: "first_practice", At: "work", Choices: []string{"cutters_off", "half_throttle"}, Any: true},
	{ID: "defect_at_work", At: "work", Choices: []string{"by_grade", "always_stop"}, Any: true},
	{ID: "deck_parked", At: "shutdown", Choices: []string{"on_the_ground", "raised"}},
	{ID: "ramp", At: "load", Choices: []string{"backwards_up", "forwards_up"}},
	{ID: "top_up", At: "fuel", Choices: []string{"fuel_and_oil", "all", "technician"}, Any: true},
	{ID: "leak_source", At: "clean", Choices: []string{"technician", "card_and_goggles"}},
	{ID: "air_filter_red", At: "clean", Choices: []string{"technician", "operator"}},
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
	_, named := ofFamilies[family][q.ID]
	return q.At != "" && (q.Any || named)
}

// Usual is the choice that is usual for a family that is another thing than the rest;
// "" for what is usual for all.
func (q Question) Usual(family string) string { return ofFamilies[family][q.ID] }

// Families lists the families of which it is said what concerns them.
func Families() []string { return slices.Sorted(maps.Keys(ofFamilies)) }

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

// KeptWith lists those of a machine: what its sheet says itself is no matter of the house.
func KeptWith(sheet *machine.Sheet, at string) []Question {
	return slices.DeleteFunc(Kept(sheet.Family, at), func(q Question) bool {
		return q.ID == "ramp" && sheet.Transport != nil && sheet.Transport.Up != ""
	})
}
