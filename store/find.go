package store

// Looking for outings and defects over the whole time of a yard.

import (
	"context"
	"strings"
	"time"

	"vespers/core/defect"
)

// Filter is what is looked for; what is empty counts for nothing.
type Filter struct {
	Machine, Person string // ids
	From, To        time.Time
	Grade           defect.Grade // as it was found
	Point           string       // id
}

// condition is a filter as SQL, over columns that it is given names of.
func (f Filter) condition(machine, person, at string) (where string, args []any) {
	var and []string
	add := func(what string, arg any) {
		and = append(and, what)
		args = append(args, arg)
	}
	if f.Machine != "" {
		add(machine+"=?", f.Machine)
	}
	if f.Person != "" {
		add(person+"=?", f.Person)
	}
	if !f.From.IsZero() {
		add(at+">=?", f.From.UnixMilli())
	}
	if !f.To.IsZero() {
		add(at+"<?", f.To.UnixMilli())
	}
	if len(and) == 0 {
		return "1=1", nil
	}
	return strings.Join(and, " AND "), args
}

// FindOutings lists the outings that fit, the newest first, at most some; grade and
// point are no matter of an outing.
func (s *Store) FindOutings(ctx context.Context, f Filter, most int) ([]OutingRow, error) {
	where, args := Filter{Person: f.Person, From: f.From, To: f.To}.condition("", "o.operator", "o.began")
	if f.Machine != "" { // what is carried counts as well as what carries it
		of, more := Filter{Machine: f.Machine, From: f.From, To: f.To}.condition("machine", "", "began")
		where, args = where+" AND o.id IN (SELECT outing FROM outing_unit WHERE "+of+")", append(args, more...)
	}
	rows, err := s.reader.QueryContext(ctx, "SELECT "+outingColumns+", m.name FROM outing o JOIN person p ON p.id=o.operator JOIN machine m ON m.id=o.machine WHERE "+where+" ORDER BY o.began DESC LIMIT ?", append(args, most)...)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanNamedOuting)
}

// FindDefects lists the defects that fit, the newest first, at most some.
func (s *Store) FindDefects(ctx context.Context, f Filter, most int) ([]Defect, error) {
	where, args := f.condition("machine", "found_by", "found_at")
	if f.Grade != "" {
		where, args = where+" AND grade=?", append(args, f.Grade)
	}
	if f.Point != "" {
		where, args = where+" AND point=?", append(args, f.Point)
	}
	list, err := s.defects(ctx, s.reader, where+" ORDER BY found_at DESC LIMIT ?", append(args, most)...)
	for i, j := 0, len(list)-1; i < j; i, j = i+1, j-1 {
		list[i], list[j] = list[j], list[i]
	}
	return list, err
}
