package projector

// Which machines a whole round has proved, and how long drives take to stop.

import (
	"database/sql"
	"encoding/json"
	"errors"

	"vespers/core/outing"
	"vespers/core/review"
	"vespers/core/round"
	"vespers/core/yard"
)

// rounds reports whether an event says something about a round.
func rounds(c Change) bool {
	switch c.Event.(type) {
	case round.Tested, round.Cranked, round.Shown, round.PutBack, outing.Released:
		return true
	}
	return false
}

var proofs = Projection{Name: "proofs", Version: 1, Tables: []string{"proof"}, On: func(tx Tx, c Change) error {
	if !rounds(c) {
		return nil
	}
	for _, p := range review.Proofs(c.Outing) {
		if err := tx.Exec(`INSERT INTO proof (machine, outing, person, at, tests) VALUES (?,?,?,?,?)
			ON CONFLICT (machine) DO UPDATE SET outing=excluded.outing, person=excluded.person, at=excluded.at, tests=excluded.tests WHERE excluded.at>=proof.at`,
			p.Machine, c.Outing.ID, p.By, p.At.UnixMilli(), p.Tests); err != nil {
			return err
		}
	}
	return nil
}}

// stopTimesMost is how many times are kept: a trend needs no more.
const stopTimesMost = 12

var stopTimes = Projection{Name: "stop_times", Version: 1, Tables: []string{"stop_time"}, On: func(tx Tx, c Change) error {
	if e, closed := c.Event.(yard.DefectClosed); closed {
		for _, permit := range e.Renewed { // a new part: what it took before tells nothing
			if err := tx.Exec("DELETE FROM stop_time WHERE machine=? AND permit=?", c.Machine, permit); err != nil {
				return err
			}
		}
		return nil
	}
	if !rounds(c) {
		return nil
	}
	for _, t := range review.StopTimes(c.Outing) {
		if err := stopTime(tx, t); err != nil {
			return err
		}
	}
	return nil
}}

// stopTime notes a time, in the place of one from the same outing.
func stopTime(tx Tx, t review.StopTime) error {
	var data string
	err := tx.Row("SELECT times FROM stop_time WHERE machine=? AND permit=?", t.Machine, t.Permit).Scan(&data)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	var times []review.Stopped
	if data != "" {
		if err := json.Unmarshal([]byte(data), &times); err != nil {
			return err
		}
	}
	if n := len(times); n > 0 && times[n-1].Outing == t.Outing {
		times = times[:n-1]
	}
	times = append(times, t.Stopped)
	times = times[max(0, len(times)-stopTimesMost):]
	fresh, err := asJSON(times)
	if err != nil {
		return err
	}
	wear := review.WearOf(times)
	return tx.Exec(`INSERT INTO stop_time (machine, permit, times, seconds, within, week, reaches) VALUES (?,?,?,?,?,?,?)
		ON CONFLICT (machine, permit) DO UPDATE SET times=excluded.times, seconds=excluded.seconds, within=excluded.within, week=excluded.week, reaches=excluded.reaches`,
		t.Machine, t.Permit, fresh, t.Seconds, t.Within, sql.NullFloat64{Float64: wear.Week, Valid: !wear.Few}, millis(&wear.Reaches))
}
