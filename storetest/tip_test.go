package storetest

import (
	"errors"
	"fmt"
	"os"
	"sync"
	"testing"

	"vespers/store"
)

// TestAlternatingWriters answers two outings through two open stores in turns:
// each then follows a record that it has not seen, and must notice.
func TestAlternatingWriters(t *testing.T) {
	one, path := wrenfield(t)
	two := open(t, path)
	first, second := start(t, one, "verger"), start(t, one, "sexton")
	for i := range 12 {
		s := []*store.Store{one, two}[i%2]
		outingID := []string{first, second}[i/2%2]
		key := fmt.Sprintf("turn-%d", i)
		done, err := say(s, key, "ines", in(outingID, fit))
		if err != nil {
			t.Fatal(err)
		}
		if at := done.Outing.Now().ReadyBy.ID; at != key {
			t.Errorf("answer %d gave an outing that stands at %s", i, at)
		}
		// The same again through the other one changes nothing.
		other := []*store.Store{two, one}[i%2]
		again, err := say(other, key, "ines", in(outingID, fit))
		if err != nil || again.Record.Seq != done.Record.Seq {
			t.Errorf("answer %d again: record %d, %v; want %d", i, again.Record.Seq, err, done.Record.Seq)
		}
	}
	whole(t, one)
}

// TestManyAtOnce answers several outings from many goroutines, and has one
// answer refused by the disk in between: every acknowledged answer is there
// once, and the chain is whole.
func TestManyAtOnce(t *testing.T) {
	s, _ := wrenfield(t)
	ids := []string{start(t, s, "verger"), start(t, s, "sexton")}
	var wait sync.WaitGroup
	var mu sync.Mutex
	acknowledged := map[string]int64{}
	for g := range 6 {
		wait.Go(func() {
			for i := range 20 {
				key := fmt.Sprintf("many-%d-%d", g, i)
				done, err := say(s, key, "ines", in(ids[(g+i)%2], fit))
				if err != nil {
					t.Errorf("%s: %v", key, err)
					continue
				}
				mu.Lock()
				acknowledged[key] = done.Record.Seq
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	whole(t, s)
	seen := map[int64]bool{}
	for key, seq := range acknowledged {
		if seen[seq] {
			t.Errorf("%s has the number of another", key)
		}
		seen[seq] = true
	}
	if len(seen) != 120 {
		t.Errorf("%d answers recorded, want 120", len(seen))
	}
}

// TestAfterAFailedWrite: an answer that the disk refused leaves nothing behind
// for the next one to follow.
func TestAfterAFailedWrite(t *testing.T) {
	s, _ := wrenfield(t)
	id := start(t, s, "verger")
	give := func(key string) error {
		_, err := say(s, key, "ines", in(id, fit))
		return err
	}
	if err := give("before"); err != nil {
		t.Fatal(err)
	}
	if err := s.LimitPages(ctx, 1); err != nil {
		t.Fatal(err)
	}
	failed := 0
	for i := range 200 {
		if err := give(fmt.Sprintf("full-%d", i)); errors.Is(err, store.ErrFull) {
			failed++
		}
	}
	if failed == 0 {
		t.Fatal("the disk never filled")
	}
	if err := s.LimitPages(ctx, 1<<30); err != nil {
		t.Fatal(err)
	}
	if err := give("after"); err != nil {
		t.Fatal(err)
	}
	whole(t, s)
}

// TestClosedFileStandsAlone: a closed yard is one file.
func TestClosedFileStandsAlone(t *testing.T) {
	s, path := wrenfield(t)
	start(t, s, "verger")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(path + "-wal"); !os.IsNotExist(err) {
		t.Errorf("the log is still there: %v", err)
	}
}
