package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// Record is one accepted answer, as it stands in the file for good.
type Record struct {
	Seq        int64
	ID         string
	Kind       string
	Outing     string
	Machine    string
	Person     string
	Supersedes string
	At         time.Time
	DeviceAt   time.Time
	// Clock is "", or "clamped" where the machine's clock stood before the
	// record before, or "jumped" where it had been set forward.
	Clock    string
	Request  []byte
	Body     []byte
	Previous []byte
	Hash     []byte
}

// Entry is what a caller wants recorded.
type Entry struct {
	// ID is made by whoever sends the answer; sending it again with the same
	// Request changes nothing.
	ID         string
	Person     string
	Supersedes string
	DeviceAt   time.Time
	// Request is what was sent, as the sender wrote it. Left out, it is the
	// body itself; an answer to an outing that may be sent again needs one,
	// because its body is made from the outing as it stands.
	Request []byte
}

// Conflict says that an id was used before for another answer.
type Conflict struct{ Earlier Record }

func (c *Conflict) Error() string {
	return fmt.Sprintf("store: %s was recorded before with another answer", c.Earlier.ID)
}

// body is something that can be recorded.
type body interface{ Kind() string }

const recordColumns = "seq, id, kind, outing, machine, person, supersedes, server_at, device_at, clock, request, body, previous, hash"

func scanRecord(row interface{ Scan(...any) error }) (Record, error) {
	var r Record
	var at, device int64
	err := row.Scan(&r.Seq, &r.ID, &r.Kind, &r.Outing, &r.Machine, &r.Person, &r.Supersedes, &at, &device, &r.Clock, &r.Request, &r.Body, &r.Previous, &r.Hash)
	r.At = time.UnixMilli(at)
	if device > 0 {
		r.DeviceAt = time.UnixMilli(device)
	}
	return r, err
}

// repeated finds the record with this id. Same request: it is returned;
// another: *Conflict; none: nil.
func repeated(ctx context.Context, tx *transaction, id string, request []byte) (*Record, error) {
	r, err := scanRecord(tx.QueryRowContext(ctx, "SELECT "+recordColumns+" FROM record WHERE id = ?", id))
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	if sum := sha256.Sum256(request); !bytes.Equal(sum[:], r.Request) {
		return nil, &Conflict{Earlier: r}
	}
	return &r, nil
}

// stamp gives the place and time of the next record.
func (s *Store) stamp(ctx context.Context, tx *transaction) (Record, error) {
	p, _, err := s.place(ctx, tx, "", "")
	return p.Record, err
}

// place is where the next record goes.
type place struct {
	Record
	outingLast []byte // hash of the last record of the outing asked for
}

// place gives the place and time of the next record, and tells whether a
// record with this id is there already. It is one query, because every answer
// waits for it.
func (s *Store) place(ctx context.Context, tx *transaction, id, outing string) (p place, known bool, err error) {
	var seq, last int64
	var previous []byte
	err = tx.QueryRowContext(ctx, `SELECT seq, server_at, hash, EXISTS (SELECT 1 FROM record WHERE id = ?1),
		(SELECT hash FROM record WHERE outing = ?2 AND outing <> '' ORDER BY seq DESC LIMIT 1)
		FROM record ORDER BY seq DESC LIMIT 1`, id, outing).Scan(&seq, &last, &previous, &known, &p.outingLast)
	if errors.Is(err, sql.ErrNoRows) {
		previous, err = make([]byte, sha256.Size), nil
	}
	if err != nil {
		return p, false, err
	}
	p.Record = s.follow(Record{Seq: seq, At: time.UnixMilli(last), Hash: previous})
	return p, known, nil
}

// follow gives the place and time of the record after last.
func (s *Store) follow(last Record) Record {
	now, jumped := s.clock.look()
	r := Record{Seq: last.Seq + 1, At: time.UnixMilli(now.UnixMilli()), Previous: last.Hash}
	switch {
	case now.UnixMilli() < last.At.UnixMilli():
		r.At, r.Clock = last.At, "clamped"
	case jumped:
		r.Clock = "jumped"
	}
	return r
}

// insert completes a stamped record and appends it.
func insert(ctx context.Context, tx *transaction, r Record, e Entry, b body, outing, machine string) (Record, error) {
	data, err := json.Marshal(b)
	if err != nil {
		return r, err
	}
	request := e.Request
	if request == nil {
		request = data
	}
	sum := sha256.Sum256(request)
	r.ID, r.Kind, r.Outing, r.Machine, r.Person, r.Supersedes = e.ID, b.Kind(), outing, machine, e.Person, e.Supersedes
	r.DeviceAt, r.Request, r.Body = e.DeviceAt, sum[:], data
	r.Hash = r.seal()
	var device int64
	if !r.DeviceAt.IsZero() {
		device = r.DeviceAt.UnixMilli()
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO record ("+recordColumns+") VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		r.Seq, r.ID, r.Kind, r.Outing, r.Machine, r.Person, r.Supersedes, r.At.UnixMilli(), device, r.Clock, r.Request, r.Body, r.Previous, r.Hash)
	return r, err
}

// seal is the hash of the record and of the one before it: no record can be
// changed, left out or put in without every later hash being wrong.
func (r Record) seal() []byte {
	h := sha256.New()
	h.Write(r.Previous)
	var device int64
	if !r.DeviceAt.IsZero() {
		device = r.DeviceAt.UnixMilli()
	}
	for _, n := range []int64{r.Seq, r.At.UnixMilli(), device} {
		binary.Write(h, binary.BigEndian, n)
	}
	for _, field := range [][]byte{[]byte(r.ID), []byte(r.Kind), []byte(r.Outing), []byte(r.Machine), []byte(r.Person), []byte(r.Supersedes), []byte(r.Clock), r.Request, r.Body} {
		binary.Write(h, binary.BigEndian, int64(len(field)))
		h.Write(field)
	}
	return h.Sum(nil)
}

// append records b and updates the projections, or finds that it was recorded
// before.
func (s *Store) append(ctx context.Context, e Entry, b body, outing, machine string) (Record, error) {
	var out Record
	err := s.write(ctx, func(ctx context.Context, tx *transaction) error {
		request := e.Request
		if request == nil {
			data, err := json.Marshal(b)
			if err != nil {
				return err
			}
			request = data
		}
		before, err := repeated(ctx, tx, e.ID, request)
		if err != nil || before != nil {
			if before != nil {
				out = *before
			}
			return err
		}
		r, err := s.stamp(ctx, tx)
		if err != nil {
			return err
		}
		if out, err = insert(ctx, tx, r, e, b, outing, machine); err != nil {
			return err
		}
		return s.project(ctx, tx, out, b)
	})
	return out, err
}

// Verify reads every record and checks the chain. It returns how many there
// are; the error names the first that does not fit.
func (s *Store) Verify(ctx context.Context) (int64, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT "+recordColumns+" FROM record ORDER BY seq")
	if err != nil {
		return 0, err
	}
	defer rows.Close()
	previous, n := make([]byte, sha256.Size), int64(0)
	for rows.Next() {
		r, err := scanRecord(rows)
		if err != nil {
			return n, err
		}
		n++
		if r.Seq != n || !bytes.Equal(r.Previous, previous) || !bytes.Equal(r.Hash, r.seal()) {
			return n, fmt.Errorf("record %d (%s) does not fit the one before it", r.Seq, r.ID)
		}
		previous = r.Hash
	}
	return n, rows.Err()
}

// Newest is the last record; the zero Record if there is none.
func (s *Store) Newest(ctx context.Context) (Record, error) {
	r, err := scanRecord(s.reader.QueryRowContext(ctx, "SELECT "+recordColumns+" FROM record ORDER BY seq DESC LIMIT 1"))
	if errors.Is(err, sql.ErrNoRows) {
		return Record{}, nil
	}
	return r, err
}
