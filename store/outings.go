package store

// Outings as pages list them.

import (
	"context"
	"time"

	"vespers/core/outing"
)

// OutingRow is an outing as the yard shows it.
type OutingRow struct {
	ID, Machine, Operator string
	MachineName           string
	OperatorName          string
	Began, Released       time.Time
	Ended                 time.Time
	Status                outing.Status
	Stage                 outing.Stage
	Done, Points          int
	Outcome               string
	// ReleasedBy and Second are who let it go out, and who stood by; ids.
	ReleasedBy, Second string
	// Due is when somebody looks for its operator, zero for never; Sought who went to.
	Due    time.Time
	Sought string
}

const outingColumns = "o.id, o.machine, o.operator, o.began, o.released, o.ended, o.status, o.stage, o.done, o.points, o.outcome, o.released_by, o.second, o.check_in, o.sought, p.name"

type outingScan struct {
	OutingRow
	began, released, ended, due int64
}

func (o *outingScan) targets() []any {
	return []any{&o.ID, &o.Machine, &o.Operator, &o.began, &o.released, &o.ended, &o.Status, &o.Stage, &o.Done, &o.Points, &o.Outcome, &o.ReleasedBy, &o.Second, &o.due, &o.Sought, &o.OperatorName}
}

func (o *outingScan) row() OutingRow {
	o.Began, o.Released, o.Ended, o.Due = milli(o.began), milli(o.released), milli(o.ended), milli(o.due)
	return o.OutingRow
}

func scanOuting(row row) (OutingRow, error) {
	var o outingScan
	err := row.Scan(o.targets()...)
	return o.row(), err
}

func scanNamedOuting(row row) (OutingRow, error) {
	var o outingScan
	err := row.Scan(append(o.targets(), &o.MachineName)...)
	return o.row(), err
}

// todayFrom finds the outings of a day by their ids, and orders what it found. A
// plain UNION or an OR here makes SQLite go through all outings there ever were.
const (
	todayIDs  = "(SELECT id FROM outing WHERE began >= ? UNION ALL SELECT outing FROM machine WHERE outing<>'')"
	todayFrom = " FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine WHERE o.id IN " + todayIDs
)

// Between lists the outings begun in a span of time, oldest first.
func (s *Store) Between(ctx context.Context, from, to time.Time) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine WHERE o.began >= ? AND o.began < ? ORDER BY o.began", from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// Today lists the outings begun since a time, oldest first, and those from
// before that are still open.
func (s *Store) Today(ctx context.Context, since time.Time) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name"+todayFrom+" ORDER BY +o.began", since.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// TodayOf lists today's outings of one person and those that came to a Halt,
// and counts all of them.
func (s *Store) TodayOf(ctx context.Context, since time.Time, person string) (rows []OutingRow, all int, err error) {
	some, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name"+todayFrom+" AND (o.operator=? OR o.status='open' AND o.outcome='halt') ORDER BY +o.began", since.UnixMilli(), person)
	if err != nil {
		return nil, 0, err
	}
	if rows, err = collect(some, scanNamedOuting); err != nil {
		return nil, 0, err
	}
	err = s.reader.QueryRowContext(ctx, "SELECT count(DISTINCT id) FROM "+todayIDs, since.UnixMilli()).Scan(&all)
	return rows, all, err
}

// RunBy lists today's outings that one person has now, or had.
func (s *Store) RunBy(ctx context.Context, since time.Time, person string) ([]string, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT id FROM outing o WHERE o.id IN (SELECT id FROM "+todayIDs+") AND (o.operator=? OR EXISTS (SELECT 1 FROM course c WHERE c.outing=o.id AND c.who=?)) ORDER BY o.id", since.UnixMilli(), person, person)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (id string, err error) { return id, row.Scan(&id) })
}

// Missed lists the outings whose operators were to be heard of and were not.
func (s *Store) Missed(ctx context.Context, now time.Time) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+`, m.name FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine
		WHERE o.check_in>0 AND o.check_in<? ORDER BY o.check_in`, now.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// Past lists the newest outings of a machine.
func (s *Store) Past(ctx context.Context, machineID string, most int) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+`, m.name FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine
		WHERE o.id IN (SELECT outing FROM outing_unit WHERE machine=? ORDER BY began DESC LIMIT ?) ORDER BY +o.began DESC`, machineID, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}
