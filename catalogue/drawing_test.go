package catalogue

import (
	"testing"

	"vespers/core/machine"
	"vespers/draw"
)

// TestEveryKindOfPartIsDrawn: what the schema allows in a drawing shows.
func TestEveryKindOfPartIsDrawn(t *testing.T) {
	for _, kind := range machine.PartKinds() {
		sheet := &machine.Sheet{Drawing: machine.Drawing{Length: 2, Width: 1, Parts: []machine.Part{{ID: "p", Kind: kind, X: 0.2, Y: 0.2, W: 0.6, H: 0.9}}}}
		if len(draw.Machine(sheet).Shapes) == 0 {
			t.Errorf("a %s is not drawn", kind)
		}
	}
}
