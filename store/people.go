package store

// The yard's settings and its people, as pages list them.

import (
	"context"
	"encoding/json"
	"sync"
	"time"

	"vespers/core/operator"
	"vespers/core/yard"
)

// Yard is the yard's own settings.
type Yard struct{ yard.Settings }

// zones remembers time zones, which are slow to load, by name.
var zones sync.Map

// zone finds a time zone by its name.
func zone(name string) (*time.Location, bool) {
	if l, ok := zones.Load(name); ok {
		return l.(*time.Location), true
	}
	l, err := time.LoadLocation(name)
	if err != nil || name == "" || name == "Local" {
		return time.UTC, false
	}
	zones.Store(name, l)
	return l, true
}

// Location is the yard's time zone.
func (y Yard) Location() *time.Location {
	l, _ := zone(y.Timezone)
	return l
}

// DayStart is when the yard's day that holds t began.
func (y Yard) DayStart(t time.Time) time.Time { return yard.DayStart(t, y.Location()) }

// Person is one of the crew.
type Person = operator.Person

const personColumns = "id, name, role, language, units, theme, keys, manuals, left_on, qualifications, born, stands_in"

func scanPerson(row row) (Person, error) {
	var p Person
	var manuals, qualifications string
	var left, standsIn int64
	if err := row.Scan(&p.ID, &p.Name, &p.Role, &p.Language, &p.Units, &p.Theme, &p.Keys, &manuals, &left, &qualifications, &p.Born, &standsIn); err != nil {
		return p, err
	}
	p.Left, p.StandsIn = milli(left), milli(standsIn)
	var err error
	if p.Manuals, err = unmarshal[[]operator.ManualRead](manuals); err != nil {
		return p, err
	}
	p.Qualifications, err = unmarshal[[]operator.Qualification](qualifications)
	return p, err
}

// Yard is the yard's settings; ErrNotFound before the first visit set it up.
func (s *Store) Yard(ctx context.Context) (Yard, error) { return s.yard(ctx, s.reader) }

func (s *Store) yard(ctx context.Context, q querier) (Yard, error) {
	var y Yard
	var house, practice, chosen, emergency, places, pictures string
	var mown int64
	if err := q.QueryRowContext(ctx, "SELECT name, timezone, house, practice, chosen, emergency, places, pictures, mown, mown_until FROM yard").Scan(&y.Name, &y.Timezone, &house, &practice, &chosen, &emergency, &places, &pictures, &y.Mowing.Days, &mown); err != nil {
		return y, notFound(err)
	}
	y.Mowing.Last = milli(mown)
	for text, into := range map[*string]any{&house: &y.House, &practice: &y.Practice, &chosen: &y.Chosen, &emergency: &y.Emergency, &places: &y.Places, &pictures: &y.Pictures} {
		if err := json.Unmarshal([]byte(*text), into); err != nil {
			return y, err
		}
	}
	return y, nil
}

// People lists everyone who works here, by name.
func (s *Store) People(ctx context.Context) ([]Person, error) { return s.peopleHere(ctx, s.reader) }

func (s *Store) peopleHere(ctx context.Context, q querier) ([]Person, error) {
	rows, err := q.QueryContext(ctx, "SELECT "+personColumns+" FROM person WHERE left_on=0 ORDER BY name, id")
	if err != nil {
		return nil, err
	}
	return collect(rows, scanPerson)
}

// Gone lists who left, the last first.
func (s *Store) Gone(ctx context.Context, most int) ([]Person, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+personColumns+" FROM person WHERE left_on>0 ORDER BY left_on DESC LIMIT ?", most)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanPerson)
}

// Person finds one person, also one who has left.
func (s *Store) Person(ctx context.Context, id string) (Person, error) {
	return s.person(ctx, s.reader, id)
}

func (s *Store) person(ctx context.Context, q querier, id string) (Person, error) {
	p, err := scanPerson(q.QueryRowContext(ctx, "SELECT "+personColumns+" FROM person WHERE id=?", id))
	return p, notFound(err)
}

// Act is something that a lead did about people or the yard.
type Act struct {
	At                 time.Time
	ByName, Kind       string
	Subject, Name, Why string // whom or what it was about: id, and name where it has one
}

// Acts lists the newest of them.
func (s *Store) Acts(ctx context.Context, most int) ([]Act, error) {
	rows, err := s.reader.QueryContext(ctx, `SELECT a.at, coalesce(b.name, a.by), a.kind, a.subject, coalesce(p.name, m.name, ''), a.why
		FROM act a LEFT JOIN person b ON b.id=a.by LEFT JOIN person p ON p.id=a.subject LEFT JOIN machine m ON m.id=a.subject ORDER BY a.seq DESC LIMIT ?`, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row row) (Act, error) {
		var a Act
		var at int64
		err := row.Scan(&at, &a.ByName, &a.Kind, &a.Subject, &a.Name, &a.Why)
		a.At = milli(at)
		return a, err
	})
}
