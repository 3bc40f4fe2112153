// Package trend tells whether readings taken over days grow or shrink, in a way
// that one bad reading does not upset.
package trend

import "slices"

// Point is one reading: when, in days from any fixed beginning, and what.
type Point struct{ Day, Value float64 }

// Line is a straight line through readings.
type Line struct {
	Slope float64 // per day
	Base  float64 // at day 0
}

// Least is how few points a line is drawn through.
const Least = 4

// Fit is the line of Theil and Sen: the median of the slopes between all pairs
// of points, through the median of what is left. ok is false with fewer than
// Least points or all of them on one day.
func Fit(points []Point) (line Line, ok bool) {
	if len(points) < Least {
		return line, false
	}
	var slopes []float64
	for i, p := range points {
		for _, q := range points[:i] {
			if p.Day != q.Day {
				slopes = append(slopes, (p.Value-q.Value)/(p.Day-q.Day))
			}
		}
	}
	if len(slopes) == 0 {
		return line, false
	}
	line.Slope = median(slopes)
	left := make([]float64, len(points))
	for i, p := range points {
		left[i] = p.Value - line.Slope*p.Day
	}
	line.Base = median(left)
	return line, true
}

// At is the line's value on a day.
func (l Line) At(day float64) float64 { return l.Base + l.Slope*day }

func median(values []float64) float64 {
	slices.Sort(values)
	n := len(values)
	if n%2 == 1 {
		return values[n/2]
	}
	return (values[n/2-1] + values[n/2]) / 2
}
