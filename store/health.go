package store

// Whether the file can be written.

import (
	"context"
	"sync"
	"time"
)

// healthy remembers when it was last tried whether the file can be written.
type healthy struct {
	mu    sync.Mutex
	tried time.Time
	err   error
}

// healthEvery is how seldom that is tried, because each try waits for the disk.
const healthEvery = 10 * time.Second

// Healthy reports whether the database answers and can be written.
func (s *Store) Healthy(ctx context.Context) error {
	var one int
	if err := s.reader.QueryRowContext(ctx, "SELECT 1").Scan(&one); err != nil {
		return diskError(err)
	}
	s.healthy.mu.Lock()
	defer s.healthy.mu.Unlock()
	if now := time.Now(); now.Sub(s.healthy.tried) >= healthEvery {
		s.healthy.tried = now
		s.healthy.err = s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
			// As much room as an answer takes with what is made from it, and back.
			for _, query := range []string{
				"INSERT INTO health (one, at, room) VALUES (1,?,zeroblob(16384)) ON CONFLICT (one) DO UPDATE SET at=excluded.at, room=excluded.room",
				"UPDATE health SET room=x'' WHERE at=?",
			} {
				if _, err := tx.ExecContext(ctx, query, now.UnixMilli()); err != nil {
					return err
				}
			}
			return nil
		})
	}
	return s.healthy.err
}
