package store

import (
	"context"
	"encoding/json"
	"time"

	"vespers/core/interlock"
)

// Proof is when a machine's interlocks were last proved by a whole round.
type Proof struct {
	Machine, Outing, PersonName string
	At                          time.Time
	Tests                       int
}

// Proofs lists the last proof of every machine that has one, by machine.
func (s *Store) Proofs(ctx context.Context) (map[string]Proof, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT p.machine, p.outing, coalesce(q.name, p.person), p.at, p.tests FROM proof p LEFT JOIN person q ON q.id=p.person")
	if err != nil {
		return nil, err
	}
	list, err := collect(rows, func(row interface{ Scan(...any) error }) (Proof, error) {
		var p Proof
		var at int64
		err := row.Scan(&p.Machine, &p.Outing, &p.PersonName, &at, &p.Tests)
		p.At = milli(at)
		return p, err
	})
	out := map[string]Proof{}
	for _, p := range list {
		out[p.Machine] = p
	}
	return out, err
}

// StopTime is how long a drive of a machine took to stop, and how long it may,
// in seconds.
type StopTime struct {
	Machine, Permit string
	At              time.Time
	Seconds, Within float64
}

// StopTimes lists what was timed since a moment, oldest first; of one machine,
// or of all if machine is "".
func (s *Store) StopTimes(ctx context.Context, machine string, since time.Time) ([]StopTime, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT machine, permit, at, seconds, within FROM stop_time WHERE (?1='' OR machine=?1) AND at>=?2 ORDER BY machine, permit, at", machine, since.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row interface{ Scan(...any) error }) (StopTime, error) {
		var t StopTime
		var at int64
		err := row.Scan(&t.Machine, &t.Permit, &at, &t.Seconds, &t.Within)
		t.At = milli(at)
		return t, err
	})
}

// Trials lists what was tried to find the switch behind a defect, in order.
func (s *Store) Trials(ctx context.Context, defect string) ([]interlock.Observation, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT body FROM trial WHERE defect=? ORDER BY seq", defect)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row interface{ Scan(...any) error }) (interlock.Observation, error) {
		var o interlock.Observation
		var body string
		if err := row.Scan(&body); err != nil {
			return o, err
		}
		return o, json.Unmarshal([]byte(body), &o)
	})
}

// Plan is the round of a sheet, computed once.
func (s *Store) Plan(sheet string, logic *interlock.Logic) interlock.Plan {
	return s.rounds.of(sheet, logic)
}
