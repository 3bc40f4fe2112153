package projector

// What comes again and again in how machines are looked at, noted when an outing
// is released.

import (
	"database/sql"
	"errors"

	"vespers/core/outing"
	"vespers/core/review"
)

func released(c Change) bool { _, ok := c.Event.(outing.Released); return ok }

var walks = Projection{Name: "walks", Version: 1, Tables: []string{"walked"}, On: func(tx Tx, c Change) error {
	if !released(c) {
		return nil
	}
	for _, w := range review.Walks(c.Outing) {
		if err := tx.Exec(`INSERT INTO walked (outing, machine, person, at, seconds, least, hurried) VALUES (?,?,?,?,?,?,?) ON CONFLICT (machine, outing) DO NOTHING`,
			c.Outing.ID, w.Machine, w.By, w.At.UnixMilli(), w.Seconds, w.Least, w.Hurried()); err != nil {
			return err
		}
	}
	return nil
}}

var streaks = Projection{Name: "streaks", Version: 1, Tables: []string{"streak"}, On: func(tx Tx, c Change) error {
	if !released(c) {
		return nil
	}
	for _, u := range c.Outing.Units {
		for _, r := range review.Gauged(u) {
			if err := tx.Exec(`INSERT INTO streak (machine, point, item, typed, times, person, at) VALUES (?,?,?,?,1,?,?) ON CONFLICT (machine, point, item) DO UPDATE SET
				times=CASE WHEN typed=excluded.typed THEN times+1 ELSE 1 END, typed=excluded.typed, person=excluded.person, at=excluded.at`,
				u.Machine, r.Check, r.Item, r.Value.Typed+" "+r.Value.Unit, c.Outing.Operator(), r.At.UnixMilli()); err != nil {
				return err
			}
		}
	}
	return nil
}}

// walkedRound reports whether what an outing found is complete: it is released, or it
// ends without (a Halt), and was no repair and no paper.
func walkedRound(c Change) bool {
	e, ended := c.Event.(outing.Ended)
	return released(c) || ended && e.How == outing.EndGivenUp && c.Outing.Repair == nil && c.Outing.Paper == nil
}

var misses = Projection{Name: "misses", Version: 2, Tables: []string{"missed"}, On: func(tx Tx, c Change) error {
	if !walkedRound(c) {
		return nil
	}
	for _, u := range c.Outing.Units {
		before, err := outingBefore(tx, c, u.Machine)
		if err != nil {
			return err
		}
		if before == nil {
			continue
		}
		for _, m := range review.MissedBy(c.Outing, u.Machine, before) {
			if err := tx.Exec(`INSERT INTO missed (machine, point, outing, person, at, found) VALUES (?,?,?,?,?,?) ON CONFLICT (machine, point, outing) DO NOTHING`,
				m.Machine, m.Check, c.Outing.ID, m.By, m.At.UnixMilli(), m.Found.UnixMilli()); err != nil {
				return err
			}
		}
	}
	return nil
}}

// outingBefore is a machine's outing before this one, or nil. It is only looked
// for where something was found.
func outingBefore(tx Tx, c Change, machine string) (*outing.Outing, error) {
	found := false
	for _, d := range c.Outing.Defects() {
		found = found || d.Machine == machine && !d.Carried && d.Check != ""
	}
	if !found {
		return nil, nil
	}
	var id string
	err := tx.Row("SELECT outing FROM outing_unit WHERE machine=? AND began<? ORDER BY began DESC LIMIT 1", machine, c.Outing.Began.UnixMilli()).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return c.Fold(id)
}
