package store

// What was answered over the whole time of a yard: points, tests of rounds, steps of
// procedures.

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/round"
)

// Answer is one answer as it was given; one that took its place names it.
type Answer struct {
	ID, Outing, Machine, Person, PersonName string
	// Kind is what was answered: point, put_right, break, test or step.
	Kind       string
	At         time.Time
	Supersedes string // id of the answer whose place it takes
	// Point is a point's or a procedure's id, Item a reading's or a step's; Test the
	// place in the round, from 1, 0 where it is none.
	Point, Item string
	Test        int
	// Answer is sound, fault, reading, a step's word, or of a test what was seen.
	Answer, Fault string
	Typed, Unit   string // of a reading
	Seconds       *float64
	Note, Why     string
	Second        string // who has seen it too
}

// answerKinds are the kinds of record that are answers.
var answerKinds = []string{inspect.Answered{}.Kind(), inspect.PutRight{}.Kind(), outing.BreakAnswered{}.Kind(), round.Tested{}.Kind(), outing.StepAnswered{}.Kind()}

// FindAnswers hands over the answers of the outings that began in the filter's days, in
// the order they were given, that its machine, person and point fit. It stops where each
// fails.
func (s *Store) FindAnswers(ctx context.Context, f Filter, each func(Answer) error) error {
	days, args := Filter{Machine: f.Machine, From: f.From, To: f.To}.condition("machine", "", "began")
	person := ""
	if f.Person != "" {
		person, args = " AND r.person=?", append(args, f.Person)
	}
	kinds := strings.Repeat(",?", len(answerKinds))[1:]
	for _, k := range answerKinds {
		args = append(args, k)
	}
	rows, err := s.reader.QueryContext(ctx, "SELECT r."+strings.ReplaceAll(recordColumns, ", ", ", r.")+", coalesce(p.name, '') FROM record r LEFT JOIN person p ON p.id=r.person WHERE r.outing IN (SELECT outing FROM outing_unit WHERE "+days+")"+person+" AND r.kind IN ("+kinds+") ORDER BY r.seq", args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var name string
		r, err := scanRecord(withName{rows, &name})
		if err != nil {
			return err
		}
		e, err := r.event()
		if err != nil {
			return err
		}
		a := Answer{ID: r.ID, Outing: r.Outing, Person: r.Person, PersonName: name, At: r.At, Supersedes: r.Supersedes}
		a.say(e)
		if f.Machine != "" && a.Machine != f.Machine || f.Point != "" && a.Point != f.Point {
			continue
		}
		if err := each(a); err != nil {
			return err
		}
	}
	return rows.Err()
}

// named scans one column more than a record has.
type withName struct {
	row
	more *string
}

func (n withName) Scan(into ...any) error { return n.row.Scan(append(into, n.more)...) }

// say fills in what a record says.
func (a *Answer) say(e record.Event) {
	switch e := e.(type) {
	case inspect.Answered:
		a.point("point", e)
	case inspect.PutRight:
		a.point("put_right", e.Now)
	case outing.BreakAnswered:
		a.point("break", e.Answered)
	case round.Tested:
		a.Kind, a.Machine, a.Test, a.Seconds = "test", e.Machine, e.Test+1, e.Seconds
		a.Answer = fmt.Sprintf("before=%s after=%s", strconv.FormatBool(e.Before), strconv.FormatBool(e.After))
		if e.Restarted {
			a.Answer += " restarted=true"
		}
	case outing.StepAnswered:
		a.Kind, a.Machine, a.Point, a.Item, a.Answer = "step", e.Machine, e.Procedure, e.Step, e.Answer
	}
}

func (a *Answer) point(kind string, e inspect.Answered) {
	a.Kind, a.Machine, a.Point, a.Item = kind, e.Machine, e.Check, e.Item
	a.Answer, a.Fault, a.Note, a.Why, a.Second = e.Answer, e.Fault, e.Note, e.Why, e.Second
	if e.Value != nil {
		a.Typed, a.Unit = e.Value.Typed, e.Value.Unit
	}
}
