package store

// Pictures of findings, kept once by their hash.

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
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

// Photo is a kept picture.
func (s *Store) Photo(ctx context.Context, hash string) ([]byte, error) {
	var body []byte
	err := s.reader.QueryRowContext(ctx, "SELECT body FROM photo WHERE hash=?", hash).Scan(&body)
	return body, notFound(err)
}
