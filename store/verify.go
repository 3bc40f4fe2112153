package store

// Verify looks for anything in a yard's file that is not as it was written: in
// the records, in what they name by hash, in what pages are made from, in who may
// sign in. It writes nothing to the file.

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/store/projector"
)

// Report is what Verify found.
type Report struct {
	Records  int64     `json:"records"`
	Anchor   string    `json:"anchor"` // the end of the log
	At       time.Time `json:"at"`     // of the last record
	Problems []string  `json:"problems"`
	// Notes are what could not be looked at.
	Notes []string `json:"notes,omitempty"`
}

func (r *Report) problem(format string, args ...any) {
	r.Problems = append(r.Problems, fmt.Sprintf(format, args...))
}

// Verify checks a yard's file. Expect is the end of the log as it was kept
// elsewhere, nil where it was not; the error is for a file that cannot be read
// at all.
func Verify(ctx context.Context, path string, expect *Anchor) (Report, error) {
	var r Report
	if _, err := os.Stat(path); err != nil {
		return r, err
	}
	db, err := readOnly(path)
	if err != nil {
		return r, err
	}
	defer db.Close()
	if err := integrity(ctx, db, &r); err != nil {
		return r, err
	}
	v := &verifier{ctx: ctx, db: db, path: path, r: &r}
	steps := []func() error{v.chain, v.ends(expect), v.sheets, v.photos, v.credentials, v.projections}
	for _, step := range steps {
		if err := step(); err != nil {
			return r, fmt.Errorf("reading %s: %w", path, err)
		}
		if v.broken {
			r.Notes = append(r.Notes, "what is made from the records was not looked at: the records themselves are not whole")
		}
		if v.broken || len(r.Problems) > 20 {
			break
		}
	}
	return r, nil
}

// readOnly opens a file so that nothing beside it is made either, where there is
// no journal to be read.
func readOnly(path string) (*sql.DB, error) {
	mode := "mode=ro"
	if _, err := os.Stat(path + "-wal"); err != nil {
		mode += "&immutable=1"
	}
	return connectPlain(path, mode)
}

func integrity(ctx context.Context, db *sql.DB, r *Report) error {
	rows, err := db.QueryContext(ctx, "PRAGMA integrity_check(5)")
	if err != nil {
		return fmt.Errorf("this is not a yard's file, or it is damaged: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		var line string
		if err := rows.Scan(&line); err != nil {
			return err
		}
		if line != "ok" {
			r.problem("the file is damaged: %s", line)
		}
	}
	return rows.Err()
}

type verifier struct {
	ctx  context.Context
	db   *sql.DB
	path string
	r    *Report
	// broken: a record is not the one that was written there.
	broken bool

	hashes  map[int64]string // the seals asked for, by number
	sheetOf map[string]bool  // sheets that records name
	photoOf map[string]bool
	seals   map[string]string // of the last PIN, by person
	people  map[string]bool
}

// format is the column's name, or what stands for it in an older file.
func (v *verifier) format() string {
	var n int
	if v.db.QueryRowContext(v.ctx, "SELECT count(*) FROM pragma_table_info('record') WHERE name='format'").Scan(&n); n == 0 {
		return "1"
	}
	return "format"
}

// chain reads every record, checks its place and its seal, and notes what it
// names.
func (v *verifier) chain() error {
	v.hashes, v.sheetOf, v.photoOf, v.seals, v.people = map[int64]string{}, map[string]bool{}, map[string]bool{}, map[string]string{}, map[string]bool{}
	rows, err := v.db.QueryContext(v.ctx, "SELECT "+strings.Replace(recordColumns, "format", v.format(), 1)+" FROM record ORDER BY seq")
	if err != nil {
		return err
	}
	defer rows.Close()
	previous := make([]byte, sha256.Size)
	for rows.Next() {
		r, err := scanRecord(rows)
		if err != nil {
			return err
		}
		v.r.Records++
		if r.Seq != v.r.Records || !bytes.Equal(r.Previous, previous) || !bytes.Equal(r.Hash, r.seal()) {
			v.r.problem("record %d (%s) was changed, or does not follow the one before it", r.Seq, r.ID)
			v.broken = true
			return nil
		}
		previous = r.Hash
		v.hashes[r.Seq] = anchorOf(r).Hash
		v.r.Anchor, v.r.At = anchorOf(r).String(), r.At
		if err := v.names(r); err != nil {
			v.r.problem("record %d: %v", r.Seq, err)
		}
	}
	return rows.Err()
}

// names notes what a record names that is kept elsewhere in the file.
func (v *verifier) names(r Record) error {
	e, err := r.event()
	if err != nil {
		return err
	}
	switch e := e.(type) {
	case yard.PersonAdded:
		v.people[e.ID] = true
	case yard.PINSet:
		v.seals[e.ID] = e.Seal
	case yard.MachineAdded:
		v.named(e.Sheet)
	case yard.SheetAdopted:
		v.named(e.Sheet)
	case outing.Started:
		for _, u := range e.Units {
			v.named(u.Sheet)
		}
	case outing.Readied:
		for _, u := range e.Refitted {
			v.named(u.Sheet)
		}
	case inspect.Noted:
		if e.Photo != "" {
			v.photoOf[e.Photo] = true
		}
	case yard.ZoneWalked:
		if e.Photo != "" {
			v.photoOf[e.Photo] = true
		}
	case yard.PicturesDropped:
		for _, hash := range e.Hashes {
			delete(v.photoOf, hash)
		}
	}
	return nil
}

// ends compares the end of the log with what was kept of it: beside the file,
// and elsewhere.
func (v *verifier) ends(expect *Anchor) func() error {
	return func() error {
		if v.r.Records == 0 {
			v.r.problem("there are no records")
		}
		check := func(a Anchor, where string) {
			switch hash, there := v.hashes[a.Seq]; {
			case a.Seq == 0:
			case !there:
				v.r.problem("the log ends at record %d; %s says that it went to record %d: its end is gone", v.r.Records, where, a.Seq)
			case hash != a.Hash:
				v.r.problem("record %d is another than %s says", a.Seq, where)
			}
		}
		data, err := os.ReadFile(v.path + anchorSuffix)
		if err == nil {
			a, err := ParseAnchor(string(data))
			if err != nil {
				v.r.problem("%s: %v", v.path+anchorSuffix, err)
			} else {
				check(a, "the anchor beside the file")
			}
		} else if expect == nil {
			v.r.Notes = append(v.r.Notes, "no anchor lies beside the file and none was given (--expect): an end that was cut off could not be seen")
		}
		if data, err := os.ReadFile(v.path + cutSuffix); err == nil {
			if a, err := ParseAnchor(string(data)); err == nil {
				check(a, "the anchor put aside beside the file")
			}
		}
		if expect != nil {
			check(*expect, "the anchor you gave")
		}
		return nil
	}
}

// content compares rows with the hash they are found by.
func (v *verifier) content(query, what string, named map[string]bool) error {
	rows, err := v.db.QueryContext(v.ctx, query)
	if err != nil {
		return err
	}
	defer rows.Close()
	there := map[string]bool{}
	for rows.Next() {
		var hash string
		var body []byte
		if err := rows.Scan(&hash, &body); err != nil {
			return err
		}
		there[hash] = true
		if sum := sha256.Sum256(body); hex.EncodeToString(sum[:16]) != hash {
			v.r.problem("%s %s was changed", what, hash)
		}
	}
	for hash := range named {
		if !there[hash] {
			v.r.problem("%s %s, which records name, is gone", what, hash)
		}
	}
	return rows.Err()
}

// named notes that a record names a sheet, by its key.
func (v *verifier) named(key string) {
	hash, _ := machine.SplitKey(key)
	v.sheetOf[hash] = true
}

func (v *verifier) sheets() error {
	return v.content("SELECT hash, body FROM sheet ORDER BY hash", "sheet", v.sheetOf)
}

func (v *verifier) photos() error {
	return v.content("SELECT hash, body FROM photo ORDER BY hash", "picture", v.photoOf)
}

// credentials: every PIN is the one its last record sealed, and belongs to
// somebody.
func (v *verifier) credentials() error {
	rows, err := v.db.QueryContext(v.ctx, "SELECT person, hash FROM credential ORDER BY person")
	if err != nil {
		return err
	}
	defer rows.Close()
	there := map[string]bool{}
	for rows.Next() {
		var person, kept string
		if err := rows.Scan(&person, &kept); err != nil {
			return err
		}
		there[person] = true
		seal, set := v.seals[person]
		switch {
		case !set || !v.people[person]:
			v.r.problem("there is a PIN for %s that no record set", person)
		case seal == "":
			v.r.Notes = append(v.r.Notes, "the PIN of "+person+" was set by an older program, which did not seal it")
		case seal != sealOf(kept):
			v.r.problem("the PIN of %s is another than was set", person)
		}
	}
	for person := range v.seals {
		if !there[person] {
			v.r.problem("the PIN of %s is gone", person)
		}
	}
	return rows.Err()
}

// projections makes the tables anew in a copy and compares.
func (v *verifier) projections() (err error) {
	// A record that the core would never have made, sealed by somebody else, may
	// be one that it cannot follow either.
	defer func() {
		if impossible := recover(); impossible != nil {
			v.r.problem("the records do not make a yard: %v", impossible)
		}
	}()
	dir, err := os.MkdirTemp("", "vespers-verify")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	path := filepath.Join(dir, "copy")
	if _, err := v.db.ExecContext(v.ctx, "VACUUM INTO ?", path); err != nil {
		return err
	}
	if old, err := (&Store{}).outdated(v.ctx, v.db); err != nil || old {
		v.r.Notes = append(v.r.Notes, "what pages are made from was written by an older program and was not compared; it is made anew when the yard is next opened")
		return nil
	}
	before, err := dump(v.ctx, v.db)
	if err != nil {
		return err
	}
	s, err := Open(v.ctx, path)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := s.Rebuild(v.ctx); err != nil {
		v.r.problem("the records do not make a yard: %v", err)
		return nil
	}
	after, err := dump(v.ctx, s.reader.DB)
	if err != nil {
		return err
	}
	for _, table := range projector.Tables() {
		if !slices.Equal(before[table], after[table]) {
			v.r.problem("%s is not what the records say: %s", table, difference(before[table], after[table]))
		}
	}
	return nil
}

// difference shows the first row that differs.
func difference(a, b []string) string {
	for _, row := range a {
		if !slices.Contains(b, row) {
			return "it has " + row
		}
	}
	for _, row := range b {
		if !slices.Contains(a, row) {
			return "it lacks " + row
		}
	}
	return "rows are doubled"
}

// dump is what the projected tables hold, each row as text, in order.
func dump(ctx context.Context, db *sql.DB) (map[string][]string, error) {
	out := map[string][]string{}
	for _, table := range projector.Tables() {
		lines, err := dumpTable(ctx, db, table)
		if err != nil {
			return nil, err
		}
		out[table] = lines
	}
	return out, nil
}

func dumpTable(ctx context.Context, db *sql.DB, table string) ([]string, error) {
	rows, err := db.QueryContext(ctx, "SELECT * FROM "+table)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	names, err := rows.Columns()
	if err != nil {
		return nil, err
	}
	var lines []string
	for rows.Next() {
		values, into := make([]any, len(names)), make([]any, len(names))
		for i := range values {
			into[i] = &values[i]
		}
		if err := rows.Scan(into...); err != nil {
			return nil, err
		}
		line := map[string]any{}
		for i, name := range names {
			if b, ok := values[i].([]byte); ok {
				values[i] = string(b)
			}
			line[name] = values[i]
		}
		data, err := json.Marshal(line)
		if err != nil {
			return nil, err
		}
		lines = append(lines, string(data))
	}
	slices.Sort(lines)
	return lines, rows.Err()
}

// Verify checks the file of an open yard, its journal included.
func (s *Store) Verify(ctx context.Context) (Report, error) { return Verify(ctx, s.path, nil) }
