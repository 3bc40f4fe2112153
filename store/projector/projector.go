// Package projector makes the tables that pages are read from. Each projection
// is a file of its own: which tables it writes, what it does about an event, and
// the version of its form. Writing a record and rebuilding the whole file go
// through the same list.
package projector

import (
	"database/sql"
	"encoding/json"
	"time"

	"vespers/core/outing"
	"vespers/core/record"
)

// Tx is the transaction that a record is written in.
type Tx interface {
	Exec(query string, args ...any) error
	Row(query string, args ...any) *sql.Row
	Rows(query string, args ...any) (*sql.Rows, error)
}

// Change is an event with everything that projections need of it.
type Change struct {
	Seq     int64
	Meta    record.Meta
	Machine string // the machine that the record names
	Event   record.Event
	// Outing is the outing after the event, nil where there is none; Clean says
	// that nothing stood against its machines before.
	Outing *outing.Outing
	Clean  bool
	// Standing is what stands against its machines after the event.
	Standing []outing.Defect
	// Fold finds another outing.
	Fold func(id string) (*outing.Outing, error)
}

// Projection is one group of tables.
type Projection struct {
	Name    string
	Version int // of its form; a file with another is made anew
	Tables  []string
	On      func(Tx, Change) error
}

// All lists the projections in the order they are written.
func All() []Projection {
	return []Projection{yards, crew, machines, outings, defects, trials, proofs, stopTimes, walks, streaks, misses, takenBack, looked, course, acts, fills, memory, story, closing, muster, calendar, chores, pictures, site}
}

// Tables lists every table of every projection.
func Tables() []string {
	var out []string
	for _, p := range All() {
		out = append(out, p.Tables...)
	}
	return out
}

// Write takes a change into every projection.
func Write(tx Tx, c Change) error {
	if c.Outing != nil {
		c.Standing = c.Outing.Defects()
	}
	for _, p := range All() {
		if err := p.On(tx, c); err != nil {
			return err
		}
	}
	return nil
}

func asJSON(v any) (string, error) {
	b, err := json.Marshal(v)
	return string(b), err
}

// millis is a time as it is kept; 0 for none.
func millis(t *time.Time) int64 {
	if t == nil || t.IsZero() {
		return 0
	}
	return t.UnixMilli()
}
