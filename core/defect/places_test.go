package defect_test

import (
	"math"
	"testing"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/unit"
)

// TestWhatIsShownMeansTheSame: every reading of every sheet, at and around its
// limits, in both systems of units: what is shown, typed back, has the same
// extent, and shows a limit only where it is one.
func TestWhatIsShownMeansTheSame(t *testing.T) {
	seen := 0
	see := func(c *machine.Check, r *machine.Reading) {
		own := r.UnitOf()
		for _, limit := range []*float64{r.Limits.Low, r.Limits.High} {
			if limit == nil {
				continue
			}
			for _, off := range []float64{0, 0.004, 0.03, 0.2, 0.5, 0.93, 1.1, 2.2, 3.3} {
				for _, sign := range []float64{-1, 1} {
					value := own.Of(*limit + sign*off*math.Max(r.Uncertainty, 0.1))
					for _, system := range []unit.System{unit.Metric, unit.US} {
						u := own.For(system)
						places := defect.Places(c, r, value, u)
						shown := u.FormatTo(value, places, ".")
						back, _, err := unit.Parse(shown, u)
						if err == unit.ErrTwoWays { // a comma would say it
							continue
						}
						if err != nil {
							t.Fatalf("%s %s: %q: %v", c.ID, r.ID, shown, err)
						}
						meant, _ := defect.ExtentOf(c, r, value)
						if read, _ := defect.ExtentOf(c, r, back); read != meant {
							t.Errorf("%s %s: %v %s is %s, shown as %s it is %s", c.ID, r.ID, own.In(value), own.Symbol, meant, shown, read)
						}
						if edge := u.FormatTo(own.Of(*limit), places, "."); off > 0 && edge == shown {
							t.Errorf("%s %s: %v %s looks like its limit, %s", c.ID, r.ID, own.In(value), own.Symbol, shown)
						}
						if places > 5 {
							t.Errorf("%s %s: %s has %d decimals", c.ID, r.ID, shown, places)
						}
						seen++
					}
				}
			}
		}
	}
	for _, s := range machinetest.All(t) {
		for i := range s.Sheet.Checks {
			c := &s.Sheet.Checks[i]
			readings := c.Readings
			if c.Spot != nil {
				readings = append(readings, *c.Spot)
			}
			for j := range readings {
				r := &readings[j]
				if r.Limits == nil {
					continue
				}
				for _, wet := range []float64{0, 0.5, 1} {
					see(c, r.Under(map[string]float64{"soil_wetness": wet}))
				}
			}
		}
	}
	if seen < 1000 {
		t.Errorf("only %d values were looked at", seen)
	}
}

// TestALimitIsWrittenOnItsSafeSide, no longer than the instrument reads.
func TestALimitIsWrittenOnItsSafeSide(t *testing.T) {
	inch, _ := unit.Find("in")
	for name, test := range map[string]struct {
		limit, uncertainty float64 // mm
		low                bool
		want               float64
		places             int
	}{
		"a low one goes up":         {18, 1, true, 0.71, 2},
		"a high one goes down":      {18, 1, false, 0.70, 2},
		"a finer instrument":        {18, 0.1, true, 0.709, 3},
		"exact stays":               {25.4, 1, true, 1, 2},
		"exact stays, a high one":   {50.8, 1, false, 2, 2},
		"a low one rounded up":      {19.2, 1, true, 0.76, 2},
		"a high one rounded down":   {19.2, 1, false, 0.75, 2},
		"none smaller than nothing": {0, 1, true, 0, 2},
	} {
		t.Run(name, func(t *testing.T) {
			r := &machine.Reading{Unit: "mm", Uncertainty: test.uncertainty}
			got, places := defect.Inside(r, test.limit, inch, test.low)
			if math.Abs(got-test.want) > 1e-12 || places != test.places {
				t.Errorf("%v to %d places, want %v to %d", got, places, test.want, test.places)
			}
		})
	}
}
