package store

// PINs as they are kept: salted, slow to try, with their cost beside them, and
// sealed by the record that says they were set.

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"

	"golang.org/x/crypto/argon2"

	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/yard"
)

// The cost of a new PIN: 19 MiB and two passes. busy bounds how many are
// computed at once, so that a morning rush cannot exhaust the memory.
const (
	pinMemory  = 19 * 1024
	pinPasses  = 2
	pinThreads = 1
	pinKey     = 32
)

var busy = make(chan struct{}, 4)

// cost is what one PIN costs to try.
type cost struct {
	memory, passes uint32
	threads        uint8
}

func (c cost) derive(pin string, salt []byte) []byte {
	busy <- struct{}{}
	defer func() { <-busy }()
	return argon2.IDKey([]byte(pin), salt, c.passes, c.memory, c.threads, pinKey)
}

// secret is the PIN that a command brings, as it will be kept.
type secret struct{ pin, kept string }

// newSecret is nil for a command without a PIN, and for one whose PIN the core
// will refuse.
func newSecret(c yard.Command) (*secret, error) {
	pin := pinOf(c)
	if !operator.PINLike(pin) {
		return nil, nil
	}
	kept, err := keepPIN(pin)
	return &secret{pin: pin, kept: kept}, err
}

// ownPIN refuses somebody's own PIN that is the one lent to them.
func (s *Store) ownPIN(ctx context.Context, person string, c yard.Command) error {
	own, is := c.(yard.ChangePIN)
	if !is {
		return nil
	}
	var kept string
	err := s.reader.QueryRowContext(ctx, "SELECT hash FROM credential WHERE person=? AND lent", person).Scan(&kept)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return diskError(err)
	}
	same, err := matches(own.PIN, kept)
	if err == nil && same {
		err = record.Refuse(operator.RulePINLent.Says())
	}
	return err
}

func keepPIN(pin string) (string, error) {
	salt := make([]byte, 16)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	in := base64.RawStdEncoding
	key := cost{pinMemory, pinPasses, pinThreads}.derive(pin, salt)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, pinMemory, pinPasses, pinThreads, in.EncodeToString(salt), in.EncodeToString(key)), nil
}

func pinOf(c yard.Command) string {
	switch c := c.(type) {
	case yard.SetUp:
		return c.PIN
	case yard.AddPerson:
		return c.PIN
	case yard.ChangePIN:
		return c.PIN
	case yard.LendPIN:
		return c.PIN
	}
	return ""
}

// withoutSecret is the command as it may be compared and kept.
func withoutSecret(c yard.Command) yard.Command {
	switch c := c.(type) {
	case yard.SetUp:
		c.PIN = ""
		return c
	case yard.AddPerson:
		c.PIN = ""
		return c
	case yard.ChangePIN:
		return yard.ChangePIN{}
	case yard.LendPIN:
		c.PIN = ""
		return c
	}
	return c
}

// keep writes the PIN that a record says was set, in the transaction of that
// record, and seals it there.
func (s *secret) keep(ctx context.Context, tx *transaction, e record.Event) (record.Event, error) {
	set, ok := e.(yard.PINSet)
	if s == nil || !ok {
		return e, nil
	}
	set.Seal = sealOf(s.kept)
	_, err := tx.ExecContext(ctx, `INSERT INTO credential (person, hash, lent, number) VALUES (?,?,?,1)
		ON CONFLICT (person) DO UPDATE SET hash=excluded.hash, lent=excluded.lent, number=number+1, failures=0, locked_until=0`, set.ID, s.kept, set.Lent)
	if err == nil {
		_, err = tx.ExecContext(ctx, "DELETE FROM attempt WHERE who=?", strangers(set.ID))
	}
	return set, err
}

func sealOf(kept string) string {
	sum := sha256.Sum256([]byte(kept))
	return hex.EncodeToString(sum[:])
}

// isKept reports whether the PIN is the one that a command said before set: the
// request itself says nothing of it, because it could be guessed from that.
func (s *secret) isKept(ctx context.Context, tx *transaction, r Record) (bool, error) {
	e, err := r.event()
	if err != nil {
		return false, err
	}
	person := ""
	switch e := e.(type) {
	case yard.PersonAdded:
		person = e.ID
	case yard.PINSet:
		person = e.ID
	}
	var kept string
	err = tx.QueryRowContext(ctx, "SELECT hash FROM credential WHERE person=?", person).Scan(&kept)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	return matches(s.pin, kept)
}

// parse reads what is kept: the standard string form, or salt$key of the first
// edition, which had the same cost.
func parse(kept string) (c cost, salt, key []byte, err error) {
	c = cost{pinMemory, pinPasses, pinThreads}
	parts := strings.Split(kept, "$")
	in := base64.RawStdEncoding
	var version int
	switch len(parts) {
	case 2:
	case 6:
		if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &c.memory, &c.passes, &c.threads); err != nil || parts[1] != "argon2id" || version != argon2.Version {
			return c, nil, nil, errors.New("stored PIN: of a kind that is not known here")
		}
		parts = parts[4:]
	default:
		return c, nil, nil, errors.New("stored PIN: unreadable")
	}
	if salt, err = in.DecodeString(parts[0]); err == nil {
		key, err = in.DecodeString(parts[1])
	}
	if err != nil {
		return c, nil, nil, fmt.Errorf("stored PIN: %w", err)
	}
	return c, salt, key, nil
}

func matches(pin, kept string) (bool, error) {
	c, salt, key, err := parse(kept)
	if err != nil {
		return false, err
	}
	return operator.PINLike(pin) && len(key) == pinKey && subtle.ConstantTimeCompare(c.derive(pin, salt), key) == 1, nil
}
