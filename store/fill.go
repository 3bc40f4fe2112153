package store

// What was filled into machines.

import (
	"context"
	"database/sql"
	"slices"
	"time"

	"vespers/core/fuel"
)

// Fill is a line of a machine's log of fuel.
type Fill struct {
	ID, PersonName string
	At             time.Time
	fuel.Entry
	Can time.Time // from which day the fuel was, zero where nobody said
}

// fillsMost is how many lines of a log are read: more than anything is computed from.
const fillsMost = 200

// Fills are the newest lines of a machine's log of fuel, oldest first.
func (s *Store) Fills(ctx context.Context, machine string) ([]Fill, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT f.id, coalesce(p.name, ''), f.at, f.hours, f.litres, f.to_mark, f.can FROM fill f LEFT JOIN person p ON p.id=f.by WHERE f.machine=? ORDER BY f.at DESC, f.id DESC LIMIT ?", machine, fillsMost)
	if err != nil {
		return nil, err
	}
	out, err := collect(rows, func(row row) (Fill, error) { return scanFill(row) })
	slices.Reverse(out)
	return out, err
}

// FillRuns reads a log as fills from mark to mark, by core/fuel.
func FillRuns(log []Fill) [][]fuel.Fill {
	entries := make([]fuel.Entry, len(log))
	for i, f := range log {
		entries[i] = f.Entry
	}
	return fuel.ToMark(entries)
}

// FindFills hands over what was filled, in the order of time, where machine, person and
// days fit. It stops where each fails.
func (s *Store) FindFills(ctx context.Context, f Filter, each func(FillRow) error) error {
	where, args := Filter{Machine: f.Machine, Person: f.Person, From: f.From, To: f.To}.condition("f.machine", "f.by", "f.at")
	rows, err := s.reader.QueryContext(ctx, "SELECT f.id, coalesce(p.name, ''), f.at, f.hours, f.litres, f.to_mark, f.can, f.machine, coalesce(m.name, ''), f.outing, f.by FROM fill f LEFT JOIN person p ON p.id=f.by LEFT JOIN machine m ON m.id=f.machine WHERE "+where+" ORDER BY f.at, f.id", args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var r FillRow
		if r.Fill, err = scanFill(rows, &r.Machine, &r.MachineName, &r.Outing, &r.Person); err != nil {
			return err
		}
		if err := each(r); err != nil {
			return err
		}
	}
	return rows.Err()
}

// FillRow is a fill with whose it is.
type FillRow struct {
	Fill
	Machine, MachineName, Outing, Person string
}

func scanFill(row row, more ...any) (Fill, error) {
	var f Fill
	var at, can int64
	var hours, litres sql.NullFloat64
	err := row.Scan(append([]any{&f.ID, &f.PersonName, &at, &hours, &litres, &f.ToMark, &can}, more...)...)
	f.At, f.Can = milli(at), milli(can)
	f.Hours, f.Read, f.Litres, f.Told = hours.Float64, hours.Valid, litres.Float64, litres.Valid
	return f, err
}
