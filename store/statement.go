package store

// Prepared statements of the readers.

import (
	"context"
	"database/sql"
	"sync"
)

// pool is a database whose queries are each prepared once.
type pool struct {
	*sql.DB
	mu       sync.Mutex
	prepared map[string]*sql.Stmt
}

func newPool(db *sql.DB) *pool { return &pool{DB: db, prepared: map[string]*sql.Stmt{}} }

func (p *pool) ready(query string) *sql.Stmt {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.prepared[query]
}

// statement is the prepared query; nil if it cannot be prepared, which running
// it then tells.
func (p *pool) statement(ctx context.Context, query string) *sql.Stmt {
	if s := p.ready(query); s != nil {
		return s
	}
	s, err := p.DB.PrepareContext(ctx, query)
	if err != nil {
		return nil
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if first := p.prepared[query]; first != nil {
		s.Close()
		return first
	}
	p.prepared[query] = s
	return s
}

// QueryContext implements querier.
func (p *pool) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	if s := p.statement(ctx, query); s != nil {
		return s.QueryContext(ctx, args...)
	}
	return p.DB.QueryContext(ctx, query, args...)
}

// QueryRowContext implements querier.
func (p *pool) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	if s := p.statement(ctx, query); s != nil {
		return s.QueryRowContext(ctx, args...)
	}
	return p.DB.QueryRowContext(ctx, query, args...)
}
