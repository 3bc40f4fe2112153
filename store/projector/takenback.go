package projector

// Halts that were found and taken back, noted when they are.

import (
	"vespers/core/inspect"
	"vespers/core/review"
)

var takenBack = Projection{Name: "taken_back", Version: 1, Tables: []string{"taken_back"}, On: func(tx Tx, c Change) error {
	e, answered := c.Event.(inspect.Answered)
	if !answered || e.Why == "" || c.Outing == nil {
		return nil
	}
	for _, b := range c.Outing.Unit(e.Machine).TakenBack() {
		if b.Now.Meta.ID != c.Meta.ID || !review.HaltTakenBack(b) {
			continue
		}
		if err := tx.Exec(`INSERT INTO taken_back (machine, point, item, outing, record, person, second, why, at) VALUES (?,?,?,?,?,?,?,?,?)`,
			e.Machine, e.Check, e.Item, c.Outing.ID, c.Meta.ID, c.Meta.By, e.Second, e.Why, c.Meta.At.UnixMilli()); err != nil {
			return err
		}
	}
	return nil
}}
