package projector

// What was filled into each machine, for what it burns and whether that drifts.

import "vespers/core/outing"

var fills = Projection{Name: "fills", Version: 1, Tables: []string{"fill"}, On: func(tx Tx, c Change) error {
	e, filled := c.Event.(outing.Filled)
	if !filled {
		return nil
	}
	if c.Meta.Supersedes != "" {
		if err := tx.Exec("DELETE FROM fill WHERE id=?", c.Meta.Supersedes); err != nil {
			return err
		}
	}
	var hours, litres any
	if h, ok := e.HoursAt(); ok {
		hours = h
	}
	if l, ok := e.LitresIn(); ok {
		litres = l
	}
	return tx.Exec("INSERT INTO fill (id,machine,outing,at,hours,litres,to_mark,can,by) VALUES (?,?,?,?,?,?,?,?,?)",
		c.Meta.ID, e.Machine, c.Outing.ID, e.When(c.Meta).UnixMilli(), hours, litres, e.ToMark, millis(e.Can), c.Meta.By)
}}
