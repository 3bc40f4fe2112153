package store

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
	// wanted are queries that a transaction used before they were prepared. A
	// transaction may hold the only connection, so they are prepared after it.
	wanted []string
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

// transaction runs prepared queries inside a transaction of the pool.
type transaction struct {
	*sql.Tx
	pool *pool
}

func (p *pool) begin(ctx context.Context) (*transaction, error) {
	p.mu.Lock()
	wanted := p.wanted
	p.wanted = nil
	p.mu.Unlock()
	for _, query := range wanted {
		p.statement(ctx, query)
	}
	tx, err := p.DB.BeginTx(ctx, nil)
	return &transaction{tx, p}, err
}

func (t *transaction) statement(ctx context.Context, query string) *sql.Stmt {
	if s := t.pool.ready(query); s != nil {
		return t.StmtContext(ctx, s)
	}
	t.pool.mu.Lock()
	defer t.pool.mu.Unlock()
	t.pool.wanted = append(t.pool.wanted, query)
	return nil
}

// ExecContext runs a query that returns nothing.
func (t *transaction) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	if s := t.statement(ctx, query); s != nil {
		return s.ExecContext(ctx, args...)
	}
	return t.Tx.ExecContext(ctx, query, args...)
}

// QueryContext implements querier.
func (t *transaction) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	if s := t.statement(ctx, query); s != nil {
		return s.QueryContext(ctx, args...)
	}
	return t.Tx.QueryContext(ctx, query, args...)
}

// QueryRowContext implements querier.
func (t *transaction) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	if s := t.statement(ctx, query); s != nil {
		return s.QueryRowContext(ctx, args...)
	}
	return t.Tx.QueryRowContext(ctx, query, args...)
}
