package store

// Pictures of findings, kept once by their hash.

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"time"
)

// AddPhoto keeps a picture and returns the hash it is found by.
func (s *Store) AddPhoto(ctx context.Context, body []byte) (string, error) {
	sum := sha256.Sum256(body)
	hash := hex.EncodeToString(sum[:16])
	return hash, s.write(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO photo (hash, body) VALUES (?,?) ON CONFLICT (hash) DO NOTHING", hash, body)
		return err
	})
}

// Pictures says how many pictures are kept, and their size in bytes.
func (s *Store) Pictures(ctx context.Context) (n int, size int64, err error) {
	err = s.reader.QueryRowContext(ctx, "SELECT count(*), coalesce(sum(length(body)),0) FROM photo").Scan(&n, &size)
	return n, size, err
}

// PictureDropped is when a picture was dropped; ErrNotFound where it never was.
func (s *Store) PictureDropped(ctx context.Context, hash string) (time.Time, error) {
	var at int64
	err := s.reader.QueryRowContext(ctx, "SELECT dropped FROM picture WHERE hash=? AND dropped>0 LIMIT 1", hash).Scan(&at)
	return milli(at), notFound(err)
}

// Photo is a kept picture.
func (s *Store) Photo(ctx context.Context, hash string) ([]byte, error) {
	var body []byte
	err := s.reader.QueryRowContext(ctx, "SELECT body FROM photo WHERE hash=?", hash).Scan(&body)
	return body, notFound(err)
}
