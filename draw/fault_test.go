package draw_test

import (
	"fmt"
	"testing"

	"vespers/core/machine"
	"vespers/draw"
)

// TestFaultPictures: every look there is has one for each extent, no two alike and none
// outside its frame.
func TestFaultPictures(t *testing.T) {
	seen := map[string]string{}
	for _, look := range machine.Looks() {
		for _, e := range []machine.Extent{machine.Early, machine.Degraded, machine.Lost} {
			s, ok := draw.FaultPicture(machine.Fault{Looks: look, Extent: e})
			if !ok || len(s.Shapes) == 0 {
				t.Errorf("no picture of %s, %s", look, e)
			}
			key := fmt.Sprint(s.Shapes)
			if other, twice := seen[key]; twice {
				t.Errorf("%s, %s looks like %s", look, e, other)
			}
			seen[key] = look + " " + string(e)
			for _, shape := range s.Shapes {
				if shape.Kind == "rect" && (shape.X < 0 || shape.Y < 0 || shape.X+shape.W > s.W || shape.Y+shape.H > s.H) {
					t.Errorf("%s, %s: %+v is outside", look, e, shape)
				}
			}
		}
	}
	hose, ok := draw.FaultPicture(machine.Fault{Looks: "leak", Extent: machine.Early, HoseBody: true})
	if _, twice := seen[fmt.Sprint(hose.Shapes)]; !ok || twice {
		t.Error("a hose that is wet itself looks like a fitting")
	}
	if _, ok := draw.FaultPicture(machine.Fault{Extent: machine.Lost}); ok {
		t.Error("a fault that names no look has a picture")
	}
}
