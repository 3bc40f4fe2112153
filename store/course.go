package store

// How outings went, for the page of a day.

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"vespers/core/outing"
)

// CourseStep is when an outing came to a stage, or was handed over, looked at
// again, let out or brought home; Who is the person's name.
type CourseStep struct {
	Step string
	At   time.Time
	Who  string
}

// Courses tells how some outings went, each in the order of time.
func (s *Store) Courses(ctx context.Context, rows []OutingRow) (map[string][]CourseStep, error) {
	out := map[string][]CourseStep{}
	if len(rows) == 0 {
		return out, nil
	}
	ids := make([]any, len(rows))
	for i, o := range rows {
		ids[i] = o.ID
	}
	found, err := s.reader.QueryContext(ctx, "SELECT c.outing, c.step, c.at, coalesce(p.name, '') FROM course c LEFT JOIN person p ON p.id=c.who WHERE c.outing IN (?"+strings.Repeat(",?", len(ids)-1)+")", ids...)
	if err != nil {
		return nil, err
	}
	defer found.Close()
	for found.Next() {
		var outing string
		var one CourseStep
		var at int64
		if err := found.Scan(&outing, &one.Step, &at, &one.Who); err != nil {
			return nil, err
		}
		one.At = time.UnixMilli(at)
		out[outing] = append(out[outing], one)
	}
	for _, steps := range out {
		slices.SortStableFunc(steps, func(a, b CourseStep) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(rank(a.Step), rank(b.Step))) })
	}
	return out, found.Err()
}

// rank orders steps of the same moment: a stage comes before what ends it.
func rank(step string) int {
	if i := slices.Index(outing.Stages(), outing.Stage(step)); i >= 0 {
		return i
	}
	return len(outing.Stages())
}
