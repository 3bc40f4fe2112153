package store

import (
	"fmt"
	"testing"
	"time"
)

func TestClockSetForwardIsSeen(t *testing.T) {
	wall, elapsed := time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC), time.Duration(0)
	c := newClock(func() time.Time { return wall }, func() time.Duration { return elapsed })
	for _, step := range []struct {
		wall, elapsed time.Duration
		jumped        bool
	}{
		{0, 0, false},
		{10 * time.Minute, 10 * time.Minute, false},
		{time.Hour, time.Minute, true},
		{time.Minute, time.Minute, false},
		{-time.Hour, time.Minute, false},
		{3 * time.Minute, 2 * time.Minute, false},
	} {
		t.Run(fmt.Sprint(step.wall, " on the wall in ", step.elapsed), func(t *testing.T) {
			wall, elapsed = wall.Add(step.wall), elapsed+step.elapsed
			now, jumped := c.look()
			if jumped != step.jumped {
				t.Errorf("jumped is %v", jumped)
			}
			if jumped { // and it is recorded
				c.trouble(Record{Clock: "jumped", At: now})
			}
		})
	}
}

// TestAJumpIsRememberedUntilItIsOnRecord: what was refused because of it does not make
// it forgotten, and it keeps the moment at which it was seen.
func TestAJumpIsRememberedUntilItIsOnRecord(t *testing.T) {
	wall, elapsed := time.Date(2026, 11, 24, 6, 0, 0, 0, time.UTC), time.Duration(0)
	c := newClock(func() time.Time { return wall }, func() time.Duration { return elapsed })
	c.look()
	wall, elapsed = wall.Add(time.Hour), time.Minute
	seen := wall
	for range 3 {
		if now, jumped := c.look(); !jumped || !c.since().Equal(seen) {
			t.Fatalf("at %v jumped is %v, since %v", now, jumped, c.since())
		}
		wall, elapsed = wall.Add(time.Minute), elapsed+time.Minute
	}
	c.trouble(Record{Clock: "jumped", At: wall})
	if _, jumped := c.look(); jumped || !c.since().Equal(seen) || !c.wrong.Wrong {
		t.Errorf("on record: jumped is %v, wrong %+v", jumped, *c.wrong)
	}
	c.trouble(Record{Kind: "clock_wrong", At: wall})
	if !c.since().IsZero() {
		t.Error("it was put right")
	}
}
