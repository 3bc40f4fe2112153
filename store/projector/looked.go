package projector

// When each point was last looked at, for what comes due again: points of every
// outing are asked for anyway.

import (
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/yard"
)

// The points under which a machine's coming and its last repair are noted.
const (
	LookedAdded    = "+"
	LookedRepaired = "repair"
)

var looked = Projection{Name: "looked", Version: 1, Tables: []string{"looked"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.MachineAdded:
		return look(tx, e.ID, LookedAdded, c.Meta.At, e.Hours)
	case yard.DefectClosed:
		var hours float64
		if err := tx.Row("SELECT hours FROM machine WHERE id=?", c.Machine).Scan(&hours); err != nil {
			return err
		}
		return look(tx, c.Machine, LookedRepaired, c.Meta.At, hours)
	case yard.MeterSet:
		if e.Exchanged { // the hours since go on counting on the new meter
			return tx.Exec("UPDATE looked SET hours=hours+? WHERE machine=?", e.Hours-e.Was, e.Machine)
		}
		return tx.Exec("UPDATE looked SET hours=min(hours,?) WHERE machine=?", e.Hours, e.Machine)
	case outing.Ended:
		return lookedIn(tx, c.Outing)
	}
	return nil
}}

// lookedIn notes what an outing looked at, on the walk-around and at breaks.
func lookedIn(tx Tx, o *outing.Outing) error {
	for _, u := range o.Units {
		looks := []inspect.State{u.State}
		for _, b := range o.Breaks {
			for _, l := range b.Looks {
				if l.Machine == u.Machine {
					looks = append(looks, l)
				}
			}
		}
		for i := range u.Sheet.Checks {
			if u.Sheet.Checks[i].Every == nil {
				continue
			}
			if at := lastLook(&u.Sheet.Checks[i], looks); !at.IsZero() {
				if err := look(tx, u.Machine, u.Sheet.Checks[i].ID, at, u.HoursNow()); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// lastLook is when a point was last answered in full, or zero.
func lastLook(c *machine.Check, looks []inspect.State) (at time.Time) {
	for _, l := range looks {
		if len(l.Open(c.ID)) > 0 {
			continue
		}
		for _, item := range append([]string{""}, inspect.Items(c)...) {
			if g, ok := l.Last(c.ID, item); ok && g.Meta.At.After(at) {
				at = g.Meta.At
			}
		}
	}
	return at
}

func look(tx Tx, machine, point string, at time.Time, hours float64) error {
	return tx.Exec("INSERT INTO looked (machine, point, at, hours) VALUES (?,?,?,?) ON CONFLICT (machine, point) DO UPDATE SET at=excluded.at, hours=excluded.hours WHERE excluded.at>=looked.at", machine, point, at.UnixMilli(), hours)
}
