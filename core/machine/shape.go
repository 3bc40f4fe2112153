package machine

// How parts look from above: those that the program draws, and shapes that a sheet
// or a kit brings.

import "slices"

// Shape is how a kind of part looks, as strokes over the rectangle that a part
// of it fills.
type Shape struct {
	ID string `json:"id" jsonschema:"pattern=^[a-z][a-z0-9_]*$"`
	// Over is the drawn kind that it lies upon; left out, the frame.
	Over    string   `json:"over,omitempty"`
	Strokes []Stroke `json:"strokes" jsonschema:"minItems=1,maxItems=60"`
}

// Stroke is an outline, a line or a circle of a shape, in fractions of the part's
// rectangle: x to the right, y from the front backwards.
type Stroke struct {
	// Class is one of the house's: what it is made of, or a line.
	Class string `json:"class" jsonschema:"enum=metal,enum=shell,enum=plate,enum=block,enum=screen,enum=tyre,enum=cushion,enum=grip,enum=hoop,enum=tank,enum=muffler,enum=bristle,enum=lamp,enum=tread,enum=rib,enum=tooth,enum=rod"`
	// Points are joined in order, closed where the class is something that has an
	// inside.
	Points [][]float64 `json:"points,omitempty" jsonschema:"minItems=2,maxItems=60"`
	// Circle is its middle, and its radius in fractions of the shorter side.
	Circle []float64 `json:"circle,omitempty" jsonschema:"minItems=3,maxItems=3"`
}

// lineClasses are the classes of strokes that have no inside.
var lineClasses = []string{"tread", "rib", "tooth", "rod"}

// Line reports whether the stroke is a line, not the edge of something.
func (s Stroke) Line() bool { return slices.Contains(lineClasses, s.Class) }

// PartKinds lists the kinds of part that the program draws by itself, what lies
// above coming last.
func PartKinds() []string {
	return []string{"tow_bar", "wheel", "castor", "track", "main_broom", "side_broom", "chain_boom", "guide_bar", "deck", "feed_table", "frame",
		"footplate", "hopper", "rollers", "hitch", "engine", "drum", "chute", "saw_body", "bonnet", "muffler", "tank", "panel", "cab", "seat", "lever", "handle",
		"arm", "flail_head", "roll_bar", "lamp"}
}

// Shape is the sheet's own shape with this id.
func (s *Sheet) Shape(id string) (*Shape, bool) {
	for i := range s.Shapes {
		if s.Shapes[i].ID == id {
			return &s.Shapes[i], true
		}
	}
	return nil, false
}

// shapes checks that each part is of a kind there is, and each shape is one.
func (f *finder) shapes() {
	unique(f, "shapes", f.sheet.Shapes, func(s Shape) string { return s.ID })
	known := PartKinds()
	for i, s := range f.sheet.Shapes {
		if slices.Contains(PartKinds(), s.ID) {
			f.add(RuleDuplicate.Says(s.ID), "shapes", i, "id")
		}
		if s.Over != "" && !slices.Contains(PartKinds(), s.Over) {
			f.unknown(s.Over, "sheet.kind.part_kind", PartKinds(), "shapes", i, "over")
		}
		known = append(known, s.ID)
		for j, stroke := range s.Strokes {
			f.stroke(stroke, "shapes", i, "strokes", j)
		}
	}
	for i, p := range f.sheet.Drawing.Parts {
		if !slices.Contains(known, p.Kind) {
			f.unknown(p.Kind, "sheet.kind.part_kind", known, "drawing", "parts", i, "kind")
		}
	}
}

// beyond is how far a stroke may reach out of its part, in fractions of it.
const beyond = 1.0

func (f *finder) stroke(s Stroke, path ...any) {
	if (len(s.Points) > 0) == (len(s.Circle) > 0) || len(s.Circle) == 3 && s.Circle[2] <= 0 {
		f.add(RuleStroke.Says(), path...)
		return
	}
	within := func(v float64) bool { return v >= -beyond && v <= 1+beyond }
	for _, p := range s.Points {
		if len(p) != 2 || !within(p[0]) || !within(p[1]) {
			f.add(RuleStroke.Says(), path...)
			return
		}
	}
	for _, v := range s.Circle {
		if !within(v) {
			f.add(RuleStroke.Says(), path...)
			return
		}
	}
}
