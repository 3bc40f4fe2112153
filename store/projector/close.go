package projector

// Sealed days, and where people are at their end.

import "vespers/core/yard"

var closing = Projection{Name: "close", Version: 1, Tables: []string{"seal", "whereabouts"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.Seal:
		body, err := asJSON(e)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO seal (record, day, until, at, by, body) VALUES (?,?,?,?,?,?)", c.Meta.ID, e.Day, e.Until.UnixMilli(), c.Meta.At.UnixMilli(), c.Meta.By, body)
	case yard.PersonHome:
		return tx.Exec("INSERT INTO whereabouts (person, place, by, at) VALUES (?,?,?,?) ON CONFLICT (person) DO UPDATE SET place=excluded.place, by=excluded.by, at=excluded.at", e.Person, e.Where, c.Meta.By, c.Meta.At.UnixMilli())
	}
	return nil
}}
