package catalogue

import (
	"strings"
	"testing"

	"vespers/core/machine"
)

// TestWhatIsToldOnIsSaid: where a step of what is pulled stops it, or sets its brake, what
// pulls it is told that it stands braked. So the step says so, in both languages.
func TestWhatIsToldOnIsSaid(t *testing.T) {
	all, err := All()
	if err != nil {
		t.Fatal(err)
	}
	pulled, rides := 0, 0
	see := func(r machine.Sheet, where string, steps []machine.Step) {
		for _, s := range steps {
			if s.Makes["transport"] != "no" && s.Makes["brake"] != "set" || s.Makes["place"] == "outdoors" {
				continue
			}
			jack := strings.Contains(s.Do.EN, "Jack down") || strings.Contains(s.Do.EN, "jack down")
			if !strings.Contains(strings.ToLower(s.Do.EN), "brake") && !jack || !strings.Contains(strings.ToLower(s.Do.ES), "fren") && !jack {
				t.Errorf("%s %s/%s: %s", r.ID, where, s.ID, s.Do.EN)
			}
		}
	}
	for _, r := range all {
		if r.Sheet.Rides() {
			rides++
		}
		if r.Sheet.Towed == nil {
			continue
		}
		pulled++
		for _, p := range r.Sheet.Procedures {
			see(*r.Sheet, p.ID, p.Steps)
		}
		for _, e := range r.Sheet.Events {
			see(*r.Sheet, e.ID, e.Steps)
		}
	}
	if pulled < 4 || rides < 10 {
		t.Errorf("%d are pulled, %d ride", pulled, rides)
	}
}
