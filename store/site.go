package store

// The site, as rules read it.

import (
	"encoding/json"
	"errors"

	"vespers/core/ground"
	"vespers/core/yard"
)

// Site implements yard.View.
func (v *view) Site() (ground.File, bool) {
	f := kept(v, "site", func() (ground.File, error) {
		f, err := v.readSite()
		if err != nil || f.System == nil {
			return f, err
		}
		return f.Read()
	})
	return f, f.System != nil
}

func (v *view) readSite() (f ground.File, err error) {
	var head string
	if err = notFound(v.q.QueryRowContext(v.ctx, "SELECT head FROM site").Scan(&head)); err == nil {
		f, err = ground.ReadFile([]byte(head))
	}
	if err != nil && !errors.Is(err, ErrNotFound) {
		return f, err
	}
	rows, err := v.q.QueryContext(v.ctx, "SELECT feature FROM feature ORDER BY place")
	if err != nil {
		return f, err
	}
	f.Features, err = collect(rows, func(row row) (ground.Feature, error) {
		var body string
		if err := row.Scan(&body); err != nil {
			return nil, err
		}
		return ground.ReadFeature([]byte(body))
	})
	if f.System == nil && len(f.Features) > 0 {
		f.System = ground.NewFile(yard.Drawing).System // drawn by hand from nothing
	}
	return f, err
}

// Walked implements yard.View.
func (v *view) Walked(zone string) (w yard.Walked, ok bool) {
	byID(v, &v.walked, "SELECT zone, body, by, at FROM zone_walked", func(row row) (id string, w yard.Walked, err error) {
		var body string
		var at int64
		if err = row.Scan(&id, &body, &w.By, &at); err == nil {
			err = json.Unmarshal([]byte(body), &w.ZoneWalked)
		}
		w.At = milli(at)
		return id, w, err
	})
	w, ok = v.walked[zone]
	return w, ok
}

// Tried implements yard.View.
func (v *view) Tried(zone string) (t yard.Tried, ok bool) {
	byID(v, &v.tried, "SELECT zone, slipped, by, at FROM bank_tried", func(row row) (id string, t yard.Tried, err error) {
		var at int64
		err = row.Scan(&t.Zone, &t.Slipped, &t.By, &at)
		t.At = milli(at)
		return t.Zone, t, err
	})
	t, ok = v.tried[zone]
	return t, ok
}

// Load implements yard.View.
func (v *view) Load(outingID string) (l yard.Load, ok bool) {
	var body string
	var at int64
	err := v.q.QueryRowContext(v.ctx, "SELECT body, by, at FROM load_sheet WHERE outing=?", outingID).Scan(&body, &l.By, &at)
	if !v.found(notFound(err)) {
		return l, false
	}
	l.At = milli(at)
	return l, v.found(json.Unmarshal([]byte(body), &l.LoadChecked))
}

// Morning implements yard.View.
func (v *view) Morning() (m yard.Morning, ok bool) {
	var body string
	var at int64
	err := v.q.QueryRowContext(v.ctx, "SELECT body, by, at, record FROM morning_plan").Scan(&body, &m.By, &at, &m.Record)
	if !v.found(notFound(err)) {
		return m, false
	}
	m.At = milli(at)
	return m, v.found(json.Unmarshal([]byte(body), &m.MorningPlanned))
}
