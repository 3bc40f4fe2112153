package defect

// Where a reading leads: when it comes to its limit, if it goes on as it did.

import (
	"math"
	"slices"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/trend"
	"vespers/core/unit"
)

const (
	// trendHours is how many hours of work ahead a crossing makes a Mend (house rule).
	trendHours = 10
	// A line is drawn through so few readings at least, over so many hours.
	trendLeast = 3
	trendSpan  = 5
)

// Crossing is where the line through readings comes to a limit.
type Crossing struct {
	Left  float64 // hours of work from now, 0 where the line is past it
	Limit text.Measure
	// Wear: by the sheet's rate of wear, for want of readings.
	Wear bool
}

// trend is a finding with where its reading leads.
func (s Seen) trend(f Finding) Finding {
	if s.Reading == nil || f.Extent == machine.Lost || f.Grade == Halt {
		return f
	}
	at, ok := s.Crossing()
	if !ok || at.Left > trendHours+equal {
		return f
	}
	rule := ruleTrend
	if at.Wear {
		rule = ruleTrendWear
	}
	hour, _ := unit.Find("h")
	says := rule.Says(text.Measure{Quantity: hour.Of(at.Left), Unit: "h"}, at.Limit)
	if f.Grade == Mend {
		f.Reasons = append(slices.Clip(f.Reasons), says)
	} else {
		f.Grade, f.Reasons = Mend, append([]text.Reason{says}, f.Reasons...)
	}
	if s.haltsPast() {
		f.Deadline = f.Deadline.Earlier(s.In.inHours(at.Left))
	}
	return f
}

// haltsPast reports whether the reading, past its limit, is a Halt. Elsewhere a
// crossing sets no deadline: going would be worse than gone.
func (s Seen) haltsPast() bool {
	return cell(s.Check, s.Check.Class, machine.Lost, s.In).Grade == Halt
}

// Crossing is where the reading comes to a limit, if it moves towards one: the line
// through what was read since the part was new, or its rate of wear. Where a doubt
// counts, the worse side of the reading's uncertainty meets the limit.
func (s Seen) Crossing() (Crossing, bool) {
	line, wear, ok := s.line()
	if !ok || s.Reading.Limits == nil {
		return Crossing{}, false
	}
	u := s.Reading.UnitOf()
	doubt := 0.0
	if decides(s.Check, s.Reading) {
		doubt = u.Span(s.Reading.Uncertainty)
	}
	first, found := Crossing{Wear: wear}, false
	for _, side := range []struct {
		limit *float64
		sign  float64
	}{{s.Reading.Limits.Low, 1}, {s.Reading.Limits.High, -1}} {
		if side.limit == nil || line.Slope*side.sign >= 0 {
			continue
		}
		limit := s.Reading.Measure(*side.limit)
		left := math.Max(0, (limit.Quantity.Value+side.sign*doubt-line.Base)/line.Slope-s.now())
		if !found || left < first.Left {
			first.Left, first.Limit, found = left, limit, true
		}
	}
	return first, found
}

// now is the meter as the line counts it: where none runs, from nothing.
func (s Seen) now() float64 {
	if s.In.NoMeter {
		return 0
	}
	return s.In.Hours
}

// line is the line that a reading follows over hours of work, in SI.
func (s Seen) line() (line trend.Line, wear, ok bool) {
	if points := s.Series(); s.spans(points) {
		line, ok = trend.Through(points)
		return line, false, ok
	}
	if s.Reading.Wear == nil {
		return line, false, false
	}
	line.Slope = s.Reading.UnitOf().Span(*s.Reading.Wear)
	line.Base = s.Value.Quantity.Value - line.Slope*s.now()
	return line, true, true
}

// spans reports whether readings are enough to draw a line through.
func (s Seen) spans(points []trend.Point) bool {
	if s.In.NoMeter || len(points) < trendLeast {
		return false
	}
	first, last := points[0].At, points[0].At
	for _, p := range points {
		first, last = min(first, p.At), max(last, p.At)
	}
	return last-first >= trendSpan-equal
}

// Series is what was read since the part was new, over hours, with what is read now
// last. In SI.
func (s Seen) Series() []trend.Point {
	var points []trend.Point
	for _, kept := range s.In.Series {
		if u, ok := unit.Find(kept.Unit); ok && kept.Check == s.Check.ID && kept.Item == s.Item && u.Dimension == s.Value.Quantity.Dimension {
			for _, r := range kept.Points {
				points = append(points, trend.Point{At: r.Hours, Value: u.Of(r.Value).Value})
			}
		}
	}
	if s.In.Series != nil { // kept apart: what came before says the same once more
		return append(points, trend.Point{At: s.In.Hours, Value: s.Value.Quantity.Value})
	}
	for _, p := range s.In.History {
		switch {
		case p.Check != s.Check.ID:
		case p.Work == Replaced && (p.Item == "" || p.Item == s.Item):
			points = nil
		case p.Value != nil && p.Item == s.Item && p.Hours != nil && p.Value.Quantity.Dimension == s.Value.Quantity.Dimension:
			points = append(points, trend.Point{At: *p.Hours, Value: p.Value.Quantity.Value})
		}
	}
	return append(points, trend.Point{At: s.In.Hours, Value: s.Value.Quantity.Value})
}
