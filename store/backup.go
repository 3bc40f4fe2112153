package store

// Backups, and the anchor by which a cut-off end is seen.

import (
	"context"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Backup writes the whole yard to a new file while it is in use, without the
// sessions: whoever holds a backup is signed in nowhere.
func (s *Store) Backup(ctx context.Context, to string) (Anchor, error) {
	// An empty file of our own first: nobody else may read it while it fills.
	f, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if errors.Is(err, os.ErrExist) {
		return Anchor{}, fmt.Errorf("%s exists already: choose a name that does not", to)
	}
	if err != nil {
		return Anchor{}, err
	}
	if err := f.Close(); err != nil {
		return Anchor{}, err
	}
	if err := s.copyTo(ctx, to); err != nil {
		return Anchor{}, errors.Join(diskError(err), os.Remove(to))
	}
	db, err := connect(to, 1, "journal_mode(DELETE)", "")
	if err != nil {
		return Anchor{}, err
	}
	defer db.Close()
	for _, query := range []string{"DELETE FROM sessions", "VACUUM"} {
		if _, err := db.ExecContext(ctx, query); err != nil {
			return Anchor{}, diskError(err)
		}
	}
	last, err := newest(ctx, db)
	if err != nil {
		return Anchor{}, err
	}
	a := anchorOf(last)
	return a, os.WriteFile(to+anchorSuffix, []byte(a.String()+"\n"), 0o600)
}

// copyTo copies the file as it stands, over a connection of its own: it reads, and nobody's
// answer waits until a large yard is copied.
func (s *Store) copyTo(ctx context.Context, to string) error {
	db, err := connect(s.path, 1, "temp_store(MEMORY)", "")
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, "VACUUM INTO ?", to)
	return err
}

// Anchor is the end of the log at some time: the number of the last record and
// the beginning of its hash. Kept elsewhere, on a slip or with a backup, it
// shows whether an end was cut off since.
type Anchor struct {
	Seq  int64
	Hash string // the first sixteen digits
}

const (
	anchorSuffix = ".anchor"
	anchorDigits = 16
)

func anchorOf(r Record) Anchor {
	return Anchor{Seq: r.Seq, Hash: hex.EncodeToString(r.Hash)[:min(anchorDigits, 2*len(r.Hash))]}
}

// String is the anchor as it is printed: 1234-0123456789abcdef.
func (a Anchor) String() string { return fmt.Sprintf("%d-%s", a.Seq, a.Hash) }

// ParseAnchor reads an anchor as it is printed.
func ParseAnchor(s string) (Anchor, error) {
	number, hash, ok := strings.Cut(strings.TrimSpace(s), "-")
	seq, err := strconv.ParseInt(number, 10, 64)
	if _, bad := hex.DecodeString(hash); !ok || err != nil || seq < 0 || bad != nil || seq > 0 && len(hash) != anchorDigits {
		return Anchor{}, fmt.Errorf("%q is no anchor: it looks like 1234-0123456789abcdef", s)
	}
	return Anchor{Seq: seq, Hash: hash}, nil
}

// Anchor is the end of the log now.
func (s *Store) Anchor(ctx context.Context) (Anchor, error) {
	r, err := s.Newest(ctx)
	return anchorOf(r), err
}

// anchor writes the end of the log beside the file, every few seconds: a log
// whose last part is lost with its journal is then seen to be short.
type anchor struct {
	mu      sync.Mutex
	path    string
	last    Record
	written time.Time
	dirty   bool
}

// cutSuffix is where an anchor goes that the log no longer reaches.
const cutSuffix = anchorSuffix + ".cut"

// find compares the log, as it is opened, with the anchor beside it. One that
// the log does not reach any more is put aside, for Verify and for people to
// see, before a new one takes its place.
func (a *anchor) find(ctx context.Context, s *Store) error {
	last, err := s.Newest(ctx)
	if err != nil || last.Seq == 0 {
		return err
	}
	a.last = last
	data, err := os.ReadFile(a.path)
	if err != nil {
		a.dirty = true
		return a.write()
	}
	kept, err := ParseAnchor(string(data))
	if err == nil && kept.Seq > 0 {
		var hash []byte
		err = s.reader.QueryRowContext(ctx, "SELECT hash FROM record WHERE seq=?", kept.Seq).Scan(&hash)
		if err == nil && anchorOf(Record{Seq: kept.Seq, Hash: hash}) == kept {
			return nil
		}
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return diskError(err)
		}
	}
	if err := os.Rename(a.path, strings.TrimSuffix(a.path, anchorSuffix)+cutSuffix); err != nil {
		return nil // a folder that cannot be written: the old anchor stays
	}
	a.dirty = true
	return a.write()
}

// Cut is the anchor that the log does not reach any more, as it was kept; ""
// where nothing is missing.
func (s *Store) Cut() string {
	data, err := os.ReadFile(s.path + cutSuffix)
	if err != nil {
		return ""
	}
	return strings.TrimSpace(string(data))
}

// anchorEvery is how seldom the anchor is written.
const anchorEvery = 2 * time.Second

func (a *anchor) note(r Record) {
	a.mu.Lock()
	a.last, a.dirty = r, true
	due := time.Since(a.written) >= anchorEvery
	a.mu.Unlock()
	if due {
		a.write()
	}
}

func (a *anchor) write() error {
	a.mu.Lock()
	defer a.mu.Unlock()
	if !a.dirty {
		return nil
	}
	a.written, a.dirty = time.Now(), false
	partial := a.path + ".new"
	if err := os.WriteFile(partial, []byte(anchorOf(a.last).String()+"\n"), 0o600); err != nil {
		return nil // a full disk: the records themselves are what counts
	}
	return errors.Join(os.Rename(partial, a.path))
}
