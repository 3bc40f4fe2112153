package main

// Muster: two hundred tablets at once, each answering every three seconds for a
// minute, over loopback. A twentieth of the answers is sent twice, as a tablet does
// whose link was lost; nothing may be lost or doubled.

import (
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"vespers/core/outing/outingtest"
)

const (
	tablets     = 200
	musterLasts = time.Minute
	musterEvery = 3 * time.Second
	musterTwice = 20 // one answer in so many is sent twice
)

// tablet is one of them, signed in by itself, with an outing of its own.
type tablet struct {
	base, cookie, outing string
	answers, pages       times
	said                 int // answers that were taken
}

func muster(ctx context.Context, t *table, large string) error {
	c, done, err := openCopy(ctx, large)
	if err != nil {
		return err
	}
	defer done()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	server := &http.Server{Handler: c.handler, ReadHeaderTimeout: 10 * time.Second}
	go server.Serve(l)
	defer server.Close()
	http.DefaultTransport.(*http.Transport).MaxIdleConnsPerHost = tablets

	all, err := gather(ctx, c, "http://"+l.Addr().String())
	if err != nil {
		return err
	}
	before, err := records(ctx, c)
	if err != nil {
		return err
	}
	cpu, began := processorTime(), time.Now()
	failed := make([]error, len(all))
	var group sync.WaitGroup
	for i, one := range all {
		group.Go(func() { failed[i] = one.answer(ctx, c, began.Add(musterLasts)) })
	}
	group.Wait()
	took := time.Since(began)
	if err := errors.Join(failed...); err != nil {
		return err
	}
	var answers, pages times
	said := 0
	for _, one := range all {
		answers, pages, said = append(answers, one.answers...), append(pages, one.pages...), said+one.said
	}
	after, err := records(ctx, c)
	if err != nil {
		return err
	}
	busy := (processorTime() - cpu).Seconds() / took.Seconds()
	spread := func(all times) string {
		return fmt.Sprintf("median %s, p95 %s, p99 %s, slowest %s", ms(all.median()), ms(all.p95()), ms(all.at(0.99)), ms(all.at(1)))
	}
	t.note(fmt.Sprintf("%d tablets at muster, an answer each every 3 s for a minute, %d answers", tablets, len(answers)), spread(answers))
	t.note("the next question after each", spread(pages))
	t.row("answers lost or doubled at muster", "0", fmt.Sprintf("%d taken, %d recorded", said, after-before), after-before == said)
	t.note("processor and memory at muster, the tablets themselves included", fmt.Sprintf("%.0f %% of one core, %d MB", 100*busy, resident()>>20))
	return nil
}

// gather takes out a machine for each tablet and signs each of them in.
func gather(ctx context.Context, c *client, base string) ([]*tablet, error) {
	machines, err := c.store.Machines(ctx)
	if err != nil {
		return nil, err
	}
	run := strconv.FormatInt(time.Now().UnixNano(), 36)
	var all []*tablet
	for _, m := range machines {
		if len(all) == tablets {
			break
		}
		if m.Out != nil || m.Grade != "sound" {
			continue
		}
		id := fmt.Sprintf("muster%s%d", run, len(all))
		if w := c.send("POST", "/machines/"+m.ID+"/outing", url.Values{"id": {id}, "both": {"yes"}}); w.Code != http.StatusOK {
			continue // it wants a carrier, or another person
		}
		one := &tablet{base: base, outing: "o-" + id}
		w, err := one.send("POST", "/sign-in/lead", url.Values{"pin": {"4071"}})
		if err != nil {
			return nil, err
		}
		one.cookie, _, _ = strings.Cut(w.Header.Get("Set-Cookie"), ";")
		all = append(all, one)
	}
	if len(all) < tablets {
		return nil, fmt.Errorf("only %d machines are free for %d tablets", len(all), tablets)
	}
	return all, nil
}

// stay is a client that follows nothing by itself.
var stay = &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}

func (one *tablet) send(method, path string, form url.Values) (*http.Response, error) {
	r, err := http.NewRequest(method, one.base+path, strings.NewReader(form.Encode()))
	if err != nil {
		return nil, err
	}
	r.Header.Set("Cookie", one.cookie)
	if method == "POST" {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Accept", "application/json")
	}
	w, err := stay.Do(r)
	if err != nil {
		return nil, err
	}
	_, err = io.Copy(io.Discard, w.Body)
	return w, errors.Join(err, w.Body.Close())
}

// answer answers what its outing asks for, every three seconds until the end.
func (one *tablet) answer(ctx context.Context, c *client, end time.Time) error {
	next := time.Now().Add(rand.N(musterEvery))
	for n := 0; next.Before(end); n++ {
		time.Sleep(time.Until(next))
		next = next.Add(musterEvery)
		o, err := c.store.Outing(ctx, one.outing)
		if err != nil {
			return err
		}
		said := outingtest.Next(o, time.Now())
		if now := time.Now(); said == nil || outingtest.Wait(o, now).After(now) {
			return nil // at the verdict, or while an engine warms up
		}
		path, form := asForm(said)
		form.Set("id", fmt.Sprintf("%s-%d", one.outing, n))
		times := 1
		if rand.N(musterTwice) == 0 {
			times = 2
		}
		for range times {
			began := time.Now()
			w, err := one.send("POST", "/outings/"+one.outing+path, form)
			one.answers = append(one.answers, time.Since(began))
			if err != nil || w.StatusCode != http.StatusOK {
				return fmt.Errorf("%s %v: %v %v", path, form, w, err)
			}
		}
		one.said++
		began := time.Now()
		w, err := one.send("GET", "/outings/"+one.outing+"/"+string(o.Stage()), nil)
		one.pages = append(one.pages, time.Since(began))
		if err != nil || w.StatusCode >= 400 {
			return fmt.Errorf("%s: %v %v", one.outing, w, err)
		}
	}
	return nil
}

// records is how many there are.
func records(ctx context.Context, c *client) (int, error) {
	newest, err := c.store.Newest(ctx)
	return int(newest.Seq), err
}

// processorTime is what this process has used of all cores.
func processorTime() time.Duration {
	var u syscall.Rusage
	if syscall.Getrusage(syscall.RUSAGE_SELF, &u) != nil {
		return 0
	}
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}

// resident is the memory that this process holds, in bytes.
func resident() int64 {
	data, err := os.ReadFile("/proc/self/statm")
	fields := strings.Fields(string(data))
	if err != nil || len(fields) < 2 {
		return 0
	}
	pages, _ := strconv.ParseInt(fields[1], 10, 64)
	return pages * int64(os.Getpagesize())
}
