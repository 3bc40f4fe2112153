package demo_test

import (
	"testing"
	"time"

	"vespers/demo"
	"vespers/store"
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
		s := yard(t)
		if err := demo.Fill(t.Context(), s, moment); err != nil {
			t.Errorf("at %02d:%02d: %v", h, m, err)
		}
		err := s.FindAnswers(t.Context(), store.Filter{}, func(a store.Answer) error {
			if a.At.After(moment) {
				t.Fatalf("at %02d:%02d: something was answered at %v", h, m, a.At)
			}
			return nil
		})
		if err != nil {
			t.Error(err)
		}
	}
}

// TestALargeYardAtAnyHour: its last day does not go over the turn of the yard's day.
func TestALargeYardAtAnyHour(t *testing.T) {
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		t.Fatal(err)
	}
	now := time.Now().In(zone)
	for _, at := range []int{3*60 + 20, 4*60 + 5, 7*60 + 20, 12 * 60} {
		s := yard(t)
		moment := time.Date(now.Year(), now.Month(), now.Day()-1, at/60, at%60, 0, 0, zone)
		size := demo.Size{Machines: 30, OutingsADay: 60, Days: 2}
		if err := demo.Generate(t.Context(), s, size, moment, func(int) {}); err != nil {
			t.Errorf("at %02d:%02d: %v", at/60, at%60, err)
		}
	}
}
