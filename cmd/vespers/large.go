package main

// The command that fills a large made-up yard for measuring.

import (
	"context"
	"fmt"
	"os"
	"time"

	"vespers/demo"
	"vespers/store"
)

type largeYardCommand struct {
	DB   string `help:"The file to make; it must not exist." required:"" type:"path"`
	Days int    `help:"Working days of history (2500 are ten years)." default:"2500"`
}

// Run generates a large yard.
func (c *largeYardCommand) Run() error {
	if _, err := os.Stat(c.DB); err == nil {
		return fmt.Errorf("%s exists already", c.DB)
	}
	ctx := context.Background()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := addSheets(ctx, s); err != nil {
		return err
	}
	size := demo.Large
	size.Days = c.Days
	return demo.Generate(ctx, s, size, time.Now(), func(day int) {
		fmt.Fprintf(os.Stderr, "\r%d of %d days", day, size.Days)
	})
}
