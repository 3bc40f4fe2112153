package store

// What comes again and again, as the leads' page lists it.

import (
	"context"
	"time"
	"vespers/core/review"
)

// Pattern is something that comes again and again in how a person or a machine
// is looked at.
type Pattern struct {
	Kind          string // hurried, alike, missed or taken_back
	PersonName    string
	Machine       string // id
	MachineName   string
	Point, Item   string
	Typed         string
	Times, Of     int
	Last          time.Time
	SheetOfPoints string // hash of the machine's sheet
	// Of a Halt that was taken back: in which outing, who saw it too, or "", and why.
	Outing, SecondName, Why string
}

// Patterns lists what stands out since a moment: people whose walks were faster
// than walking more than once, readings that come out alike beyond chance, and
// points called sound that the next outing found faulty, and Halts that were taken
// back; of each kind the most that stand out.
func (s *Store) Patterns(ctx context.Context, since time.Time, most int) ([]Pattern, error) {
	var out []Pattern
	for _, query := range []string{
		`SELECT 'hurried', coalesce(p.name, w.person), '', '', '', '', '', sum(w.hurried), count(*), max(w.at), '', '', '', ''
			FROM walked w LEFT JOIN person p ON p.id=w.person WHERE w.at>=?1 AND ?2>0 GROUP BY w.person HAVING sum(w.hurried)>=?4 ORDER BY 8 DESC LIMIT ?3`,
		`SELECT 'alike', coalesce(p.name, s.person), m.id, m.name, s.point, s.item, s.typed, s.times, s.times, s.at, m.sheet, '', '', ''
			FROM streak s JOIN machine m ON m.id=s.machine LEFT JOIN person p ON p.id=s.person WHERE s.at>=?1 AND s.times>?2 AND ?4>0 ORDER BY s.times DESC LIMIT ?3`,
		`SELECT 'missed', coalesce(p.name, x.person), m.id, m.name, x.point, '', '', 1, 1, x.found, m.sheet, '', '', ''
			FROM missed x JOIN machine m ON m.id=x.machine LEFT JOIN person p ON p.id=x.person WHERE x.found>=?1 AND ?2>0 AND ?4>0 ORDER BY x.found DESC LIMIT ?3`,
		`SELECT 'taken_back', coalesce(p.name, b.person), m.id, m.name, b.point, b.item, '', 1, 1, b.at, m.sheet, b.outing, coalesce(q.name, b.second), b.why
			FROM taken_back b JOIN machine m ON m.id=b.machine LEFT JOIN person p ON p.id=b.person LEFT JOIN person q ON q.id=b.second
			WHERE b.at>=?1 AND ?2>0 AND ?4>0 ORDER BY b.at DESC LIMIT ?3`,
	} {
		rows, err := s.reader.QueryContext(ctx, query, since.UnixMilli(), review.AlikeMost, most, review.HurriedLeast)
		if err != nil {
			return nil, err
		}
		some, err := collect(rows, func(row row) (Pattern, error) {
			var p Pattern
			var last int64
			err := row.Scan(&p.Kind, &p.PersonName, &p.Machine, &p.MachineName, &p.Point, &p.Item, &p.Typed, &p.Times, &p.Of, &last, &p.SheetOfPoints, &p.Outing, &p.SecondName, &p.Why)
			p.Last = milli(last)
			return p, err
		})
		if err != nil {
			return nil, err
		}
		out = append(out, some...)
	}
	return out, nil
}
