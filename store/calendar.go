package store

// Calendars by their private addresses.

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
)

// HashOf is what is kept of a private address.
func HashOf(key string) string {
	sum := sha256.Sum256([]byte(key))
	return hex.EncodeToString(sum[:])
}

// CalendarOf is whose calendar a private address is; ErrNotFound where it is nobody's.
func (s *Store) CalendarOf(ctx context.Context, key string) (Person, error) {
	var id string
	if err := s.reader.QueryRowContext(ctx, "SELECT person FROM calendar WHERE hash=?", HashOf(key)).Scan(&id); err != nil {
		return Person{}, notFound(err)
	}
	p, err := s.person(ctx, s.reader, id)
	if err == nil && !p.Here() {
		return Person{}, ErrNotFound
	}
	return p, err
}

// CalendarOpen implements yard.View.
func (v *view) CalendarOpen(person string) bool {
	var one int
	return v.found(notFound(v.q.QueryRowContext(v.ctx, "SELECT 1 FROM calendar WHERE person=?", person).Scan(&one)))
}
