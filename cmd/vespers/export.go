package main

// The commands that take a yard away as lines of JSON, and make one of them.

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"os"

	"vespers/store"
)

type exportCommand struct {
	DB   string `help:"The yard's file." required:"" type:"existingfile"`
	To   string `arg:"" help:"The new file." type:"path"`
	Pins bool   `help:"With what is kept of PINs, so that people can sign in to a yard that is made of it."`
}

// Run writes the yard's records, sheets and pictures as JSON Lines (docs/export.md).
func (c *exportCommand) Run() (err error) {
	s, err := store.Open(context.Background(), c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	to, err := os.OpenFile(c.To, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() {
		if err = errors.Join(err, to.Close()); err != nil {
			os.Remove(c.To)
		}
	}()
	w := bufio.NewWriter(to)
	if err := errors.Join(s.Export(context.Background(), w, c.Pins), w.Flush(), to.Sync()); err != nil {
		return err
	}
	anchor, err := s.Anchor(context.Background())
	if err == nil {
		fmt.Printf("Written to %s, up to record %s\n", c.To, anchor)
	}
	return err
}

type importCommand struct {
	From string `arg:"" help:"The lines." type:"existingfile"`
	DB   string `help:"The yard's file; it must not exist." required:"" type:"path"`
}

// Run makes a yard of exported lines. One that does not fit where it stands gives exit
// status 1, and no file.
func (c *importCommand) Run() error {
	from, err := os.Open(c.From)
	if err != nil {
		return err
	}
	defer from.Close()
	records, anchor, err := store.Import(context.Background(), c.DB, bufio.NewReader(from))
	if err != nil {
		return err
	}
	fmt.Printf("%d records in %s, up to record %s\n", records, c.DB, anchor)
	return nil
}
