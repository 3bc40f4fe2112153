package store

// A restore drill: the newest backup is put somewhere else, checked, and held against the
// yard: of every outing that is over both say the same.

import (
	"context"
	"errors"
	"io"
	"os"
	"path/filepath"
	"reflect"
	"time"
)

// Drilled is what a drill came to.
type Drilled struct {
	Backup   Kept
	Records  int64
	Anchor   string
	Outings  int // that are over in the backup; all were compared
	Folded   int // of them, made anew from their records in both
	Differ   []string
	Problems []string
	Took     time.Duration
}

// foldedMost is how many outings, the newest, are made anew from their records.
const foldedMost = 200

// CopyFile copies a file to a new one that nobody else may read.
func CopyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	if _, err := io.Copy(out, in); err != nil {
		return errors.Join(err, out.Close())
	}
	return errors.Join(out.Sync(), out.Close())
}

// Drill restores a backup into a directory, which it leaves as it was, verifies it and
// compares the verdicts in it with the yard's own.
func (s *Store) Drill(ctx context.Context, backup Kept, dir string) (d Drilled, err error) {
	began := time.Now()
	d.Backup = backup
	within, err := os.MkdirTemp(dir, "vespers-drill-")
	if err != nil {
		return d, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(within)) }()
	path := filepath.Join(within, "yard")
	if err := CopyFile(backup.Path, path); err != nil {
		return d, err
	}
	r, err := Verify(ctx, path, nil)
	if err != nil {
		return d, err
	}
	d.Records, d.Anchor, d.Problems = r.Records, r.Anchor, r.Problems
	if len(d.Problems) == 0 {
		err = s.drilled(ctx, path, &d)
	}
	d.Took = time.Since(began)
	return d, err
}

func (s *Store) drilled(ctx context.Context, path string, d *Drilled) error {
	back, err := Open(ctx, path)
	if err != nil {
		return err
	}
	defer back.Close()
	then, err := over(ctx, back)
	if err != nil {
		return err
	}
	now, err := over(ctx, s)
	if err != nil {
		return err
	}
	own := map[string]verdictRow{}
	for _, row := range now {
		own[row.id] = row
	}
	d.Outings = len(then)
	for i, row := range then {
		if mine, there := own[row.id]; !there || mine != row {
			d.Differ = append(d.Differ, row.id)
			continue
		}
		if i >= foldedMost {
			continue
		}
		a, err := back.Outing(ctx, row.id)
		if err != nil {
			return err
		}
		b, err := s.Outing(ctx, row.id)
		if err != nil {
			return err
		}
		d.Folded++
		if !reflect.DeepEqual(a.Verdict, b.Verdict) {
			d.Differ = append(d.Differ, row.id)
		}
	}
	return nil
}

// verdictRow is an outing that is over: nothing of it changes any more.
type verdictRow struct {
	id, machine, operator, outcome, status string
	began, released, ended                 int64
}

// over are the outings that have ended, the newest first.
func over(ctx context.Context, s *Store) ([]verdictRow, error) {
	rows, err := s.reader.QueryContext(ctx, "SELECT id, machine, operator, outcome, status, began, released, ended FROM outing WHERE ended>0 ORDER BY began DESC, id")
	if err != nil {
		return nil, err
	}
	return collect(rows, func(r row) (v verdictRow, err error) {
		return v, r.Scan(&v.id, &v.machine, &v.operator, &v.outcome, &v.status, &v.began, &v.released, &v.ended)
	})
}
