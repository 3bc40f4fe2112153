package projector

// The machines: where they stand, what their meters say, when they worked. Their
// grade is written with the defects.

import (
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/yard"
)

var machines = Projection{Name: "machines", Version: 7, Tables: []string{"machine"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.MachineAdded:
		hash, chosen := machine.SplitKey(e.Sheet)
		return tx.Exec("INSERT INTO machine (id,name,bay,sheet,options,hours,hirer) VALUES (?,?,?,?,?,?,?)", e.ID, e.Name, e.Bay, hash, chosen.String(), e.Hours, e.Hirer)
	case yard.SheetAdopted:
		hash, chosen := machine.SplitKey(e.Sheet)
		return tx.Exec("UPDATE machine SET sheet=?, options=? WHERE id=?", hash, chosen.String(), e.Machine)
	case yard.MeterSet:
		return tx.Exec("UPDATE machine SET hours=?, hours_at=? WHERE id=?", e.Hours, c.Meta.At.UnixMilli(), e.Machine)
	case yard.MachineChanged:
		return tx.Exec("UPDATE machine SET name=?, bay=?, hirer=? WHERE id=?", e.Name, e.Bay, e.Hirer, e.Machine)
	case yard.MachineLeft:
		return tx.Exec("UPDATE machine SET left_at=?, left_why=? WHERE id=?", c.Meta.At.UnixMilli(), e.Why, e.Machine)
	case yard.MachineReturned:
		return tx.Exec("UPDATE machine SET left_at=0, left_why='', bay=? WHERE id=?", e.Bay, e.Machine)
	case yard.DefectClosed: // somebody has worked on it: nobody knows how it was left
		return tx.Exec("UPDATE machine SET stood='' WHERE id=?", c.Machine)
	case outing.Started:
		for _, u := range c.Outing.Units {
			if err := tx.Exec("UPDATE machine SET outing=? WHERE id=?", c.Outing.ID, u.Machine); err != nil {
				return err
			}
		}
	case outing.Readied:
		for _, r := range e.Refitted {
			_, chosen := machine.SplitKey(r.Sheet)
			if err := tx.Exec("UPDATE machine SET options=? WHERE id=?", chosen.String(), r.Machine); err != nil {
				return err
			}
		}
	case inspect.Answered:
		return meter(tx, c, e.Machine, e.Check)
	case inspect.PutRight:
		return meter(tx, c, e.Machine, e.Check)
	case outing.BreakAnswered:
		return breakMeter(tx, c, e)
	case outing.Filled:
		u := c.Outing.Unit(e.Machine)
		return read(tx, e.Machine, u.HoursNow(), !u.ReadAt().IsZero(), u.ReadAt())
	case outing.Metered:
		return read(tx, e.Machine, e.Hours, true, c.Meta.At)
	case outing.Ended:
		return home(tx, c, e)
	}
	return nil
}}

// meter notes what the hour meter says, also where a reading was corrected down.
func meter(tx Tx, c Change, id, check string) error {
	u := c.Outing.Unit(id)
	if !u.IsMeter(check) {
		return nil
	}
	hours, is := u.HoursRead()
	return read(tx, id, hours, is, c.Outing.SaidAt(c.Meta, c.Event))
}

// read notes how a meter stands; where it was read, since when.
func read(tx Tx, id string, hours float64, is bool, at time.Time) error {
	if !is {
		return tx.Exec("UPDATE machine SET hours=? WHERE id=?", hours, id)
	}
	return tx.Exec("UPDATE machine SET hours=?, hours_at=? WHERE id=?", hours, at.UnixMilli(), id)
}

func breakMeter(tx Tx, c Change, e outing.BreakAnswered) error {
	for _, look := range c.Outing.Break().Looks {
		if look.Machine != e.Machine || !look.IsMeter(e.Check) {
			continue
		}
		if hours, is := look.HoursRead(); is {
			return read(tx, e.Machine, hours, is, c.Meta.At)
		}
	}
	return nil
}

// home brings the machines of an outing back to their bays.
func home(tx Tx, c Change, e outing.Ended) error {
	for _, u := range c.Outing.Units {
		if err := tx.Exec("UPDATE machine SET outing='' WHERE id=? AND outing=?", u.Machine, c.Outing.ID); err != nil {
			return err
		}
		if c.Outing.WorkedUntil(c.Meta) {
			if err := tx.Exec("UPDATE machine SET worked=? WHERE id=?", c.Outing.RanUntil(c.Meta).UnixMilli(), u.Machine); err != nil {
				return err
			}
		}
		if e.Worked != nil { // on paper: nobody told how it was left
			if err := tx.Exec("UPDATE machine SET worked=max(worked,?), stood='' WHERE id=?", e.Worked.UnixMilli(), u.Machine); err != nil {
				return err
			}
		}
		if stood := e.Stood[u.Machine]; len(stood) > 0 {
			facts, err := asJSON(stood)
			if err != nil {
				return err
			}
			if err := tx.Exec("UPDATE machine SET stood=? WHERE id=?", facts, u.Machine); err != nil {
				return err
			}
		}
		if e.Hours == nil || e.Worked != nil && u != c.Outing.Main() {
			continue
		}
		if err := tx.Exec("UPDATE machine SET hours=max(hours,?) WHERE id=?", *e.Hours, u.Machine); err != nil {
			return err
		}
		if e.Worked != nil {
			if err := tx.Exec("UPDATE machine SET hours_at=max(hours_at,?) WHERE id=?", e.Worked.UnixMilli(), u.Machine); err != nil {
				return err
			}
		}
	}
	return nil
}
