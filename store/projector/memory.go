package projector

// What is remembered of each machine: what was not sound, what was done about it, what
// was read. The rules of it are in core/outing.

import (
	"database/sql"
	"encoding/json"
	"errors"
	"slices"

	"vespers/core/defect"
	"vespers/core/outing"
	"vespers/core/yard"
)

var memory = Projection{Name: "memory", Version: 1, Tables: []string{"memory"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case outing.Started:
		if e.Repair != nil {
			return nil // it goes nowhere
		}
		for _, u := range c.Outing.Units {
			if err := remember(tx, u.Machine, outing.Memory.Started); err != nil {
				return err
			}
		}
	case outing.Ended:
		for _, u := range c.Outing.Units {
			if err := remember(tx, u.Machine, func(m outing.Memory) outing.Memory { return m.After(c.Outing, u.Machine) }); err != nil {
				return err
			}
		}
	case yard.DefectClosed:
		return mended(tx, c.Machine, e)
	case yard.MeterSet:
		return remember(tx, e.Machine, func(m outing.Memory) outing.Memory { return m.Metered(e.Was, e.Hours, e.Exchanged) })
	}
	return nil
}}

// mended notes the work of a return to service: at the point of the defect, and
// wherever else hands were.
func mended(tx Tx, machine string, e yard.DefectClosed) error {
	var point string
	if err := tx.Row("SELECT point FROM defect WHERE id=?", e.Defect).Scan(&point); err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	points := slices.Clone(e.Touched)
	if point != "" && !slices.Contains(points, point) {
		points = append(points, point)
	}
	return remember(tx, machine, func(m outing.Memory) outing.Memory {
		for _, p := range points {
			work := defect.Repaired
			if slices.Contains(e.Replaced, p) {
				work = defect.Replaced
			}
			m = m.Mended(p, work)
		}
		return m
	})
}

// remember changes what is remembered of a machine.
func remember(tx Tx, machine string, change func(outing.Memory) outing.Memory) error {
	var body string
	err := tx.Row("SELECT body FROM memory WHERE machine=?", machine).Scan(&body)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	var m outing.Memory
	if body != "" {
		if err := json.Unmarshal([]byte(body), &m); err != nil {
			return err
		}
	}
	fresh, err := asJSON(change(m))
	if err != nil {
		return err
	}
	return tx.Exec("INSERT INTO memory (machine, body) VALUES (?,?) ON CONFLICT (machine) DO UPDATE SET body=excluded.body", machine, fresh)
}
