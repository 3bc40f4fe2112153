package store_test

import (
	"errors"
	"fmt"
	"os"
	"sync"
	"testing"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/store"
)

// TestAlternatingWriters answers two outings through two open stores in turns:
// each then follows a record that it has not seen, and must notice.
func TestAlternatingWriters(t *testing.T) {
	one, path := wrenfield(t)
	two := open(t, path)
	first, second := start(t, one, "verger"), start(t, one, "sexton")
	ready := outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}
	for i := range 12 {
		s := []*store.Store{one, two}[i%2]
		outingID := []string{first, second}[i/2%2]
		key := fmt.Sprintf("turn-%d", i)
		r, o, err := s.Answer(ctx, outingID, store.Entry{ID: key, Person: "ines", Request: []byte("fit=yes")}, fixed(ready))
		if err != nil {
			t.Fatal(err)
		}
		if o.ReadyBy.ID != key {
			t.Errorf("answer %d gave an outing that stands at %s", i, o.ReadyBy.ID)
		}
		// The same again through the other one changes nothing.
		other := []*store.Store{two, one}[i%2]
		again, _, err := other.Answer(ctx, outingID, store.Entry{ID: key, Person: "ines", Request: []byte("fit=yes")}, fixed(ready))
		if err != nil || again.Seq != r.Seq {
			t.Errorf("answer %d again: record %d, %v; want %d", i, again.Seq, err, r.Seq)
		}
	}
	if _, err := one.Verify(ctx); err != nil {
		t.Error(err)
	}
}

// TestManyAtOnce answers several outings from many goroutines, and has one
// answer refused by the disk in between: every acknowledged answer is there
// once, and the chain is whole.
func TestManyAtOnce(t *testing.T) {
	s, _ := wrenfield(t)
	ids := []string{start(t, s, "verger"), start(t, s, "sexton")}
	ready := outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}
	var wait sync.WaitGroup
	var mu sync.Mutex
	acknowledged := map[string]int64{}
	for g := range 6 {
		wait.Go(func() {
			for i := range 20 {
				key := fmt.Sprintf("many-%d-%d", g, i)
				r, _, err := s.Answer(ctx, ids[(g+i)%2], store.Entry{ID: key, Person: "ines", Request: []byte("fit=yes")}, fixed(ready))
				if err != nil {
					t.Errorf("%s: %v", key, err)
					continue
				}
				mu.Lock()
				acknowledged[key] = r.Seq
				mu.Unlock()
			}
		})
	}
	wait.Wait()
	if _, err := s.Verify(ctx); err != nil {
		t.Fatal(err)
	}
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
	ready := outing.Readied{Readiness: operator.Readiness{Role: operator.Operator, Fit: true}}
	give := func(key string) error {
		_, _, err := s.Answer(ctx, id, store.Entry{ID: key, Person: "ines", Request: []byte("fit=yes")}, fixed(ready))
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
	if _, err := s.Verify(ctx); err != nil {
		t.Error(err)
	}
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
