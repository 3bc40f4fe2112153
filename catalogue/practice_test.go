package catalogue_test

import (
	"slices"
	"testing"

	"vespers/catalogue"
	"vespers/core/yard"
)

// TestEveryFamilyHasItsPractices: whoever adds a family says which house rules concern it,
// and what is usual for it is one of the choices.
func TestEveryFamilyHasItsPractices(t *testing.T) {
	known := yard.Families()
	for _, family := range catalogue.Families() {
		if !slices.Contains(known, family) {
			t.Errorf("%s is not in core/yard/practice.json", family)
		}
	}
	for _, family := range known {
		if !slices.Contains(catalogue.Families(), family) {
			t.Errorf("%s of core/yard/practice.json is no family", family)
		}
		for _, q := range yard.Questions() {
			if usual := q.Usual(family); usual != "" && !slices.Contains(q.Choices, usual) {
				t.Errorf("%s: %s is no choice of %s", family, usual, q.ID)
			}
		}
	}
	if len(yard.Kept("zero_turn", "")) < 15 || len(yard.Kept("tilt_trailer", "work")) > 4 {
		t.Errorf("%v\n%v", yard.Kept("zero_turn", ""), yard.Kept("tilt_trailer", "work"))
	}
}
