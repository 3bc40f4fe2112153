package store

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"database/sql"
	"encoding/base64"
	"errors"
	"fmt"
	"time"

	"golang.org/x/crypto/argon2"
)

// The cost of a PIN: 19 MiB and two passes. busy bounds how many are computed
// at once, so that a morning rush cannot exhaust the memory.
const (
	pinMemory = 19 * 1024
	pinPasses = 2
)

var busy = make(chan struct{}, 4)

// Attempts: after the third wrong PIN a pause begins and doubles with each
// further one.
const (
	freeAttempts = 3
	firstPause   = 30 * time.Second
	longestPause = 15 * time.Minute
)

// ErrPIN says that a PIN is not of four to eight digits.
var ErrPIN = errors.New("store: a PIN has four to eight digits")

// Paused says that no PIN is looked at until a time.
type Paused struct{ Until time.Time }

func (p *Paused) Error() string { return "store: too many wrong PINs" }

// ValidPIN reports whether a PIN has four to eight digits.
func ValidPIN(pin string) bool {
	for _, r := range pin {
		if r < '0' || r > '9' {
			return false
		}
	}
	return len(pin) >= 4 && len(pin) <= 8
}

func derive(pin string, salt []byte) []byte {
	busy <- struct{}{}
	defer func() { <-busy }()
	return argon2.IDKey([]byte(pin), salt, pinPasses, pinMemory, 1, 32)
}

// SetPIN gives a person a new PIN. That it happened is recorded; the PIN is
// not.
func (s *Store) SetPIN(ctx context.Context, e Entry, person, pin string) error {
	if !ValidPIN(pin) {
		return ErrPIN
	}
	salt := make([]byte, 16)
	rand.Read(salt)
	hash := base64.RawStdEncoding.EncodeToString(salt) + "$" + base64.RawStdEncoding.EncodeToString(derive(pin, salt))
	if _, err := s.append(ctx, e, PINSet{ID: person}, "", ""); err != nil {
		return err
	}
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO credential (person,hash) VALUES (?,?) ON CONFLICT (person) DO UPDATE SET hash=excluded.hash, failures=0, locked_until=0", person, hash)
		return err
	})
}

// CheckPIN reports whether the PIN is the person's. After too many wrong ones
// the error is *Paused.
func (s *Store) CheckPIN(ctx context.Context, person, pin string) (bool, error) {
	hash, paused, err := s.attempt(ctx, person)
	if err != nil || hash == "" {
		return false, err
	}
	right, err := matches(pin, hash)
	if err != nil {
		return false, err
	}
	if !right {
		return false, paused
	}
	return true, s.write(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "UPDATE credential SET failures=0, locked_until=0 WHERE person=?", person)
		return err
	})
}

// attempt counts an attempt as wrong before it is looked at, so that many sent
// at once are all counted. It returns the stored hash, and the pause that
// begins if the attempt is wrong.
func (s *Store) attempt(ctx context.Context, person string) (hash string, paused error, err error) {
	now, _ := s.clock.look()
	err = s.write(ctx, func(ctx context.Context, tx *transaction) error {
		var failures int
		var until int64
		err := tx.QueryRowContext(ctx, "SELECT hash, failures, locked_until FROM credential WHERE person=?", person).Scan(&hash, &failures, &until)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		if err != nil {
			return err
		}
		if now.UnixMilli() < until {
			return &Paused{Until: time.UnixMilli(until)}
		}
		if failures++; failures >= freeAttempts {
			until = now.Add(min(firstPause<<min(failures-freeAttempts, 10), longestPause)).UnixMilli()
			paused = &Paused{Until: time.UnixMilli(until)}
		}
		_, err = tx.ExecContext(ctx, "UPDATE credential SET failures=?, locked_until=? WHERE person=?", failures, until, person)
		return err
	})
	return hash, paused, err
}

func matches(pin, hash string) (bool, error) {
	var salt, key []byte
	for i := range hash {
		if hash[i] != '$' {
			continue
		}
		var err1, err2 error
		salt, err1 = base64.RawStdEncoding.DecodeString(hash[:i])
		key, err2 = base64.RawStdEncoding.DecodeString(hash[i+1:])
		if err := errors.Join(err1, err2); err != nil {
			return false, fmt.Errorf("stored PIN: %w", err)
		}
		break
	}
	return ValidPIN(pin) && len(key) > 0 && subtle.ConstantTimeCompare(derive(pin, salt), key) == 1, nil
}
