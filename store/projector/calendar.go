package projector

// The private addresses of calendars.

import "vespers/core/yard"

var calendar = Projection{Name: "calendar", Version: 1, Tables: []string{"calendar"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.CalendarOpened:
		return tx.Exec("INSERT INTO calendar (person, hash) VALUES (?,?) ON CONFLICT (person) DO UPDATE SET hash=excluded.hash", e.Person, e.Hash)
	case yard.CalendarClosed:
		return tx.Exec("DELETE FROM calendar WHERE person=?", e.Person)
	}
	return nil
}}
