package store

// What was told outside the yard, so that nobody is told twice.

import (
	"context"
	"time"
)

// sentFor is how long it is remembered: what is told is younger.
const sentFor = 30 * 24 * time.Hour

// SentOut are the ids of what was sent.
func (s *Store) SentOut(ctx context.Context) (map[string]bool, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT id FROM sent_out")
	if err != nil {
		return nil, err
	}
	ids, err := collect(rows, func(r row) (id string, err error) { return id, r.Scan(&id) })
	out := map[string]bool{}
	for _, id := range ids {
		out[id] = true
	}
	return out, err
}

// NoteSent notes that something was sent.
func (s *Store) NoteSent(ctx context.Context, id string, at time.Time) error {
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM sent_out WHERE at<?", at.Add(-sentFor).UnixMilli()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO sent_out (id, at) VALUES (?,?)", id, at.UnixMilli())
		return err
	})
}
