package store

// The yard as the rules of the core see it, inside the transaction that writes
// or from the pool that reads.

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sync"
	"time"

	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/store/projector"
)

// view implements yard.View. What it could not read is in err, which has to be
// looked at before what was decided counts.
type view struct {
	s       *Store
	ctx     context.Context
	q       querier
	fast    bool
	err     error
	outings map[string]*outing.Outing
	// machines are those in the yard, and settings its own, once they were read: nothing
	// changes under a view.
	machines []yard.Machine
	ids      map[string]yard.Machine
	settings *yard.Settings
	came     map[string]yard.Came
	where    map[string]yard.Whereabouts
	given    map[string]yard.Given
	walked   map[string]yard.Walked
	tried    map[string]yard.Tried
	// open is what is out: a page of a yard asks for most of it.
	open *openNow
	// last is the hash of the yard's last record when the view began to read.
	last *string
}

// openNow is what is out: the hashes of the last records of the outings, and their ids by
// whom they are with.
type openNow struct {
	lasts map[string][]byte
	with  map[string][]string
}

// View is the yard as it stands, for pages that ask a rule of the core. Check
// tells whether all of it could be read.
func (s *Store) View(ctx context.Context) (v yard.View, check func() error) {
	own := &view{s: s, ctx: ctx, q: s.reader}
	return own, func() error { return own.err }
}

// found notes an error that is not a plain "not there".
func (v *view) found(err error) bool {
	if err != nil && !errors.Is(err, ErrNotFound) {
		v.err = errors.Join(v.err, err)
	}
	return err == nil
}

// hold keeps an outing at hand.
func (v *view) hold(o *outing.Outing) {
	if o == nil {
		return
	}
	if v.outings == nil {
		v.outings = map[string]*outing.Outing{}
	}
	v.outings[o.ID] = o
}

// held is an outing at hand, or nil.
func (v *view) held(id string) *outing.Outing {
	if id == "" {
		return nil
	}
	o, _ := v.Outing(id)
	return o
}

// Person implements yard.View.
func (v *view) Person(id string) (operator.Person, bool) {
	if v.fast {
		if p, ok := v.s.people.get(id); ok {
			return p, true
		}
	}
	p, err := keptAs(v, "person "+id, func() (operator.Person, error) { return v.s.person(v.ctx, v.q, id) })
	ok := v.found(err)
	if ok && v.fast {
		v.s.people.put(p)
	}
	return p, ok
}

// Settings implements yard.View.
func (v *view) Settings() (yard.Settings, bool) {
	if v.settings == nil {
		y, err := v.s.yard(v.ctx, v.q)
		if !v.found(err) {
			return y.Settings, false
		}
		v.settings = &y.Settings
	}
	return *v.settings, true
}

// People implements yard.View.
func (v *view) People() []operator.Person {
	return slices.Clone(kept(v, "people", func() ([]operator.Person, error) { return v.s.peopleHere(v.ctx, v.q) }))
}

// Machine implements yard.View.
func (v *view) Machine(id string) (yard.Machine, bool) {
	if m, here := v.ids[id]; here {
		return m, true
	}
	m, err := keptAs(v, "machine "+id, func() (yard.Machine, error) { return v.s.machine(v.ctx, v.q, id) })
	return m, v.found(err)
}

// Machines implements yard.View.
func (v *view) Machines() []yard.Machine {
	if v.machines == nil {
		list := kept(v, "machines", func() ([]yard.Machine, error) { return v.s.machines(v.ctx, v.q) })
		v.machines, v.ids = list, make(map[string]yard.Machine, len(list))
		for _, m := range list {
			v.ids[m.ID] = m
		}
	}
	return v.machines
}

// Sheet implements yard.View.
func (v *view) Sheet(hash string) (*machine.Sheet, bool) {
	sheet, err := v.s.sheet(v.ctx, v.q, hash)
	return sheet, v.found(err)
}

// Sheets implements yard.View.
func (v *view) Sheets() []string {
	rows, err := v.q.QueryContext(v.ctx, "SELECT hash FROM sheet ORDER BY hash")
	if !v.found(err) {
		return nil
	}
	hashes, err := collect(rows, func(row row) (hash string, err error) { return hash, row.Scan(&hash) })
	v.found(err)
	return hashes
}

// OpenDefects implements yard.View.
func (v *view) OpenDefects(machineID string) []yard.Defect {
	if !v.reads() {
		list, err := v.s.defects(v.ctx, v.q, "machine=? AND status='open'", machineID)
		v.found(err)
		return plainDefects(list)
	}
	return slices.Clone(kept(v, "defects by machine", func() (map[string][]yard.Defect, error) {
		list, err := v.s.defects(v.ctx, v.q, "status='open'")
		by := map[string][]yard.Defect{}
		for _, d := range list {
			by[d.Machine] = append(by[d.Machine], d.Defect)
		}
		return by, err
	})[machineID])
}

// EveryOpenDefect implements yard.View.
func (v *view) EveryOpenDefect() []yard.Defect {
	list, err := v.s.defects(v.ctx, v.q, "status='open'")
	v.found(err)
	return plainDefects(list)
}

// Defect implements yard.View.
func (v *view) Defect(id string) (yard.Defect, bool) {
	list, err := v.s.defects(v.ctx, v.q, "id=?", id)
	if !v.found(err) || len(list) == 0 {
		return yard.Defect{}, false
	}
	return list[0].Defect, true
}

func plainDefects(list []Defect) []yard.Defect {
	var out []yard.Defect
	for _, d := range list {
		out = append(out, d.Defect)
	}
	return out
}

// Trials implements yard.View.
func (v *view) Trials(defectID string) []interlock.Observation {
	list, err := v.s.trials(v.ctx, v.q, defectID)
	v.found(err)
	return list
}

// Outing implements yard.View.
func (v *view) Outing(id string) (*outing.Outing, bool) {
	if o := v.outings[id]; o != nil {
		return o, true
	}
	o, err := v.fold(id)
	ok := v.found(err)
	v.hold(o)
	return o, ok
}

func (v *view) fold(id string) (*outing.Outing, error) {
	if !v.reads() {
		return v.s.fold(v.ctx, v.q, id)
	}
	return keptAs(v, "outing "+id, func() (*outing.Outing, error) {
		if last, open := v.now().lasts[id]; open {
			return v.s.foldTo(v.ctx, v.q, id, last)
		}
		return v.s.fold(v.ctx, v.q, id)
	})
}

// reads reports whether the view only reads: nothing changes under it then.
func (v *view) reads() bool { return v.q == querier(v.s.reader) }

// kept is what read reads, or what it has read for any view since the yard's last record.
func kept[T any](v *view, what string, read func() (T, error)) T {
	out, err := keptAs(v, what, read)
	v.found(err)
	return out
}

// keptAs is kept, with what failed.
func keptAs[T any](v *view, what string, read func() (T, error)) (T, error) {
	if !v.reads() {
		return read()
	}
	if v.last == nil {
		last, err := v.s.lastRecord(v.ctx)
		if !v.found(err) {
			return read()
		}
		v.last = &last
	}
	return sinceLast(v.s, *v.last, what, read)
}

// lastHash is that of the last record of an outing o.
const lastHash = "(SELECT r.hash FROM record r WHERE r.outing=o.id AND r.outing<>'' ORDER BY r.seq DESC LIMIT 1)"

// now reads what is out, once.
func (v *view) now() *openNow {
	if v.open == nil {
		v.open = kept(v, "open", v.readOpen)
	}
	return v.open
}

func (v *view) readOpen() (*openNow, error) {
	out := &openNow{lasts: map[string][]byte{}, with: map[string][]string{}}
	rows, err := v.q.QueryContext(v.ctx, `SELECT o.id, o.operator, `+lastHash+`
		FROM outing o WHERE o.id IN (SELECT outing FROM machine WHERE outing<>'') ORDER BY o.began`)
	if err != nil {
		return out, err
	}
	type one struct {
		id, with string
		last     []byte
	}
	all, err := collect(rows, func(row row) (o one, err error) { return o, row.Scan(&o.id, &o.with, &o.last) })
	for _, o := range all {
		out.lasts[o.id], out.with[o.with] = o.last, append(out.with[o.with], o.id)
	}
	return out, err
}

// OutWith implements yard.View.
func (v *view) OutWith(person string) []string {
	if v.reads() {
		return v.now().with[person]
	}
	rows, err := v.q.QueryContext(v.ctx, "SELECT DISTINCT o.id FROM machine m JOIN outing o ON o.id=m.outing WHERE m.outing<>'' AND o.operator=? ORDER BY o.began", person)
	if !v.found(err) {
		return nil
	}
	ids, err := collect(rows, func(row row) (id string, err error) { return id, row.Scan(&id) })
	v.found(err)
	return ids
}

// OldPictures implements yard.View.
func (v *view) OldPictures(before time.Time) []string {
	const never = 1 << 62
	rows, err := v.q.QueryContext(v.ctx, `SELECT p.hash FROM picture p JOIN photo f ON f.hash=p.hash
		LEFT JOIN defect d ON d.id=p.finding
		LEFT JOIN outing o ON o.id=p.outing
		GROUP BY p.hash
		HAVING max(CASE
			WHEN EXISTS (SELECT 1 FROM defect e WHERE e.machine=p.machine AND e.point=p.point AND e.status='open') THEN ?
			WHEN p.walked>0 THEN p.walked
			WHEN d.id IS NOT NULL THEN d.closed_at
			WHEN o.ended>0 THEN o.ended
			ELSE ? END) < ?`, never, never, before.UnixMilli())
	if !v.found(err) {
		return nil
	}
	hashes, err := collect(rows, func(row row) (hash string, err error) { return hash, row.Scan(&hash) })
	v.found(err)
	return hashes
}

// LastRead implements yard.View.
func (v *view) LastRead(machineID string) []inspect.Before {
	if o := v.lastOuting(machineID); o != nil {
		return o.Unit(machineID).Readings()
	}
	return nil
}

// LastPlan implements yard.View.
func (v *view) LastPlan(machineID string) *outing.Meant {
	if o := v.lastOuting(machineID); o != nil {
		return o.Plan
	}
	return nil
}

// lastOuting is the last outing of a machine, or nil.
func (v *view) lastOuting(machineID string) *outing.Outing {
	var last string
	err := v.q.QueryRowContext(v.ctx, "SELECT outing FROM outing_unit WHERE machine=? ORDER BY began DESC LIMIT 1", machineID).Scan(&last)
	if !v.found(notFound(err)) {
		return nil
	}
	return v.held(last)
}

// Memory implements yard.View.
func (v *view) Memory(machineID string) (m outing.Memory) {
	m, err := v.s.memory(v.ctx, v.q, machineID)
	v.found(err)
	return m
}

// Past implements yard.View.
func (v *view) Past(machineID string) inspect.Past {
	past, ok := v.pasts("WHERE machine=?", machineID)[machineID]
	if !ok {
		past.Looked = map[string]inspect.Seen{}
	}
	past.Proved, past.ProvedAs = v.proved(machineID)
	return past
}

// proved is when a whole round last proved a machine, and the key of its sheet then.
func (v *view) proved(machineID string) (at time.Time, as string) {
	var id string
	var ms int64
	err := v.q.QueryRowContext(v.ctx, "SELECT outing, at FROM proof WHERE machine=?", machineID).Scan(&id, &ms)
	if errors.Is(err, sql.ErrNoRows) || !v.found(err) {
		return at, ""
	}
	o, ok := v.Outing(id)
	if !ok || o.Unit(machineID) == nil {
		return at, ""
	}
	return milli(ms), o.Unit(machineID).Hash
}

// Pasts implements yard.View.
func (v *view) Pasts(points []string) map[string]inspect.Past {
	list, err := json.Marshal(append(points, projector.LookedAdded, projector.LookedRepaired))
	v.found(err)
	return v.pasts("WHERE point IN (SELECT value FROM json_each(?))", string(list))
}

// pasts reads what was looked at on some machines, by their id.
func (v *view) pasts(where string, args ...any) map[string]inspect.Past {
	return kept(v, fmt.Sprint("looked ", where, args), func() (map[string]inspect.Past, error) { return v.readPasts(where, args...) })
}

func (v *view) readPasts(where string, args ...any) (map[string]inspect.Past, error) {
	type looked struct {
		machine, point string
		seen           inspect.Seen
	}
	rows, err := v.q.QueryContext(v.ctx, "SELECT machine, point, at, hours FROM looked "+where, args...)
	if err != nil {
		return nil, err
	}
	all, err := collect(rows, func(row row) (l looked, err error) {
		var at int64
		err = row.Scan(&l.machine, &l.point, &at, &l.seen.Hours)
		l.seen.At = milli(at)
		return l, err
	})
	out := map[string]inspect.Past{}
	for _, l := range all {
		past, ok := out[l.machine]
		if !ok {
			past.Looked = map[string]inspect.Seen{}
		}
		switch l.point {
		case projector.LookedAdded:
			past.Added = l.seen
		case projector.LookedRepaired:
			past.Repaired = &l.seen
		default:
			past.Looked[l.point] = l.seen
		}
		out[l.machine] = past
	}
	return out, err
}

// Plan implements yard.View: the same section always has the same.
func (v *view) Plan(key string, section machine.Interlock) (interlock.Plan, bool) {
	return v.s.rounds.of(key, section)
}

// rounds remembers plans.
type rounds struct {
	mu    sync.Mutex
	plans map[string]interlock.Plan
}

func (r *rounds) of(key string, section machine.Interlock) (interlock.Plan, bool) {
	r.mu.Lock()
	plan, ok := r.plans[key]
	r.mu.Unlock()
	if ok {
		return plan, true
	}
	plan, ok = outing.Plan(key, section)
	if ok {
		r.mu.Lock()
		r.plans[key] = plan
		r.mu.Unlock()
	}
	return plan, ok
}

// Zone implements yard.View.
func (v *view) Zone(name string) (*time.Location, bool) { return zone(name) }

// Clock implements yard.View.
func (v *view) Clock() yard.Clock {
	c, err := v.s.Clock(v.ctx)
	v.found(err)
	return c
}

// crewCache remembers people while nothing else is written: an answer then
// looks nobody up.
type crewCache struct {
	mu     sync.Mutex
	people map[string]operator.Person
}

func (c *crewCache) get(id string) (operator.Person, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	p, ok := c.people[id]
	return p, ok
}

func (c *crewCache) put(p operator.Person) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.people == nil {
		c.people = map[string]operator.Person{}
	}
	c.people[p.ID] = p
}

func (c *crewCache) forget() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.people = nil
}
