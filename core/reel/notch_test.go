package reel_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"vespers/core/reel"
)

// TestSet: the worked cases, by hand.
func TestSet(t *testing.T) {
	for name, c := range map[string]struct {
		unit reel.Unit
		want reel.Plan
	}{
		"two up":         {reel.Unit{Left: 10, Right: 10, Want: 13, Notch: 1.5}, reel.Plan{Left: reel.Side{Notches: 2}, Right: reel.Side{Notches: 2}}},
		"one down, rest": {reel.Unit{Left: 12, Right: 12.25, Want: 10.25, Notch: 1.5, Front: 4, Rear: 4}, reel.Plan{Left: reel.Side{Notches: -1, Nut: -0.25}, Right: reel.Side{Notches: -1, Nut: -0.5}}},
		"the nut alone":  {reel.Unit{Left: 10, Right: 10.5, Want: 10.25, Notch: 1.5}, reel.Plan{Left: reel.Side{Nut: 0.25}, Right: reel.Side{Nut: -0.25}}},
		"front too high": {reel.Unit{Left: 10, Right: 10, Want: 10, Notch: 1, Front: 7, Rear: 4}, reel.Plan{FrontRear: -2}},
		"front too low":  {reel.Unit{Left: 10, Right: 10, Want: 10, Notch: 1, Front: 2, Rear: 4}, reel.Plan{FrontRear: 1}},
		"within one":     {reel.Unit{Left: 10, Right: 10, Want: 10, Notch: 1, Front: 3, Rear: 4}, reel.Plan{}},
	} {
		if got, ok := c.unit.Set(); !ok || got != c.want {
			t.Errorf("%s: %+v, %v", name, got, ok)
		}
	}
	for _, u := range []reel.Unit{{Left: 0, Right: 1, Want: 1, Notch: 1}, {Left: 1, Right: -1, Want: 1, Notch: 1}, {Left: 1, Right: 1, Want: math.NaN(), Notch: 1}, {Left: 1, Right: 1, Want: 1}, {Left: 1, Right: 1, Want: math.Inf(1), Notch: 1}} {
		if _, ok := u.Set(); ok {
			t.Errorf("%+v is planned", u)
		}
	}
}

// TestWhatIsMovedIsWhatIsWanted: moved so, each end is at the height, the nut never makes
// up for more than half a notch, and front and rear are within one.
func TestWhatIsMovedIsWhatIsWanted(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 7))
	for range 5000 {
		u := reel.Unit{Left: 2 + 30*random.Float64(), Right: 2 + 30*random.Float64(), Want: 2 + 30*random.Float64(), Notch: 0.2 + 3*random.Float64(), Front: random.IntN(12), Rear: random.IntN(12)}
		p, ok := u.Set()
		if !ok {
			t.Fatalf("%+v", u)
		}
		for now, side := range map[float64]reel.Side{u.Left: p.Left, u.Right: p.Right} {
			if got := now + float64(side.Notches)*u.Notch + side.Nut; math.Abs(got-u.Want) > 1e-9 || math.Abs(side.Nut) > u.Notch/2+1e-9 {
				t.Fatalf("%+v: %+v", u, p)
			}
		}
		if apart := u.Front + p.FrontRear - u.Rear; apart > 1 || apart < -1 {
			t.Fatalf("%+v: %+v", u, p)
		}
	}
}
