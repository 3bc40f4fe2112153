package store

// Outings as their records say, remembered while they are in use.

import (
	"context"
	"sync"

	"vespers/core/machine"
	"vespers/core/outing"
)

// Outing is an outing as its records say.
func (s *Store) Outing(ctx context.Context, id string) (*outing.Outing, error) {
	return s.fold(ctx, s.reader, id)
}

// foldCache remembers outings as they stood after some record, so that an
// answer costs one event and not all of them. What is remembered is never
// changed: an outing is a value.
type foldCache struct {
	mu     sync.Mutex
	outing map[string]folded
}

// folded is an outing with the hash of the last record taken in: a number
// would not do, because a transaction that fails gives its numbers back.
type folded struct {
	outing *outing.Outing
	last   string
}

// foldMost bounds the memory: the outings of a busy day.
const foldMost = 1000

func (c *foldCache) get(id string, last []byte) *outing.Outing {
	c.mu.Lock()
	defer c.mu.Unlock()
	if f, ok := c.outing[id]; ok && f.last == string(last) {
		return f.outing
	}
	return nil
}

func (c *foldCache) put(id string, last []byte, o *outing.Outing) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.outing) >= foldMost {
		for some := range c.outing {
			delete(c.outing, some)
			break
		}
	}
	c.outing[id] = folded{o, string(last)}
}

// fold takes in every record of an outing, or finds it remembered. Other
// processes may have written to the file, so the last record is looked up.
func (s *Store) fold(ctx context.Context, q querier, id string) (*outing.Outing, error) {
	var last []byte
	if err := q.QueryRowContext(ctx, "SELECT hash FROM record WHERE outing = ? AND outing <> '' ORDER BY seq DESC LIMIT 1", id).Scan(&last); err != nil {
		return nil, notFound(err)
	}
	return s.foldTo(ctx, q, id, last)
}

// foldTo is fold where the hash of the outing's last record is known.
func (s *Store) foldTo(ctx context.Context, q querier, id string, last []byte) (*outing.Outing, error) {
	if o := s.folds.get(id, last); o != nil {
		return o, nil
	}
	rows, err := q.QueryContext(ctx, "SELECT "+recordColumns+" FROM record WHERE outing = ? AND outing <> '' ORDER BY seq", id)
	if err != nil {
		return nil, err
	}
	records, err := collect(rows, scanRecord)
	if err != nil {
		return nil, err
	}
	var o *outing.Outing
	for _, r := range records {
		e, err := r.event()
		if err != nil {
			return nil, err
		}
		if started, ok := e.(outing.Started); ok {
			if o, err = s.begin(ctx, q, r, started); err != nil {
				return nil, err
			}
			continue
		}
		o = o.Apply(r.meta(), e)
	}
	s.folds.put(id, records[len(records)-1].Hash, o)
	return o, nil
}

// begin makes an outing from its first record.
func (s *Store) begin(ctx context.Context, q querier, r Record, e outing.Started) (*outing.Outing, error) {
	return outing.Begin(r.Outing, r.meta(), e, func(h string) (*machine.Sheet, error) { return s.sheet(ctx, q, h) })
}

// WornBefore is the protection that a person had on at their last outing but this
// one at which they said so.
func (s *Store) WornBefore(ctx context.Context, person, except string) ([]string, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT id FROM outing WHERE operator=? AND id<>? ORDER BY began DESC LIMIT 3", person, except)
	if err != nil {
		return nil, err
	}
	ids, err := collect(rows, func(row row) (id string, err error) { return id, row.Scan(&id) })
	for _, id := range ids {
		o, err := s.Outing(ctx, id)
		if err != nil {
			return nil, err
		}
		for _, t := range o.Turns {
			if t.Operator == person && t.Ready != nil {
				return t.Ready.Worn, nil
			}
		}
	}
	return nil, err
}
