package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"vespers/core/interlock"
	"vespers/core/outing"
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

// StopTimes is how long a drive of a machine took to stop the last times, oldest
// first, and where that leads.
type StopTimes struct {
	Machine, Permit string
	Times           []outing.Stopped
	Wear            outing.Wear
}

// stopTimesMost is how many times are kept: a trend needs no more.
const stopTimesMost = 12

// stopTime notes a time, in the place of one from the same outing.
func (p *projector) stopTime(t outing.StopTime) error {
	var data string
	err := p.tx.QueryRowContext(p.ctx, "SELECT times FROM stop_time WHERE machine=? AND permit=?", t.Machine, t.Permit).Scan(&data)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	times, err := unmarshal[[]outing.Stopped](data)
	if err != nil {
		return err
	}
	if n := len(times); n > 0 && times[n-1].Outing == t.Outing {
		times = times[:n-1]
	}
	times = append(times, t.Stopped)
	times = times[max(0, len(times)-stopTimesMost):]
	fresh, err := json.Marshal(times)
	if err != nil {
		return err
	}
	var reaches int64
	if wear := outing.WearOf(times); !wear.Reaches.IsZero() {
		reaches = wear.Reaches.UnixMilli()
	}
	return p.exec("INSERT INTO stop_time VALUES (?,?,?,?) ON CONFLICT (machine, permit) DO UPDATE SET times=excluded.times, reaches=excluded.reaches", t.Machine, t.Permit, string(fresh), reaches)
}

// StopTimes lists what was timed on some machines.
func (s *Store) StopTimes(ctx context.Context, machines ...string) (map[string][]StopTimes, error) {
	ids, err := json.Marshal(machines)
	if err != nil {
		return nil, err
	}
	rows, err := s.reader.QueryContext(ctx, "SELECT machine, permit, times FROM stop_time WHERE machine IN (SELECT value FROM json_each(?)) ORDER BY machine, permit", string(ids))
	if err != nil {
		return nil, err
	}
	list, err := collect(rows, func(row interface{ Scan(...any) error }) (StopTimes, error) {
		var t StopTimes
		var times string
		if err := row.Scan(&t.Machine, &t.Permit, &times); err != nil {
			return t, err
		}
		err := json.Unmarshal([]byte(times), &t.Times)
		t.Wear = outing.WearOf(t.Times)
		return t, err
	})
	out := map[string][]StopTimes{}
	for _, t := range list {
		out[t.Machine] = append(out[t.Machine], t)
	}
	return out, err
}

// WearsOut tells of each machine with a drive that comes to its stopping time's
// limit when the first of them does.
func (s *Store) WearsOut(ctx context.Context) (map[string]outing.Wear, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT machine, min(reaches) FROM stop_time WHERE reaches>0 GROUP BY machine")
	if err != nil {
		return nil, err
	}
	out := map[string]outing.Wear{}
	_, err = collect(rows, func(row interface{ Scan(...any) error }) (string, error) {
		var machine string
		var reaches int64
		err := row.Scan(&machine, &reaches)
		out[machine] = outing.Wear{Reaches: milli(reaches)}
		return machine, err
	})
	return out, err
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
