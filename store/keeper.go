package store

// Backups on a timer: a new one each so often, the newest kept, and of the months before
// one each.

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// Keeper writes backups of a yard into a directory.
type Keeper struct {
	Store *Store
	Dir   string
	Every time.Duration
	Keep  int // how many of the newest stay
	Log   *slog.Logger
	// Now is the clock that backups are named by.
	Now func() time.Time

	mu   sync.Mutex
	last Kept
	err  error
}

// Kept is a backup in a directory.
type Kept struct {
	Path string
	At   time.Time
	Size int64
}

// monthsKept is for how many months one backup of each stays.
const monthsKept = 12

// The name of a backup: the yard's own, and when it was written.
const (
	keptTime   = "20060102T150405Z"
	keptSuffix = ".backup"
	halfSuffix = ".half"
)

// Backups lists those of a yard's file in a directory, the newest first. What is named
// otherwise is not one.
func Backups(dir, yard string) ([]Kept, error) {
	entries, err := os.ReadDir(dir)
	if err != nil {
		return nil, err
	}
	prefix := filepath.Base(yard) + "-"
	var out []Kept
	for _, e := range entries {
		stamp, ours := strings.CutPrefix(strings.TrimSuffix(e.Name(), keptSuffix), prefix)
		at, err := time.Parse(keptTime, stamp)
		if !ours || err != nil || !strings.HasSuffix(e.Name(), keptSuffix) {
			continue
		}
		info, err := e.Info()
		if errors.Is(err, os.ErrNotExist) {
			continue
		}
		if err != nil {
			return nil, err
		}
		out = append(out, Kept{Path: filepath.Join(dir, e.Name()), At: at, Size: info.Size()})
	}
	slices.SortFunc(out, func(a, b Kept) int { return b.At.Compare(a.At) })
	return out, nil
}

// Run writes backups until the context ends, the first at once where the newest is as old
// as that. One that fails is tried again after a tenth of the time, and said.
func (k *Keeper) Run(ctx context.Context) {
	for {
		wait := k.Every / 10
		list, err := Backups(k.Dir, k.Store.Path())
		switch {
		case err == nil && len(list) > 0 && k.Now().Sub(list[0].At) < k.Every && !k.Now().Before(list[0].At):
			k.note(list[0], nil)
			wait = k.Every - k.Now().Sub(list[0].At)
		default:
			if _, err := k.Once(ctx); err == nil {
				wait = k.Every
			} else if ctx.Err() == nil && k.Log != nil {
				k.Log.Error("backup", "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(max(wait, time.Second)):
		}
	}
}

// Once writes a backup now and lets go of those that are not kept any more. It is named
// as one only when it is whole; nothing is let go where it failed.
func (k *Keeper) Once(ctx context.Context) (Kept, error) {
	kept, err := k.once(ctx)
	k.note(kept, err)
	return kept, err
}

func (k *Keeper) once(ctx context.Context) (kept Kept, err error) {
	if err := os.MkdirAll(k.Dir, 0o700); err != nil {
		return kept, err
	}
	base := filepath.Base(k.Store.Path())
	halves, _ := filepath.Glob(filepath.Join(k.Dir, "*"+halfSuffix+"*"))
	for _, half := range halves { // of one that was killed
		if strings.HasPrefix(filepath.Base(half), base+"-") {
			os.Remove(half)
		}
	}
	at := k.Now().UTC().Truncate(time.Second)
	name := filepath.Join(k.Dir, base+"-"+at.Format(keptTime)+keptSuffix)
	half := name + halfSuffix
	if _, err := k.Store.Backup(ctx, half); err != nil {
		return kept, errors.Join(err, removed(half, half+anchorSuffix))
	}
	if err := errors.Join(os.Rename(half+anchorSuffix, name+anchorSuffix), os.Rename(half, name)); err != nil {
		return kept, err
	}
	info, err := os.Stat(name)
	if err != nil {
		return kept, err
	}
	kept = Kept{Path: name, At: at, Size: info.Size()}
	list, err := Backups(k.Dir, k.Store.Path())
	if err != nil {
		return kept, err
	}
	for _, old := range outworn(list, k.Keep) {
		err = errors.Join(err, removed(old.Path, old.Path+anchorSuffix))
	}
	return kept, err
}

// outworn are the backups, the newest first, that are neither among the newest nor the
// last of one of the last months.
func outworn(list []Kept, keep int) (out []Kept) {
	months := map[string]bool{}
	for i, one := range list {
		month := one.At.Format("2006-01")
		last := !months[month] && len(months) < monthsKept
		months[month] = true
		if i >= max(1, keep) && !last {
			out = append(out, one)
		}
	}
	return out
}

// removed takes files away; one that is not there is no error.
func removed(paths ...string) (err error) {
	for _, path := range paths {
		if e := os.Remove(path); e != nil && !errors.Is(e, os.ErrNotExist) {
			err = errors.Join(err, e)
		}
	}
	return err
}

func (k *Keeper) note(last Kept, err error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.err = err; err == nil {
		k.last = last
	}
}

// State is the last backup that was written, zero before the first, and why the last try
// failed.
func (k *Keeper) State() (last Kept, err error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.last, k.err
}

// Late reports whether the last backup is older than it should be by now.
func (k *Keeper) Late(now time.Time) bool {
	last, err := k.State()
	return err != nil || !last.At.IsZero() && now.Sub(last.At) > 2*k.Every
}

// String names a backup.
func (k Kept) String() string {
	return fmt.Sprintf("%s (%d kB)", filepath.Base(k.Path), k.Size>>10)
}
