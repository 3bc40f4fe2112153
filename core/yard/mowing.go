package yard

// The direction in which fine turf is mown: another one each day that it is mown, so
// that no grass learns to lie down and no wheel wears the same track (house rule).

import (
	"time"

	"vespers/core/outing"
)

// Mowing is on how many days fine turf was mown so far, and the last of them.
type Mowing struct {
	Days int
	Last time.Time // the end of that day, zero if never
}

// Direction is a line across the face of a clock that lies on the map, twelve being
// north; the pass along the edge goes with its hands, or against them.
type Direction struct {
	ID        string // 12_6, 3_9, 1_7, 10_4
	Degrees   int    // from twelve, the way the hands go
	Clockwise bool   // the pass along the edge
}

// turns are the directions one after the other: each lies across the one before.
var turns = []Direction{{ID: "12_6"}, {ID: "3_9", Degrees: 90}, {ID: "1_7", Degrees: 45}, {ID: "10_4", Degrees: 135}}

// On is the direction of a day, given by its end; ok is false for a day that is past and
// was not the last.
func (m Mowing) On(day time.Time) (d Direction, ok bool) {
	n := m.Days
	switch {
	case day.IsZero() || day.Before(m.Last):
		return d, false
	case day.Equal(m.Last):
		n--
	}
	d = turns[n%len(turns)]
	d.Clockwise = n%2 == 0
	return d, true
}

// MowsFineTurf reports whether an outing that was let out mows fine turf: it is cleared
// for it, and what it is named after does mow.
func MowsFineTurf(o *outing.Outing) bool {
	if o.Verdict == nil || o.Until.IsZero() || !mows(o.Main().Sheet.Family) {
		return false
	}
	for _, c := range o.Verdict.Cleared {
		if c.Use == "fine_turf" {
			return true
		}
	}
	return false
}

// mows reports whether a family cuts turf: those that have a rule for the first pass.
func mows(family string) bool {
	for _, q := range Kept(family, "work") {
		if q.ID == "first_pass" {
			return true
		}
	}
	return false
}
