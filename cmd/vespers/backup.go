package main

// The commands that keep a yard safe: backup, restore, verify, rebuild.

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

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
	anchor, err := s.Backup(context.Background(), c.To)
	if err != nil {
		return err
	}
	fmt.Printf("Backup written to %s, up to record %s\n", c.To, anchor)
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
	r, err := store.Verify(context.Background(), partial, nil)
	if err != nil || len(r.Problems) > 0 {
		return fmt.Errorf("the backup is damaged; nothing was put in place: %w", errors.Join(err, problems(r)))
	}
	for _, suffix := range []string{"-wal", "-shm"} {
		os.Remove(partial + suffix)
	}
	if err := os.Rename(partial, c.DB); err != nil {
		return err
	}
	if err := os.WriteFile(c.DB+".anchor", []byte(r.Anchor+"\n"), 0o600); err != nil {
		return err
	}
	fmt.Printf("Restored %d records to %s, up to record %s\n", r.Records, c.DB, r.Anchor)
	return nil
}

type verifyCommand struct {
	DB     string `help:"The yard's file." required:"" type:"existingfile"`
	Expect string `help:"The end of the log as it was kept elsewhere: on a slip, or when a backup was made." placeholder:"1234-0123456789abcdef"`
	JSON   bool   `name:"json" help:"Print what was found as JSON."`
}

// Run looks for anything that is not as it was written. It writes nothing.
func (c *verifyCommand) Run() error {
	var expect *store.Anchor
	if c.Expect != "" {
		a, err := store.ParseAnchor(c.Expect)
		if err != nil {
			return err
		}
		expect = &a
	}
	r, err := store.Verify(context.Background(), c.DB, expect)
	if err != nil {
		return err
	}
	if c.JSON {
		if err := json.NewEncoder(os.Stdout).Encode(r); err != nil {
			return err
		}
	} else {
		fmt.Printf("%d records, up to %s\n", r.Records, r.Anchor)
		for _, n := range r.Notes {
			fmt.Println("note:", n)
		}
	}
	if err := problems(r); err != nil {
		return err
	}
	if !c.JSON {
		fmt.Println("the yard is whole")
	}
	return nil
}

// problems are what Verify found, as one error; nil where it found nothing.
func problems(r store.Report) error {
	if len(r.Problems) == 0 {
		return nil
	}
	return errors.New(strings.Join(r.Problems, "\n  "))
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
	if err := s.Rebuild(context.Background()); err != nil {
		return err
	}
	fmt.Println("What pages are made from was made anew from the records")
	return nil
}
