package outings

// A wait with its clock: for something to cool, or to warm up.

import (
	"time"

	"vespers/web/page"
)

// wait is how long something still takes, in milliseconds, of how long in all.
type wait struct {
	Until       string // when it is over, in words
	Left, Whole int64
}

func newWait(v *page.Visit, until time.Time, whole time.Duration) *wait {
	return &wait{v.When(until, v.Now), until.Sub(v.Now).Milliseconds(), whole.Milliseconds()}
}
