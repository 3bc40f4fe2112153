package store

// What the close of a day looks at.

import (
	"encoding/json"
	"time"

	"vespers/core/outing"
	"vespers/core/yard"
)

// reachBack is how long before a span an outing that ended in it may have begun; one that
// is still out is found however old it is.
const reachBack = 7 * 24 * time.Hour

// Outings implements yard.View.
func (v *view) Outings(from, until time.Time) (out []*outing.Outing) {
	rows, err := v.q.QueryContext(v.ctx, `SELECT id FROM outing WHERE began >= ? AND began < ? AND (ended=0 OR ended>=?)
		UNION SELECT o.id FROM machine m JOIN outing o ON o.id=m.outing WHERE m.outing<>'' AND o.began < ? ORDER BY id`,
		from.Add(-reachBack).UnixMilli(), until.UnixMilli(), from.UnixMilli(), until.UnixMilli())
	if !v.found(err) {
		return nil
	}
	ids, err := collect(rows, func(row row) (id string, err error) { return id, row.Scan(&id) })
	v.found(err)
	for _, id := range ids {
		if o, ok := v.Outing(id); ok {
			out = append(out, o)
		}
	}
	return out
}

// LastOut implements yard.View.
func (v *view) LastOut(before time.Time) (time.Time, bool) {
	var began int64
	err := v.q.QueryRowContext(v.ctx, "SELECT began FROM outing WHERE began < ? AND (released>0 OR ended=0) ORDER BY began DESC LIMIT 1", before.UnixMilli()).Scan(&began)
	return milli(began), v.found(notFound(err))
}

// LastSeal implements yard.View.
func (v *view) LastSeal() (s yard.Seal, ok bool) {
	var body string
	err := v.q.QueryRowContext(v.ctx, "SELECT record, by, body FROM seal ORDER BY at DESC, day DESC LIMIT 1").Scan(&s.Record, &s.By, &body)
	if !v.found(notFound(err)) {
		return s, false
	}
	return s, v.found(json.Unmarshal([]byte(body), &s))
}

// Whereabouts implements yard.View.
func (v *view) Whereabouts(person string) (w yard.Whereabouts, ok bool) {
	byID(v, &v.where, "SELECT person, place, by, at FROM whereabouts", func(row row) (id string, w yard.Whereabouts, err error) {
		var at int64
		err = row.Scan(&w.Person, &w.Where, &w.By, &at)
		w.At = milli(at)
		return w.Person, w, err
	})
	w, ok = v.where[person]
	return w, ok
}
