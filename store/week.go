package store

// A week of the yard in numbers, for its leads.

import (
	"context"
	"time"
)

// Stop is how often a machine came to a Halt, and how much was found on it at all.
type Stop struct {
	Machine, Name string
	Halts, Found  int
}

// Morning is how long an outing took from when it was begun until it was let out.
type Morning struct {
	Machine, Name string
	Minutes       float64
}

// Lately is a point that was called sound and found at fault by the next look.
type Lately struct {
	Machine, Name, Sheet, Point string
	Times                       int
}

// Filled is how much went into a machine.
type Filled struct {
	Machine, Name, Sheet string
	Litres               float64
	Fills                int
}

// Stops are the machines on which anything was found between two moments, what came to a
// Halt most often first.
func (s *Store) Stops(ctx context.Context, from, to time.Time) ([]Stop, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT d.machine, m.name, sum(d.grade='halt'), count(*) FROM defect d JOIN machine m ON m.id=d.machine WHERE d.found_at>=? AND d.found_at<? GROUP BY d.machine ORDER BY 3 DESC, 4 DESC, m.name", from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (one Stop, err error) { return one, r.Scan(&one.Machine, &one.Name, &one.Halts, &one.Found) })
}

// Mornings are the outings that were begun between two moments and let out the same day.
func (s *Store) Mornings(ctx context.Context, from, to time.Time) ([]Morning, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT o.machine, m.name, (o.released-o.began)/60000.0 FROM outing o JOIN machine m ON m.id=o.machine WHERE o.began>=? AND o.began<? AND o.released>o.began ORDER BY m.name, o.began", from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (one Morning, err error) { return one, r.Scan(&one.Machine, &one.Name, &one.Minutes) })
}

// FoundNext are the points that the next look found at fault, the most often first.
func (s *Store) FoundNext(ctx context.Context, from, to time.Time) ([]Lately, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT x.machine, m.name, m.sheet, x.point, count(*) FROM missed x JOIN machine m ON m.id=x.machine WHERE x.found>=? AND x.found<? GROUP BY x.machine, x.point ORDER BY 5 DESC, m.name, x.point", from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (one Lately, err error) {
		return one, r.Scan(&one.Machine, &one.Name, &one.Sheet, &one.Point, &one.Times)
	})
}

// FilledIn is what went into each machine, the most first.
func (s *Store) FilledIn(ctx context.Context, from, to time.Time) ([]Filled, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT f.machine, m.name, m.sheet, coalesce(sum(f.litres), 0), count(*) FROM fill f JOIN machine m ON m.id=f.machine WHERE f.at>=? AND f.at<? GROUP BY f.machine ORDER BY 4 DESC, m.name", from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (one Filled, err error) {
		return one, r.Scan(&one.Machine, &one.Name, &one.Sheet, &one.Litres, &one.Fills)
	})
}

// Wearing is a reading that comes to a limit, if it goes on so.
type Wearing struct {
	Machine, Name, Sheet, Point, Item string
	Last, Limit                       float64 // in the unit of the sheet
	Left                              float64 // hours of the machine's meter
}

// Wearings are the readings that come to a limit first.
func (s *Store) Wearings(ctx context.Context, most int) ([]Wearing, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT w.machine, m.name, m.sheet, w.point, w.item, w.last, w.reaches, max(0, w.at-m.hours) FROM wear w JOIN machine m ON m.id=w.machine WHERE m.left_at=0 ORDER BY 8, m.name, w.point, w.item LIMIT ?", most)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (one Wearing, err error) {
		return one, r.Scan(&one.Machine, &one.Name, &one.Sheet, &one.Point, &one.Item, &one.Last, &one.Limit, &one.Left)
	})
}
