package catalogue_test

import (
	"slices"
	"strings"
	"testing"

	"vespers/catalogue"
	"vespers/core/machine"
	"vespers/core/text"
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

// TestEveryMachineSaysHowItRides on a trailer; one that goes up a ramp says which way round,
// or its family has a house rule of it; and no step says another.
func TestEveryMachineSaysHowItRides(t *testing.T) {
	all, err := catalogue.All()
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range all {
		s := r.Sheet
		if s.Transport == nil || len(s.Transport.Posture) == 0 {
			t.Errorf("%s does not say how it rides", s.ID)
			continue
		}
		house := slices.ContainsFunc(yard.KeptWith(s, "load"), func(q yard.Question) bool { return q.ID == "ramp" })
		if s.Transport.Up != "" && house {
			t.Errorf("%s: its sheet says which way round, and the house is asked", s.ID)
		}
		_, limited := s.Number("ramp_slope")
		for _, p := range s.Procedures {
			for _, step := range p.Steps {
				words := step.Do.In(text.English)
				limited = limited || p.ID == "load" && strings.Contains(words, "on the ramp")
				for way, says := range map[string]string{machine.Backwards: "ackwards up", machine.Forwards: "orwards up", machine.Pushed: "roll it up"} {
					if p.ID == "load" && strings.Contains(words, says) && s.Transport.Up != way {
						t.Errorf("%s: %q, and its sheet says %q", s.ID, words, s.Transport.Up)
					}
				}
			}
		}
		if limited && s.Transport.Up == "" && !house {
			t.Errorf("%s goes up a ramp, and nobody says which way round", s.ID)
		}
	}
}

// TestTheBarThatDoesNotFold is not told to be folded on the trailer.
func TestTheBarThatDoesNotFold(t *testing.T) {
	s, _ := shipped(t, "brackwing")
	folding, fixed := s.With(machine.Chosen{"bar": "folding"}), s.With(machine.Chosen{"bar": "fixed"})
	if f, g := len(folding.Transport.Posture), len(fixed.Transport.Posture); f != g+1 || len(s.Transport.Posture) != f {
		t.Errorf("%d with a bar that folds, %d with one that does not; the whole %d", f, g, len(s.Transport.Posture))
	}
}
