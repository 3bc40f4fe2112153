package store

// The whole yard as lines of JSON, and a yard made of such lines: records with their
// seals, the sheets and pictures that they name. docs/export.md says what each line is.

import (
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"vespers/core/outing"
)

// ExportFormat is the name and version of the lines.
const ExportFormat = "vespers/export/1"

// The kinds of line, in the order they are written.
const (
	lineHead   = "head"
	lineSheet  = "sheet"
	linePhoto  = "photo"
	linePIN    = "pin"
	lineRecord = "record"
)

// exportLine is one line; which fields it has depends on its type.
type exportLine struct {
	Type   string `json:"type"`
	Format string `json:"format,omitempty"` // of the head
	Yard   string `json:"yard,omitempty"`
	Anchor string `json:"anchor,omitempty"`

	Hash    string          `json:"hash,omitempty"` // of a sheet, a picture, a record (in hexadecimal)
	ID      string          `json:"id,omitempty"`
	Edition string          `json:"edition,omitempty"`
	Body    json.RawMessage `json:"body,omitempty"` // of a sheet or a record, as it was sealed
	Data    []byte          `json:"data,omitempty"` // of a picture

	Person string `json:"person,omitempty"`
	Kept   string `json:"kept,omitempty"` // what is kept of a PIN
	Lent   bool   `json:"lent,omitempty"`
	Number int    `json:"number,omitempty"`

	Seq        int64  `json:"seq,omitempty"`
	Kind       string `json:"kind,omitempty"`
	Outing     string `json:"outing,omitempty"`
	Machine    string `json:"machine,omitempty"`
	Supersedes string `json:"supersedes,omitempty"`
	At         string `json:"at,omitempty"` // RFC 3339, to the millisecond
	DeviceAt   string `json:"device_at,omitempty"`
	Clock      string `json:"clock,omitempty"`
	Request    []byte `json:"request,omitempty"`
	Previous   []byte `json:"previous,omitempty"`
	Seal       []byte `json:"seal,omitempty"`
	Of         int    `json:"record_format,omitempty"`
}

// momentOf writes a time to the millisecond, "" for none.
func momentOf(t time.Time) string {
	if t.IsZero() {
		return ""
	}
	return t.UTC().Format("2006-01-02T15:04:05.000Z07:00")
}

// Export writes the whole yard. Pins says whether what is kept of PINs goes along, so
// that people can sign in to the yard that is made of it.
func (s *Store) Export(ctx context.Context, w io.Writer, pins bool) error {
	out := json.NewEncoder(w)
	out.SetEscapeHTML(false) // bodies stay as they were sealed
	anchor, err := s.Anchor(ctx)
	if err != nil {
		return err
	}
	head := exportLine{Type: lineHead, Format: ExportFormat, Anchor: anchor.String()}
	if y, err := s.Yard(ctx); err == nil {
		head.Yard = y.Name
	}
	if err := out.Encode(head); err != nil {
		return err
	}
	if err := s.exportContent(ctx, out, pins); err != nil {
		return err
	}
	var last int64
	for {
		batch, err := recordsAfter(ctx, s.reader, last, 1000)
		if err != nil || len(batch) == 0 {
			return err
		}
		for _, r := range batch {
			line := exportLine{Type: lineRecord, Seq: r.Seq, ID: r.ID, Kind: r.Kind, Outing: r.Outing, Machine: r.Machine, Person: r.Person, Supersedes: r.Supersedes,
				At: momentOf(r.At), DeviceAt: momentOf(r.DeviceAt), Clock: r.Clock, Request: r.Request, Body: r.Body, Previous: r.Previous, Seal: r.Hash, Of: r.Format}
			if err := out.Encode(line); err != nil {
				return err
			}
			last = r.Seq
		}
	}
}

// exportContent writes what records name: sheets and pictures; and PINs.
func (s *Store) exportContent(ctx context.Context, out *json.Encoder, pins bool) error {
	each := func(query string, scan func(row) (exportLine, error)) error {
		rows, err := s.reader.QueryContext(ctx, query)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			line, err := scan(rows)
			if err != nil {
				return err
			}
			if err := out.Encode(line); err != nil {
				return err
			}
		}
		return rows.Err()
	}
	err := each("SELECT hash, id, edition, body FROM sheet ORDER BY hash", func(row row) (exportLine, error) {
		line := exportLine{Type: lineSheet}
		var body []byte
		err := row.Scan(&line.Hash, &line.ID, &line.Edition, &body)
		line.Data = body
		return line, err
	})
	if err != nil {
		return err
	}
	err = each("SELECT hash, body FROM photo ORDER BY hash", func(row row) (exportLine, error) {
		line := exportLine{Type: linePhoto}
		return line, row.Scan(&line.Hash, &line.Data)
	})
	if err != nil || !pins {
		return err
	}
	return each("SELECT person, hash, lent, number FROM credential ORDER BY person", func(row row) (exportLine, error) {
		line := exportLine{Type: linePIN}
		return line, row.Scan(&line.Person, &line.Kept, &line.Lent, &line.Number)
	})
}

// Import makes a yard of exported lines in a new file: every record in its place with its
// seal, and what pages show made anew. Nothing is left behind where it fails. It tells
// how many records there are and the end of their chain.
func Import(ctx context.Context, path string, from io.Reader) (records int64, end Anchor, err error) {
	if _, err := os.Stat(path); err == nil {
		return 0, end, fmt.Errorf("%s exists: lines are imported into a new file, nothing was changed", path)
	}
	s, err := Open(ctx, path)
	if err != nil {
		return 0, end, err
	}
	defer func() {
		err = errors.Join(err, s.Close())
		if err != nil {
			for _, suffix := range []string{"", "-wal", "-shm", ".anchor"} {
				os.Remove(path + suffix)
			}
		}
	}()
	in := &importing{s: s}
	if err := s.write(ctx, func(ctx context.Context, tx *transaction) error {
		in.w = &writing{s: s, ctx: ctx, tx: tx}
		return in.lines(from)
	}); err != nil {
		return 0, end, err
	}
	if end, err = s.Anchor(ctx); err == nil && in.anchor != "" && in.anchor != end.String() {
		err = fmt.Errorf("the lines end at record %s, their head says %s: some are missing", end, in.anchor)
	}
	return in.last.Seq, end, err
}

// importing is a yard being made of lines.
type importing struct {
	s      *Store
	w      *writing
	head   bool
	anchor string
	last   Record
	open   map[string]*outing.Outing
}

// lineMost is the longest line, in bytes: a picture.
const lineMost = 16 << 20

func (in *importing) lines(from io.Reader) error {
	in.open, in.last.Hash = map[string]*outing.Outing{}, make([]byte, sha256.Size)
	lines := bufio.NewScanner(from)
	lines.Buffer(make([]byte, 1<<16), lineMost)
	for n := 1; lines.Scan(); n++ {
		if len(bytes.TrimSpace(lines.Bytes())) == 0 {
			continue
		}
		var line exportLine
		if err := json.Unmarshal(lines.Bytes(), &line); err != nil {
			return fmt.Errorf("line %d: %w", n, err)
		}
		if err := in.take(line); err != nil {
			return fmt.Errorf("line %d: %w", n, err)
		}
	}
	if err := lines.Err(); err != nil {
		return err
	}
	if !in.head {
		return errors.New("there is no head: these are no lines of a yard")
	}
	return nil
}

func (in *importing) take(line exportLine) error {
	if line.Type != lineHead && !in.head {
		return errors.New("the head has to come first")
	}
	ctx, tx := in.w.ctx, in.w.tx
	switch line.Type {
	case lineHead:
		if line.Format != ExportFormat {
			return fmt.Errorf("the format is %q, this program reads %s", line.Format, ExportFormat)
		}
		in.head, in.anchor = true, line.Anchor
		return nil
	case lineSheet:
		_, err := tx.ExecContext(ctx, "INSERT INTO sheet (hash,id,edition,body) VALUES (?,?,?,?) ON CONFLICT (hash) DO NOTHING", line.Hash, line.ID, line.Edition, line.Data)
		return err
	case linePhoto:
		_, err := tx.ExecContext(ctx, "INSERT INTO photo (hash, body) VALUES (?,?) ON CONFLICT (hash) DO NOTHING", line.Hash, line.Data)
		return err
	case linePIN:
		_, err := tx.ExecContext(ctx, "INSERT INTO credential (person, hash, lent, number) VALUES (?,?,?,?)", line.Person, line.Kept, line.Lent, line.Number)
		return err
	case lineRecord:
		return in.record(line)
	}
	return fmt.Errorf("there is no line of type %q", line.Type)
}

// record puts a record in its place, if it fits there.
func (in *importing) record(line exportLine) error {
	r := Record{Seq: line.Seq, ID: line.ID, Kind: line.Kind, Outing: line.Outing, Machine: line.Machine, Person: line.Person, Supersedes: line.Supersedes,
		Clock: line.Clock, Request: line.Request, Body: line.Body, Previous: line.Previous, Hash: line.Seal, Format: line.Of}
	var err error
	if r.At, err = time.Parse(time.RFC3339Nano, line.At); err != nil {
		return err
	}
	r.At = time.UnixMilli(r.At.UnixMilli())
	if line.DeviceAt != "" {
		if r.DeviceAt, err = time.Parse(time.RFC3339Nano, line.DeviceAt); err != nil {
			return err
		}
		r.DeviceAt = time.UnixMilli(r.DeviceAt.UnixMilli())
	}
	if r.Seq != in.last.Seq+1 || !bytes.Equal(r.Previous, in.last.Hash) || !bytes.Equal(r.seal(), r.Hash) {
		return fmt.Errorf("record %d does not fit where it stands: it was changed, or another is missing", r.Seq)
	}
	var device int64
	if !r.DeviceAt.IsZero() {
		device = r.DeviceAt.UnixMilli()
	}
	if _, err := in.w.tx.ExecContext(in.w.ctx, "INSERT INTO record ("+recordColumns+") VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		r.Seq, r.ID, r.Kind, r.Outing, r.Machine, r.Person, r.Supersedes, r.At.UnixMilli(), device, r.Clock, r.Request, []byte(r.Body), r.Previous, r.Hash, r.Format); err != nil {
		return err
	}
	e, err := r.event()
	if err != nil {
		return err
	}
	o, err := in.w.show(r, e, in.open[r.Outing])
	if err != nil {
		return err
	}
	if o != nil {
		in.open[r.Outing] = o
	}
	if _, ended := e.(outing.Ended); ended {
		delete(in.open, r.Outing)
	}
	in.last = r
	return nil
}
