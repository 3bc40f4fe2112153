package projector

// The defects, and the grade that they give their machines.

import (
	"encoding/json"

	"vespers/core/defect"
	"vespers/core/outing"
	"vespers/core/yard"
)

var defects = Projection{Name: "defects", Version: 2, Tables: []string{"defect"}, On: func(tx Tx, c Change) error {
	switch e := c.Event.(type) {
	case yard.DefectClosed:
		if err := tx.Exec("UPDATE defect SET status='closed', closed_by=?, closed_at=?, cause=?, work=? WHERE id=?", c.Meta.By, c.Meta.At.UnixMilli(), e.Cause, e.Work, e.Defect); err != nil {
			return err
		}
		return regrade(tx, c.Machine)
	case yard.MeterSet:
		for id, hours := range e.Deadlines {
			if err := tx.Exec("UPDATE defect SET finding=json_set(finding, '$.deadline.hours', ?) WHERE id=?", hours, id); err != nil {
				return err
			}
		}
		return regrade(tx, e.Machine)
	case outing.TermsSet:
		if c.Outing != nil {
			break // it is out: its outing says how it stands
		}
		return terms(tx, c.Machine, e)
	case outing.Ended:
		return nil
	}
	if c.Outing == nil {
		return nil
	}
	if c.Clean && len(c.Standing) == 0 {
		return nil
	}
	if err := write(tx, c.Outing, c.Standing); err != nil {
		return err
	}
	for _, u := range c.Outing.Units {
		if err := regrade(tx, u.Machine); err != nil {
			return err
		}
	}
	return nil
}}

// terms changes the finding of a defect by what a lead has set.
func terms(tx Tx, machineID string, e outing.TermsSet) error {
	var data string
	if err := tx.Row("SELECT finding FROM defect WHERE id=?", e.Defect).Scan(&data); err != nil {
		return err
	}
	var f defect.Finding
	if err := json.Unmarshal([]byte(data), &f); err != nil {
		return err
	}
	f.Deadline, f.Restrictions = e.Deadline, e.Restrictions
	fresh, err := asJSON(f)
	if err != nil {
		return err
	}
	if err := tx.Exec("UPDATE defect SET finding=? WHERE id=?", fresh, e.Defect); err != nil {
		return err
	}
	return regrade(tx, machineID)
}

// write makes the open defects of the outing what its answers say: a finding
// put right or corrected takes its defect away again.
func write(tx Tx, o *outing.Outing, standing []outing.Defect) error {
	keep := map[string]bool{}
	for _, d := range standing {
		keep[d.ID] = true
		finding, err := asJSON(d.Finding)
		if err != nil {
			return err
		}
		if d.Carried {
			if err := tx.Exec("UPDATE defect SET grade=?, finding=? WHERE id=? AND status='open'", d.Finding.Grade, finding, d.ID); err != nil {
				return err
			}
			continue
		}
		value := ""
		if d.Value != nil {
			if value, err = asJSON(d.Value); err != nil {
				return err
			}
		}
		if err := tx.Exec(`INSERT INTO defect (id,machine,outing,point,item,fault,test,note,value,grade,finding,found_by,found_at,status)
			VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,'open') ON CONFLICT (id) DO UPDATE SET fault=excluded.fault, note=excluded.note, value=excluded.value, grade=excluded.grade, finding=excluded.finding
			WHERE defect.status='open'`,
			d.ID, d.Machine, o.ID, d.Check, d.Item, d.Fault, d.Test, d.Note, value, d.Finding.Grade, finding, d.By, d.At.UnixMilli()); err != nil {
			return err
		}
	}
	ids, err := column(tx, "SELECT id FROM defect WHERE outing=? AND status='open'", o.ID)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if keep[id] {
			continue
		}
		if err := tx.Exec("DELETE FROM defect WHERE id=?", id); err != nil {
			return err
		}
	}
	return nil
}

// column reads one column of text.
func column(tx Tx, query string, args ...any) ([]string, error) {
	rows, err := tx.Rows(query, args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []string
	for rows.Next() {
		var s string
		if err := rows.Scan(&s); err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, rows.Err()
}

// regrade sets a machine's grade to the worst of its open defects, and notes the
// first deadline of its Mends.
func regrade(tx Tx, machineID string) error {
	findings, err := column(tx, "SELECT finding FROM defect WHERE machine=? AND status='open'", machineID)
	if err != nil {
		return err
	}
	worst, first := defect.Sound, defect.Deadline{}
	for _, data := range findings {
		var f defect.Finding
		if err := json.Unmarshal([]byte(data), &f); err != nil {
			return err
		}
		worst = defect.Worse(worst, f.Grade)
		if f.Grade == defect.Mend {
			first = first.Earlier(f.Deadline)
		}
	}
	return tx.Exec("UPDATE machine SET grade=?, mend_hours=?, mend_at=? WHERE id=?", worst, first.Hours, millis(first.At), machineID)
}
