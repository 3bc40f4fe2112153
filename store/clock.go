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
	// elapsed is time as it passes, whatever the clock is set to.
	elapsed func() time.Duration

	mu   *sync.Mutex
	last *look
}

// look is one look at the clock.
type look struct {
	wall    time.Time
	elapsed time.Duration
}

// jump is how far the wall clock may run ahead of elapsed time between two
// looks before it counts as set forward.
const jump = 2 * time.Minute

func newClock(now func() time.Time, elapsed func() time.Duration) clock {
	return clock{now: now, elapsed: elapsed, mu: &sync.Mutex{}, last: &look{}}
}

// systemClock is the machine's own.
func systemClock() clock {
	start := time.Now()
	return newClock(time.Now, func() time.Duration { return time.Since(start) })
}

// look gives the time and whether the clock was set forward since the last
// look.
func (c clock) look() (now time.Time, jumped bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	this := look{wall: c.now().Round(0), elapsed: c.elapsed()}
	if !c.last.wall.IsZero() {
		jumped = this.wall.Sub(c.last.wall)-(this.elapsed-c.last.elapsed) > jump
	}
	*c.last = this
	return this.wall, jumped
}
