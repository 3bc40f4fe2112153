package ground

// The readings of a zone as its file keeps them: what they were measured with, by whom and
// when stand beside them, for people.

import (
	"maps"
	"slices"
)

// Said is what stands beside a reading; "" is what nobody wrote.
type Said struct{ With, By, At string }

// readings are a zone's, and what is said of each; what somebody else wrote into the file
// and fits none says nothing.
func (f Feature) readings() (readings, said []any) {
	readings, _ = f.Properties()["readings"].([]any)
	said, _ = f.Properties()["measured"].([]any)
	if len(said) != len(readings) {
		said = make([]any, len(readings))
	}
	return readings, said
}

// having is the feature with these readings.
func (f Feature) having(readings, said []any) Feature {
	out, properties := maps.Clone(f), maps.Clone(f.Properties())
	properties["readings"], properties["measured"] = readings, said
	out["properties"] = properties
	return out
}

// Measured is a zone with another reading, and what is said of it.
func (f Feature) Measured(reading, said map[string]any) Feature {
	readings, all := f.readings()
	return f.having(append(slices.Clone(readings), reading), append(slices.Clone(all), said))
}

// Unmeasured is a zone without its reading n, from 0; ok is false where there is none.
func (f Feature) Unmeasured(n int) (Feature, bool) {
	readings, all := f.readings()
	if n < 0 || n >= len(readings) {
		return f, false
	}
	return f.having(slices.Delete(slices.Clone(readings), n, n+1), slices.Delete(slices.Clone(all), n, n+1)), true
}

// Said is what stands beside each reading of a zone.
func (f Feature) Said() (out []Said) {
	_, all := f.readings()
	for _, one := range all {
		m, _ := one.(map[string]any)
		word := func(w string) string { s, _ := m[w].(string); return s }
		out = append(out, Said{word("with"), word("by"), word("at")})
	}
	return out
}

// The angles at which a number that was typed may as well be degrees as per cent: a bank
// that anything is driven on.
const (
	doubtfulFrom = 3
	doubtfulTo   = 45
)

// TwoWays reports whether a number that was typed as degrees may have been meant as per
// cent, or the other way: 15 % is 8.5°, 15° is 27 %. Where a bank has been measured already
// and only what was typed fits to that, there is no doubt.
func TwoWays(way string, typed float64, others []Reading) bool {
	if way != ByAngle && way != ByPercent || typed < doubtfulFrom || typed > doubtfulTo {
		return false
	}
	as := func(kind string) float64 {
		deg, _ := Reading{Kind: kind, Up: Measured{Value: typed}}.Worst()
		return deg
	}
	meant, other := as(way), as(map[string]string{ByAngle: ByPercent, ByPercent: ByAngle}[way])
	var fits, otherFits bool
	for _, r := range others {
		if deg, ok := r.Worst(); ok {
			fits, otherFits = fits || near3(deg, meant), otherFits || near3(deg, other)
		}
	}
	return !fits || otherFits
}

// near3 reports whether two angles may be those of one bank, in degrees.
func near3(a, b float64) bool { return a-b <= 3 && b-a <= 3 }
