package store

// The log: commands go to the core, and what it decides is appended once, sealed
// and projected in one transaction.

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/store/projector"
)

// Done is what a command came to.
type Done struct {
	Record Record         // the first that it became
	Outing *outing.Outing // the outing it was said in or began, for reading; else nil

	written []Record // all of them; none for what was said before
}

// Do lets somebody say something. What comes back is on disk; a
// *record.Refused of the core comes back as it is, and nothing is recorded.
func (s *Store) Do(ctx context.Context, e Entry, c yard.Command) (Done, error) {
	if e.Request == nil {
		e.Request = plain(c)
	}
	if err := s.ownPIN(ctx, e.Person, c); err != nil {
		return Done{}, err
	}
	secret, err := newSecret(c)
	if err != nil {
		return Done{}, err
	}
	said, inOuting := c.(yard.InOuting)
	if inOuting {
		if done, ok := s.doNext(ctx, e, said); ok {
			return done, nil
		}
	}
	var done Done
	err = s.write(ctx, func(ctx context.Context, tx *transaction) error {
		w := &writing{s: s, ctx: ctx, tx: tx, entry: e, secret: secret}
		p, err := w.place(said.Outing, unclamped(c))
		if err != nil {
			return err
		}
		if p.known {
			done, err = w.again(c)
			return err
		}
		if inOuting {
			done.Outing = s.folds.get(said.Outing, p.outingLast)
		}
		done, err = w.commit(p.Record, c, done.Outing)
		return err
	})
	if err == nil {
		s.after(done)
	}
	return done, err
}

// doNext is Do without looking anything up, for the usual case: an answer in an
// outing whose record before was made here too. ok is false, and nothing is
// recorded, where it turns out otherwise or the answer may not come next; Do
// then finds out what there is to say.
func (s *Store) doNext(ctx context.Context, e Entry, c yard.InOuting) (done Done, ok bool) {
	err := s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		last, outingLast, known := s.tip.get(c.Outing)
		if !known {
			return errNotNext
		}
		o := s.folds.get(c.Outing, outingLast)
		if o == nil {
			return errNotNext
		}
		w := &writing{s: s, ctx: ctx, tx: tx, entry: e, fast: true}
		var err error
		done, err = w.commit(s.follow(last, false), c, o)
		return err
	})
	if err != nil {
		return Done{}, false
	}
	s.after(done)
	return done, true
}

// after remembers what is on disk now.
func (s *Store) after(done Done) {
	for _, r := range done.written {
		s.clock.trouble(r)
	}
	if n := len(done.written); n > 0 {
		s.anchor.note(done.written[n-1])
	}
	if len(done.written) == 1 && done.Outing != nil {
		s.folds.put(done.Outing.ID, done.Record.Hash, done.Outing)
		s.tip.set(done.Outing.ID, done.Record)
	}
}

// errNotNext: what the next record follows is not known here.
var errNotNext = errors.New("store: the last record is not known")

// plain is a command as it can be compared, without what nobody should read.
func plain(c yard.Command) []byte {
	data, err := json.Marshal(withoutSecret(c))
	if err != nil {
		return nil
	}
	return append(fmt.Appendf(nil, "%T ", c), data...)
}

// unclamped: what ends a wrong clock is dated by the right one.
func unclamped(c yard.Command) bool { _, ends := c.(yard.EndWrongClock); return ends }

// writing is one command being written.
type writing struct {
	s      *Store
	ctx    context.Context
	tx     *transaction
	entry  Entry
	secret *secret
	fast   bool // people may be remembered: nothing was written since
}

// place is where the next record goes.
type place struct {
	Record
	known      bool   // a record with this id is there already
	outingLast []byte // hash of the last record of the outing asked for
}

// place gives the place and time of the next record. It is one query, because
// every answer waits for it.
func (w *writing) place(outingID string, free bool) (p place, err error) {
	var seq, last int64
	var previous []byte
	err = w.tx.QueryRowContext(w.ctx, `SELECT seq, server_at, hash, EXISTS (SELECT 1 FROM record WHERE id = ?1),
		(SELECT hash FROM record WHERE outing = ?2 AND outing <> '' ORDER BY seq DESC LIMIT 1)
		FROM record ORDER BY seq DESC LIMIT 1`, w.entry.ID, outingID).Scan(&seq, &last, &previous, &p.known, &p.outingLast)
	if errors.Is(err, sql.ErrNoRows) {
		previous, err = make([]byte, sha256.Size), nil
	}
	p.Record = w.s.follow(Record{Seq: seq, At: time.UnixMilli(last), Hash: previous}, free)
	return p, err
}

// follow gives the place and time of the record after last. A record is never
// dated before the one before it, unless a lead says that the clock is right.
func (s *Store) follow(last Record, free bool) Record {
	now, jumped := s.clock.look()
	r := Record{Seq: last.Seq + 1, At: time.UnixMilli(now.UnixMilli()), Previous: last.Hash}
	switch {
	case free:
	case now.UnixMilli() < last.At.UnixMilli():
		r.At, r.Clock = last.At, "clamped"
	case jumped:
		r.Clock = "jumped"
	}
	return r
}

// again answers a command that was said before as it was answered then.
func (w *writing) again(c yard.Command) (Done, error) {
	r, err := repeated(w.ctx, w.tx, w.entry)
	if err != nil {
		return Done{}, err
	}
	if w.secret != nil {
		if same, err := w.secret.isKept(w.ctx, w.tx, *r); err != nil || !same {
			return Done{}, errors.Join(err, &Conflict{Earlier: *r})
		}
	}
	done := Done{Record: *r}
	if r.Outing != "" {
		done.Outing, err = w.s.fold(w.ctx, w.tx, r.Outing)
	}
	return done, err
}

// commit lets the core decide, appends what it decided and shows it. The outing
// is the one the command is said in, where it is at hand.
func (w *writing) commit(r Record, c yard.Command, o *outing.Outing) (Done, error) {
	v := &view{s: w.s, ctx: w.ctx, q: w.tx, fast: w.fast}
	v.hold(o)
	meta := record.Meta{ID: w.entry.ID, By: w.entry.Person, At: r.At, Supersedes: w.entry.Supersedes, Doubtful: r.Clock != ""}
	meta.Wrong = w.s.clock.since()
	decided, err := yard.Decide(v, c, meta)
	if v.err != nil {
		return Done{}, v.err
	}
	if err != nil {
		return Done{}, err
	}
	var done Done
	for i, d := range decided {
		e := w.entry
		if i > 0 {
			e.ID = fmt.Sprintf("%s.%d", w.entry.ID, i+1)
		}
		if d.Event, err = w.secret.keep(w.ctx, w.tx, d.Event); err != nil {
			return Done{}, err
		}
		r.Outing, r.Machine = d.Outing, d.Machine
		written, err := insert(w.ctx, w.tx, r, e, d.Event)
		if err != nil {
			return Done{}, err
		}
		after, err := w.show(written, d.Event, v.held(d.Outing))
		if err != nil {
			return Done{}, err
		}
		v.hold(after)
		if done.written = append(done.written, written); i == 0 {
			done.Record = written
		}
		if after != nil {
			done.Outing = after
		}
		r = Record{Seq: written.Seq + 1, At: written.At, Previous: written.Hash, Clock: written.Clock}
	}
	return done, nil
}

// show takes an event into its outing and writes the projections.
func (w *writing) show(r Record, e record.Event, before *outing.Outing) (*outing.Outing, error) {
	var after *outing.Outing
	clean := false
	switch started, begins := e.(outing.Started); {
	case r.Outing == "":
	case begins:
		o, err := w.s.begin(w.ctx, w.tx, r, started)
		if err != nil {
			return nil, err
		}
		after = o
	case before == nil:
		return nil, ErrNotFound
	default:
		clean = len(before.Defects()) == 0
		after = before.Apply(r.meta(), e)
	}
	return after, w.project(r, e, after, clean)
}

// project writes the projections of an event that its outing has taken in.
func (w *writing) project(r Record, e record.Event, o *outing.Outing, clean bool) error {
	return projector.Write(shown{w.ctx, w.tx}, projector.Change{Seq: r.Seq, Meta: r.meta(), Machine: r.Machine, Event: e, Outing: o, Clean: clean,
		Fold: func(id string) (*outing.Outing, error) { return w.s.fold(w.ctx, w.tx, id) }})
}

// shown is a transaction as projections use it.
type shown struct {
	ctx context.Context
	tx  *transaction
}

// Exec implements projector.Tx.
func (t shown) Exec(query string, args ...any) error {
	_, err := t.tx.ExecContext(t.ctx, query, args...)
	return err
}

// Row implements projector.Tx.
func (t shown) Row(query string, args ...any) *sql.Row {
	return t.tx.QueryRowContext(t.ctx, query, args...)
}

// Rows implements projector.Tx.
func (t shown) Rows(query string, args ...any) (*sql.Rows, error) {
	return t.tx.QueryContext(t.ctx, query, args...)
}
