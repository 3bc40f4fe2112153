package store

// What leads and technicians see of defects over time, and what their finders hear.

import (
	"context"
	"encoding/json"
	"time"

	"vespers/core/outing"
	"vespers/core/yard"
)

// StoryStep is one thing that happened to a defect.
type StoryStep struct {
	What, Outing, By string
	At               time.Time
	Terms            outing.TermsSet   // where terms were set
	Repair           outing.Repair     // where it is being proved
	Closed           yard.DefectClosed // where it was closed
}

// Story tells what happened to a defect since it was found, in order; By is a name.
func (s *Store) Story(ctx context.Context, id string) ([]StoryStep, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT s.what, s.outing, coalesce(p.name,''), s.at, s.body FROM story s LEFT JOIN person p ON p.id=s.by WHERE s.defect=? ORDER BY s.seq", id)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (StoryStep, error) {
		var step StoryStep
		var at int64
		var body string
		if err := row.Scan(&step.What, &step.Outing, &step.By, &at, &body); err != nil {
			return step, err
		}
		step.At = milli(at)
		var into any
		switch step.What {
		case "terms":
			into = &step.Terms
		case "proving":
			into = &step.Repair
		case "closed":
			into = &step.Closed
		default:
			return step, nil
		}
		return step, json.Unmarshal([]byte(body), into)
	})
}

// CarriedBy counts the outings that a machine went on with a defect, from when it was
// found until a moment.
func (s *Store) CarriedBy(ctx context.Context, machineID string, from, to time.Time) (n int, err error) {
	err = s.reader.QueryRowContext(ctx, "SELECT count(*) FROM outing_unit u JOIN outing o ON o.id=u.outing WHERE u.machine=? AND u.began>? AND u.began<=? AND o.released>0", machineID, from.UnixMilli(), to.UnixMilli()).Scan(&n)
	return n, err
}

// AtPoint lists the defects at a point of a machine, the newest first, at most some.
func (s *Store) AtPoint(ctx context.Context, machineID, point string, most int) ([]Defect, error) {
	return s.defects(ctx, s.reader, "machine=? AND point=? AND point<>'' AND id IN (SELECT id FROM defect WHERE machine=? AND point=? ORDER BY found_at DESC LIMIT ?)", machineID, point, machineID, point, most)
}

// News lists what became of what a person found, that they have not heard of yet.
func (s *Store) News(ctx context.Context, person string, now time.Time) ([]Defect, error) {
	return s.defects(ctx, s.reader, "found_by=? AND status='closed' AND closed_by<>? AND closed_at>(SELECT heard FROM person WHERE id=?) AND closed_at>?", person, person, person, now.Add(-newsFor).UnixMilli())
}

// newsFor is for how long what was mended is news.
const newsFor = 14 * 24 * time.Hour

// ClosedSince lists the defects that were closed since a time, oldest first, at most some.
func (s *Store) ClosedSince(ctx context.Context, since time.Time, most int) ([]Defect, error) {
	return s.defects(ctx, s.reader, "closed_at>? ORDER BY closed_at LIMIT ?", since.UnixMilli(), most)
}
