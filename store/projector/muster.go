package projector

// Who is here, whose machines are for the day, its quiet hours and weather.

import "vespers/core/yard"

var muster = Projection{Name: "muster", Version: 1, Tables: []string{"came", "given", "quiet", "weather"}, On: func(tx Tx, c Change) error {
	by, at := c.Meta.By, c.Meta.At.UnixMilli()
	switch e := c.Event.(type) {
	case yard.PersonCame:
		return tx.Exec("INSERT INTO came (person, by, at) VALUES (?,?,?) ON CONFLICT (person) DO UPDATE SET by=excluded.by, at=excluded.at", e.Person, by, at)
	case yard.MachineGiven:
		return tx.Exec("INSERT INTO given (machine, person, by, at) VALUES (?,?,?,?) ON CONFLICT (machine) DO UPDATE SET person=excluded.person, by=excluded.by, at=excluded.at", e.Machine, e.Person, by, at)
	case yard.QuietSaid:
		return tx.Exec("INSERT INTO quiet (record, since, until, what, by) VALUES (?,?,?,?,?)", c.Meta.ID, e.From.UnixMilli(), e.Until.UnixMilli(), e.What, by)
	case yard.QuietDropped:
		return tx.Exec("DELETE FROM quiet WHERE record=?", e.Record)
	case yard.WeatherSaid:
		return tx.Exec("INSERT INTO weather (one, grass, light, storm, by, at) VALUES (1,?,?,?,?,?) ON CONFLICT (one) DO UPDATE SET grass=excluded.grass, light=excluded.light, storm=excluded.storm, by=excluded.by, at=excluded.at", e.Grass, e.Light, e.Storm, by, at)
	}
	return nil
}}
