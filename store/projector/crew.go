package projector

// The people: what a lead wrote down of them, and their own settings.

import (
	"vespers/core/yard"
)

var crew = Projection{Name: "crew", Version: 4, Tables: []string{"person"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.PersonAdded:
		return tx.Exec("INSERT INTO person (id,name,role,language,units) VALUES (?,?,?,?,?)", e.ID, e.Name, e.Role, e.Language, e.Units)
	case yard.PersonSet:
		return tx.Exec("UPDATE person SET language=?, units=?, theme=?, keys=? WHERE id=?", e.Language, e.Units, e.Theme, e.Keys, e.ID)
	case yard.PersonChanged:
		return tx.Exec("UPDATE person SET name=?, role=?, language=? WHERE id=?", e.Name, e.Role, e.Language, e.ID)
	case yard.DutiesHanded:
		return tx.Exec("UPDATE person SET stands_in=? WHERE id=?", max(e.Until.UnixMilli(), 0), e.ID)
	case yard.NewsHeard:
		return tx.Exec("UPDATE person SET heard=? WHERE id=?", c.Meta.At.UnixMilli(), e.Person)
	case yard.PersonLeft:
		return tx.Exec("UPDATE person SET left_on=?, stands_in=0 WHERE id=?", c.Meta.At.UnixMilli(), e.ID)
	case yard.PersonReturned:
		return tx.Exec("UPDATE person SET left_on=0 WHERE id=?", e.ID)
	case yard.BornRecorded:
		return tx.Exec("UPDATE person SET born=? WHERE id=?", e.Born, e.Person)
	case yard.ManualRecorded:
		e.Manual.Record = c.Meta.ID
		return addTo(tx, "manuals", e.Person, e.Manual)
	case yard.QualificationRecorded:
		e.Qualification.Record = c.Meta.ID
		return addTo(tx, "qualifications", e.Person, e.Qualification)
	case yard.Withdrawn:
		for _, list := range []string{"manuals", "qualifications"} {
			if err := tx.Exec(`UPDATE person SET `+list+`=(SELECT json_group_array(json(value)) FROM json_each(person.`+list+`) WHERE value->>'record' IS NOT ?)
				WHERE id=?`, e.Record, e.Person); err != nil {
				return err
			}
		}
	}
	return nil
}}

// addTo puts something at the end of a list in a person's row.
func addTo(tx Tx, list, person string, v any) error {
	data, err := asJSON(v)
	if err != nil {
		return err
	}
	return tx.Exec("UPDATE person SET "+list+"=json_insert("+list+", '$[#]', json(?)) WHERE id=?", data, person)
}
