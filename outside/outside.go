// Package outside talks to devices and services beside a yard: a key cabinet, hour meters
// that report, a weather post, a message outbox. Nothing that anybody answers waits for
// one of them: they are asked in the background, what they said last is at hand, and what
// is wrong with them is said in words, so that a crew goes on by hand.
package outside

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"

	"vespers/core/yard"
	"vespers/store"
)

// Config says where the devices are; "" is none.
type Config struct {
	Store *store.Store
	Log   *slog.Logger
	Now   func() time.Time
	// Keys, Hours, Weather and Outbox are addresses, http://host:port.
	Keys, Hours, Weather, Outbox string
	// Pace divides the time between two questions, for tests; 0 is 1.
	Pace int
}

// The devices.
const (
	Keys    = "keys"
	Hours   = "hours"
	Weather = "weather"
	Outbox  = "outbox"
)

// Trouble is what is wrong with a device.
type Trouble string

// What can be wrong with one.
const (
	Well     Trouble = ""
	Unasked  Trouble = "unasked"  // nobody has asked it yet
	Silent   Trouble = "silent"   // it does not answer, or too late
	Nonsense Trouble = "nonsense" // what it says is none of what it can say
	Clock    Trouble = "clock"    // its clock is off
)

// Status is how one device is.
type Status struct {
	Device  string
	Trouble Trouble
	// Since is when it was last well, zero where it never was.
	Since time.Time
	// Detail is what was wrong, for whoever mends it.
	Detail string
}

// Desk asks the devices and keeps what they said.
type Desk struct {
	c      Config
	client *http.Client

	mu      sync.Mutex
	status  map[string]*Status
	keys    map[string]Key
	read    map[string]Reading
	after   int
	weather *Seen
	waiting int // messages that were not taken yet
}

// the longest that anybody is waited for, and the most that they may say.
const (
	waitMost = 2 * time.Second
	sayMost  = 1 << 20
)

// New is a desk of the devices that have an address; nil where none has.
func New(c Config) (*Desk, error) {
	d := &Desk{c: c, client: &http.Client{Timeout: waitMost}, status: map[string]*Status{}, keys: map[string]Key{}, read: map[string]Reading{}}
	for device, address := range map[string]string{Keys: c.Keys, Hours: c.Hours, Weather: c.Weather, Outbox: c.Outbox} {
		if address == "" {
			continue
		}
		u, err := url.Parse(address)
		if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
			return nil, fmt.Errorf("%q is no address of a device: say http://host:port", address)
		}
		d.status[device] = &Status{Device: device, Trouble: Unasked}
	}
	if len(d.status) == 0 {
		return nil, nil
	}
	return d, nil
}

// Run asks them until the context ends.
func (d *Desk) Run(ctx context.Context) {
	var all sync.WaitGroup
	for device, turn := range map[string]struct {
		ask   func(context.Context) error
		every time.Duration
	}{Keys: {d.askKeys, 3 * time.Second}, Hours: {d.askHours, 10 * time.Second}, Weather: {d.askWeather, 20 * time.Second}, Outbox: {d.sendOut, 5 * time.Second}} {
		if d.status[device] == nil {
			continue
		}
		all.Go(func() {
			for ctx.Err() == nil {
				d.note(ctx, device, turn.ask(ctx))
				select {
				case <-ctx.Done():
				case <-time.After(turn.every / time.Duration(max(1, d.c.Pace))):
				}
			}
		})
	}
	all.Wait()
}

// trouble is something wrong with a device.
type trouble struct {
	kind   Trouble
	detail string
}

func (t trouble) Error() string { return string(t.kind) + ": " + t.detail }

// note keeps how a device is; what is wrong with the yard's own file is no trouble of it.
func (d *Desk) note(ctx context.Context, device string, err error) {
	if ctx.Err() != nil {
		return
	}
	var t trouble
	if err != nil && !errors.As(err, &t) {
		d.c.Log.Error("outside", "device", device, "error", err)
		return
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	s := d.status[device]
	if s.Trouble != t.kind {
		d.c.Log.Info("outside", "device", device, "trouble", string(t.kind), "detail", t.detail)
	}
	if s.Trouble, s.Detail = t.kind, t.detail; t.kind == Well {
		s.Since = d.c.Now()
	}
}

// Status is how the devices are, in a fixed order.
func (d *Desk) Status() (out []Status) {
	if d == nil {
		return nil
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, device := range []string{Keys, Hours, Weather, Outbox} {
		if s := d.status[device]; s != nil {
			out = append(out, *s)
		}
	}
	return out
}

// well reports whether what a device said last may be gone by. The lock is held.
func (d *Desk) well(device string) bool {
	return d.status[device] != nil && d.status[device].Trouble == Well
}

// ask sends a request and reads what comes back as JSON, where into is not nil.
func (d *Desk) ask(ctx context.Context, method, address, path string, say, into any) error {
	ctx, cancel := context.WithTimeout(ctx, waitMost)
	defer cancel()
	var body io.Reader
	if say != nil {
		data, err := json.Marshal(say)
		if err != nil {
			return err
		}
		body = bytes.NewReader(data)
	}
	r, err := http.NewRequestWithContext(ctx, method, strings.TrimSuffix(address, "/")+path, body)
	if err != nil {
		return err
	}
	if say != nil {
		r.Header.Set("Content-Type", "application/json")
	}
	w, err := d.client.Do(r)
	if err != nil {
		return trouble{Silent, err.Error()}
	}
	defer w.Body.Close()
	data, err := io.ReadAll(io.LimitReader(w.Body, sayMost))
	switch {
	case err != nil:
		return trouble{Silent, err.Error()}
	case w.StatusCode >= 500:
		return trouble{Silent, w.Status}
	case w.StatusCode >= 300:
		return trouble{Nonsense, w.Status}
	case into == nil:
		return nil
	}
	if err := json.Unmarshal(data, into); err != nil {
		return trouble{Nonsense, err.Error()}
	}
	return nil
}

// onTime is the trouble of a clock that is off.
func (d *Desk) onTime(at time.Time) error {
	if !yard.OnTime(at, d.c.Now()) {
		return trouble{Clock, at.Format(time.RFC3339)}
	}
	return nil
}
