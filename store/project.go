package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/outing"
)

// projector writes projections inside one transaction. A rebuild keeps the
// outings it has seen, so that each record is folded once.
type projector struct {
	s    *Store
	tx   *transaction
	ctx  context.Context
	seen map[string]*outing.Outing // nil outside a rebuild
}

// project updates the projections for one record.
func (s *Store) project(ctx context.Context, tx *transaction, r Record, b body) error {
	return (&projector{s: s, tx: tx, ctx: ctx}).take(r, b)
}

func (p *projector) exec(query string, args ...any) error {
	_, err := p.tx.ExecContext(p.ctx, query, args...)
	return err
}

func (p *projector) take(r Record, b body) error {
	switch b := b.(type) {
	case YardNamed:
		house, err := json.Marshal(b.House)
		if err != nil {
			return err
		}
		return p.exec("INSERT INTO yard VALUES (1,?,?,?) ON CONFLICT (one) DO UPDATE SET name=excluded.name, timezone=excluded.timezone, house=excluded.house", b.Name, b.Timezone, string(house))
	case PersonAdded:
		return p.exec("INSERT INTO person (id,name,role,language,units) VALUES (?,?,?,?,?)", b.ID, b.Name, b.Role, b.Language, b.Units)
	case PersonSet:
		return p.exec("UPDATE person SET language=?, units=?, theme=?, keys=? WHERE id=?", b.Language, b.Units, b.Theme, b.Keys, b.ID)
	case PINSet:
		return nil
	case PersonLeft:
		return p.exec("UPDATE person SET left_on=? WHERE id=?", r.At.UnixMilli(), b.ID)
	case ManualRecorded:
		data, err := json.Marshal(b.Manual)
		if err != nil {
			return err
		}
		return p.exec("UPDATE person SET manuals=json_insert(manuals, '$[#]', json(?)) WHERE id=?", string(data), b.Person)
	case QualificationRecorded:
		data, err := json.Marshal(b.Qualification)
		if err != nil {
			return err
		}
		return p.exec("UPDATE person SET qualifications=json_insert(qualifications, '$[#]', json(?)) WHERE id=?", string(data), b.Person)
	case BornRecorded:
		return p.exec("UPDATE person SET born=? WHERE id=?", b.Born, b.Person)
	case MachineAdded:
		return p.exec("INSERT INTO machine (id,name,bay,sheet,hours,hirer) VALUES (?,?,?,?,?,?)", b.ID, b.Name, b.Bay, b.Sheet, b.Hours, b.Hirer)
	case SheetAdopted:
		return p.exec("UPDATE machine SET sheet=? WHERE id=?", b.Sheet, b.Machine)
	case DefectClosed:
		if err := p.exec("UPDATE defect SET status='closed', closed_by=?, closed_at=?, cause=?, work=? WHERE id=?", r.Person, r.At.UnixMilli(), b.Cause, b.Work, b.Defect); err != nil {
			return err
		}
		return p.regrade(r.Machine)
	case FaultTried:
		data, err := json.Marshal(b.Observation)
		if err != nil {
			return err
		}
		return p.exec("INSERT INTO trial VALUES (?,?,?)", r.Seq, b.Defect, string(data))
	case TrialsDropped:
		return p.exec("DELETE FROM trial WHERE defect=?", b.Defect)
	case outing.Event:
		return p.outing(r, b)
	}
	return fmt.Errorf("no projection for %s", r.Kind)
}

// outing folds the event in and writes what follows from it.
func (p *projector) outing(r Record, e outing.Event) error {
	o, err := p.folded(r, e)
	if err != nil {
		return err
	}
	return p.show(r, e, o, false)
}

// folded is the outing with this record taken in.
func (p *projector) folded(r Record, e outing.Event) (*outing.Outing, error) {
	if p.seen == nil {
		return p.s.fold(p.ctx, p.tx, r.Outing)
	}
	if started, ok := e.(outing.Started); ok {
		o, err := outing.Begin(r.Outing, r.meta(), started, func(h string) (*machine.Sheet, error) { return p.s.sheet(p.ctx, p.tx, h) })
		p.seen[r.Outing] = o
		return o, err
	}
	o := p.seen[r.Outing]
	o.Apply(r.meta(), e)
	if _, ended := e.(outing.Ended); ended {
		delete(p.seen, r.Outing)
	}
	return o, nil
}

func (r Record) meta() outing.Meta {
	return outing.Meta{ID: r.ID, By: r.Person, At: r.At, Supersedes: r.Supersedes}
}

// show writes the projections of an outing after one event. Clean says that
// nothing stood against its machines before the event.
func (p *projector) show(r Record, e outing.Event, o *outing.Outing, clean bool) error {
	points, done := 0, 0
	for _, u := range o.Units {
		for i := range u.Sheet.Checks {
			points++
			if len(u.Open(u.Sheet.Checks[i].ID)) == 0 {
				done++
			}
		}
	}
	standing, stage := o.Defects(), o.Stage()
	outcome := outing.Refusal // as long as something is left to do
	if len(standing) > 0 || stage == "verdict" {
		outcome = o.Judge(r.At).Outcome
	}
	switch e := e.(type) {
	case outing.Started:
		if err := p.exec("INSERT INTO outing (id,machine,operator,began,status,stage,points) VALUES (?,?,?,?,?,?,?)", o.ID, o.Main().Machine, e.Operator, o.Began.UnixMilli(), o.Status, stage, points); err != nil {
			return err
		}
		for _, u := range o.Units {
			if err := p.exec("INSERT INTO outing_unit (machine,began,outing) VALUES (?,?,?)", u.Machine, o.Began.UnixMilli(), o.ID); err != nil {
				return err
			}
			if err := p.exec("UPDATE machine SET outing=? WHERE id=?", o.ID, u.Machine); err != nil {
				return err
			}
		}
	case outing.Ended:
		return p.ended(r, e, o)
	case outing.Tested, outing.Cranked:
		if err := p.proved(o); err != nil {
			return err
		}
	case outing.Released:
		if err := p.proved(o); err != nil {
			return err
		}
		if err := p.patterns(o); err != nil {
			return err
		}
		outcome = e.Verdict.Outcome
		if err := p.exec("UPDATE outing SET released=? WHERE id=?", r.At.UnixMilli(), o.ID); err != nil {
			return err
		}
	}
	if err := p.exec("UPDATE outing SET status=?, stage=?, done=?, outcome=? WHERE id=?", o.Status, stage, done, outcome, o.ID); err != nil {
		return err
	}
	for _, u := range o.Units {
		if hours := u.HoursNow(); hours > u.Hours {
			if err := p.exec("UPDATE machine SET hours=? WHERE id=? AND hours<?", hours, u.Machine, hours); err != nil {
				return err
			}
		}
	}
	if clean && len(standing) == 0 {
		return nil
	}
	if err := p.defects(o, standing); err != nil {
		return err
	}
	for _, u := range o.Units {
		if err := p.regrade(u.Machine); err != nil {
			return err
		}
	}
	return nil
}

// proved notes how long what was timed took to stop, and which machines a
// whole round has proved.
func (p *projector) proved(o *outing.Outing) error {
	for _, t := range o.StopTimes() {
		if err := p.stopTime(t); err != nil {
			return err
		}
	}
	for _, proof := range o.Proofs() {
		if err := p.exec("INSERT INTO proof VALUES (?,?,?,?,?) ON CONFLICT (machine) DO UPDATE SET outing=excluded.outing, person=excluded.person, at=excluded.at, tests=excluded.tests WHERE excluded.at>=proof.at",
			proof.Machine, o.ID, proof.By, proof.At.UnixMilli(), proof.Tests); err != nil {
			return err
		}
	}
	return nil
}

// ended brings the machines of an outing home.
func (p *projector) ended(r Record, e outing.Ended, o *outing.Outing) error {
	for _, u := range o.Units {
		if err := p.exec("UPDATE machine SET outing='' WHERE id=? AND outing=?", u.Machine, o.ID); err != nil {
			return err
		}
		if o.WorkedUntil(r.At) {
			if err := p.exec("UPDATE machine SET worked=? WHERE id=?", r.At.UnixMilli(), u.Machine); err != nil {
				return err
			}
		}
		if e.Hours != nil {
			if err := p.exec("UPDATE machine SET hours=max(hours,?) WHERE id=?", *e.Hours, u.Machine); err != nil {
				return err
			}
		}
	}
	return p.exec("UPDATE outing SET status=?, ended=? WHERE id=?", o.Status, r.At.UnixMilli(), o.ID)
}

// defects makes the open defects of the outing what its answers say: a finding
// put right or corrected takes its defect away again.
func (p *projector) defects(o *outing.Outing, standing []outing.Defect) error {
	keep := map[string]bool{}
	for _, d := range standing {
		keep[d.ID] = true
		finding, err := json.Marshal(d.Finding)
		if err != nil {
			return err
		}
		if d.Carried {
			if err := p.exec("UPDATE defect SET grade=?, finding=? WHERE id=? AND status='open'", d.Finding.Grade, string(finding), d.ID); err != nil {
				return err
			}
			continue
		}
		value := ""
		if d.Value != nil {
			data, err := json.Marshal(d.Value)
			if err != nil {
				return err
			}
			value = string(data)
		}
		if err := p.exec(`INSERT INTO defect (id,machine,outing,point,item,fault,test,note,value,grade,finding,found_by,found_at,status)
			VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,'open') ON CONFLICT (id) DO UPDATE SET fault=excluded.fault, note=excluded.note, value=excluded.value, grade=excluded.grade, finding=excluded.finding
			WHERE defect.status='open'`,
			d.ID, d.Machine, o.ID, d.Check, d.Item, d.Fault, d.Test, d.Note, value, d.Finding.Grade, string(finding), d.By, d.At.UnixMilli()); err != nil {
			return err
		}
	}
	rows, err := p.tx.QueryContext(p.ctx, "SELECT id FROM defect WHERE outing=? AND status='open'", o.ID)
	if err != nil {
		return err
	}
	defer rows.Close()
	var gone []string
	for rows.Next() {
		var id string
		if err := rows.Scan(&id); err != nil {
			return err
		}
		if !keep[id] {
			gone = append(gone, id)
		}
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for _, id := range gone {
		if err := p.exec("DELETE FROM defect WHERE id=?", id); err != nil {
			return err
		}
	}
	return nil
}

// regrade sets a machine's grade to the worst of its open defects.
func (p *projector) regrade(machineID string) error {
	rows, err := p.tx.QueryContext(p.ctx, "SELECT grade FROM defect WHERE machine=? AND status='open'", machineID)
	if err != nil {
		return err
	}
	defer rows.Close()
	worst := defect.Sound
	for rows.Next() {
		var g defect.Grade
		if err := rows.Scan(&g); err != nil {
			return err
		}
		worst = defect.Worse(worst, g)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	return p.exec("UPDATE machine SET grade=? WHERE id=? AND grade<>?", worst, machineID, worst)
}

// ProjectedTables are the tables that Rebuild makes anew.
func ProjectedTables() []string { return projections }

// projections are the tables that Rebuild makes anew.
var projections = []string{"defect", "outing", "outing_unit", "machine", "person", "yard", "proof", "stop_time", "trial", "walked", "streak", "missed"}

// Rebuild makes every projection anew from the records.
func (s *Store) Rebuild(ctx context.Context) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		for _, table := range projections {
			if _, err := tx.ExecContext(ctx, "DELETE FROM "+table); err != nil {
				return err
			}
		}
		p := &projector{s: s, tx: tx, ctx: ctx, seen: map[string]*outing.Outing{}}
		var last int64
		for {
			batch, err := recordsAfter(ctx, tx, last, 1000)
			if err != nil || len(batch) == 0 {
				return err
			}
			for _, r := range batch {
				b, err := decode(r.Kind, r.Body)
				if err != nil {
					return err
				}
				if err := p.take(r, b); err != nil {
					return fmt.Errorf("record %d: %w", r.Seq, err)
				}
				last = r.Seq
			}
		}
	})
}

func recordsAfter(ctx context.Context, q querier, seq int64, most int) ([]Record, error) {
	rows, err := q.QueryContext(ctx, "SELECT "+recordColumns+" FROM record WHERE seq > ? ORDER BY seq LIMIT ?", seq, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanRecord)
}

// collect reads all rows with one scanner.
func collect[T any](rows *sql.Rows, scan func(interface{ Scan(...any) error }) (T, error)) ([]T, error) {
	defer rows.Close()
	var out []T
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

func milli(ms int64) time.Time {
	if ms == 0 {
		return time.Time{}
	}
	return time.UnixMilli(ms)
}
