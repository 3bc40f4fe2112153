package store

// What pages read again and again between two records: it is read once, and again when
// the yard has a new record. Nothing the pages show changes without one.

import (
	"context"
	"database/sql"
	"errors"
	"sync"
)

// lately is what was read of the yard as it stands after its last record.
type lately struct {
	mu   sync.Mutex
	last string // the hash of that record
	kept map[string]any
}

func (l *lately) get(last, what string) (any, bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.last != last {
		return nil, false
	}
	kept, ok := l.kept[what]
	return kept, ok
}

func (l *lately) put(last, what string, read any) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.last != last || l.kept == nil {
		l.last, l.kept = last, map[string]any{}
	}
	l.kept[what] = read
}

// lastRecord is the hash of the yard's last record, "" before the first. Other processes
// write to the file too, so it is looked up.
func (s *Store) lastRecord(ctx context.Context) (string, error) {
	var last []byte
	err := s.reader.QueryRowContext(ctx, "SELECT hash FROM record ORDER BY seq DESC LIMIT 1").Scan(&last)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return string(last), err
}

// sinceLast is what read reads, or what it has read since the yard's last record. Who gets
// it changes nothing in it.
func sinceLast[T any](s *Store, last, what string, read func() (T, error)) (T, error) {
	if kept, ok := s.lately.get(last, what); ok {
		return kept.(T), nil
	}
	// What is written meanwhile may be in it already: it is then kept under a record that
	// nobody asks for any more.
	fresh, err := read()
	if err == nil {
		s.lately.put(last, what, fresh)
	}
	return fresh, err
}
