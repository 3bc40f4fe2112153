package defect

import "testing"

// TestNear: from nothing, a season of work ahead, to one, and no more where it is there.
func TestNear(t *testing.T) {
	for left, want := range map[float64]float64{0: 1, -3: 1, 125: 0.5, 250: 0} {
		if near, soon := Near(left); near != want || !soon {
			t.Errorf("%g hours: %g %v", left, near, soon)
		}
	}
	if _, soon := Near(251); soon {
		t.Error("farther than is told")
	}
}
