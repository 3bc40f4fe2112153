package storetest

import (
	"errors"
	"os"
	"os/exec"
	"testing"

	"vespers/store"
)

// TestAFileThatCannotBeWritten: the yard is read as before, an answer is refused
// with a reason that a page can tell, and goes through once the file can be
// written again.
func TestAFileThatCannotBeWritten(t *testing.T) {
	if os.Getuid() == 0 {
		// Root writes whatever it likes; the attribute that stops it is not on
		// every file system.
		t.Log("as root: the file is made immutable instead")
	}
	s, path := wrenfield(t)
	id := start(t, s, "verger")
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	protect := func(on bool) error {
		if os.Getuid() != 0 {
			mode := os.FileMode(0o600)
			if on {
				mode = 0o400
			}
			return os.Chmod(path, mode)
		}
		flag := "-i"
		if on {
			flag = "+i"
		}
		return exec.Command("chattr", flag, path).Run()
	}
	if err := protect(true); err != nil {
		t.Skip("this file system cannot protect a file from root:", err)
	}
	t.Cleanup(func() { _ = protect(false) })
	if again, err := store.Open(ctx, path); err == nil {
		_, err = say(again, "ro-ready", "ines", in(id, fit))
		if !errors.Is(err, store.ErrReadOnly) {
			t.Errorf("an answer to a protected file: %v", err)
		}
		again.Close()
	} else if !errors.Is(err, store.ErrReadOnly) {
		t.Errorf("opening a protected file: %v", err)
	}
	if err := protect(false); err != nil {
		t.Fatal(err)
	}
	if _, err := say(open(t, path), "ro-ready", "ines", in(id, fit)); err != nil {
		t.Errorf("once it can be written again: %v", err)
	}
}
