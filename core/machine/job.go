package machine

// What a machine is meant to do today: a use, and on a slope how steep.

import (
	"math"
	"strconv"
	"strings"

	"vespers/core/unit"
)

// Job is a use that a machine is meant for, as one word: road, or slope:12.
type Job struct {
	Use string
	// Degrees is how steep it is, nil where that was not said.
	Degrees *float64
}

// flatBelow is what still counts as flat ground, in degrees (house rule).
const flatBelow = 3

// steepMost is the steepest that anybody means, in degrees.
const steepMost = 90

// alike is how far apart two angles may be and be the same, in degrees.
const alike = 1e-9

// ParseJob reads a job; ok is false for a use that is none, and for degrees of a use
// that has none.
func ParseJob(s string) (job Job, ok bool) {
	use, degrees, steep := strings.Cut(s, ":")
	for _, known := range Uses() {
		ok = ok || known == use
	}
	if !ok || !steep {
		return Job{Use: use}, ok
	}
	n, err := strconv.ParseFloat(degrees, 64)
	if err != nil || math.IsNaN(n) || n < 0 || n > steepMost || !Steep(use) {
		return Job{}, false
	}
	return Job{Use: use, Degrees: &n}, true
}

// Steep reports whether it is said of a use how steep.
func Steep(use string) bool { return use == "slope" || use == "wet_slope" }

// String is the job as ParseJob reads it.
func (j Job) String() string {
	if j.Degrees == nil {
		return j.Use
	}
	return j.Use + ":" + strconv.FormatFloat(*j.Degrees, 'f', -1, 64)
}

// Takes reports whether a restriction takes a job away. On ground that is all but
// flat, no slope is none.
func (r Restriction) Takes(j Job) bool {
	switch {
	case r == NoSlope && Steep(j.Use):
		return j.Degrees == nil || *j.Degrees >= flatBelow-alike
	default:
		return r.Forbids() == j.Use
	}
}

// Leaves reports whether restrictions leave a sheet any of its uses.
func (s *Sheet) Leaves(restrictions []Restriction) bool {
	for _, use := range s.Uses {
		left := true
		for _, r := range restrictions {
			left = left && !r.Takes(Job{Use: use.ID})
		}
		if left {
			return true
		}
	}
	return false
}

// Bears reports whether a use bears a job as steep as it is: less than its limit,
// whichever way the slope is taken.
func (u *Use) Bears(j Job) bool {
	if u.Limit == nil || j.Degrees == nil {
		return true
	}
	limit := *u.Limit
	if u.Up != nil {
		limit = min(limit, *u.Up)
	}
	of, _ := unit.Find(u.Unit)
	degree, _ := unit.Find("°")
	return *j.Degrees < degree.In(of.Of(limit))-alike
}
