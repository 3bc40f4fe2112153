package operator

import (
	"fmt"
	"math"
	"testing"
)

func TestExposure(t *testing.T) {
	near := func(a, b float64) bool { return math.Abs(a-b) < 0.01 }
	for _, test := range []struct {
		minutes, vibration, noise float64
		want                      Exposure
	}{
		{480, 2.5, 85, Exposure{1, 1}},
		{240, 2.5, 88, Exposure{0.5, 1}},
		{120, 5, 91, Exposure{1, 1}},
		{60, 0, 0, Exposure{}},
	} {
		t.Run(fmt.Sprint(test.minutes, " ", test.vibration, " ", test.noise), func(t *testing.T) {
			if got := At(test.minutes, test.vibration, test.noise); !near(got.Vibration, test.want.Vibration) || !near(got.Noise, test.want.Noise) {
				t.Errorf("%v min at %v m/s² and %v dB: %+v, want %+v", test.minutes, test.vibration, test.noise, got, test.want)
			}
		})
	}
	action, limit := At(60, 5, 0).Minutes(5)
	if !near(action, 60) || !near(limit, 420) {
		t.Errorf("left at 5 m/s² after an hour of it: %v and %v min", action, limit)
	}
	if action, _ := At(480, 5, 0).Minutes(5); action != 0 {
		t.Errorf("past the action value: %v min", action)
	}
	if action, _ := (Exposure{}).Minutes(0); !math.IsInf(action, 1) {
		t.Errorf("a machine that does not shake: %v min", action)
	}
}

// TestSlight: what a whole day more does not bring to the action value is not
// spoken of.
func TestSlight(t *testing.T) {
	for _, c := range []struct {
		spent, vibration float64
		want             bool
	}{{0, 2.5, true}, {0, 2.51, false}, {0.1, 2.5, false}, {0.9, 0.5, true}, {1, 0.1, false}, {0, 0, true}} {
		t.Run(fmt.Sprint(c.spent, " ", c.vibration), func(t *testing.T) {
			if got := (Exposure{Vibration: c.spent}).Slight(c.vibration); got != c.want {
				t.Errorf("%v m/s² after %v of the day is slight: %v", c.vibration, c.spent, got)
			}
		})
	}
}

func TestNoiseMinutes(t *testing.T) {
	for _, test := range []struct{ spent, noise, want float64 }{
		{0, 85, 480}, {0, 88, 240}, {0.5, 88, 120}, {1.2, 100, 0}, {0, 103, 7.5},
	} {
		t.Run(fmt.Sprint(test.spent, " ", test.noise), func(t *testing.T) {
			if got := (Exposure{Noise: test.spent}).NoiseMinutes(test.noise); math.Abs(got-test.want) > 1e-9 {
				t.Errorf("%v dB after %v of the day: %v minutes, want %v", test.noise, test.spent, got, test.want)
			}
		})
	}
	if !math.IsInf(Exposure{}.NoiseMinutes(0), 1) {
		t.Error("a silent machine has a limit")
	}
}
