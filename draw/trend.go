package draw

// Readings over time.

import "vespers/core/trend"

// Trend draws readings over days below a limit: dots, the line through them if
// there is one, and the limit as a dashed line.
func Trend(points []trend.Point, limit float64) Scene {
	const w, h = 220.0, 56.0
	s := Scene{W: w, H: h}
	last, most := 1.0, limit
	for _, p := range points {
		last, most = max(last, p.At), max(most, p.Value)
	}
	x := func(day float64) float64 { return 6 + (w-12)*day/last }
	y := func(value float64) float64 { return h - 6 - (h-14)*value/most }
	s.line("trend-limit", 0, y(limit), w, y(limit))
	if line, ok := trend.Fit(points); ok {
		s.line("trend-line", x(0), y(line.Value(0)), x(last), y(line.Value(last)))
	}
	for _, p := range points {
		s.circle("trend-dot", x(p.At), y(p.Value), 3)
	}
	return s
}
