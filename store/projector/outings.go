package projector

// The outings as lists show them.

import (
	"vespers/core/outing"
	"vespers/core/walk"
)

var outings = Projection{Name: "outings", Version: 4, Tables: []string{"outing", "outing_unit"}, On: func(tx Tx, c Change) error {
	o := c.Outing
	if o == nil {
		return nil
	}
	switch e := c.Event.(type) {
	case outing.Ended:
		if e.How == outing.EndLeft {
			return tx.Exec("UPDATE outing SET status=?, ended=?, check_in=0, outcome=? WHERE id=?", o.Status, c.Meta.At.UnixMilli(), e.How, o.ID)
		}
		return tx.Exec("UPDATE outing SET status=?, ended=?, check_in=0 WHERE id=?", o.Status, c.Meta.At.UnixMilli(), o.ID)
	case outing.Started:
		if err := tx.Exec("INSERT INTO outing (id,machine,operator,began,status,stage) VALUES (?,?,?,?,?,?)", o.ID, o.Main().Machine, e.Operator, o.Began.UnixMilli(), o.Status, o.Stage()); err != nil {
			return err
		}
		for _, u := range o.Units {
			if err := tx.Exec("INSERT INTO outing_unit (machine,began,outing) VALUES (?,?,?)", u.Machine, o.Began.UnixMilli(), o.ID); err != nil {
				return err
			}
		}
	case outing.TurnBegun:
		if err := tx.Exec("UPDATE outing SET operator=? WHERE id=?", e.Operator, o.ID); err != nil {
			return err
		}
	case outing.Readied:
		if e.Unwatched { // it is not out any more
			if err := tx.Exec("UPDATE outing SET released=0, released_by='', second='' WHERE id=?", o.ID); err != nil {
				return err
			}
		}
	case outing.Released:
		if err := tx.Exec("UPDATE outing SET released=?, released_by=?, second=? WHERE id=?", c.Meta.At.UnixMilli(), c.Meta.By, e.Second, o.ID); err != nil {
			return err
		}
	}
	points, done := progress(o)
	stage := o.Stage()
	due := int64(0)
	if now := o.Now(); !now.Due.IsZero() {
		due = now.Due.UnixMilli()
	}
	return tx.Exec("UPDATE outing SET status=?, stage=?, points=?, done=?, outcome=?, check_in=?, sought=? WHERE id=?", o.Status, stage, points, done, outcome(c, stage), due, o.Now().Sought, o.ID)
}}

// progress counts the points that an outing asks for, and those answered.
func progress(o *outing.Outing) (points, done int) {
	for _, u := range o.Units {
		for _, stop := range u.Route {
			if stop.Do != walk.Check {
				continue
			}
			points++
			if len(u.Open(stop.ID)) == 0 {
				done++
			}
		}
	}
	return points, done
}

// outcome is what the outing comes to; as long as something is left to do and
// nothing was found, that need not be judged.
func outcome(c Change, stage outing.Stage) string {
	if e, ok := c.Event.(outing.Released); ok {
		return e.Verdict.Outcome
	}
	if stage == outing.StageVerdict || len(c.Standing) > 0 {
		return c.Outing.Judge(c.Meta.At).Outcome
	}
	return outing.Refusal
}
