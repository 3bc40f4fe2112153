package store

// The clock that dates the records: a record is never dated before the one
// before it, and a clock that was set forward is flagged, because it would
// shorten whatever must be waited for. Both are said on every page until a lead
// says that the clock is right.

import (
	"context"
	"os"
	"strconv"
	"strings"
	"sync"
	"time"

	"vespers/core/yard"
)

// clock watches the machine's own.
type clock struct {
	now func() time.Time
	// elapsed is time as it passes, whatever the clock is set to.
	elapsed func() time.Duration

	mu    *sync.Mutex
	last  *look
	wrong *yard.Clock
}

// look is one look at the clock.
type look struct {
	wall    time.Time
	elapsed time.Duration
	// jumped: it was set forward, and no record says so yet; since when that was seen.
	jumped bool
	since  time.Time
}

// jump is how far the wall clock may run ahead of elapsed time between two
// looks before it counts as set forward.
const jump = 2 * time.Minute

func newClock(now func() time.Time, elapsed func() time.Duration) clock {
	return clock{now: now, elapsed: elapsed, mu: &sync.Mutex{}, last: &look{}, wrong: &yard.Clock{}}
}

func passing() func() time.Duration {
	start := time.Now()
	return func() time.Duration { return time.Since(start) }
}

// systemClock is the machine's own.
func systemClock() clock { return newClock(time.Now, passing()) }

// WithClock is the same yard seen with another clock, which is never wrong: for
// filling a demo and for tests.
func (s *Store) WithClock(now func() time.Time) *Store {
	other := *s
	other.clock = newClock(now, func() time.Duration { return time.Duration(now().UnixNano()) })
	return &other
}

// WithWall is the same yard by another wall clock, watched like the machine's
// own.
func (s *Store) WithWall(now func() time.Time) *Store {
	other := *s
	other.clock = newClock(now, passing())
	other.clock.wrong = s.clock.wrong
	return &other
}

// look gives the time and whether the clock was set forward since the last
// look.
func (c clock) look() (now time.Time, jumped bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	this := look{wall: c.now().Round(0), elapsed: c.elapsed()}
	jumped = c.last.jumped
	if !c.last.wall.IsZero() {
		jumped = jumped || this.wall.Sub(c.last.wall)-(this.elapsed-c.last.elapsed) > jump
	}
	if this.jumped = jumped; jumped {
		if this.since = c.last.since; this.since.IsZero() {
			this.since = this.wall
		}
	}
	*c.last = this
	return this.wall, jumped
}

// since is when the clock was first seen to be wrong; zero where it is right.
func (c clock) since() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.wrong.Wrong {
		return c.wrong.From
	}
	return c.last.since
}

// WrongSince is when the clock was first seen to be wrong, by a record or by what was
// refused; zero where it is right.
func (s *Store) WrongSince() time.Time { return s.clock.since() }

// trouble notes a record taken while the clock was wrong, and the one that ends
// that.
func (c clock) trouble(r Record) {
	c.mu.Lock()
	defer c.mu.Unlock()
	switch {
	case r.Kind == (yard.ClockWrong{}).Kind():
		*c.wrong = yard.Clock{}
	case r.Clock != "":
		if !c.wrong.Wrong {
			*c.wrong = yard.Clock{Wrong: true, From: r.At}
			if !c.last.since.IsZero() {
				c.wrong.From = c.last.since
			}
		}
		c.last.jumped, c.last.since = false, time.Time{}
		c.wrong.To = r.At
	}
}

// loadTrouble finds out from the records whether the clock is wrong.
func (s *Store) loadTrouble(ctx context.Context) error {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+recordColumns+` FROM record WHERE (clock <> '' OR kind = 'clock_wrong')
		AND seq >= coalesce((SELECT max(seq) FROM record WHERE (clock <> '' OR kind = 'clock_wrong') AND kind = 'clock_wrong'), 0) ORDER BY seq`)
	if err != nil {
		return diskError(err)
	}
	records, err := collect(rows, scanRecord)
	for _, r := range records {
		s.clock.trouble(r)
	}
	return err
}

// behindBy is how far the clock may stand behind the last record before pages
// say so.
const behindBy = 2 * time.Second

// Clock is how the clock stands, for every page.
func (s *Store) Clock(ctx context.Context) (yard.Clock, error) {
	s.clock.mu.Lock()
	c := *s.clock.wrong
	s.clock.mu.Unlock()
	if c.Wrong {
		return c, nil
	}
	last, err := s.Newest(ctx)
	if err != nil {
		return c, err
	}
	if now := s.clock.now(); now.Before(last.At.Add(-behindBy)) {
		return yard.Clock{Wrong: true, From: now, To: last.At}, nil
	}
	return c, nil
}

// Wake compares the clock with how it was seen last, before a restart, as far as
// the machine itself knows how long ago that was. It is called once a start.
func (s *Store) Wake(ctx context.Context) error {
	boot, up, ok := uptime()
	if !ok {
		return nil
	}
	now := s.clock.now()
	var wall, then int64
	var before string
	err := s.reader.QueryRowContext(ctx, "SELECT wall, boot, up FROM clock").Scan(&wall, &before, &then)
	if err == nil && before == boot {
		apart := now.Sub(time.UnixMilli(wall)) - (up - time.Duration(then)*time.Millisecond)
		s.clock.mu.Lock()
		s.clock.last.jumped = apart > jump
		s.clock.mu.Unlock()
	}
	return s.writeAfter(ctx, func(ctx context.Context, tx *transaction) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO clock (one, wall, boot, up) VALUES (1,?,?,?)
			ON CONFLICT (one) DO UPDATE SET wall=excluded.wall, boot=excluded.boot, up=excluded.up`, now.UnixMilli(), boot, up.Milliseconds())
		return err
	})
}

// uptime is how long the machine has been up, and which start of it this is;
// not every system tells.
func uptime() (boot string, up time.Duration, ok bool) {
	id, err := os.ReadFile("/proc/sys/kernel/random/boot_id")
	if err != nil {
		return "", 0, false
	}
	data, err := os.ReadFile("/proc/uptime")
	if err != nil {
		return "", 0, false
	}
	first, _, _ := strings.Cut(string(data), " ")
	seconds, err := strconv.ParseFloat(first, 64)
	return strings.TrimSpace(string(id)), time.Duration(seconds * float64(time.Second)), err == nil
}
