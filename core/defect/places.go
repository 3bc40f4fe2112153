package defect

// How exactly a reading is shown.

import (
	"math"
	"strconv"

	"vespers/core/machine"
	"vespers/core/unit"
)

// placesMore is how many decimals more than its instrument tells apart a reading
// is shown with at most.
const placesMore = 6

// Places is how many decimals a value of a reading is shown with in a unit: as
// few as its instrument tells apart, and as many as it takes that what is shown,
// typed back, means the same and is not taken for a limit that it is not. The
// reading's limits are those of the day.
func Places(c *machine.Check, r *machine.Reading, q unit.Quantity, u unit.Unit) int {
	places := u.Decimals
	if step := u.Steps(r.UnitOf().Span(r.Uncertainty)); step > 0 {
		places = max(0, int(math.Ceil(-math.Log10(step)-1e-9)))
	}
	meant, _ := ExtentOf(c, r, q)
	for most := places + placesMore; places < most; places++ {
		back := u.Of(rounded(u.In(q), places))
		extent, _ := ExtentOf(c, r, back)
		if extent == meant && !mistaken(r, q, u, places) {
			return places
		}
	}
	return places
}

// rounded is a value as it is read back after it was written with some places.
func rounded(value float64, places int) float64 {
	back, _ := strconv.ParseFloat(strconv.FormatFloat(value, 'f', places, 64), 64)
	return back
}

// mistaken reports whether a value that is no limit would look like one.
func mistaken(r *machine.Reading, q unit.Quantity, u unit.Unit, places int) bool {
	if r.Limits == nil {
		return false
	}
	for _, limit := range []*float64{r.Limits.Low, r.Limits.High} {
		if limit == nil {
			continue
		}
		at := r.Measure(*limit).Quantity
		if math.Abs(at.Value-q.Value) > slack(q.Value) && rounded(u.In(at), places) == rounded(u.In(q), places) {
			return true
		}
	}
	return false
}
