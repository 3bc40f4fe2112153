package tell

// What is due, in words.

import (
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/yard"
	"vespers/say"
)

// Due says why a point is due, and since when.
func Due(v *say.Voice, d yard.Due, now time.Time) string {
	words := v.T("due." + string(d.State))
	if d.Keeps() {
		words = v.T("due.keeps")
	}
	if d.Last == nil {
		return words + " " + v.T("due.never")
	}
	return words + " " + v.T("due.last", "when", v.When(d.Last.At, now), "hours", v.Number(d.Last.Hours, 1))
}

// Every says how often a point is looked at.
func Every(v *say.Voice, every *machine.Interval) string {
	if every == nil {
		return v.T("every.use")
	}
	var parts []string
	switch every.Days {
	case 0:
	case 1:
		parts = append(parts, v.T("every.day"))
	case 7:
		parts = append(parts, v.T("every.week"))
	default:
		parts = append(parts, v.T("every.days", "n", every.Days))
	}
	if every.Hours > 0 {
		parts = append(parts, v.T("every.hours", "hours", v.Number(every.Hours, 1)))
	}
	if every.Months > 0 {
		parts = append(parts, v.T("every.months", "n", every.Months))
	}
	if every.FirstHours > 0 {
		parts = append(parts, v.T("every.first_hours", "hours", v.Number(every.FirstHours, 1)))
	}
	for _, event := range every.After {
		parts = append(parts, v.T("every.after."+event))
	}
	return strings.Join(parts, ", ")
}

// WhoLooks names who a point is for.
func WhoLooks(v *say.Voice, c *machine.Check) string { return v.T("who." + c.WhoLooks()) }
