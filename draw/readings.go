package draw

// Readings over hours of work, between their limits.

import (
	"slices"

	"vespers/core/trend"
)

// Readings draws values over hours: dots, the line through them if there are enough,
// and each limit as a dashed line.
func Readings(points []trend.Point, limits []float64) Scene {
	const w, h = 220.0, 70.0
	s := Scene{W: w, H: h}
	if len(points) == 0 {
		return s
	}
	values := slices.Clone(limits)
	first, last := points[0].At, points[0].At
	for _, p := range points {
		values = append(values, p.Value)
		first, last = min(first, p.At), max(last, p.At)
	}
	low, high := slices.Min(values), slices.Max(values)
	x := func(at float64) float64 { return 6 + (w-12)*(at-first)/max(1e-9, last-first) }
	y := func(v float64) float64 { return h - 8 - (h-16)*(v-low)/max(1e-9, high-low) }
	for _, l := range limits {
		s.line("trend-limit", 0, y(l), w, y(l))
	}
	if line, ok := trend.Through(points); ok && len(points) >= 3 {
		s.line("trend-line", x(first), y(line.Value(first)), x(last), y(line.Value(last)))
	}
	for _, p := range points {
		s.circle("trend-dot", x(p.At), y(p.Value), 3)
	}
	return s
}
