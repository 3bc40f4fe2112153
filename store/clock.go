package store

import (
	"sync"
	"time"
)

// clock watches the machine's clock: a record is never dated before the one
// before it, and a clock that was set forward is flagged, because it would
// shorten whatever must be waited for.
type clock struct {
	now func() time.Time
	mu  *sync.Mutex
	// last is the newest look at the clock, with its monotonic reading.
	last *time.Time
}

// jump is how far the wall clock may run ahead of elapsed time between two
// looks before it counts as set forward.
const jump = 2 * time.Minute

func newClock(now func() time.Time) clock {
	return clock{now: now, mu: &sync.Mutex{}, last: new(time.Time)}
}

// look gives the time and whether the clock was set forward since the last
// look.
func (c clock) look() (now time.Time, jumped bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	now = c.now()
	if !c.last.IsZero() {
		wall := now.Round(0).Sub(c.last.Round(0))
		jumped = wall-now.Sub(*c.last) > jump
	}
	*c.last = now
	return now, jumped
}
