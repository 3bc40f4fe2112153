package machine

import (
	"testing"

	"vespers/core/text"
)

// TestShapes: a sheet's own are kinds of part like the others; what is none is
// told at its place.
func TestShapes(t *testing.T) {
	auger := func() *Sheet {
		s := good()
		s.Shapes = []Shape{{ID: "auger", Over: "deck", Strokes: []Stroke{{Class: "metal", Points: [][]float64{{0, 0}, {1, 0}, {0.5, 1}}}, {Class: "tooth", Circle: []float64{0.5, 0.5, 0.2}}}}}
		s.Drawing.Parts = append(s.Drawing.Parts, Part{ID: "a", Kind: "auger", W: 1, H: 1})
		return s
	}
	if p := auger().Problems(); len(p) > 0 {
		t.Fatalf("%+v", p)
	}
	for name, test := range map[string]struct {
		bend    func(*Sheet)
		rule    text.Rule
		pointer string
	}{
		"twice":               {func(s *Sheet) { s.Shapes = append(s.Shapes, s.Shapes[0]) }, RuleDuplicate, "/shapes/1/id"},
		"named as a drawn":    {func(s *Sheet) { s.Shapes[0].ID, s.Drawing.Parts[1].Kind = "seat", "seat" }, RuleDuplicate, "/shapes/0/id"},
		"over nothing":        {func(s *Sheet) { s.Shapes[0].Over = "moon" }, RuleUnknown, "/shapes/0/over"},
		"a part of no kind":   {func(s *Sheet) { s.Shapes[0].ID = "screw" }, RuleUnknown, "/drawing/parts/1/kind"},
		"both":                {func(s *Sheet) { s.Shapes[0].Strokes[0].Circle = []float64{0, 0, 1} }, RuleStroke, "/shapes/0/strokes/0"},
		"neither":             {func(s *Sheet) { s.Shapes[0].Strokes[0].Points = nil }, RuleStroke, "/shapes/0/strokes/0"},
		"a point of one":      {func(s *Sheet) { s.Shapes[0].Strokes[0].Points[1] = []float64{1} }, RuleStroke, "/shapes/0/strokes/0"},
		"a point far out":     {func(s *Sheet) { s.Shapes[0].Strokes[0].Points[1] = []float64{1, 2.1} }, RuleStroke, "/shapes/0/strokes/0"},
		"a circle of nothing": {func(s *Sheet) { s.Shapes[0].Strokes[1].Circle[2] = 0 }, RuleStroke, "/shapes/0/strokes/1"},
		"a circle far out":    {func(s *Sheet) { s.Shapes[0].Strokes[1].Circle[0] = -1.1 }, RuleStroke, "/shapes/0/strokes/1"},
	} {
		t.Run(name, func(t *testing.T) {
			s := auger()
			test.bend(s)
			if p := s.Problems(); len(p) == 0 || p[0].Reason.Rule != test.rule || p[0].Pointer != test.pointer {
				t.Errorf("%+v, want %s at %s", p, test.rule, test.pointer)
			}
		})
	}
}
