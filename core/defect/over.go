package defect

// What findings come to together, and what of a machine's work they leave.

import (
	"time"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// Sum is what everything that stands against a machine comes to.
type Sum struct {
	Grade        Grade
	Restrictions []machine.Restriction
	// Deadline is the first of its Mends, hours and date each for itself.
	Deadline Deadline
}

// Over sums up findings as they are now: the worst grade, every restriction, the first
// deadline of a Mend. Hours are the machine's meter.
func Over(findings []Finding, hours float64, now time.Time) Sum {
	sum := Sum{Grade: Sound}
	for _, f := range findings {
		grade := f.GradeAt(hours, now)
		sum.Grade = Worse(sum.Grade, grade)
		sum.Restrictions = Union(sum.Restrictions, f.Restrictions)
		if grade == Mend {
			sum.Deadline = sum.Deadline.Earlier(f.Deadline)
		}
	}
	return sum
}

// Restricted is a restriction with the point that it comes of.
type Restricted struct {
	Point text.Text
	machine.Restriction
}

var (
	ruleNotBuilt   = text.NewRule("release.not_built_for", text.Slot{Name: "machine", Kind: text.Words})
	ruleRestricted = text.NewRule("release.restricted", text.Slot{Name: "point", Kind: text.Words}, text.Slot{Name: "restriction", Kind: text.Term})
	ruleTooSteep   = text.NewRule("use.too_steep", text.Slot{Name: "slope", Kind: text.Amount}, text.Slot{Name: "limit", Kind: text.Amount}, text.Slot{Name: "source", Kind: text.Term})
	rulePastHours  = text.NewRule("use.past_hours", text.Slot{Name: "hours", Kind: text.Amount}, text.Slot{Name: "left", Kind: text.Amount})
	rulePastDate   = text.NewRule("use.past_date", text.Slot{Name: "hours", Kind: text.Amount}, text.Slot{Name: "until", Kind: text.Moment})
)

// UseHours is the use that planned hours beyond a deadline refuse.
const UseHours = "hours"

// Refuses is why a machine may not be put to a job: it is not built for it, something
// that stands takes it away, or it is too steep.
func Refuses(sheet *machine.Sheet, standing []Restricted, job machine.Job) []text.Reason {
	use, ok := sheet.Use(job.Use)
	if !ok {
		return []text.Reason{ruleNotBuilt.Says(sheet.Name)}
	}
	var because []text.Reason
	for _, s := range standing {
		if s.Takes(job) {
			because = append(because, ruleRestricted.Says(s.Point, text.Key("restriction."+string(s.Restriction))))
		}
	}
	if !use.Bears(job) {
		degree, _ := unit.Find("°")
		of, _ := unit.Find(use.Unit)
		limit := *use.Limit
		if use.Up != nil {
			limit = min(limit, *use.Up)
		}
		because = append(because, ruleTooSteep.Says(text.Measure{Quantity: degree.Of(*job.Degrees), Unit: "°"},
			text.Measure{Quantity: of.Of(limit), Unit: use.Unit}, text.Key("source."+string(use.Source))))
	}
	return because
}

// Outlasts is why so many hours of work are too long for a deadline; ending on it is
// allowed. Meter is nil where none runs.
func (d Deadline) Outlasts(planned float64, meter *float64, now time.Time) []text.Reason {
	var because []text.Reason
	of := func(hours float64) text.Measure {
		hour, _ := unit.Find("h")
		return text.Measure{Quantity: hour.Of(hours), Unit: "h"}
	}
	if d.Hours != nil && meter != nil && *meter+planned > *d.Hours+equal {
		because = append(because, rulePastHours.Says(of(planned), of(max(0, *d.Hours-*meter))))
	}
	if d.At != nil && now.Add(time.Duration(planned*float64(time.Hour))).After(*d.At) {
		because = append(because, rulePastDate.Says(of(planned), *d.At))
	}
	return because
}
