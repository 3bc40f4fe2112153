package store

// A record: one accepted event as it stands in the file for good, sealed into
// the chain.

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

	"vespers/core/record"
)

// Record is one accepted event.
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
	Format   int
}

// Entry is who says something, and the id under which it is said.
type Entry struct {
	// ID is made by whoever sends the command; sending it again with the same
	// Request changes nothing.
	ID         string
	Person     string
	Supersedes string
	DeviceAt   time.Time
	// Request is what was sent, as the sender wrote it; left out, the command
	// itself.
	Request []byte
}

// Conflict says that an id was used before for something else.
type Conflict struct{ Earlier Record }

func (c *Conflict) Error() string {
	return fmt.Sprintf("store: %s was recorded before with something else", c.Earlier.ID)
}

// row is a row that can be read.
type row interface{ Scan(...any) error }

const recordColumns = "seq, id, kind, outing, machine, person, supersedes, server_at, device_at, clock, request, body, previous, hash, format"

func scanRecord(row row) (Record, error) {
	var r Record
	var at, device int64
	err := row.Scan(&r.Seq, &r.ID, &r.Kind, &r.Outing, &r.Machine, &r.Person, &r.Supersedes, &at, &device, &r.Clock, &r.Request, &r.Body, &r.Previous, &r.Hash, &r.Format)
	r.At = time.UnixMilli(at)
	if device > 0 {
		r.DeviceAt = time.UnixMilli(device)
	}
	return r, err
}

// event reads the record's body back.
func (r Record) event() (record.Event, error) {
	e, err := record.Decode(r.Format, r.Kind, r.Body)
	if err != nil {
		return nil, fmt.Errorf("record %d: %w", r.Seq, err)
	}
	return e, nil
}

func (r Record) meta() record.Meta {
	return record.Meta{ID: r.ID, By: r.Person, At: r.At, Supersedes: r.Supersedes, Doubtful: r.Clock != ""}
}

// repeated finds the record with this id. Same person and request: it is
// returned; another: *Conflict; none: nil.
func repeated(ctx context.Context, tx *transaction, e Entry) (*Record, error) {
	r, err := scanRecord(tx.QueryRowContext(ctx, "SELECT "+recordColumns+" FROM record WHERE id = ?", e.ID))
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	if sum := sha256.Sum256(e.Request); !bytes.Equal(sum[:], r.Request) || e.Person != r.Person {
		return nil, &Conflict{Earlier: r}
	}
	return &r, nil
}

// insert completes a record that has its place and appends it.
func insert(ctx context.Context, tx *transaction, r Record, e Entry, event record.Event) (Record, error) {
	data, err := json.Marshal(event)
	if err != nil {
		return r, err
	}
	sum := sha256.Sum256(e.Request)
	r.ID, r.Kind, r.Person, r.Supersedes, r.Format = e.ID, event.Kind(), e.Person, e.Supersedes, record.Format
	r.DeviceAt, r.Request, r.Body = e.DeviceAt, sum[:], data
	r.Hash = r.seal()
	var device int64
	if !r.DeviceAt.IsZero() {
		device = r.DeviceAt.UnixMilli()
	}
	_, err = tx.ExecContext(ctx, "INSERT INTO record ("+recordColumns+") VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		r.Seq, r.ID, r.Kind, r.Outing, r.Machine, r.Person, r.Supersedes, r.At.UnixMilli(), device, r.Clock, r.Request, r.Body, r.Previous, r.Hash, r.Format)
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
	numbers := []int64{r.Seq, r.At.UnixMilli(), device}
	if r.Format > 1 {
		numbers = append(numbers, int64(r.Format))
	}
	for _, n := range numbers {
		binary.Write(h, binary.BigEndian, n)
	}
	for _, field := range [][]byte{[]byte(r.ID), []byte(r.Kind), []byte(r.Outing), []byte(r.Machine), []byte(r.Person), []byte(r.Supersedes), []byte(r.Clock), r.Request, r.Body} {
		binary.Write(h, binary.BigEndian, int64(len(field)))
		h.Write(field)
	}
	return h.Sum(nil)
}

// Newest is the last record; the zero Record if there is none.
func (s *Store) Newest(ctx context.Context) (Record, error) { return newest(ctx, s.reader) }

func newest(ctx context.Context, q querier) (Record, error) {
	r, err := scanRecord(q.QueryRowContext(ctx, "SELECT "+recordColumns+" FROM record ORDER BY seq DESC LIMIT 1"))
	if errors.Is(err, sql.ErrNoRows) {
		return Record{}, nil
	}
	return r, err
}

func recordsAfter(ctx context.Context, q querier, seq int64, most int) ([]Record, error) {
	rows, err := q.QueryContext(ctx, "SELECT "+recordColumns+" FROM record WHERE seq > ? ORDER BY seq LIMIT ?", seq, most)
	if err != nil {
		return nil, err
	}
	return collect(rows, scanRecord)
}

// collect reads all rows with one scanner.
func collect[T any](rows *sql.Rows, scan func(row) (T, error)) ([]T, error) {
	defer rows.Close()
	var out []T
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

func milli(ms int64) time.Time {
	if ms == 0 {
		return time.Time{}
	}
	return time.UnixMilli(ms)
}

func notFound(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

func unmarshal[T any](data string) (v T, err error) {
	if data == "" {
		return v, nil
	}
	err = json.Unmarshal([]byte(data), &v)
	return v, err
}

// querier is a transaction or a pool.
type querier interface {
	QueryContext(context.Context, string, ...any) (*sql.Rows, error)
	QueryRowContext(context.Context, string, ...any) *sql.Row
}
