package store

// The muster, as rules read it.

import (
	"time"

	"vespers/core/yard"
)

// Came implements yard.View.
func (v *view) Came(person string) (c yard.Came, ok bool) {
	byID(v, &v.came, "SELECT person, by, at FROM came", func(row row) (id string, c yard.Came, err error) {
		var at int64
		err = row.Scan(&id, &c.By, &at)
		c.At = milli(at)
		return id, c, err
	})
	c, ok = v.came[person]
	return c, ok
}

// byID reads a small table once for a view, by the id that each line is of.
func byID[T any](v *view, into *map[string]T, query string, scan func(row) (string, T, error)) {
	if *into != nil {
		return
	}
	*into = map[string]T{}
	rows, err := v.q.QueryContext(v.ctx, query)
	if !v.found(err) {
		return
	}
	_, err = collect(rows, func(row row) (T, error) {
		id, one, err := scan(row)
		(*into)[id] = one
		return one, err
	})
	v.found(err)
}

// Given implements yard.View.
func (v *view) Given(machineID string) (g yard.Given, ok bool) {
	byID(v, &v.given, "SELECT machine, person, by, at FROM given", func(row row) (id string, g yard.Given, err error) {
		var at int64
		err = row.Scan(&id, &g.Person, &g.By, &at)
		g.At = milli(at)
		return id, g, err
	})
	g, ok = v.given[machineID]
	return g, ok
}

// GivenTo implements yard.View.
func (v *view) GivenTo(person string, since time.Time) []string {
	rows, err := v.q.QueryContext(v.ctx, "SELECT machine FROM given WHERE person=? AND at>=? ORDER BY machine", person, since.UnixMilli())
	if !v.found(err) {
		return nil
	}
	ids, err := collect(rows, func(row row) (id string, err error) { return id, row.Scan(&id) })
	v.found(err)
	return ids
}

// Weather implements yard.View.
func (v *view) Weather() (w yard.Weather, ok bool) {
	var at int64
	err := v.q.QueryRowContext(v.ctx, "SELECT grass, light, storm, by, at FROM weather").Scan(&w.Grass, &w.Light, &w.Storm, &w.By, &at)
	w.At = milli(at)
	return w, v.found(notFound(err))
}

// Spent implements yard.View.
func (v *view) Spent(machineID string, most int) map[string][]float64 {
	rows, err := v.q.QueryContext(v.ctx, "SELECT chore, seconds FROM (SELECT chore, seconds, row_number() OVER (PARTITION BY chore ORDER BY at DESC, outing DESC) AS n FROM chore WHERE machine=?) WHERE n<=? ORDER BY chore, n", machineID, most)
	if !v.found(err) {
		return nil
	}
	type line struct {
		chore   string
		seconds float64
	}
	list, err := collect(rows, func(row row) (l line, err error) { return l, row.Scan(&l.chore, &l.seconds) })
	v.found(err)
	out := map[string][]float64{}
	for _, l := range list {
		out[l.chore] = append(out[l.chore], l.seconds)
	}
	return out
}

// Quiet implements yard.View.
func (v *view) Quiet(from, until time.Time) (out []yard.Quiet) {
	rows, err := v.q.QueryContext(v.ctx, "SELECT record, since, until, what, by FROM quiet WHERE until>? AND since<?", from.UnixMilli(), until.UnixMilli())
	if !v.found(err) {
		return nil
	}
	out, err = collect(rows, func(row row) (q yard.Quiet, err error) {
		var since, until int64
		err = row.Scan(&q.Record, &since, &until, &q.What, &q.By)
		q.From, q.Until = milli(since), milli(until)
		return q, err
	})
	v.found(err)
	return out
}
