package store

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"
)

// TestWhichBackupsStay: the newest, and the last of each of the last twelve months.
func TestWhichBackupsStay(t *testing.T) {
	var list []Kept
	first := time.Date(2026, 11, 26, 3, 0, 0, 0, time.UTC)
	for i := range 800 {
		list = append(list, Kept{At: first.AddDate(0, 0, -i)})
	}
	gone := map[time.Time]bool{}
	for _, k := range outworn(list, 14) {
		gone[k.At] = true
	}
	stay := 0
	for i, k := range list {
		if gone[k.At] {
			continue
		}
		stay++
		last := k.At.AddDate(0, 0, 1).Month() != k.At.Month()
		if i >= 14 && (!last || i > 366) {
			t.Errorf("the one of %s stays", k.At.Format(time.DateOnly))
		}
	}
	if stay != 14+11 {
		t.Errorf("%d stay", stay)
	}
	if got := outworn(list[:3], 0); len(got) != 2 {
		t.Errorf("without a number the newest stays alone: %v go", got)
	}
	if got := outworn(list[:14], 14); got != nil {
		t.Errorf("%v go", got)
	}
}

// TestAKeeperKeeps: whole backups only, the oldest let go after the newest is there, and
// a disk that refuses costs none.
func TestAKeeperKeeps(t *testing.T) {
	dir := t.TempDir()
	path := filepath.Join(dir, "yard")
	s, err := Open(t.Context(), path)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	now := time.Date(2026, 11, 26, 3, 0, 0, 0, time.UTC)
	k := &Keeper{Store: s, Dir: filepath.Join(dir, "copies"), Every: time.Hour, Keep: 2, Now: func() time.Time { return now }}
	for range 4 {
		if _, err := k.Once(t.Context()); err != nil {
			t.Fatal(err)
		}
		now = now.Add(time.Hour)
	}
	for _, stray := range []string{"yard-20260101T000000Z.backup.half", "other-20260101T000000Z.backup", "yard-soon.backup", "yard-20260101T000000Z.backup.anchor"} {
		if err := os.WriteFile(filepath.Join(k.Dir, stray), nil, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	list, err := Backups(k.Dir, path)
	if err != nil || len(list) != 2 || !list[0].At.Equal(now.Add(-time.Hour)) || !list[1].At.Equal(now.Add(-2*time.Hour)) {
		t.Fatalf("%v %v", list, err)
	}
	for _, one := range list {
		if r, err := Verify(context.Background(), one.Path, nil); err != nil && len(r.Problems) == 0 {
			t.Errorf("%s: %v", one.Path, err)
		}
		info, err := os.Stat(one.Path)
		if err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v, %v", one.Path, info.Mode(), err)
		}
	}
	if k.Late(now) || !k.Late(now.Add(3*time.Hour)) {
		t.Error("a backup is late two turns after the last")
	}
	if _, err := k.Once(t.Context()); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(filepath.Join(k.Dir, "yard-20260101T000000Z.backup.half")); !os.IsNotExist(err) {
		t.Error("what was half written stays for ever")
	}
	if _, err := os.Stat(filepath.Join(k.Dir, "other-20260101T000000Z.backup")); err != nil {
		t.Error("another yard's backup was let go")
	}

	// The disk refuses: said, and the others stay.
	good := k.Dir
	k.Dir = filepath.Join(path, "under a file")
	if _, err := k.Once(t.Context()); err == nil {
		t.Error("a backup was written under a file")
	}
	if last, err := k.State(); err == nil || last.At.IsZero() || !k.Late(now) {
		t.Errorf("%v %v", last, err)
	}
	if list, _ := Backups(good, path); len(list) != 2 {
		t.Errorf("%v", list)
	}
}

// TestAKeeperRuns: the first at once, and none where the newest is young enough.
func TestAKeeperRuns(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(t.Context(), filepath.Join(dir, "yard"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	now := time.Date(2026, 11, 26, 3, 0, 0, 0, time.UTC)
	for turn, want := range []int{1, 1, 2} {
		k := &Keeper{Store: s, Dir: filepath.Join(dir, "copies"), Every: time.Hour, Keep: 5, Now: func() time.Time { return now }}
		ctx, stop := context.WithCancel(t.Context())
		ended := make(chan bool)
		go func() { k.Run(ctx); close(ended) }()
		for deadline := time.Now().Add(10 * time.Second); time.Now().Before(deadline); time.Sleep(5 * time.Millisecond) {
			if last, _ := k.State(); !last.At.IsZero() {
				break
			}
		}
		stop()
		<-ended
		if list, err := Backups(k.Dir, s.Path()); err != nil || len(list) != want {
			t.Errorf("turn %d: %d backups, want %d: %v", turn, len(list), want, err)
		}
		now = now.Add(35 * time.Minute)
	}
}

// TestNobodyWaitsForABackup: it is written while somebody's answer is.
func TestNobodyWaitsForABackup(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(t.Context(), filepath.Join(dir, "yard"))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	tx, err := s.writer.begin(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := tx.ExecContext(t.Context(), "INSERT INTO sent_out (id, at) VALUES ('half', 1)"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Backup(t.Context(), filepath.Join(dir, "copy")); err != nil {
		t.Error(err)
	}
	tx.Rollback(t.Context())
	copied, err := Open(t.Context(), filepath.Join(dir, "copy"))
	if err != nil {
		t.Fatal(err)
	}
	defer copied.Close()
	if sent, err := copied.SentOut(t.Context()); err != nil || len(sent) != 0 {
		t.Errorf("what was half said is in it: %v %v", sent, err)
	}
}
