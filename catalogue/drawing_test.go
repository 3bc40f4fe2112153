package catalogue

import (
	"regexp"
	"strconv"
	"strings"
	"testing"

	"vespers/core/machine"
	"vespers/draw"
)

// TestEveryKindOfPartIsDrawn: what the schema allows in a drawing shows.
func TestEveryKindOfPartIsDrawn(t *testing.T) {
	kinds := regexp.MustCompile(`"kind": \{\s*"type": "string",\s*"enum": \[([^\]]*"frame"[^\]]*)\]`).FindSubmatch(Schema())
	if kinds == nil {
		t.Fatal("the schema lists no kinds of part")
	}
	for _, quoted := range strings.Split(string(kinds[1]), ",") {
		kind, err := strconv.Unquote(strings.TrimSpace(quoted))
		if err != nil {
			t.Fatal(err)
		}
		sheet := &machine.Sheet{Drawing: machine.Drawing{Length: 2, Width: 1, Parts: []machine.Part{{ID: "p", Kind: kind, X: 0.2, Y: 0.2, W: 0.6, H: 0.9}}}}
		if len(draw.Machine(sheet).Shapes) == 0 {
			t.Errorf("a %s is not drawn", kind)
		}
	}
}
