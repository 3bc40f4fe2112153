package store

import (
	"context"
	"fmt"
	"time"

	"vespers/core/outing"
)

// Step is one event of an outing that is written in bulk.
type Step struct {
	At    time.Time
	Event outing.Event
}

// Bulk writes whole outings in one transaction, projecting each once at its
// end: for generating large yards, not for answers.
func (s *Store) Bulk(ctx context.Context, write func(add func(id, machine, person string, steps func(*outing.Outing) (Step, bool)) error) error) error {
	return s.write(ctx, func(ctx context.Context, tx *transaction) error {
		last, err := s.stamp(ctx, tx)
		if err != nil {
			return err
		}
		p := &projector{s: s, tx: tx, ctx: ctx}
		return write(func(id, machineID, person string, steps func(*outing.Outing) (Step, bool)) error {
			return p.whole(&last, id, machineID, person, steps)
		})
	})
}

// whole appends one outing from start to end; the first step is asked for
// with no outing and gives only its time.
func (p *projector) whole(last *Record, id, machineID, person string, steps func(*outing.Outing) (Step, bool)) error {
	var o *outing.Outing
	put := func(n int, step Step) (Record, error) {
		r := Record{Seq: last.Seq, At: step.At, Previous: last.Previous}
		r, err := insert(p.ctx, p.tx, r, Entry{ID: fmt.Sprintf("%s.%d", id, n), Person: person}, step.Event, id, machineID)
		last.Seq, last.Previous = r.Seq+1, r.Hash
		return r, err
	}
	first, _ := steps(nil)
	started, err := p.s.begin(p.ctx, p.tx, id, person, machineID, "", first.At)
	if err != nil {
		return err
	}
	r, err := put(0, Step{At: first.At, Event: started})
	if err != nil {
		return err
	}
	if o, err = p.s.fold(p.ctx, p.tx, id); err != nil {
		return err
	}
	if err := p.show(r, started, o, false); err != nil {
		return err
	}
	var unshown outing.Event // the last event, while pages do not show it yet
	for n := 1; ; n++ {
		step, more := steps(o)
		if !more {
			if unshown == nil {
				return nil
			}
			return p.show(r, unshown, o, false)
		}
		if r, err = put(n, step); err != nil {
			return err
		}
		o.Apply(r.meta(), step.Event)
		_, ended := step.Event.(outing.Ended)
		_, released := step.Event.(outing.Released)
		if !ended && !released {
			unshown = step.Event
			continue
		}
		unshown = nil
		if err := p.show(r, step.Event, o, false); err != nil {
			return err
		}
	}
}
