package store

// What a yard begins with, beside commands: the ids and dates of a demo.

import (
	"context"
	"crypto/sha256"
	"errors"
	"time"

	"vespers/core/record"
)

// Seed is something that is recorded as it is.
type Seed struct {
	ID, By string
	At     time.Time
	Event  record.Event // of the yard, not of an outing
	PIN    string       // of the person whose PIN the event sets
}

// ErrNotEmpty says that a yard has records already.
var ErrNotEmpty = errors.New("store: the yard has records already")

// Seed fills a yard that has no records yet, without asking the core: what a
// demo begins with. Everything after that goes through Do.
func (s *Store) Seed(ctx context.Context, seeds []Seed) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		last, err := newest(ctx, tx)
		if err != nil {
			return err
		}
		if last.Seq > 0 {
			return ErrNotEmpty
		}
		last.Hash = make([]byte, sha256.Size)
		for _, seed := range seeds {
			w := &writing{s: s, ctx: ctx, tx: tx}
			if seed.PIN != "" {
				kept, err := keepPIN(seed.PIN)
				if err != nil {
					return err
				}
				w.secret = &secret{pin: seed.PIN, kept: kept}
			}
			e, err := w.secret.keep(ctx, tx, seed.Event)
			if err != nil {
				return err
			}
			r := Record{Seq: last.Seq + 1, At: time.UnixMilli(seed.At.UnixMilli()), Previous: last.Hash}
			if last, err = insert(ctx, tx, r, Entry{ID: seed.ID, Person: seed.By, Request: []byte(seed.ID)}, e); err != nil {
				return err
			}
			if _, err := w.show(last, e, nil); err != nil {
				return err
			}
		}
		return nil
	})
}
