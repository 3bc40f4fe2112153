package page

// What many look at and that hangs on the yard's last record and the minute: it is made
// once for all of them.

import (
	"sync"
	"time"
)

// Remembered is such a thing, of each yard that the program serves.
type Remembered[T any] struct{ of sync.Map }

type remembered[T any] struct {
	sync.Mutex
	of   asOf
	made T
}

// asOf is what it hangs on.
type asOf struct {
	last   int64
	minute time.Time
}

// Of is the thing as it stands. What it is made of is changed by nobody who gets it.
func (r *Remembered[T]) Of(v *Visit, create func() (T, error)) (made T, err error) {
	last, err := v.Site.Store.Newest(v.Context())
	if err != nil {
		return made, err
	}
	found, _ := r.of.LoadOrStore(v.Site.Store, &remembered[T]{})
	own, key := found.(*remembered[T]), asOf{last.Seq, v.Now.Truncate(time.Minute)}
	own.Lock()
	defer own.Unlock()
	if own.of == key {
		return own.made, nil
	}
	if made, err = create(); err == nil {
		own.of, own.made = key, made
	}
	return made, err
}
