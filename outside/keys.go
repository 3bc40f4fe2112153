package outside

// The key cabinet: which keys may be out, and which are.

import (
	"context"
	"net/url"
	"time"

	"vespers/core/yard"
)

// Key is a key as its cabinet has it.
type Key struct {
	Machine string     `json:"machine"`
	May     bool       `json:"may"`
	Out     bool       `json:"out"`
	Since   *time.Time `json:"since"`
}

// askKeys asks what is out, and tells the cabinet which keys may be where it has that
// otherwise: so one that was restarted, or knows everything twice, is right again.
func (d *Desk) askKeys(ctx context.Context) error {
	var said struct {
		At   time.Time `json:"at"`
		Keys []Key     `json:"keys"`
	}
	if err := d.ask(ctx, "GET", d.c.Keys, "/keys", nil, &said); err != nil {
		return err
	}
	has := map[string]Key{}
	for _, k := range said.Keys {
		has[k.Machine] = k
	}
	view, check := d.c.Store.View(ctx)
	machines := view.Machines()
	for _, m := range machines {
		why, may := yard.KeyMay(view, m, d.c.Now())
		if k, known := has[m.ID]; known && k.May == may || !known && !may {
			continue
		}
		if err := check(); err != nil {
			return err
		}
		reason := ""
		if !may {
			reason = string(why.Rule)
		}
		if err := d.ask(ctx, "PUT", d.c.Keys, "/keys/"+url.PathEscape(m.ID), map[string]any{"may": may, "why": reason}, nil); err != nil {
			return err
		}
	}
	if err := check(); err != nil {
		return err
	}
	d.mu.Lock()
	d.keys = has
	d.mu.Unlock()
	return d.onTime(said.At)
}

// KeyOut reports whether the key of a machine is out of the cabinet, and since when, as
// its cabinet says, zero where it does not. known is false where there is no cabinet that
// can be gone by.
func (d *Desk) KeyOut(machine string) (out bool, since time.Time, known bool) {
	if d == nil {
		return false, since, false
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if s := d.status[Keys]; s == nil || s.Trouble != Well && s.Trouble != Clock {
		return false, since, false
	}
	k, ok := d.keys[machine]
	if ok && k.Since != nil && d.well(Keys) { // the time of a wrong clock is none
		since = *k.Since
	}
	return k.Out, since, true
}
