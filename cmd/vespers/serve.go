package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"sort"
	"syscall"
	"time"
	_ "time/tzdata"

	"vespers/catalogue"
	"vespers/demo"
	"vespers/store"
	"vespers/web"
)

type serveCommand struct {
	DB     string        `help:"The yard's file." required:"" type:"path"`
	Addr   string        `help:"Address to listen on." default:"127.0.0.1:8417"`
	Secure bool          `help:"The yard is reached over HTTPS: mark cookies so."`
	Idle   time.Duration `help:"A shared tablet forgets its person after this long." default:"15m"`
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
	return serve(ctx, web.Config{Store: s, Secure: c.Secure, Idle: c.Idle}, c.Addr, func(address string) {
		fmt.Printf("Vespers is at http://%s\n", address)
	})
}

// addSheets stores the sheets of this version; older ones stay for the
// machines and outings that have them.
func addSheets(ctx context.Context, s *store.Store) error {
	sheets, err := catalogue.All()
	if err != nil {
		return err
	}
	for _, r := range sheets {
		if err := s.AddSheet(ctx, r); err != nil {
			return err
		}
	}
	return nil
}

// serve runs until the context ends, then lets requests under way finish.
func serve(ctx context.Context, c web.Config, addr string, ready func(address string)) error {
	c.Log = slog.New(slog.NewJSONHandler(os.Stderr, nil))
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

type demoCommand struct {
	DB    string `help:"The demo's file." default:"wrenfield.vespers" type:"path"`
	Addr  string `help:"Address to listen on." default:"127.0.0.1:8417"`
	Fresh bool   `help:"Start over: the old demo file is removed."`
}

// Run serves the demo yard.
func (c *demoCommand) Run() error {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if c.Fresh {
		for _, suffix := range []string{"", "-wal", "-shm"} {
			if err := os.Remove(c.DB + suffix); err != nil && !errors.Is(err, os.ErrNotExist) {
				return err
			}
		}
	}
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	if err := addSheets(ctx, s); err != nil {
		return err
	}
	if _, err := s.Yard(ctx); errors.Is(err, store.ErrNotFound) {
		if err := demo.Fill(ctx, s, time.Now()); err != nil {
			return fmt.Errorf("filling the demo yard: %w", err)
		}
	}
	pins := demo.PINs()
	return serve(ctx, web.Config{Store: s, Demo: pins, Idle: 2 * time.Hour}, c.Addr, func(address string) {
		fmt.Printf("\n  Wrenfield Arboretum and Burial Grounds, a demo yard\n  http://%s\n\n", address)
		people := demo.People()
		sort.Slice(people, func(i, j int) bool { return people[i].Name < people[j].Name })
		for _, p := range people {
			fmt.Printf("  %-22s %-12s PIN %s\n", p.Name, p.Role, pins[p.ID])
		}
		fmt.Printf("\n  The yard is kept in %s. Start over: vespers demo --fresh. Stop: Ctrl-C.\n\n", c.DB)
	})
}

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
