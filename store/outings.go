package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"sync"
	"time"

	"vespers/catalogue"
	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/walk"
)

// querier is a transaction or a pool.
type querier interface {
	QueryContext(context.Context, string, ...any) (*sql.Rows, error)
	QueryRowContext(context.Context, string, ...any) *sql.Row
}

// Taken says that a machine is in an outing already.
type Taken struct{ Outing, Operator string }

func (e *Taken) Error() string { return "store: the machine is out already" }

// OnHalt says that a machine may not be taken out, and the defects that keep
// it.
type OnHalt struct{ Defects []Defect }

func (e *OnHalt) Error() string { return "store: the machine is on Halt" }

// ErrNoPlan says that the smallest round could not be computed exactly, so
// none is begun.
var ErrNoPlan = errors.New("store: no exact interlock plan for this sheet")

// ErrNeedsCarrier says that an implement goes out with what carries it only.
var ErrNeedsCarrier = errors.New("store: an implement needs its carrier")

// StartOuting takes a machine out, and with an implement what carries it. The
// outing keeps the sheets, the routes, the interlock plans, the house rules and
// the open defects it begins with.
func (s *Store) StartOuting(ctx context.Context, e Entry, id, machineID, carrierID string) (Record, error) {
	var out Record
	err := s.write(ctx, func(ctx context.Context, tx *transaction) error {
		before, err := repeated(ctx, tx, e.ID, e.Request)
		if err != nil || before != nil {
			if before != nil {
				out = *before
			}
			return err
		}
		r, err := s.stamp(ctx, tx)
		if err != nil {
			return err
		}
		started, err := s.begin(ctx, tx, id, e.Person, machineID, carrierID, r.At)
		if err != nil {
			return err
		}
		if out, err = insert(ctx, tx, r, e, started, id, machineID); err != nil {
			return err
		}
		return s.project(ctx, tx, out, started)
	})
	return out, err
}

func (s *Store) begin(ctx context.Context, tx *transaction, id, person, machineID, carrierID string, now time.Time) (outing.Started, error) {
	var none outing.Started
	main, sheet, err := s.unit(ctx, tx, machineID, now)
	if err != nil {
		return none, err
	}
	units, sheets := []outing.Unit{main}, []*machine.Sheet{sheet}
	if sheet.Carrier != nil {
		if carrierID == "" || carrierID == machineID {
			return none, ErrNeedsCarrier
		}
		carrier, carries, err := s.unit(ctx, tx, carrierID, now)
		if err != nil {
			return none, err
		}
		if carries.Family != sheet.Carrier.Family {
			return none, ErrNeedsCarrier
		}
		units, sheets = []outing.Unit{carrier, main}, []*machine.Sheet{carries, sheet}
	}
	if err := s.plans(units, sheets); err != nil {
		return none, err
	}
	for i, spots := range outing.Spots(id, sheets) {
		units[i].Spots = spots
	}
	walks := make([]walk.Options, len(units))
	for i, u := range units {
		if u.Worked != nil {
			walks[i] = walk.Options{Hot: true, Minutes: now.Sub(*u.Worked).Minutes()}
		}
	}
	if len(units) == 1 {
		units[0].Route = walk.Route(sheets[0], walks[0])
	} else {
		var implementFirst bool
		units[0].Route, units[1].Route, implementFirst = walk.Joined(sheets[0], sheets[1], walks[0], walks[1])
		if implementFirst {
			units[0], units[1] = units[1], units[0]
		}
	}
	y, err := s.yard(ctx, tx)
	return outing.Started{Operator: person, House: y.House, Units: units}, err
}

// plans computes the interlock rounds: one for a carrier and an implement that
// it turns, else one each.
func (s *Store) plans(units []outing.Unit, sheets []*machine.Sheet) error {
	if len(units) == 2 && sheets[1].Carrier.Drives != "" {
		if joined, ok := interlock.Join(sheets[0].Interlock, sheets[1].Interlock, sheets[1].Carrier.Drives); ok {
			logic, _ := interlock.Compile(joined)
			units[0].Joined, units[0].Round = &joined, s.rounds.of(units[0].Sheet+" "+units[1].Sheet, logic)
			units[1].With, units[1].Round = units[0].Machine, interlock.NoTests()
			return nil
		}
	}
	for i, sheet := range sheets {
		logic, _ := interlock.Compile(sheet.Interlock)
		if logic == nil {
			return fmt.Errorf("sheet %s: interlock section does not compile", units[i].Sheet)
		}
		units[i].Round = s.rounds.of(units[i].Sheet, logic)
	}
	return nil
}

// rounds remembers plans: the same sheet always has the same.
type rounds struct {
	mu    sync.Mutex
	plans map[string]interlock.Plan
}

func (r *rounds) of(key string, logic *interlock.Logic) interlock.Plan {
	r.mu.Lock()
	plan, ok := r.plans[key]
	r.mu.Unlock()
	if ok {
		return plan
	}
	plan = logic.Plan()
	r.mu.Lock()
	r.plans[key] = plan
	r.mu.Unlock()
	return plan
}

// warmFor is how long after its work a machine may still be warm somewhere: no
// sheet asks for longer cooling.
const warmFor = 10 * time.Hour

// unit is a machine as an outing takes it, but for its route.
func (s *Store) unit(ctx context.Context, tx *transaction, id string, now time.Time) (outing.Unit, *machine.Sheet, error) {
	m, err := s.machine(ctx, tx, id)
	if err != nil {
		return outing.Unit{}, nil, err
	}
	if m.Outing != "" {
		var operator string
		err := tx.QueryRowContext(ctx, "SELECT operator FROM outing WHERE id=?", m.Outing).Scan(&operator)
		return outing.Unit{}, nil, errors.Join(err, &Taken{Outing: m.Outing, Operator: operator})
	}
	open, err := s.defects(ctx, tx, "machine=? AND status='open'", id)
	if err != nil {
		return outing.Unit{}, nil, err
	}
	var halts []Defect
	unit := outing.Unit{Machine: m.ID, Name: m.Name, Sheet: m.Sheet, Hours: m.Hours}
	for _, d := range open {
		if d.HaltAt(m.Hours, now) {
			halts = append(halts, d)
		}
		unit.Carried = append(unit.Carried, outing.Carried{ID: d.ID, Check: d.Point, Item: d.Item, Finding: d.Finding})
	}
	if len(halts) > 0 {
		return outing.Unit{}, nil, &OnHalt{Defects: halts}
	}
	if !m.Worked.IsZero() && now.Sub(m.Worked) < warmFor {
		unit.Worked = &m.Worked
	}
	sheet, err := s.sheet(ctx, tx, m.Sheet)
	if err != nil {
		return outing.Unit{}, nil, err
	}
	unit.Before, err = s.readBefore(ctx, tx, m)
	return unit, sheet, err
}

// readBefore is what was read at the machine's last outing.
func (s *Store) readBefore(ctx context.Context, tx *transaction, m Machine) ([]outing.Before, error) {
	var last string
	err := tx.QueryRowContext(ctx, "SELECT outing FROM outing_unit WHERE machine=? ORDER BY began DESC LIMIT 1", m.ID).Scan(&last)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	o, err := s.fold(ctx, tx, last)
	if err != nil {
		return nil, err
	}
	return o.Unit(m.ID).Readings(), nil
}

// Answer records the next event of an outing, made by build from the outing as
// it stands and the time of the record. A *outing.Refused from Accept comes
// back as it is and nothing is recorded. The outing returned is for reading.
func (s *Store) Answer(ctx context.Context, id string, e Entry, build func(*outing.Outing, time.Time) (outing.Event, error)) (Record, *outing.Outing, error) {
	if r, o, ok := s.answerNext(ctx, id, e, build); ok {
		return r, o, nil
	}
	var out Record
	var o *outing.Outing
	recorded := false
	err := s.write(ctx, func(ctx context.Context, tx *transaction) error {
		r, known, err := s.place(ctx, tx, e.ID, id)
		if err != nil {
			return err
		}
		if known {
			before, err := repeated(ctx, tx, e.ID, e.Request)
			if err != nil {
				return err
			}
			out = *before
			o, err = s.fold(ctx, tx, id)
			return err
		}
		if o = s.folds.get(id, r.outingLast); o == nil {
			if o, err = s.fold(ctx, tx, id); err != nil {
				return err
			}
		}
		out, err = s.take(ctx, tx, r.Record, id, e, o, build)
		recorded = err == nil
		return err
	})
	if err == nil && recorded {
		s.folds.put(id, out.Hash, o)
		s.tip.set(id, out)
	}
	return out, o, err
}

// answerNext is Answer without looking anything up, for the usual case: the
// record before was made here too. ok is false, and nothing is recorded, where
// it turns out otherwise or the answer may not come next; Answer then finds out
// what there is to say.
func (s *Store) answerNext(ctx context.Context, id string, e Entry, build func(*outing.Outing, time.Time) (outing.Event, error)) (out Record, o *outing.Outing, ok bool) {
	err := s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		last, outingLast, known := s.tip.get(id)
		if !known {
			return errNotNext
		}
		if o = s.folds.get(id, outingLast); o == nil {
			return errNotNext
		}
		var err error
		out, err = s.take(ctx, tx, s.follow(last), id, e, o, build)
		return err
	})
	if err != nil {
		return out, nil, false
	}
	s.folds.put(id, out.Hash, o)
	s.tip.set(id, out)
	return out, o, true
}

// errNotNext: what the next record follows is not known here.
var errNotNext = errors.New("store: the last record is not known")

// take accepts an event, records it and shows it.
func (s *Store) take(ctx context.Context, tx *transaction, r Record, id string, e Entry, o *outing.Outing, build func(*outing.Outing, time.Time) (outing.Event, error)) (Record, error) {
	event, err := build(o, r.At)
	if err != nil {
		return r, err
	}
	r.ID, r.Person, r.Supersedes = e.ID, e.Person, e.Supersedes
	if err := o.Accept(r.meta(), event); err != nil {
		return r, err
	}
	out, err := insert(ctx, tx, r, e, event, id, o.Units[0].Machine)
	if err != nil {
		return r, err
	}
	clean := len(o.Defects()) == 0
	o.Apply(out.meta(), event)
	return out, (&projector{s: s, tx: tx, ctx: ctx}).show(out, event, o, clean)
}

// CloseDefect is a technician's return to service. If the outing that found it
// never went out, it ends with the defect.
func (s *Store) CloseDefect(ctx context.Context, e Entry, closed DefectClosed) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		before, err := repeated(ctx, tx, e.ID, e.Request)
		if err != nil || before != nil {
			return err
		}
		open, err := s.defects(ctx, tx, "id=? AND status='open'", closed.Defect)
		if err != nil {
			return err
		}
		if len(open) == 0 {
			return ErrNotFound
		}
		d := open[0]
		r, err := s.stamp(ctx, tx)
		if err != nil {
			return err
		}
		if r, err = insert(ctx, tx, r, e, closed, "", d.Machine); err != nil {
			return err
		}
		if err := s.project(ctx, tx, r, closed); err != nil {
			return err
		}
		return s.endHalted(ctx, tx, e, d)
	})
}

// endHalted ends the outing that found a Halt and stands still because of it.
func (s *Store) endHalted(ctx context.Context, tx *transaction, e Entry, d Defect) error {
	if d.Grade != defect.Halt {
		return nil
	}
	var status string
	err := tx.QueryRowContext(ctx, "SELECT status FROM outing WHERE id=?", d.Outing).Scan(&status)
	if errors.Is(err, sql.ErrNoRows) || status != string(outing.Open) {
		return nil
	}
	if err != nil {
		return err
	}
	r, err := s.stamp(ctx, tx)
	if err != nil {
		return err
	}
	end := outing.Ended{How: outing.EndGivenUp}
	e.ID += ".end"
	e.Request = nil
	if r, err = insert(ctx, tx, r, e, end, d.Outing, d.Machine); err != nil {
		return err
	}
	return s.project(ctx, tx, r, end)
}

// AddSheet stores a resolved sheet under its hash.
func (s *Store) AddSheet(ctx context.Context, r catalogue.Resolved) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO sheet (hash,id,edition,body) VALUES (?,?,?,?) ON CONFLICT (hash) DO NOTHING", r.Hash, r.Sheet.ID, r.Sheet.Edition, r.Body)
		return err
	})
}

// HasCatalogue reports whether this edition of the catalogue is stored already.
func (s *Store) HasCatalogue(ctx context.Context, fingerprint string) (bool, error) {
	var has bool
	err := s.reader.QueryRowContext(ctx, "SELECT EXISTS (SELECT 1 FROM catalogue_stored WHERE fingerprint=?)", fingerprint).Scan(&has)
	return has, err
}

// CatalogueStored notes that this edition of the catalogue is stored.
func (s *Store) CatalogueStored(ctx context.Context, fingerprint string) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, "INSERT INTO catalogue_stored VALUES (1,?) ON CONFLICT (one) DO UPDATE SET fingerprint=excluded.fingerprint", fingerprint)
		return err
	})
}

// Sheet is a stored sheet.
func (s *Store) Sheet(ctx context.Context, hash string) (*machine.Sheet, error) {
	return s.sheet(ctx, s.reader, hash)
}

// sheet reads a sheet once; a hash never means anything else.
func (s *Store) sheet(ctx context.Context, q querier, hash string) (*machine.Sheet, error) {
	s.sheets.mu.Lock()
	sheet := s.sheets.sheet[hash]
	s.sheets.mu.Unlock()
	if sheet != nil {
		return sheet, nil
	}
	var data []byte
	if err := q.QueryRowContext(ctx, "SELECT body FROM sheet WHERE hash=?", hash).Scan(&data); err != nil {
		return nil, notFound(err)
	}
	sheet, err := catalogue.Decode(data)
	if err != nil {
		return nil, err
	}
	s.sheets.mu.Lock()
	s.sheets.sheet[hash] = sheet
	s.sheets.mu.Unlock()
	return sheet, nil
}

func notFound(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

func unmarshal[T any](data string) (v T, err error) {
	if data == "" {
		return v, nil
	}
	err = json.Unmarshal([]byte(data), &v)
	return v, err
}

// SheetInfo names a stored sheet.
type SheetInfo struct{ Hash, ID, Edition string }

// NewerSheet is the sheet of the catalogue that is stored under the same id
// with other content, or nil.
func (s *Store) NewerSheet(ctx context.Context, id, hash string) (*SheetInfo, error) {
	var i SheetInfo
	err := s.reader.QueryRowContext(ctx, "SELECT hash, id, edition FROM sheet WHERE id=? ORDER BY rowid DESC LIMIT 1", id).Scan(&i.Hash, &i.ID, &i.Edition)
	if err != nil {
		return nil, notFound(err)
	}
	if i.Hash == hash {
		return nil, nil
	}
	return &i, nil
}

// Catalogue lists the newest stored sheet of each id.
func (s *Store) Catalogue(ctx context.Context) ([]SheetInfo, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT hash, id, edition FROM sheet WHERE rowid IN (SELECT max(rowid) FROM sheet GROUP BY id) ORDER BY id")
	if err != nil {
		return nil, err
	}
	return collect(rows, func(row interface{ Scan(...any) error }) (SheetInfo, error) {
		var i SheetInfo
		err := row.Scan(&i.Hash, &i.ID, &i.Edition)
		return i, err
	})
}
