package main

// The commands that look after a yard: what is wrong with it, and whether its backup would
// bring it back.

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strconv"
	"time"

	"golang.org/x/sys/unix"

	"vespers/say"
	"vespers/store"
)

type drillCommand struct {
	DB      string `help:"The yard's file." required:"" type:"existingfile"`
	Backups string `help:"The directory that backups are in." required:"" type:"existingdir"`
	In      string `help:"Where the backup is put for the drill, and taken away again; left out, where temporary files are." type:"existingdir" placeholder:"DIR"`
}

// Run restores the newest backup elsewhere and says what it is worth.
func (c *drillCommand) Run(v *say.Voice) error {
	ctx := context.Background()
	list, err := store.Backups(c.Backups, c.DB)
	if err != nil {
		return err
	}
	if len(list) == 0 {
		return errors.New(v.T("drill.none", "dir", c.Backups, "name", filepath.Base(c.DB)))
	}
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	d, err := s.Drill(ctx, list[0], c.In)
	if err != nil {
		return err
	}
	fmt.Println(v.T("drill.backup", "name", d.Backup.String(), "when", d.Backup.At.Local().Format("2006-01-02 15:04")))
	for _, p := range d.Problems {
		fmt.Println("  " + p)
	}
	if len(d.Problems) > 0 {
		return errors.New(v.T("drill.damaged"))
	}
	fmt.Println(v.T("drill.records", "n", d.Records, "anchor", d.Anchor))
	fmt.Println(v.T("drill.verdicts", "n", d.Outings, "folded", d.Folded))
	for _, id := range d.Differ {
		fmt.Println("  " + v.T("drill.differs", "outing", id))
	}
	fmt.Println(v.T("drill.took", "seconds", strconv.FormatFloat(d.Took.Seconds(), 'f', 1, 64)))
	if len(d.Differ) > 0 {
		return errors.New(v.T("drill.differ"))
	}
	return nil
}

type doctorCommand struct {
	DB      string `help:"The yard's file." required:"" type:"path"`
	Backups string `help:"The directory that backups are in." type:"path" placeholder:"DIR"`
}

// finding is how one thing is: good, to be looked at, or bad.
type finding struct{ how, words string }

// Run says how a yard is, in words; its status is 1 where something is bad.
func (c *doctorCommand) Run(v *say.Voice) error {
	bad := 0
	for _, f := range c.look(v, time.Now()) {
		fmt.Printf("%-5s %s\n", v.T("doctor."+f.how), f.words)
		if f.how == "bad" {
			bad++
		}
	}
	if bad > 0 {
		return exit(1)
	}
	return nil
}

// look looks at the file, its records, the clock, the disk, the backups and the versions.
func (c *doctorCommand) look(v *say.Voice, now time.Time) (out []finding) {
	add := func(how, key string, args ...any) { out = append(out, finding{how, v.T("doctor."+key, args...)}) }
	info, err := os.Stat(c.DB)
	if err != nil {
		add("bad", "no_file", "file", c.DB)
		return out
	}
	add("good", "file", "file", c.DB, "mb", megabytes(info.Size()))
	if info.Mode().Perm()&0o077 != 0 {
		add("bad", "others_read", "file", c.DB)
	}
	if wal, err := os.Stat(c.DB + "-wal"); err == nil && wal.Size() > walMost {
		add("look", "wal", "mb", megabytes(wal.Size()))
	}
	r, err := store.Verify(context.Background(), c.DB, nil)
	switch {
	case err != nil:
		add("bad", "unread", "why", err.Error())
	case len(r.Problems) > 0:
		add("bad", "broken", "n", len(r.Problems), "first", r.Problems[0])
	default:
		add("good", "records", "n", r.Records, "anchor", r.Anchor)
	}
	for _, n := range r.Notes {
		add("look", "note", "note", n)
	}
	c.clock(r.At, now, add)
	c.disk(info.Size(), add)
	c.backups(now, add)
	add("good", "versions", "program", version(), "go", runtime.Version(), "sqlite", store.SQLite(), "edition", store.Edition())
	return out
}

// The limits of what is good.
const (
	walMost    = 64 << 20
	roomLeast  = 200 << 20
	aheadMost  = 2 * time.Minute
	backupMost = 48 * time.Hour
)

func (c *doctorCommand) clock(last, now time.Time, add func(how, key string, args ...any)) {
	switch {
	case last.IsZero():
		add("look", "no_records")
	case last.Sub(now) > aheadMost:
		add("bad", "behind", "last", last.Local().Format("2006-01-02 15:04"), "now", now.Local().Format("2006-01-02 15:04"))
	default:
		add("good", "clock", "now", now.Local().Format("2006-01-02 15:04"), "last", last.Local().Format("2006-01-02 15:04"))
	}
}

func (c *doctorCommand) disk(size int64, add func(how, key string, args ...any)) {
	var fs unix.Statfs_t
	if err := unix.Statfs(filepath.Dir(c.DB), &fs); err != nil {
		add("look", "no_disk", "why", err.Error())
		return
	}
	free := int64(fs.Bavail) * fs.Bsize
	how := "good"
	if free < max(roomLeast, 2*size) {
		how = "bad"
	}
	add(how, "disk", "mb", megabytes(free))
}

func (c *doctorCommand) backups(now time.Time, add func(how, key string, args ...any)) {
	if c.Backups == "" {
		add("look", "backups_unsaid")
		return
	}
	list, err := store.Backups(c.Backups, c.DB)
	switch {
	case err != nil:
		add("bad", "backups_unread", "dir", c.Backups, "why", err.Error())
	case len(list) == 0:
		add("bad", "no_backup", "dir", c.Backups)
	case now.Sub(list[0].At) > backupMost:
		add("bad", "old_backup", "when", list[0].At.Local().Format("2006-01-02 15:04"), "n", len(list))
	default:
		add("good", "backup", "when", list[0].At.Local().Format("2006-01-02 15:04"), "n", len(list))
	}
}

func megabytes(size int64) string { return strconv.FormatFloat(float64(size)/(1<<20), 'f', 1, 64) }
