package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"vespers/store"
)

type backupCommand struct {
	DB string `help:"The yard's file." required:"" type:"existingfile"`
	To string `arg:"" help:"The new file." type:"path"`
}

// Run writes a backup.
func (c *backupCommand) Run() error {
	s, err := store.Open(context.Background(), c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := s.Backup(context.Background(), c.To); err != nil {
		return err
	}
	fmt.Println("Backup written to", c.To)
	return nil
}

type restoreCommand struct {
	From string `arg:"" help:"The backup." type:"existingfile"`
	DB   string `help:"The yard's file; it must not exist." required:"" type:"path"`
}

// Run puts a backup in place after checking its records.
func (c *restoreCommand) Run() error {
	if _, err := os.Stat(c.DB); err == nil {
		return fmt.Errorf("%s exists: stop the yard and move that file away first, nothing was changed", c.DB)
	}
	from, err := os.Open(c.From)
	if err != nil {
		return err
	}
	defer from.Close()
	partial := filepath.Join(filepath.Dir(c.DB), "."+filepath.Base(c.DB)+".restoring")
	to, err := os.OpenFile(partial, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer os.Remove(partial)
	if _, err := io.Copy(to, from); err != nil {
		return errors.Join(err, to.Close())
	}
	if err := errors.Join(to.Sync(), to.Close()); err != nil {
		return err
	}
	s, err := store.Open(context.Background(), partial)
	if err != nil {
		return err
	}
	n, err := s.Verify(context.Background())
	if err := errors.Join(err, s.Close()); err != nil {
		return fmt.Errorf("the backup is damaged: %w", err)
	}
	for _, suffix := range []string{"-wal", "-shm"} {
		os.Remove(partial + suffix)
	}
	if err := os.Rename(partial, c.DB); err != nil {
		return err
	}
	fmt.Printf("Restored %d records to %s\n", n, c.DB)
	return nil
}

type verifyCommand struct {
	DB string `help:"The yard's file." required:"" type:"existingfile"`
}

// Run checks the chain of records.
func (c *verifyCommand) Run() error {
	s, err := store.Open(context.Background(), c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	n, err := s.Verify(context.Background())
	if err != nil {
		return err
	}
	fmt.Printf("%d records, the chain is whole\n", n)
	return nil
}

type rebuildCommand struct {
	DB string `help:"The yard's file." required:"" type:"existingfile"`
}

// Run makes the projections anew.
func (c *rebuildCommand) Run() error {
	s, err := store.Open(context.Background(), c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	return s.Rebuild(context.Background())
}
