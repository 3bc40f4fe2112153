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

// StopTime is how long a drive took to stop in an outing, and how long it may,
// in seconds.
type StopTime struct {
	Outing  string    `json:"outing"`
	At      time.Time `json:"at"`
	Seconds float64   `json:"seconds"`
	Within  float64   `json:"within"`
}

// StopTimes is how long a drive of a machine took to stop the last times, oldest
// first.
type StopTimes struct {
	Machine, Permit string
	Points          []StopTime
}

// stopTimesMost is how many times are kept: a trend needs no more.
const stopTimesMost = 12

// stopTime notes a time, in the place of one from the same outing.
func (p *projector) stopTime(outingID string, t outing.StopTime) error {
	var data string
	err := p.tx.QueryRowContext(p.ctx, "SELECT points FROM stop_time WHERE machine=? AND permit=?", t.Machine, t.Permit).Scan(&data)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	points, err := unmarshal[[]StopTime](data)
	if err != nil {
		return err
	}
	if n := len(points); n > 0 && points[n-1].Outing == outingID {
		points = points[:n-1]
	}
	points = append(points, StopTime{Outing: outingID, At: t.At.UTC(), Seconds: t.Seconds, Within: t.Within})
	fresh, err := json.Marshal(points[max(0, len(points)-stopTimesMost):])
	if err != nil {
		return err
	}
	return p.exec("INSERT INTO stop_time VALUES (?,?,?) ON CONFLICT (machine, permit) DO UPDATE SET points=excluded.points", t.Machine, t.Permit, string(fresh))
}

// StopTimes lists what was timed on every machine.
func (s *Store) StopTimes(ctx context.Context) ([]StopTimes, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT machine, permit, points FROM stop_time ORDER BY machine, permit")
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row interface{ Scan(...any) error }) (StopTimes, error) {
		var t StopTimes
		var points string
		if err := row.Scan(&t.Machine, &t.Permit, &points); err != nil {
			return t, err
		}
		return t, json.Unmarshal([]byte(points), &t.Points)
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
