package store

// Defects as pages list them.

import (
	"context"
	"encoding/json"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/yard"
)

// Defect is one defect with the names of who found and closed it.
type Defect struct {
	yard.Defect
	FinderName, CloserName string
}

func scanDefect(row row) (Defect, error) {
	var d Defect
	var value, grade, finding, status string
	var found, closed int64
	if err := row.Scan(&d.ID, &d.Machine, &d.Outing, &d.Point, &d.Item, &d.Fault, &d.Test, &d.Note, &value, &grade, &finding,
		&d.FoundBy, &found, &status, &d.ClosedBy, &closed, &d.Cause, &d.Work, &d.FinderName, &d.CloserName); err != nil {
		return d, err
	}
	d.FoundAt, d.ClosedAt, d.Open = milli(found), milli(closed), status == "open"
	var err error
	if d.Value, err = unmarshal[*inspect.Value](value); err != nil {
		return d, err
	}
	d.Finding, err = unmarshal[defect.Finding](finding)
	return d, err
}

func (s *Store) defects(ctx context.Context, q querier, where string, args ...any) ([]Defect, error) {
	rows, err := q.QueryContext(ctx, `SELECT d.id, d.machine, d.outing, d.point, d.item, d.fault, d.test, d.note, d.value, d.grade, d.finding,
		d.found_by, d.found_at, d.status, d.closed_by, d.closed_at, d.cause, d.work, coalesce(f.name,''), coalesce(c.name,'')
		FROM (SELECT * FROM defect WHERE `+where+`) d LEFT JOIN person f ON f.id=d.found_by LEFT JOIN person c ON c.id=d.closed_by ORDER BY d.found_at, d.id`, args...)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanDefect)
}

// Defects lists a machine's defects: the open ones, or all of the newest.
func (s *Store) Defects(ctx context.Context, machineID string, openOnly bool) ([]Defect, error) {
	if openOnly {
		return s.defects(ctx, s.reader, "machine=? AND status='open'", machineID)
	}
	return s.defects(ctx, s.reader, "machine=? AND id IN (SELECT id FROM defect WHERE machine=? ORDER BY found_at DESC LIMIT 30)", machineID, machineID)
}

// Defect finds one defect.
func (s *Store) Defect(ctx context.Context, id string) (Defect, error) {
	list, err := s.defects(ctx, s.reader, "id=?", id)
	if err != nil {
		return Defect{}, err
	}
	if len(list) == 0 {
		return Defect{}, ErrNotFound
	}
	return list[0], nil
}

func (s *Store) trials(ctx context.Context, q querier, defectID string) ([]interlock.Observation, error) {
	rows, err := q.QueryContext(ctx, "SELECT body FROM trial WHERE defect=? ORDER BY seq", defectID)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (interlock.Observation, error) {
		var o interlock.Observation
		var body string
		if err := row.Scan(&body); err != nil {
			return o, err
		}
		return o, json.Unmarshal([]byte(body), &o)
	})
}

// Trials lists what was tried to find the switch behind a defect, in order.
func (s *Store) Trials(ctx context.Context, defectID string) ([]interlock.Observation, error) {
	return s.trials(ctx, s.reader, defectID)
}
