package store

// What interlock rounds proved, and how long drives take to stop.

import (
	"context"
	"database/sql"
	"encoding/json"
	"slices"
	"time"
	"vespers/core/review"
)

// Proof is a machine with when its interlocks were last proved by a whole round.
type Proof struct {
	Machine
	PersonName string    // who did; "" if nobody
	At         time.Time // zero if never
	// Reaches is when the first of its drives comes to the limit of its stopping
	// time, if it goes on so; zero if none does.
	Reaches time.Time
}

// Proofs lists the machines by bay with what is known of their interlocks.
func (s *Store) Proofs(ctx context.Context) ([]Proof, error) {
	last, err := s.lastRecord(ctx)
	if err != nil {
		return nil, err
	}
	list, err := sinceLast(s, last, "proofs", func() ([]Proof, error) { return s.proofs(ctx) })
	return slices.Clone(list), err
}

func (s *Store) proofs(ctx context.Context) ([]Proof, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+machineColumns+`, coalesce(q.name, p.person, ''), coalesce(p.at, 0),
		coalesce((SELECT min(reaches) FROM stop_time t WHERE t.machine=m.id AND t.reaches>0), 0)
		FROM machine m LEFT JOIN proof p ON p.machine=m.id LEFT JOIN person q ON q.id=p.person WHERE m.left_at=0 ORDER BY length(m.bay), m.bay, m.name`)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (Proof, error) {
		var p Proof
		var at, reaches int64
		var err error
		p.Machine, err = scanMachine(row, &p.PersonName, &at, &reaches)
		p.At, p.Reaches = milli(at), milli(reaches)
		return p, err
	})
}

// StopTimes is how long a drive of a machine took to stop, and where that leads.
type StopTimes struct {
	Machine, Permit string
	Seconds, Within float64 // the last time, and its limit
	Wear            review.Wear
	Times           []review.Stopped // oldest first; only for a drive that comes to its limit
}

// StopTimes lists what was timed on some machines, by machine.
func (s *Store) StopTimes(ctx context.Context, machines ...string) (map[string][]StopTimes, error) {
	ids, err := json.Marshal(machines)
	if err != nil {
		return nil, err
	}
	rows, err := s.reader.QueryContext(ctx, `SELECT machine, permit, seconds, within, week, reaches, CASE WHEN reaches>0 THEN times ELSE '' END
		FROM stop_time WHERE machine IN (SELECT value FROM json_each(?)) ORDER BY machine, permit`, string(ids))
	if err != nil {
		return nil, err
	}
	list, err := collect(rows, func(row row) (StopTimes, error) {
		var t StopTimes
		var times string
		var week sql.NullFloat64
		var reaches int64
		if err := row.Scan(&t.Machine, &t.Permit, &t.Seconds, &t.Within, &week, &reaches, &times); err != nil {
			return t, err
		}
		t.Wear = review.Wear{Few: !week.Valid, Week: week.Float64, Reaches: milli(reaches)}
		var err error
		t.Times, err = unmarshal[[]review.Stopped](times)
		return t, err
	})
	out := map[string][]StopTimes{}
	for _, t := range list {
		out[t.Machine] = append(out[t.Machine], t)
	}
	return out, err
}
