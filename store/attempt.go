package store

// Trying PINs: how often, from where, and who is told.

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"hash/fnv"
	"sync"
	"time"
)

// From is where a PIN is tried: a device by its own secret, and the address it
// came from.
type From struct{ Device, Address string }

// Access is what a right PIN opens.
type Access struct {
	// Number counts the person's PINs: a session begun with an older one ends.
	Number int
	// Lent: the person chooses their own PIN before anything else.
	Lent bool
}

// Paused says that no PIN is looked at for a while.
type Paused struct{ For time.Duration }

func (p *Paused) Error() string { return "store: too many wrong PINs" }

// pace is how wrong PINs slow somebody down: after some free ones a pause
// begins, and doubles with each further one (house rules).
type pace struct {
	free           int
	first, longest time.Duration
}

// A person on a device they have used is slowed down by their own wrong PINs
// only. Everybody else who tries a person's PIN is slowed down together, and so
// is an address that tries many people's: nobody can keep the crew out by
// guessing.
var (
	paceKnown     = pace{3, 30 * time.Second, 15 * time.Minute}
	paceStrangers = pace{3, 30 * time.Second, time.Hour}
	paceAddress   = pace{9, 30 * time.Second, time.Hour}
)

// forgetAfter is when wrong PINs are forgotten.
const forgetAfter = 24 * time.Hour

func strangers(person string) string { return "p/" + person }

// gates let one PIN of a person be looked at after the other, so that attempts
// are judged in order: a right one under way counts for nothing.
type gates struct{ doors [64]sync.Mutex }

func (g *gates) enter(person string) (leave func()) {
	h := fnv.New32a()
	h.Write([]byte(person))
	door := &g.doors[h.Sum32()%uint32(len(g.doors))]
	door.Lock()
	return door.Unlock
}

// CheckPIN reports whether the PIN is the person's. After too many wrong ones
// the error is *Paused.
func (s *Store) CheckPIN(ctx context.Context, person, pin string, from From) (Access, bool, error) {
	defer s.gates.enter(person)()
	var a Access
	var kept string
	err := s.reader.QueryRowContext(ctx, "SELECT hash, lent, number FROM credential WHERE person=?", person).Scan(&kept, &a.Lent, &a.Number)
	if errors.Is(err, sql.ErrNoRows) {
		return a, false, nil
	}
	if err != nil {
		return a, false, err
	}
	device := deviceHash(from.Device)
	known, err := s.knows(ctx, person, device)
	if err != nil {
		return a, false, err
	}
	keys := map[string]pace{"k/" + person + "/" + device: paceKnown}
	if !known {
		keys = map[string]pace{strangers(person): paceStrangers, "a/" + from.Address: paceAddress}
	}
	for key, p := range keys {
		if err := s.paused(ctx, key, p); err != nil {
			return a, false, err
		}
	}
	right, err := matches(pin, kept)
	if err != nil {
		return a, false, err
	}
	if right {
		return a, true, s.letIn(ctx, person, device, known)
	}
	return a, false, s.turnedAway(ctx, person, from.Address, known, keys)
}

func deviceHash(device string) string {
	sum := sha256.Sum256([]byte(device))
	return hex.EncodeToString(sum[:12])
}

// knows reports whether the person has signed in on the device.
func (s *Store) knows(ctx context.Context, person, device string) (known bool, err error) {
	err = s.reader.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM device WHERE person=? AND device=?)", person, device).Scan(&known)
	return known, err
}

// paused is *Paused while a pause lasts. One that a wrong clock has made longer
// than any pause is cut short.
func (s *Store) paused(ctx context.Context, key string, p pace) error {
	var until int64
	err := s.reader.QueryRowContext(ctx, "SELECT until FROM attempt WHERE who=?", key).Scan(&until)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	left := time.UnixMilli(until).Sub(s.clock.now())
	if until == 0 || left <= 0 || left > p.longest {
		return nil
	}
	return &Paused{For: left}
}

// letIn forgets what was wrong before, and remembers the device.
func (s *Store) letIn(ctx context.Context, person, device string, known bool) error {
	now := s.clock.now().UnixMilli()
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM attempt WHERE who IN (?,?)", "k/"+person+"/"+device, strangers(person)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, "INSERT INTO device (person, device, at) VALUES (?,?,?) ON CONFLICT (person, device) DO UPDATE SET at=excluded.at", person, device, now)
		return err
	})
}

// turnedAway counts a wrong PIN, and notes it for the person and the leads. The
// error is the pause that begins, if one does.
func (s *Store) turnedAway(ctx context.Context, person, address string, known bool, keys map[string]pace) error {
	now := s.clock.now()
	var longest time.Duration
	err := s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		for key, p := range keys {
			var failures int
			var at int64
			err := tx.QueryRowContext(ctx, "SELECT failures, at FROM attempt WHERE who=?", key).Scan(&failures, &at)
			if err != nil && !errors.Is(err, sql.ErrNoRows) {
				return err
			}
			if now.Sub(time.UnixMilli(at)) > forgetAfter {
				failures = 0
			}
			var until int64
			if failures++; failures >= p.free {
				pause := min(p.first<<min(failures-p.free, 10), p.longest)
				until, longest = now.Add(pause).UnixMilli(), max(longest, pause)
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO attempt (who, failures, until, at) VALUES (?,?,?,?) ON CONFLICT (who) DO UPDATE SET failures=excluded.failures, until=excluded.until, at=excluded.at", key, failures, until, now.UnixMilli()); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO tried (person, address, day, known, times, at) VALUES (?,?,?,?,1,?)
			ON CONFLICT (person, day, address, known) DO UPDATE SET times=times+1, at=excluded.at`, person, address, now.UnixMilli()/int64(24*time.Hour/time.Millisecond), known, now.UnixMilli())
		return err
	})
	if err == nil && longest > 0 {
		return &Paused{For: longest}
	}
	return err
}

// Access is how a person's PIN stands.
func (s *Store) Access(ctx context.Context, person string) (Access, error) {
	var a Access
	err := s.reader.QueryRowContext(ctx, "SELECT lent, number FROM credential WHERE person=?", person).Scan(&a.Lent, &a.Number)
	return a, notFound(err)
}

// Tried is wrong PINs of one day.
type Tried struct {
	Person, PersonName string
	Address            string
	Known              bool // on a device the person has used
	Times              int
	At                 time.Time // the last of them
}

// Tried lists wrong PINs since a time, the newest first: of one person, or of
// all.
func (s *Store) Tried(ctx context.Context, person string, since time.Time, most int) ([]Tried, error) {
	rows, err := s.reader.QueryContext(ctx, `SELECT t.person, coalesce(p.name, t.person), t.address, t.known, t.times, t.at FROM tried t LEFT JOIN person p ON p.id=t.person
		WHERE t.at>=?1 AND (?2='' OR t.person=?2) ORDER BY t.at DESC LIMIT ?3`, since.UnixMilli(), person, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (Tried, error) {
		var t Tried
		var at int64
		err := row.Scan(&t.Person, &t.PersonName, &t.Address, &t.Known, &t.Times, &at)
		t.At = milli(at)
		return t, err
	})
}
