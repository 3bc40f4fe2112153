package draw_test

import (
	"slices"
	"testing"

	"vespers/core/machine"
	"vespers/draw"
)

// TestSignals: every signal that a sheet may name is drawn, inside its frame and unlike
// every other; two people at a machine always have a stop.
func TestSignals(t *testing.T) {
	all := []string{"stop", "off", "up", "down", "in", "out", "coming", "clear"}
	var drawn [][]draw.Shape
	for _, id := range all {
		s := draw.Signal(id)
		if len(s.Shapes) < 8 || slices.ContainsFunc(drawn, func(other []draw.Shape) bool { return slices.Equal(other, s.Shapes) }) {
			t.Errorf("%s is not drawn, or like another", id)
		}
		for _, shape := range s.Shapes {
			if shape.Kind == "circle" && (shape.X-shape.R < 0 || shape.X+shape.R > s.W || shape.Y-shape.R < 0 || shape.Y+shape.R > s.H) {
				t.Errorf("%s reaches out of its frame: %+v", id, shape)
			}
		}
		drawn = append(drawn, s.Shapes)
	}
	if len(draw.Signal("wave").Shapes) > 0 {
		t.Error("an unknown signal is drawn")
	}
	two := &machine.Sheet{Company: &machine.Company{Kind: "person"}}
	if !slices.Contains(two.TwoSignals(), "stop") || !slices.Contains(two.TwoSignals(), "clear") {
		t.Errorf("%v", two.TwoSignals())
	}
	if one := (&machine.Sheet{Company: &machine.Company{Kind: "check_in"}}); one.TwoSignals() != nil {
		t.Error("somebody alone has signals")
	}
	more := &machine.Sheet{Company: &machine.Company{Kind: "person", Signals: []string{"up"}}}
	if !slices.Equal(more.TwoSignals(), []string{"up"}) {
		t.Errorf("%v", more.TwoSignals())
	}
}
