package store

import (
	"context"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/outing"
)

// Machine is one machine of the yard.
type Machine struct {
	ID, Name, Bay string
	Sheet         string // hash
	Hours         float64
	Outing        string // the outing it is in, or ""
	Grade         defect.Grade
	Worked        time.Time // when it came home from work last; zero if never
	Hirer         string    // whose it is, where it is hired; else ""
}

// Standing is a machine with the outing it is in.
type Standing struct {
	Machine
	Outing *OutingRow
}

// OutingRow is an outing as the yard shows it.
type OutingRow struct {
	ID, Machine, Operator string
	MachineName           string
	OperatorName          string
	Began, Released       time.Time
	Ended                 time.Time
	Status                outing.Status
	Stage                 string
	Done, Points          int
	Outcome               string
}

const machineColumns = "m.id, m.name, m.bay, m.sheet, m.hours, m.outing, m.grade, m.worked, m.hirer"

func scanMachine(row interface{ Scan(...any) error }, more ...any) (Machine, error) {
	var m Machine
	var worked int64
	err := row.Scan(append([]any{&m.ID, &m.Name, &m.Bay, &m.Sheet, &m.Hours, &m.Outing, &m.Grade, &worked, &m.Hirer}, more...)...)
	m.Worked = milli(worked)
	return m, err
}

func onlyMachine(row interface{ Scan(...any) error }) (Machine, error) { return scanMachine(row) }

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

const outingColumns = "o.id, o.machine, o.operator, o.began, o.released, o.ended, o.status, o.stage, o.done, o.points, o.outcome, p.name"

type outingScan struct {
	OutingRow
	began, released, ended int64
}

func (o *outingScan) targets() []any {
	return []any{&o.ID, &o.Machine, &o.Operator, &o.began, &o.released, &o.ended, &o.Status, &o.Stage, &o.Done, &o.Points, &o.Outcome, &o.OperatorName}
}

func (o *outingScan) row() OutingRow {
	o.Began, o.Released, o.Ended = milli(o.began), milli(o.released), milli(o.ended)
	return o.OutingRow
}

// Machines lists every machine by bay, with the outing each is in.
func (s *Store) Machines(ctx context.Context) ([]Standing, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+machineColumns+` FROM machine m ORDER BY length(m.bay), m.bay, m.name`)
	if err != nil {
		return nil, err
	}
	machines, err := collect(rows, onlyMachine)
	if err != nil {
		return nil, err
	}
	rows, err = s.reader.QueryContext(ctx, "SELECT "+outingColumns+" FROM machine m JOIN outing o ON o.id=m.outing JOIN person p ON p.id=o.operator WHERE m.outing<>''")
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
		out[i] = Standing{Machine: m, Outing: by[m.Outing]}
	}
	return out, nil
}

func scanOuting(row interface{ Scan(...any) error }) (OutingRow, error) {
	var o outingScan
	err := row.Scan(o.targets()...)
	return o.row(), err
}

func scanNamedOuting(row interface{ Scan(...any) error }) (OutingRow, error) {
	var o outingScan
	err := row.Scan(append(o.targets(), &o.MachineName)...)
	return o.row(), err
}

// todayFrom finds the outings of a day by their ids, and orders what it found. A
// plain UNION or an OR here makes SQLite go through all outings there ever were.
const (
	todayIDs  = "(SELECT id FROM outing WHERE began >= ? UNION ALL SELECT outing FROM machine WHERE outing<>'')"
	todayFrom = " FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine WHERE o.id IN " + todayIDs
)

// Today lists the outings begun since a time, oldest first, and those from
// before that are still open.
func (s *Store) Today(ctx context.Context, since time.Time) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name"+todayFrom+" ORDER BY +o.began", since.UnixMilli())
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// TodayOf lists today's outings of one person and those that came to a Halt,
// and counts all of them.
func (s *Store) TodayOf(ctx context.Context, since time.Time, person string) (rows []OutingRow, all int, err error) {
	some, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name"+todayFrom+" AND (o.operator=? OR o.status='open' AND o.outcome='halt') ORDER BY +o.began", since.UnixMilli(), person)
	if err != nil {
		return nil, 0, err
	}
	if rows, err = collect(some, scanNamedOuting); err != nil {
		return nil, 0, err
	}
	err = s.reader.QueryRowContext(ctx, "SELECT count(DISTINCT id) FROM "+todayIDs, since.UnixMilli()).Scan(&all)
	return rows, all, err
}

// Past lists the newest outings of a machine.
func (s *Store) Past(ctx context.Context, machineID string, most int) ([]OutingRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+`, m.name FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine
		WHERE o.id IN (SELECT outing FROM outing_unit WHERE machine=? ORDER BY began DESC LIMIT ?) ORDER BY +o.began DESC`, machineID, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// Defect is one defect of a machine.
type Defect struct {
	ID, Machine, Outing string
	Point, Item, Fault  string
	Test                int
	Note                string
	Value               *outing.Value
	Grade               defect.Grade
	Finding             defect.Finding
	FoundBy, FinderName string
	FoundAt             time.Time
	Open                bool
	ClosedBy            string
	CloserName          string
	ClosedAt            time.Time
	Cause, Work         string
}

// HaltAt reports whether the defect keeps its machine from starting: a Halt,
// or a Mend past its deadline.
func (d Defect) HaltAt(hours float64, now time.Time) bool {
	return d.Grade == defect.Halt || d.Grade == defect.Mend && d.Finding.Deadline.Passed(hours, now)
}

func scanDefect(row interface{ Scan(...any) error }) (Defect, error) {
	var d Defect
	var value, finding, status string
	var found, closed int64
	if err := row.Scan(&d.ID, &d.Machine, &d.Outing, &d.Point, &d.Item, &d.Fault, &d.Test, &d.Note, &value, &d.Grade, &finding,
		&d.FoundBy, &found, &status, &d.ClosedBy, &closed, &d.Cause, &d.Work, &d.FinderName, &d.CloserName); err != nil {
		return d, err
	}
	d.FoundAt, d.ClosedAt, d.Open = milli(found), milli(closed), status == "open"
	var err error
	if d.Value, err = unmarshal[*outing.Value](value); err != nil {
		return d, err
	}
	d.Finding, err = unmarshal[defect.Finding](finding)
	return d, err
}

func (s *Store) defects(ctx context.Context, q querier, where string, args ...any) ([]Defect, error) {
	rows, err := q.QueryContext(ctx, `SELECT d.id, d.machine, d.outing, d.point, d.item, d.fault, d.test, d.note, d.value, d.grade, d.finding,
		d.found_by, d.found_at, d.status, d.closed_by, d.closed_at, d.cause, d.work, coalesce(f.name,''), coalesce(c.name,'')
		FROM (SELECT * FROM defect WHERE `+where+`) d LEFT JOIN person f ON f.id=d.found_by LEFT JOIN person c ON c.id=d.closed_by ORDER BY d.found_at, d.id`, args...)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanDefect)
}

// Defects lists a machine's defects: the open ones, or all of the newest.
func (s *Store) Defects(ctx context.Context, machineID string, openOnly bool) ([]Defect, error) {
	if openOnly {
		return s.defects(ctx, s.reader, "machine=? AND status='open'", machineID)
	}
	return s.defects(ctx, s.reader, "machine=? AND id IN (SELECT id FROM defect WHERE machine=? ORDER BY found_at DESC LIMIT 30)", machineID, machineID)
}

// OpenDefects lists every open Mend and Halt of the yard.
func (s *Store) OpenDefects(ctx context.Context) ([]Defect, error) {
	return s.defects(ctx, s.reader, "status='open' AND machine IN (SELECT id FROM machine WHERE grade IN ('mend','halt'))")
}

// Defect finds one defect.
func (s *Store) Defect(ctx context.Context, id string) (Defect, error) {
	list, err := s.defects(ctx, s.reader, "id=?", id)
	if err != nil {
		return Defect{}, err
	}
	if len(list) == 0 {
		return Defect{}, ErrNotFound
	}
	return list[0], nil
}
