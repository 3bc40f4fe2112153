package round_test

import (
	"fmt"
	"testing"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/round"
	"vespers/core/text"
)

// asked lists the tests that a search may ask for: those of the plan, and those
// that tell apart what a failed one leaves under suspicion.
func asked(t *testing.T, s round.State) []interlock.Test {
	out := append([]interlock.Test{}, s.Plan.Tests...)
	yes, no := true, false
	seen := func(test interlock.Test, sound bool) interlock.Observation {
		o := interlock.Observation{Test: test, Observed: &no}
		if !sound {
			o.Observed = &yes
		}
		o.Catches = nil
		switch test.Kind {
		case interlock.EngineStop, interlock.DriveStop:
			o.AtFrom = &yes
		case interlock.Engage:
			o.AtFrom = &no
		}
		return o
	}
	for _, failed := range s.Plan.Tests {
		all := []interlock.Observation{seen(failed, false)}
		for range 8 {
			d, err := s.Logic().Diagnose(all)
			if err != nil {
				t.Fatal(err)
			}
			if d.Next == nil {
				break
			}
			out = append(out, *d.Next)
			all = append(all, seen(*d.Next, true))
		}
	}
	return out
}

// TestATestAloneIsTrue: whatever a machine was left like, every word of a search
// leads to what is meant, and nothing is told twice.
func TestATestAloneIsTrue(t *testing.T) {
	for name, of := range rounds(t) {
		t.Run(name, func(t *testing.T) {
			controls := controlsOf(t, name)
			r := round.Begin(of)
			for _, test := range asked(t, r) {
				for _, left := range []bool{false, true} {
					h := newHands(t, controls, of.Section, of.Engine, text.English)
					h.where = fmt.Sprintf("%s, %+v, left %v", name, test, left)
					for id := range h.at {
						h.at[id] = left
					}
					h.off()
					stand, in := r.Alone(test)
					if len(stand) != len(of.Section.Switches) {
						h.fail("only %v are set", stand)
					}
					for id, made := range stand {
						h.at[id] = made
					}
					h.look("")
					for _, c := range controls { // as the page lists them
						h.kept = append(h.kept, c.ID)
					}
					if in.Stop || len(in.Restart) > 0 {
						h.fail("%+v", in)
					}
					if test.Kind == interlock.Refusal && (in.Start || len(in.Set) > 0) {
						h.fail("a refusal has more to do: %+v", in)
					}
					h.try(in, test, true)
				}
			}
		})
	}
}

// TestATestAloneTellsItsSpeedAndCautions, as in a round.
func TestATestAloneTellsItsSpeedAndCautions(t *testing.T) {
	r := fan(t, func(s *round.Setup) {
		section := *s.Section
		section.Permits = append([]machine.Permit{}, section.Permits...)
		section.Permits[2].Caution = text.Text{EN: "turns"}
		s.Section = &section
	})
	stand, in := r.Alone(r.Plan.Tests[1])
	if in.Speed != machine.Half || len(in.Cautions) != 1 || in.Cautions[0].EN != "turns" || !in.Start || !stand["brake"] {
		t.Errorf("%v, %+v", stand, in)
	}
}
