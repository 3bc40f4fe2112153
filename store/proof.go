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
	rows, err := s.reader.QueryContext(ctx, "SELECT "+machineColumns+`, coalesce(q.name, p.person, ''), coalesce(p.at, 0),
		coalesce((SELECT min(reaches) FROM stop_time t WHERE t.machine=m.id AND t.reaches>0), 0)
		FROM machine m LEFT JOIN proof p ON p.machine=m.id LEFT JOIN person q ON q.id=p.person ORDER BY length(m.bay), m.bay, m.name`)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row interface{ Scan(...any) error }) (Proof, error) {
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
	Wear            outing.Wear
	Times           []outing.Stopped // oldest first; only for a drive that comes to its limit
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
	wear := outing.WearOf(times)
	var reaches int64
	if !wear.Reaches.IsZero() {
		reaches = wear.Reaches.UnixMilli()
	}
	return p.exec(`INSERT INTO stop_time VALUES (?,?,?,?,?,?,?) ON CONFLICT (machine, permit) DO UPDATE SET
		times=excluded.times, seconds=excluded.seconds, within=excluded.within, week=excluded.week, reaches=excluded.reaches`,
		t.Machine, t.Permit, string(fresh), t.Seconds, t.Within, sql.NullFloat64{Float64: wear.Week, Valid: !wear.Few}, reaches)
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
	list, err := collect(rows, func(row interface{ Scan(...any) error }) (StopTimes, error) {
		var t StopTimes
		var times string
		var week sql.NullFloat64
		var reaches int64
		if err := row.Scan(&t.Machine, &t.Permit, &t.Seconds, &t.Within, &week, &reaches, &times); err != nil {
			return t, err
		}
		t.Wear = outing.Wear{Few: !week.Valid, Week: week.Float64, Reaches: milli(reaches)}
		var err error
		t.Times, err = unmarshal[[]outing.Stopped](times)
		return t, err
	})
	out := map[string][]StopTimes{}
	for _, t := range list {
		out[t.Machine] = append(out[t.Machine], t)
	}
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
