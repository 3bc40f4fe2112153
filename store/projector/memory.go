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

var memory = Projection{Name: "memory", Version: 2, Tables: []string{"memory", "wear"}, On: func(tx Tx, c Change) error {
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
			var after outing.Memory
			if err := remember(tx, u.Machine, func(m outing.Memory) outing.Memory { after = m.After(c.Outing, u.Machine); return after }); err != nil {
				return err
			}
			if err := wears(tx, u, after); err != nil {
				return err
			}
		}
	case yard.DefectClosed:
		return mended(tx, c.Machine, e)
	case yard.MeterSet:
		if e.Exchanged { // the hours since go on counting on the new meter
			if err := tx.Exec("UPDATE wear SET at=at+? WHERE machine=?", e.Hours-e.Was, e.Machine); err != nil {
				return err
			}
		}
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
	for _, p := range points {
		if slices.Contains(e.Replaced, p) {
			if err := tx.Exec("DELETE FROM wear WHERE machine=? AND point=?", machine, p); err != nil {
				return err
			}
		}
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

// wears notes where the readings of a machine come to a limit, if they go on so.
func wears(tx Tx, u *outing.UnitState, m outing.Memory) error {
	if err := tx.Exec("DELETE FROM wear WHERE machine=?", u.Machine); err != nil {
		return err
	}
	if !u.Sheet.Metered() {
		return nil // its wear goes by no hours
	}
	for _, s := range m.Series {
		c, ok := u.Sheet.Check(s.Check)
		if !ok {
			continue
		}
		r, ok := c.Reading(s.Item)
		if !ok || r.Limits == nil || r.Unit != s.Unit {
			continue
		}
		to, ok := defect.LeadsTo(c, r, s, u.HoursNow())
		if !ok {
			continue
		}
		if err := tx.Exec("INSERT INTO wear (machine, point, item, last, reaches, at) VALUES (?,?,?,?,?,?)",
			u.Machine, s.Check, s.Item, s.Points[len(s.Points)-1].Value, r.UnitOf().In(to.Limit.Quantity), u.HoursNow()+to.Left); err != nil {
			return err
		}
	}
	return nil
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
