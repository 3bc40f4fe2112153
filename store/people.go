package store

import (
	"context"
	"sync"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/unit"
)

// Yard is the yard's own settings.
type Yard struct {
	Name     string
	Timezone string
	House    defect.House
}

// zones remembers time zones, which are slow to load, by name.
var zones sync.Map

// Location is the yard's time zone.
func (y Yard) Location() *time.Location {
	if l, ok := zones.Load(y.Timezone); ok {
		return l.(*time.Location)
	}
	l, err := time.LoadLocation(y.Timezone)
	if err != nil {
		return time.UTC
	}
	zones.Store(y.Timezone, l)
	return l
}

// dayBegins is the hour at which a yard's day begins: who works at two in the
// morning is still in yesterday.
const dayBegins = 4

// DayStart is when the yard's day that holds t began.
func (y Yard) DayStart(t time.Time) time.Time {
	local := t.In(y.Location())
	start := time.Date(local.Year(), local.Month(), local.Day(), dayBegins, 0, 0, 0, y.Location())
	if local.Before(start) {
		start = start.AddDate(0, 0, -1)
	}
	return start
}

// Person is one of the crew.
type Person struct {
	ID       string
	Name     string
	Role     operator.Role
	Language text.Language
	Units    unit.System
	Theme    string
	Keys     bool
	Manuals  []operator.ManualRead
	Left     time.Time // zero while they work here

	Qualifications []operator.Qualification
	Born           string // a date, "" if not known
}

const personColumns = "id, name, role, language, units, theme, keys, manuals, left_on, qualifications, born"

func scanPerson(row interface{ Scan(...any) error }) (Person, error) {
	var p Person
	var manuals, qualifications string
	var left int64
	if err := row.Scan(&p.ID, &p.Name, &p.Role, &p.Language, &p.Units, &p.Theme, &p.Keys, &manuals, &left, &qualifications, &p.Born); err != nil {
		return p, err
	}
	p.Left = milli(left)
	var err error
	if p.Manuals, err = unmarshal[[]operator.ManualRead](manuals); err != nil {
		return p, err
	}
	p.Qualifications, err = unmarshal[[]operator.Qualification](qualifications)
	return p, err
}

// Readiness is what the person's record shows.
func (p Person) Readiness() operator.Readiness {
	r := operator.Readiness{Role: p.Role, Manuals: p.Manuals, Qualifications: p.Qualifications}
	if born, err := time.Parse(time.DateOnly, p.Born); err == nil {
		r.Born = &born
	}
	return r
}

// Record appends a record of the yard, its people or its machines.
func (s *Store) Record(ctx context.Context, e Entry, b body) error {
	subject := ""
	switch b := b.(type) {
	case MachineAdded:
		subject = b.ID
	case SheetAdopted:
		subject = b.Machine
	}
	_, err := s.append(ctx, e, b, "", subject)
	return err
}

// Yard is the yard's settings; ErrNotFound before the first visit set it up.
func (s *Store) Yard(ctx context.Context) (Yard, error) { return s.yard(ctx, s.reader) }

func (s *Store) yard(ctx context.Context, q querier) (Yard, error) {
	var y Yard
	var house string
	if err := q.QueryRowContext(ctx, "SELECT name, timezone, house FROM yard").Scan(&y.Name, &y.Timezone, &house); err != nil {
		return y, notFound(err)
	}
	var err error
	y.House, err = unmarshal[defect.House](house)
	return y, err
}

// People lists everyone who works here, by name.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+personColumns+" FROM person WHERE left_on=0 ORDER BY name, id")
	if err != nil {
		return nil, err
	}
	return collect(rows, scanPerson)
}

// Person finds one person, also one who has left.
func (s *Store) Person(ctx context.Context, id string) (Person, error) {
	p, err := scanPerson(s.reader.QueryRowContext(ctx, "SELECT "+personColumns+" FROM person WHERE id=?", id))
	return p, notFound(err)
}
