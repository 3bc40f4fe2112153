// Package trend tells whether readings grow or shrink, over days or over hours of
// work, in a way that one bad reading does not upset.
package trend

import "slices"

// Point is one reading: when, in days or hours from any fixed beginning, and what.
type Point struct{ At, Value float64 }

// Line is a straight line through readings.
type Line struct {
	Slope float64 // per day, or per hour
	Base  float64 // at 0
}

// Least is how few points a line is drawn through.
const Least = 4

// Fit is Through for readings over days: ok is false with fewer than Least points.
func Fit(points []Point) (line Line, ok bool) {
	if len(points) < Least {
		return line, false
	}
	return Through(points)
}

// Through is the line of Theil and Sen: the median of the slopes between all pairs
// of points, through the median of what is left. ok is false where all of them are
// of one moment.
func Through(points []Point) (line Line, ok bool) {
	var slopes []float64
	for i, p := range points {
		for _, q := range points[:i] {
			if p.At != q.At {
				slopes = append(slopes, (p.Value-q.Value)/(p.At-q.At))
			}
		}
	}
	if len(slopes) == 0 {
		return line, false
	}
	line.Slope = median(slopes)
	left := make([]float64, len(points))
	for i, p := range points {
		left[i] = p.Value - line.Slope*p.At
	}
	line.Base = median(left)
	return line, true
}

// Value is the line's value at a moment.
func (l Line) Value(at float64) float64 { return l.Base + l.Slope*at }

// Median is the middle of values, between the two in the middle where they are even; of
// none it is 0.
func Median(values []float64) float64 {
	if len(values) == 0 {
		return 0
	}
	return median(slices.Clone(values))
}

func median(values []float64) float64 {
	slices.Sort(values)
	n := len(values)
	if n%2 == 1 {
		return values[n/2]
	}
	return (values[n/2-1] + values[n/2]) / 2
}
