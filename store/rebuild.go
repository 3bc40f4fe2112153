package store

// Making the projections anew from the records.

import (
	"context"
	"database/sql"
	"errors"

	"vespers/core/outing"
	"vespers/store/projector"
)

// ProjectedTables are the tables that Rebuild makes anew.
func ProjectedTables() []string { return projector.Tables() }

// Rebuild makes every projection anew from the records.
func (s *Store) Rebuild(ctx context.Context) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error { return s.rebuild(ctx, tx) })
}

func (s *Store) rebuild(ctx context.Context, tx *transaction) error {
	for _, table := range projector.Tables() {
		if _, err := tx.ExecContext(ctx, "DELETE FROM "+table); err != nil {
			return err
		}
	}
	// Outings under way are kept, so that each record is folded once.
	open := map[string]*outing.Outing{}
	w := &writing{s: s, ctx: ctx, tx: tx}
	var last int64
	for {
		batch, err := recordsAfter(ctx, tx, last, 1000)
		if err != nil {
			return err
		}
		if len(batch) == 0 {
			return s.setVersions(ctx, tx)
		}
		for _, r := range batch {
			e, err := r.event()
			if err != nil {
				return err
			}
			o, err := w.show(r, e, open[r.Outing])
			if err != nil {
				return err
			}
			if o != nil {
				open[r.Outing] = o
			}
			if _, ended := e.(outing.Ended); ended {
				delete(open, r.Outing)
			}
			last = r.Seq
		}
	}
}

// upToDate makes the projections anew where an older program wrote them in
// another form.
func (s *Store) upToDate(ctx context.Context) error {
	old, err := s.outdated(ctx, s.reader)
	if err != nil || !old {
		return diskError(err)
	}
	err = s.Rebuild(ctx)
	if errors.Is(err, ErrReadOnly) || errors.Is(err, ErrFull) {
		return nil // it can still be read as it is
	}
	return err
}

// outdated reports whether a projection is of another version than this
// program's.
func (s *Store) outdated(ctx context.Context, q querier) (bool, error) {
	for _, p := range projector.All() {
		var version int
		err := q.QueryRowContext(ctx, "SELECT version FROM projection WHERE name=?", p.Name).Scan(&version)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return false, err
		}
		if version != p.Version {
			return true, nil
		}
	}
	return false, nil
}

func (s *Store) setVersions(ctx context.Context, tx *transaction) error {
	for _, p := range projector.All() {
		if _, err := tx.ExecContext(ctx, "INSERT INTO projection (name, version) VALUES (?,?) ON CONFLICT (name) DO UPDATE SET version=excluded.version", p.Name, p.Version); err != nil {
			return err
		}
	}
	return nil
}
