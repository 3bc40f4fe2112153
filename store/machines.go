package store

// Machines as pages list them.

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/yard"
)

// Machine is one machine of the yard.
type Machine = yard.Machine

// Standing is a machine with the outing it is in.
type Standing struct {
	Machine
	Out *OutingRow // nil while it stands in its bay
}

const machineColumns = "m.id, m.name, m.bay, m.sheet, m.hours, m.outing, m.grade, m.mend_hours, m.mend_at, m.worked, m.hirer, m.options, m.stood, m.hours_at, m.left_at, m.left_why"

func scanMachine(row row, more ...any) (Machine, error) {
	var m Machine
	var worked, until, read, left int64
	var options, stood string
	err := row.Scan(append([]any{&m.ID, &m.Name, &m.Bay, &m.Sheet, &m.Hours, &m.Outing, &m.Grade, &m.Deadline.Hours, &until, &worked, &m.Hirer, &options, &stood, &read, &left, &m.LeftWhy}, more...)...)
	m.Sheet = machine.Key(m.Sheet, machine.ParseChosen(options))
	m.Worked, m.HoursAt, m.Left = milli(worked), milli(read), milli(left)
	if until > 0 {
		at := milli(until)
		m.Deadline.At = &at
	}
	if stood != "" {
		err = errors.Join(err, json.Unmarshal([]byte(stood), &m.Stood))
	}
	return m, err
}

func onlyMachine(row row) (Machine, error) { return scanMachine(row) }

func (s *Store) machine(ctx context.Context, q querier, id string) (Machine, error) {
	m, err := onlyMachine(q.QueryRowContext(ctx, "SELECT "+machineColumns+" FROM machine m WHERE m.id=?", id))
	return m, notFound(err)
}

// Machine finds one machine.
func (s *Store) Machine(ctx context.Context, id string) (Machine, error) {
	return s.machine(ctx, s.reader, id)
}

// Described finds one machine and its sheet.
func (s *Store) Described(ctx context.Context, id string) (Machine, *machine.Sheet, error) {
	m, err := s.machine(ctx, s.reader, id)
	if err != nil {
		return m, nil, err
	}
	sheet, err := s.sheet(ctx, s.reader, m.Sheet)
	return m, sheet, err
}

func (s *Store) machines(ctx context.Context, q querier) ([]Machine, error) {
	rows, err := q.QueryContext(ctx, "SELECT "+machineColumns+` FROM machine m WHERE m.left_at=0 ORDER BY length(m.bay), m.bay, m.name`)
	if err != nil {
		return nil, err
	}
	return collect(rows, onlyMachine)
}

// Away lists the machines that have left the yard, the last first.
func (s *Store) Away(ctx context.Context) ([]Machine, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+machineColumns+" FROM machine m WHERE m.left_at>0 ORDER BY m.left_at DESC")
	if err != nil {
		return nil, err
	}
	return collect(rows, onlyMachine)
}

// Machines lists every machine by bay, with the outing each is in.
func (s *Store) Machines(ctx context.Context) ([]Standing, error) {
	last, err := s.lastRecord(ctx)
	if err != nil {
		return nil, err
	}
	machines, err := sinceLast(s, last, "machines", func() ([]Machine, error) { return s.machines(ctx, s.reader) })
	if err != nil {
		return nil, err
	}
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+" FROM machine m JOIN outing o ON o.id=m.outing JOIN person p ON p.id=o.operator WHERE m.outing<>''")
	if err != nil {
		return nil, err
	}
	open, err := collect(rows, scanOuting)
	if err != nil {
		return nil, err
	}
	by := map[string]*OutingRow{}
	for i := range open {
		by[open[i].ID] = &open[i]
	}
	out := make([]Standing, len(machines))
	for i, m := range machines {
		out[i] = Standing{Machine: m, Out: by[m.Outing]}
	}
	return out, nil
}

// RunOut lists the machines that are out and that a deadline alone has brought to a Halt,
// or may have once somebody reads the hour meter, each with its outing.
func (s *Store) RunOut(ctx context.Context, now time.Time) ([]Standing, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+machineColumns+", "+outingColumns+` FROM machine m JOIN outing o ON o.id=m.outing JOIN person p ON p.id=o.operator
		WHERE m.outing<>'' AND m.grade=? ORDER BY m.mend_at, m.id`, defect.Mend)
	if err != nil {
		return nil, err
	}
	out, err := collect(rows, func(row row) (Standing, error) {
		var o outingScan
		m, err := scanMachine(row, o.targets()...)
		out := o.row()
		return Standing{m, &out}, err
	})
	return slices.DeleteFunc(out, func(m Standing) bool { return !m.Lapsed(now) && !m.Unread(m.Out.Released, now) }), err
}
