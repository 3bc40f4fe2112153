package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"vespers/core/outing"
)

// patterns notes, when an outing is released, how its walks went.
func (p *projector) patterns(o *outing.Outing) error {
	for _, w := range o.Walks() {
		if err := p.exec("INSERT INTO walked VALUES (?,?,?,?,?,?,?) ON CONFLICT (machine, outing) DO NOTHING", o.ID, w.Machine, w.By, w.At.UnixMilli(), w.Seconds, w.Least, w.Hurried()); err != nil {
			return err
		}
	}
	for _, u := range o.Units {
		for _, r := range u.Readings() {
			if !counts(u, r) {
				continue
			}
			if err := p.exec(`INSERT INTO streak VALUES (?,?,?,?,1,?,?) ON CONFLICT (machine, point, item) DO UPDATE SET
				times=CASE WHEN typed=excluded.typed THEN times+1 ELSE 1 END, typed=excluded.typed, person=excluded.person, at=excluded.at`,
				u.Machine, r.Check, r.Item, r.Value.Typed+" "+r.Value.Unit, o.Operator, r.At.UnixMilli()); err != nil {
				return err
			}
		}
		before, err := p.outingBefore(u.Machine, o)
		if err != nil {
			return err
		}
		if before == nil {
			continue
		}
		for _, m := range o.MissedBy(u.Machine, before) {
			if err := p.exec("INSERT INTO missed VALUES (?,?,?,?,?,?) ON CONFLICT (machine, point, outing) DO NOTHING", m.Machine, m.Check, o.ID, m.By, m.At.UnixMilli(), m.Found.UnixMilli()); err != nil {
				return err
			}
		}
	}
	return nil
}

// counts: only a gauge can be read too often alike. A dipstick knows few places,
// an hour meter moves by itself.
func counts(u *outing.UnitState, r outing.Before) bool {
	c, ok := u.Sheet.Check(r.Check)
	if !ok {
		return false
	}
	reading, ok := c.Reading(r.Item)
	return ok && (reading.Kind == "" || reading.Kind == "gauge")
}

// outingBefore is a machine's outing before this one, or nil. It is only looked
// for where something was found.
func (p *projector) outingBefore(machine string, o *outing.Outing) (*outing.Outing, error) {
	found := false
	for _, d := range o.Defects() {
		found = found || d.Machine == machine && !d.Carried && d.Check != ""
	}
	if !found {
		return nil, nil
	}
	var id string
	err := p.tx.QueryRowContext(p.ctx, "SELECT outing FROM outing_unit WHERE machine=? AND began<? ORDER BY began DESC LIMIT 1", machine, o.Began.UnixMilli()).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return p.s.fold(p.ctx, p.tx, id)
}

// Pattern is something that comes again and again in how a person or a machine
// is looked at.
type Pattern struct {
	Kind          string // hurried, alike or missed
	PersonName    string
	Machine       string // id
	MachineName   string
	Point, Item   string
	Typed         string
	Times, Of     int
	Last          time.Time
	SheetOfPoints string // hash of the machine's sheet
}

// Patterns lists what stands out since a moment: people whose walks were faster
// than walking more than once, readings that come out alike beyond chance, and
// points called sound that the next outing found faulty; of each kind the most
// that stand out.
func (s *Store) Patterns(ctx context.Context, since time.Time, most int) ([]Pattern, error) {
	var out []Pattern
	for _, query := range []string{
		`SELECT 'hurried', coalesce(p.name, w.person), '', '', '', '', '', sum(w.hurried), count(*), max(w.at), ''
			FROM walked w LEFT JOIN person p ON p.id=w.person WHERE w.at>=?1 AND ?2>0 GROUP BY w.person HAVING sum(w.hurried)>=?4 ORDER BY 8 DESC LIMIT ?3`,
		`SELECT 'alike', coalesce(p.name, s.person), m.id, m.name, s.point, s.item, s.typed, s.times, s.times, s.at, m.sheet
			FROM streak s JOIN machine m ON m.id=s.machine LEFT JOIN person p ON p.id=s.person WHERE s.at>=?1 AND s.times>?2 AND ?4>0 ORDER BY s.times DESC LIMIT ?3`,
		`SELECT 'missed', coalesce(p.name, x.person), m.id, m.name, x.point, '', '', 1, 1, x.found, m.sheet
			FROM missed x JOIN machine m ON m.id=x.machine LEFT JOIN person p ON p.id=x.person WHERE x.found>=?1 AND ?2>0 AND ?4>0 ORDER BY x.found DESC LIMIT ?3`,
	} {
		rows, err := s.reader.QueryContext(ctx, query, since.UnixMilli(), outing.AlikeMost, most, outing.HurriedLeast)
		if err != nil {
			return nil, err
		}
		some, err := collect(rows, func(row interface{ Scan(...any) error }) (Pattern, error) {
			var p Pattern
			var last int64
			err := row.Scan(&p.Kind, &p.PersonName, &p.Machine, &p.MachineName, &p.Point, &p.Item, &p.Typed, &p.Times, &p.Of, &last, &p.SheetOfPoints)
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
