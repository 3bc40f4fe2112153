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
			if _, jumped := c.look(); jumped != step.jumped {
				t.Errorf("jumped is %v", jumped)
			}
		})
	}
}
