package main

// The command that starts the demo yard.

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"sort"
	"syscall"
	"time"

	"vespers/demo"
	"vespers/store"
	"vespers/web"
)

type demoCommand struct {
	DB      string `help:"The demo's file." default:"wrenfield.vespers" type:"path"`
	Addr    string `help:"Address to listen on." default:"127.0.0.1:8417"`
	Fresh   bool   `help:"Start over: the old demo file is removed."`
	Time    string `help:"Let the demo begin at this time of its day, such as 07:40." placeholder:"HH:MM"`
	Evening bool   `help:"Begin in an evening, with machines on their way home."`
	Fast    int    `help:"Let the demo's clock run so many times as fast: waits are shorter then." default:"1"`
}

// Run serves the demo yard.
func (c *demoCommand) Run() error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if c.Fresh {
		for _, suffix := range []string{"", "-wal", "-shm", ".anchor", ".anchor.cut"} {
			if err := os.Remove(c.DB + suffix); err != nil && !errors.Is(err, os.ErrNotExist) {
				return err
			}
		}
	}
	now, err := c.clock()
	if err != nil {
		return err
	}
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if s = s.WithWall(now); c.Fast > 1 {
		s = s.WithClock(now) // nobody could tell it from one that was set
	}
	if err := s.Wake(ctx); err != nil {
		return err
	}
	if err := addSheets(ctx, s); err != nil {
		return err
	}
	if _, err := s.Yard(ctx); errors.Is(err, store.ErrNotFound) {
		if err := c.fill()(ctx, s, now()); err != nil {
			return fmt.Errorf("filling the demo yard: %w", err)
		}
	}
	pins := demo.PINs()
	desk, devices, err := standIns(ctx, s, now, min(c.Fast, 4))
	if err != nil {
		return err
	}
	go desk.Run(ctx)
	return serve(ctx, web.Config{Store: s, Now: now, Demo: pins, Idle: 2 * time.Hour, Outside: desk}, c.Addr, func(address string) {
		fmt.Printf("\n  Wrenfield Arboretum and Burial Grounds, a demo yard\n  http://%s\n\n", address)
		people := demo.People()
		sort.Slice(people, func(i, j int) bool { return people[i].Name < people[j].Name })
		for _, p := range people {
			fmt.Printf("  %-22s %-12s PIN %s\n", p.Name, p.Role, pins[p.ID])
		}
		fmt.Printf("\n  Beside the yard, simulated (docs/outside.md):\n")
		for _, d := range devices {
			fmt.Printf("  %-22s %s\n", d[0], d[1])
		}
		fmt.Printf("\n  The yard is kept in %s. Start over: vespers demo --fresh. Stop: Ctrl-C.\n\n", c.DB)
	})
}

// fill is the yard that is made: a morning's, or an evening's.
func (c *demoCommand) fill() func(context.Context, *store.Store, time.Time) error {
	if c.Evening {
		return demo.FillEvening
	}
	return demo.Fill
}

// clock is the demo's: the machine's own, or one that began at a time of day, or
// runs faster.
func (c *demoCommand) clock() (func() time.Time, error) {
	began := time.Now()
	ahead, err := c.ahead(began)
	if ahead == 0 && c.Fast <= 1 {
		return time.Now, err
	}
	return func() time.Time { return began.Add(ahead + time.Since(began)*time.Duration(max(1, c.Fast))) }, err
}

// ahead is how far the demo's time of day is ahead of the machine's.
func (c *demoCommand) ahead(began time.Time) (time.Duration, error) {
	if c.Evening && c.Time == "" {
		c.Time = demo.Dusk
	}
	if c.Time == "" {
		return demo.Ahead(began), nil
	}
	at, err := time.Parse("15:04", c.Time)
	if err != nil {
		return 0, fmt.Errorf("--time %s: give a time of day such as 07:40", c.Time)
	}
	zone, err := time.LoadLocation(demo.Timezone)
	if err != nil {
		return 0, err
	}
	day := began.In(zone)
	return time.Date(day.Year(), day.Month(), day.Day(), at.Hour(), at.Minute(), 0, 0, zone).Sub(began), nil
}
