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
	places := told(r, u)
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

// told is how many decimals the reading's instrument tells apart in a unit.
func told(r *machine.Reading, u unit.Unit) int {
	if step := u.Steps(r.UnitOf().Span(r.Uncertainty)); step > 0 {
		return max(0, int(math.Ceil(-math.Log10(step)-1e-9)))
	}
	return u.Decimals
}

// Inside is a limit as it is written beside a scale in a unit: to as many decimals
// as the instrument tells apart, and where that is not exact on the safe side of
// it, so that what keeps to what is written keeps to the limit.
func Inside(r *machine.Reading, limit float64, u unit.Unit, low bool) (shown float64, places int) {
	places = told(r, u)
	exact, scale := u.In(r.Measure(limit).Quantity), math.Pow10(places)
	shown = math.Round(exact*scale) / scale
	switch off := shown - exact; {
	case math.Abs(off) < 1e-9*math.Max(1, math.Abs(exact)):
	case low && off < 0:
		shown = math.Ceil(exact*scale) / scale
	case !low && off > 0:
		shown = math.Floor(exact*scale) / scale
	}
	return shown, places
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
		if math.Abs(at.Value-q.Value) > slack(r.UnitOf()) && rounded(u.In(at), places) == rounded(u.In(q), places) {
			return true
		}
	}
	return false
}
