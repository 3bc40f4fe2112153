package store

// What is remembered of a machine.

import (
	"context"
	"database/sql"
	"errors"

	"vespers/core/outing"
)

func (s *Store) memory(ctx context.Context, q querier, machineID string) (outing.Memory, error) {
	var body string
	err := q.QueryRowContext(ctx, "SELECT body FROM memory WHERE machine=?", machineID).Scan(&body)
	if errors.Is(err, sql.ErrNoRows) {
		return outing.Memory{}, nil
	}
	if err != nil {
		return outing.Memory{}, err
	}
	return unmarshal[outing.Memory](body)
}

// Memory is what is remembered of a machine: what was not sound in its last outings,
// what was done about it, and what was read.
func (s *Store) Memory(ctx context.Context, machineID string) (outing.Memory, error) {
	return s.memory(ctx, s.reader, machineID)
}
