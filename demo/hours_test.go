package demo_test

import (
	"testing"
	"time"

	"vespers/demo"
)

// TestTheDemoBeginsAtAnyHour: the yard's day turns at four, and nothing of the demo is
// void because it was started near that.
func TestTheDemoBeginsAtAnyHour(t *testing.T) {
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	now := time.Now().In(zone)
	for _, at := range []int{3*60 + 20, 3*60 + 45, 4*60 + 5} {
		h, m := at/60, at%60
		moment := time.Date(now.Year(), now.Month(), now.Day()-1, h, m, 0, 0, zone)
		if err := demo.Fill(t.Context(), yard(t), moment); err != nil {
			t.Errorf("at %02d:%02d: %v", h, m, err)
		}
	}
}
