package store

// The writer: one transaction at a time, several commands in one where they
// wait.

import (
	"context"
	"database/sql"
	"errors"
	"sync"
)

// writer is the one connection that writes. Every statement on it is prepared
// once, those that begin and end a transaction too: an answer is a handful of
// short statements, and reading their text each time would take as long as
// running them.
type writer struct {
	db       *sql.DB
	conn     *sql.Conn
	mu       sync.Mutex // held while a transaction is open
	prepared map[string]*sql.Stmt
}

func newWriter(ctx context.Context, db *sql.DB) (*writer, error) {
	conn, err := db.Conn(ctx)
	return &writer{db: db, conn: conn, prepared: map[string]*sql.Stmt{}}, err
}

// Close gives the connection back and closes the file.
func (w *writer) Close() error {
	w.mu.Lock()
	defer w.mu.Unlock()
	for _, s := range w.prepared {
		s.Close()
	}
	return errors.Join(w.conn.Close(), w.db.Close())
}

// statement is the prepared query. It belongs to the connection.
func (w *writer) statement(ctx context.Context, query string) (*sql.Stmt, error) {
	if s := w.prepared[query]; s != nil {
		return s, nil
	}
	s, err := w.conn.PrepareContext(ctx, query)
	if err != nil {
		return nil, err
	}
	w.prepared[query] = s
	return s, nil
}

// alone runs a statement between transactions.
func (w *writer) alone(ctx context.Context, query string, args ...any) error {
	w.mu.Lock()
	defer w.mu.Unlock()
	_, err := w.conn.ExecContext(ctx, query, args...)
	return diskError(err)
}

// transaction is the one writing transaction; the writer waits for its end.
type transaction struct {
	w     *writer
	ended bool
}

// begin waits for the transaction before it and for other processes.
func (w *writer) begin(ctx context.Context) (*transaction, error) {
	w.mu.Lock()
	t := &transaction{w: w}
	if _, err := t.ExecContext(ctx, "BEGIN IMMEDIATE"); err != nil {
		t.ended = true
		w.mu.Unlock()
		return nil, err
	}
	return t, nil
}

// Commit puts everything on disk, or nothing.
func (t *transaction) Commit(ctx context.Context) error {
	if _, err := t.ExecContext(ctx, "COMMIT"); err != nil {
		return err // Rollback ends it
	}
	t.end()
	return nil
}

// Rollback takes everything back; after Commit it does nothing.
func (t *transaction) Rollback(ctx context.Context) {
	if t.ended {
		return
	}
	// SQLite may have rolled back already, as on a full disk: nothing to do then.
	t.ExecContext(ctx, "ROLLBACK")
	t.end()
}

func (t *transaction) end() {
	t.ended = true
	t.w.mu.Unlock()
}

// ExecContext runs a query that returns nothing.
func (t *transaction) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	s, err := t.w.statement(ctx, query)
	if err != nil {
		return nil, err
	}
	return s.ExecContext(ctx, args...)
}

// QueryContext implements querier.
func (t *transaction) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	s, err := t.w.statement(ctx, query)
	if err != nil {
		return nil, err
	}
	return s.QueryContext(ctx, args...)
}

// QueryRowContext implements querier.
func (t *transaction) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	s, err := t.w.statement(ctx, query)
	if err != nil {
		return t.w.conn.QueryRowContext(ctx, query, args...) // tells the same error
	}
	return s.QueryRowContext(ctx, args...)
}
