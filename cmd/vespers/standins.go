package main

// The simulated devices of the demo: started with it, each at an address of its own on
// this machine, and asked like any other.

import (
	"context"
	"log/slog"
	"net"
	"net/http"
	"os"
	"time"

	"vespers/outside"
	"vespers/standin"
	"vespers/store"
)

// standIns starts all four and gives the desk that asks them, and what each is called and
// where it is.
func standIns(ctx context.Context, s *store.Store, now func() time.Time, pace int) (*outside.Desk, [][2]string, error) {
	keys := standin.NewKeys(now)
	keys.Eager = true
	hours := standin.NewHours(now)
	c := outside.Config{Store: s, Now: now, Pace: pace, Log: slog.New(slog.NewJSONHandler(os.Stderr, nil))}
	var where [][2]string
	for _, one := range []struct {
		name    string
		into    *string
		handler http.Handler
	}{{"key cabinet", &c.Keys, keys.Handler()}, {"hour meters", &c.Hours, hours.Handler()}, {"weather post", &c.Weather, standin.NewPost(now).Handler()}, {"message outbox", &c.Outbox, standin.NewOutbox(now).Handler()}} {
		address, err := listen(ctx, one.handler)
		if err != nil {
			return nil, nil, err
		}
		*one.into = address
		where = append(where, [2]string{one.name, address})
	}
	if err := reportHours(ctx, s, hours); err != nil {
		return nil, nil, err
	}
	desk, err := outside.New(c)
	return desk, where, err
}

// listen serves a device at an address of its own, on this machine alone.
func listen(ctx context.Context, handler http.Handler) (string, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 5 * time.Second}
	go server.Serve(l)
	context.AfterFunc(ctx, func() { server.Close() })
	return "http://" + l.Addr().String(), nil
}

// reportHours lets the meters say what they are known to show, and one what it cannot.
func reportHours(ctx context.Context, s *store.Store, hours *standin.Hours) error {
	machines, err := s.Machines(ctx)
	for i, m := range machines {
		switch {
		case m.Hours == 0:
		case i%5 == 4:
			hours.Report(m.ID, m.Hours/2) // its sender was changed over from another machine
		default:
			hours.Report(m.ID, m.Hours+0.1)
		}
	}
	return err
}
