package outside

// Hour meters that report by themselves.

import (
	"context"
	"math"
	"strconv"
	"time"

	"vespers/core/text"
	"vespers/core/yard"
)

// Reading is what an hour meter reported. Doubt is why it cannot be, nil where it can.
type Reading struct {
	ID      int        `json:"id"`
	Machine string     `json:"machine"`
	Hours   *float64   `json:"hours"`
	At      *time.Time `json:"at"`

	Doubt *text.Reason `json:"-"`
}

// askHours reads what was reported since. The same report twice is one; one of a time that
// is still to come, or of no machine here, is passed over.
func (d *Desk) askHours(ctx context.Context) error {
	d.mu.Lock()
	after := d.after
	d.mu.Unlock()
	var said struct {
		At       time.Time `json:"at"`
		Readings []Reading `json:"readings"`
	}
	if err := d.ask(ctx, "GET", d.c.Hours, "/readings?after="+strconv.Itoa(after), nil, &said); err != nil {
		return err
	}
	if err := d.onTime(said.At); err != nil {
		return err // when was it read, then?
	}
	view, check := d.c.Store.View(ctx)
	read := map[string]Reading{}
	for _, r := range said.Readings {
		m, ok := view.Machine(r.Machine)
		if r.Hours == nil || r.At == nil || math.IsNaN(*r.Hours) || *r.Hours < 0 {
			return trouble{Nonsense, "reading " + strconv.Itoa(r.ID)}
		}
		after = max(after, r.ID)
		if !ok || r.At.After(d.c.Now().Add(time.Minute)) {
			continue
		}
		if why, believed := yard.Believe(m, *r.Hours, *r.At); !believed {
			r.Doubt = &why
		}
		read[r.Machine] = r
	}
	if err := check(); err != nil {
		return err
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.after = after
	for id, r := range read {
		if had, ok := d.read[id]; !ok || had.ID < r.ID {
			d.read[id] = r
		}
	}
	return nil
}

// Reported is what the meter of a machine last reported; ok is false where it did not, or
// cannot be gone by.
func (d *Desk) Reported(machine string) (r Reading, ok bool) {
	if d == nil {
		return r, false
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	r, ok = d.read[machine]
	return r, ok && d.well(Hours)
}
