package projector

// The yard's own settings, and what leads did about people and the yard.

import (
	"vespers/core/yard"
)

var yards = Projection{Name: "yard", Version: 1, Tables: []string{"yard"}, On: func(tx Tx, c Change) error {
	e, ok := c.Event.(yard.Named)
	if !ok {
		return nil
	}
	house, err := asJSON(e.House)
	if err != nil {
		return err
	}
	return tx.Exec(`INSERT INTO yard (one, name, timezone, house) VALUES (1,?,?,?)
		ON CONFLICT (one) DO UPDATE SET name=excluded.name, timezone=excluded.timezone, house=excluded.house`, e.Name, e.Timezone, house)
}}

var acts = Projection{Name: "act", Version: 1, Tables: []string{"act"}, On: func(tx Tx, c Change) error {
	subject, why := "", ""
	switch e := c.Event.(type) {
	case yard.PersonChanged:
		subject = e.ID
	case yard.PINSet:
		if e.ID == c.Meta.By || c.Meta.By == "" {
			return nil
		}
		subject = e.ID
	case yard.PersonLeft:
		subject = e.ID
	case yard.PersonReturned:
		subject = e.ID
	case yard.Withdrawn:
		subject, why = e.Person, e.Why
	case yard.MeterSet:
		subject, why = e.Machine, e.Reason
	case yard.ClockWrong:
		why = e.Reason
	default:
		return nil
	}
	return tx.Exec("INSERT INTO act (seq, at, by, kind, subject, why) VALUES (?,?,?,?,?,?)", c.Seq, c.Meta.At.UnixMilli(), c.Meta.By, c.Event.Kind(), subject, why)
}}
