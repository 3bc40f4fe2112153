// Package store keeps a yard in one SQLite file: the records, which are only
// ever appended, and the projections that pages are made from.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"

	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"

	"vespers/core/interlock"
	"vespers/core/machine"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is one open yard. It may be used by many goroutines, and several
// processes may have the same file open: the order of records is decided in
// the database.
type Store struct {
	writer   *writer
	reader   *pool
	sessions *sql.DB
	path     string
	clock    clock
	sheets   *sheetCache
	folds    *foldCache
	rounds   *rounds
	tip      *tip
	people   *crewCache
	anchor   *anchor
	gates    *gates
	healthy  *healthy
	lately   *lately
}

// Path is the yard's file.
func (s *Store) Path() string { return s.path }

// What a disk can refuse. The answer was not saved and should be kept by
// whoever sent it.
var (
	ErrFull     = errors.New("store: the disk is full")
	ErrReadOnly = errors.New("store: the file cannot be written")
	ErrBusy     = errors.New("store: the file is in use")
	ErrNotFound = errors.New("store: not found")
)

// Open opens a yard, makes the file if there is none and brings it up to date.
func Open(ctx context.Context, path string) (*Store, error) {
	s := &Store{path: path, clock: systemClock(), sheets: &sheetCache{sheet: map[string]*machine.Sheet{}, logic: map[string]*interlock.Logic{}},
		folds: &foldCache{outing: map[string]folded{}}, rounds: &rounds{plans: map[string]interlock.Plan{}}, tip: &tip{},
		people: &crewCache{}, anchor: &anchor{path: path + anchorSuffix}, gates: &gates{}, healthy: &healthy{}, lately: &lately{}}
	ours(path)
	db, err := connect(path, 1, "synchronous(FULL)", "_txlock=immediate")
	if err != nil {
		return nil, err
	}
	if err = migrate(ctx, db); err == nil {
		s.writer, err = newWriter(ctx, db)
	}
	if err != nil {
		db.Close()
		return nil, fmt.Errorf("opening %s: %w", path, diskError(err))
	}
	reader, err := connect(path, 4, "query_only(1)", "")
	if err != nil {
		return nil, err
	}
	s.reader = newPool(reader)
	// Sessions are worth less than records: losing the last second of them in
	// a power cut costs a PIN, so they do not wait for the disk.
	if s.sessions, err = connect(path, 2, "synchronous(NORMAL)", "_txlock=immediate"); err != nil {
		return nil, err
	}
	if err := errors.Join(s.loadTrouble(ctx), s.upToDate(ctx), s.anchor.find(ctx, s)); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// ours lets only the file's owner read it: it holds PINs, as they are kept, and
// sessions. What SQLite puts beside it takes after it.
func ours(path string) {
	if f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600); err == nil {
		f.Close()
	}
	for _, suffix := range []string{"", "-wal", "-shm"} {
		os.Chmod(path+suffix, 0o600) // where it may not be changed, it stays as it is
	}
}

func connect(path string, connections int, pragma, more string) (*sql.DB, error) {
	q := url.Values{"_pragma": {"busy_timeout(5000)", "journal_mode(WAL)", "foreign_keys(1)", "cache_size(-16000)", pragma}}
	dsn := "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
	if more != "" {
		dsn += "&" + more
	}
	db, err := sql.Open("sqlite", dsn)
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(connections)
	db.SetMaxIdleConns(connections)
	return db, nil
}

// connectPlain opens a file without asking anything of it.
func connectPlain(path, mode string) (*sql.DB, error) {
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?"+mode)
	if err == nil {
		db.SetMaxOpenConns(1)
	}
	return db, err
}

func migrate(ctx context.Context, db *sql.DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return err
	}
	_, err = p.Up(ctx)
	return err
}

// Close lets go of the file.
func (s *Store) Close() error {
	errs := []error{s.anchor.write()}
	if s.reader != nil {
		errs = append(errs, s.reader.Close())
	}
	if s.writer != nil {
		errs = append(errs, s.writer.Close())
	}
	if s.sessions != nil {
		errs = append(errs, s.sessions.Close())
	}
	return errors.Join(errs...)
}

// Sessions is the database handle for the session store.
func (s *Store) Sessions() *sql.DB { return s.sessions }

// write runs f in the one writing transaction; what it changed is on disk when
// write returns nil. Once begun it is finished, even if whoever sent the answer
// has hung up.
func (s *Store) write(ctx context.Context, f func(ctx context.Context, tx *transaction) error) error {
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		s.tip.forget()
		s.people.forget()
		return f(ctx, tx)
	})
}

// writeAfter is write for what may rely on the tip, or makes no record.
func (s *Store) writeAfter(ctx context.Context, f func(ctx context.Context, tx *transaction) error) error {
	ctx = context.WithoutCancel(ctx)
	tx, err := s.writer.begin(ctx)
	if err != nil {
		return diskError(err)
	}
	defer tx.Rollback(ctx)
	if err := f(ctx, tx); err != nil {
		return diskError(err)
	}
	return diskError(tx.Commit(ctx))
}

// diskError turns what SQLite says about the disk into this package's errors.
func diskError(err error) error {
	var e *sqlite.Error
	if !errors.As(err, &e) {
		return err
	}
	const busy, readonly, ioerr, full, cantopen = 5, 8, 10, 13, 14
	switch e.Code() & 0xff {
	case full:
		return fmt.Errorf("%w: %v", ErrFull, err)
	case readonly, cantopen, ioerr:
		return fmt.Errorf("%w: %v", ErrReadOnly, err)
	case busy:
		return fmt.Errorf("%w: %v", ErrBusy, err)
	}
	return err
}

// LimitPages bounds the size of the file, in database pages; tests use it to
// fill a disk.
func (s *Store) LimitPages(ctx context.Context, pages int) error {
	return s.writer.alone(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages))
}
