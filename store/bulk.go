package store

// Filling a yard quickly: many commands in one transaction.

import (
	"context"
	"fmt"
	"time"

	"vespers/core/inspect"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/yard"
)

// Step is one thing said in an outing that is written in bulk.
type Step struct {
	At      time.Time
	Command outing.Command
}

// Bulk writes whole outings in one transaction, showing each only where pages
// would change: for generating large yards, not for answers. Everything still
// goes through the core.
func (s *Store) Bulk(ctx context.Context, write func(add func(id, machine, person string, steps func(*outing.Outing) (Step, bool)) error) error) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		w := &writing{s: s, ctx: ctx, tx: tx, fast: true}
		p, err := w.place("", false)
		if err != nil {
			return err
		}
		last := p.Record
		return write(func(id, machineID, person string, steps func(*outing.Outing) (Step, bool)) error {
			return w.whole(&last, id, machineID, person, steps)
		})
	})
}

// whole appends one outing from start to end; the first step is asked for
// with no outing and gives only its time.
func (w *writing) whole(last *Record, id, machineID, person string, steps func(*outing.Outing) (Step, bool)) error {
	v := &view{s: w.s, ctx: w.ctx, q: w.tx, fast: true}
	var o *outing.Outing
	n := 0
	var unshown *pending // what pages do not show yet
	say := func(at time.Time, c yard.Command, show func(record.Event) bool) error {
		at = time.UnixMilli(at.UnixMilli()) // as it will be read back
		meta := record.Meta{ID: id + "." + fmt.Sprint(n), By: person, At: at}
		if n == 0 {
			meta.ID = id
		}
		n++
		decided, err := yard.Decide(v, c, meta)
		if v.err != nil || err != nil {
			return fmt.Errorf("%s, step %d: %w", id, n, joined(v.err, err))
		}
		for i, d := range decided {
			if i > 0 {
				meta.ID = fmt.Sprintf("%s+%d", meta.ID, i)
			}
			r := Record{Seq: last.Seq, At: at, Previous: last.Previous, Outing: d.Outing, Machine: d.Machine}
			r, err = insert(w.ctx, w.tx, r, Entry{ID: meta.ID, Person: person, Request: plain(c)}, d.Event)
			if err != nil {
				return err
			}
			last.Seq, last.Previous = r.Seq+1, r.Hash
			shown := show(d.Event)
			var after *outing.Outing
			if !shown {
				after = o.Apply(r.meta(), d.Event)
				shown = after.Stage() != o.Stage() // the day shows when it came to each
			}
			if unshown = nil; shown {
				o, err = w.show(r, d.Event, o)
			} else {
				o, unshown = after, &pending{r, d.Event}
			}
			v.hold(o)
			if err != nil {
				return err
			}
		}
		return nil
	}
	first, _ := steps(nil)
	always := func(record.Event) bool { return true }
	if err := say(first.At, yard.TakeOut{Machine: machineID, Both: true}, always); err != nil {
		return err
	}
	for {
		step, more := steps(o)
		if !more {
			if unshown == nil {
				return nil
			}
			return w.project(unshown.Record, unshown.event, o, false)
		}
		if err := say(step.At, yard.InOuting{Outing: o.ID, Command: step.Command}, func(e record.Event) bool {
			switch e := e.(type) {
			case outing.Readied:
				return len(e.Refitted) > 0
			case outing.Released, outing.Ended:
				return true
			case inspect.Answered:
				return o.Unit(machineID).IsMeter(e.Check)
			}
			return false
		}); err != nil {
			return err
		}
	}
}

func joined(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

// pending is a record with its event.
type pending struct {
	Record
	event record.Event
}
