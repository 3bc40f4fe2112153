package projector

// The yard's own settings, and what leads did about people and the yard.

import (
	"database/sql"
	"encoding/json"
	"errors"
	"strconv"

	"vespers/core/outing"
	"vespers/core/yard"
)

var yards = Projection{Name: "yard", Version: 4, Tables: []string{"yard"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.Named:
		return named(tx, c, e)
	case outing.Released:
		if yard.MowsFineTurf(c.Outing) { // a day is one, however often it is mown
			day := c.Outing.Until.UnixMilli()
			return tx.Exec("UPDATE yard SET mown=mown+1, mown_until=? WHERE mown_until<?", day, day)
		}
	}
	return nil
}}

var acts = Projection{Name: "act", Version: 3, Tables: []string{"act"}, On: func(tx Tx, c Change) error {
	kind, subject, why := c.Event.Kind(), "", ""
	switch e := c.Event.(type) {
	case yard.PersonChanged:
		subject = e.ID
	case yard.PINSet:
		if e.ID == c.Meta.By || c.Meta.By == "" {
			return nil
		}
		subject = e.ID
	case yard.DutiesHanded:
		if subject = e.ID; e.Until.IsZero() {
			kind = "duties_ended"
		}
	case yard.PersonLeft:
		subject = e.ID
	case yard.PersonReturned:
		subject = e.ID
	case yard.Withdrawn:
		subject, why = e.Person, e.Why
	case yard.MeterSet:
		subject, why = e.Machine, e.Reason
	case yard.MachineChanged:
		subject, why = e.Machine, e.Name+", "+e.Bay
	case yard.MachineLeft:
		subject, why = e.Machine, e.Why
	case yard.MachineReturned:
		subject = e.Machine
	case outing.TermsSet:
		subject, why = c.Machine, e.Why
	case yard.PicturesDropped:
		why = strconv.Itoa(len(e.Hashes))
	case yard.ClockWrong:
		why = e.Reason
	default:
		return nil
	}
	return tx.Exec("INSERT INTO act (seq, at, by, kind, subject, why) VALUES (?,?,?,?,?,?)", c.Seq, c.Meta.At.UnixMilli(), c.Meta.By, kind, subject, why)
}}

// named sets the yard up or changes it, and notes who chose what of its practice.
func named(tx Tx, c Change, e yard.Named) error {
	if len(e.Practice) == 0 { // a record keeps no empty one
		e.Practice = nil
	}
	before, chosen := yard.Practice{}, map[string]yard.Chosen{}
	was, by := "{}", "{}"
	if err := tx.Row("SELECT practice, chosen FROM yard").Scan(&was, &by); err != nil && !errors.Is(err, sql.ErrNoRows) {
		return err
	}
	if err := errors.Join(json.Unmarshal([]byte(was), &before), json.Unmarshal([]byte(by), &chosen)); err != nil {
		return err
	}
	if chosen == nil {
		chosen = map[string]yard.Chosen{}
	}
	for key, choice := range e.Practice {
		if before[key] != choice {
			chosen[key] = yard.Chosen{By: c.Meta.By, At: c.Meta.At}
		}
	}
	for key := range before {
		if _, still := e.Practice[key]; !still {
			delete(chosen, key)
		}
	}
	var texts []any
	for _, v := range []any{e.House, e.Practice, chosen, e.Emergency, e.Places, e.Pictures} {
		text, err := asJSON(v)
		if err != nil {
			return err
		}
		texts = append(texts, text)
	}
	return tx.Exec(`INSERT INTO yard (one, name, timezone, house, practice, chosen, emergency, places, pictures) VALUES (1,?,?,?,?,?,?,?,?)
		ON CONFLICT (one) DO UPDATE SET name=excluded.name, timezone=excluded.timezone, house=excluded.house,
		practice=excluded.practice, chosen=excluded.chosen, emergency=excluded.emergency, places=excluded.places, pictures=excluded.pictures`, append([]any{e.Name, e.Timezone}, texts...)...)
}
