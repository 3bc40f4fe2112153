package main

// The command that serves a yard.

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"
	"time"
	_ "time/tzdata"

	"vespers/catalogue"
	"vespers/outside"
	"vespers/store"
	"vespers/web"
)

type serveCommand struct {
	DB          string        `help:"The yard's file." required:"" type:"path"`
	Addr        string        `help:"Address to listen on." default:"127.0.0.1:8417"`
	Secure      bool          `help:"The yard is reached over HTTPS: mark cookies so."`
	Backups     string        `help:"Write backups into this directory, and keep the newest and one of each month." type:"path" placeholder:"DIR"`
	BackupEvery time.Duration `help:"How often." default:"24h"`
	BackupKeep  int           `help:"How many of the newest stay." default:"14"`
	KeyCabinet  string        `help:"Address of a key cabinet (docs/outside.md)." placeholder:"URL"`
	HourMeters  string        `help:"Address of hour meters that report." placeholder:"URL"`
	WeatherPost string        `help:"Address of a weather post." placeholder:"URL"`
	Outbox      string        `help:"Address of a message outbox." placeholder:"URL"`
	Idle        time.Duration `help:"A shared tablet forgets its person after this long." default:"15m"`
}

// Run serves an own yard.
func (c *serveCommand) Run() error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := addSheets(ctx, s); err != nil && !errors.Is(err, store.ErrReadOnly) && !errors.Is(err, store.ErrFull) {
		return err
	}
	if err := s.Wake(ctx); err != nil && !errors.Is(err, store.ErrReadOnly) && !errors.Is(err, store.ErrFull) {
		return err
	}
	if cut := s.Cut(); cut != "" {
		fmt.Fprintf(os.Stderr, "The end of the records is gone: they went to %s once. Look for a newer copy, and run: vespers verify --db %s\n", cut, c.DB)
	}
	keeper, err := c.keeper(s)
	if err != nil {
		return err
	}
	if keeper != nil {
		go keeper.Run(ctx)
	}
	desk, err := outside.New(outside.Config{Store: s, Log: slog.New(slog.NewJSONHandler(os.Stderr, nil)), Now: time.Now, Keys: c.KeyCabinet, Hours: c.HourMeters, Weather: c.WeatherPost, Outbox: c.Outbox})
	if err != nil {
		return err
	}
	if desk != nil {
		go desk.Run(ctx)
	}
	return serve(ctx, web.Config{Store: s, Secure: c.Secure, Idle: c.Idle, Backups: keeper, Outside: desk}, c.Addr, func(address string) {
		fmt.Printf("Vespers is at http://%s\n", address)
	})
}

// leastEvery is how often backups are written at most: each reads the whole file.
const leastEvery = time.Minute

// keeper writes the backups, nil where none are asked for.
func (c *serveCommand) keeper(s *store.Store) (*store.Keeper, error) {
	if c.Backups == "" {
		return nil, nil
	}
	if c.BackupEvery < leastEvery || c.BackupKeep < 1 {
		return nil, fmt.Errorf("--backup-every is %s at least, and --backup-keep 1", leastEvery)
	}
	return &store.Keeper{Store: s, Dir: c.Backups, Every: c.BackupEvery, Keep: c.BackupKeep, Log: slog.New(slog.NewJSONHandler(os.Stderr, nil)), Now: time.Now}, nil
}

// addSheets stores the sheets of this version, if that has not been done; older
// ones stay for the machines and outings that have them.
func addSheets(ctx context.Context, s *store.Store) error {
	fingerprint, err := catalogue.Fingerprint()
	if err != nil {
		return err
	}
	if has, err := s.HasCatalogue(ctx, fingerprint); err != nil || has {
		return err
	}
	sheets, err := catalogue.All()
	if err != nil {
		return err
	}
	for _, r := range sheets {
		if err := s.AddSheet(ctx, r); err != nil {
			return err
		}
	}
	return s.CatalogueStored(ctx, fingerprint)
}

// memoryWanted is what the program tries to stay under, in bytes: a yard's small
// box has other things to do.
const memoryWanted = 220 << 20

// serve runs until the context ends, then lets requests under way finish.
func serve(ctx context.Context, c web.Config, addr string, ready func(address string)) error {
	debug.SetMemoryLimit(memoryWanted)
	c.Log = slog.New(slog.NewJSONHandler(os.Stderr, nil))
	web.Roomy()
	handler, stop, err := web.New(c)
	if err != nil {
		return err
	}
	defer stop()
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return err
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 15 * time.Second, WriteTimeout: 30 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10, ErrorLog: slog.NewLogLogger(c.Log.Handler(), slog.LevelWarn)}
	ready(listener.Addr().String())
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return server.Shutdown(grace)
}
