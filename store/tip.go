package store

// The end of the log, while it was written here.

import "sync"

// tip is the last record, while it is an answer that was recorded through this
// Store, and the last record of each outing answered since. Another process may
// have written to the file after it: a record made on an old tip then has a
// number that is taken, and is refused by the database.
type tip struct {
	mu      sync.Mutex
	last    Record
	outings map[string][]byte // hash of the last record, by outing
}

// tipMost bounds the memory.
const tipMost = 200

func (t *tip) get(outing string) (last Record, outingLast []byte, known bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	outingLast, known = t.outings[outing]
	return t.last, outingLast, known
}

// set is called when the record is on disk. Where other writes came between
// taking the record's place and here, the tip has been set or forgotten by them
// and must not go back.
func (t *tip) set(outing string, r Record) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if r.Seq < t.last.Seq {
		return
	}
	if t.outings == nil || len(t.outings) >= tipMost {
		t.outings = map[string][]byte{}
	}
	t.last = Record{Seq: r.Seq, At: r.At, Hash: r.Hash}
	t.outings[outing] = r.Hash
}

func (t *tip) forget() {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.outings = nil
}
