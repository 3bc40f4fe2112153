package projector

// What technicians tried to find out which switch it is.

import "vespers/core/yard"

var trials = Projection{Name: "trials", Version: 1, Tables: []string{"trial"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.FaultTried:
		data, err := asJSON(e.Observation)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO trial (seq, defect, body) VALUES (?,?,?)", c.Seq, e.Defect, data)
	case yard.TrialsDropped:
		return tx.Exec("DELETE FROM trial WHERE defect=?", e.Defect)
	}
	return nil
}}
