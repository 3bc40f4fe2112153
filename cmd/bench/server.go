package main

// Measures of the pages, over real HTTP on a large yard.

import (
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"os/exec"
	"regexp"
	"strings"
	"time"

	"vespers/core/outing"
	"vespers/store"
	"vespers/web"
)

// client talks to the pages of one yard in this process, signed in as its lead.
type client struct {
	store   *store.Store
	handler http.Handler
	cookie  string
	close   func()
}

func open(ctx context.Context, file string) (*client, error) {
	s, err := store.Open(ctx, file)
	if err != nil {
		return nil, err
	}
	web.Roomy() // as the command that serves does
	handler, stop, err := web.New(web.Config{Store: s, Log: slog.New(slog.DiscardHandler), Idle: time.Hour})
	if err != nil {
		return nil, err
	}
	c := &client{store: s, handler: handler, close: func() { stop(); s.Close() }}
	w := c.send("POST", "/sign-in/lead", url.Values{"pin": {"4071"}})
	c.cookie, _, _ = strings.Cut(w.Header().Get("Set-Cookie"), ";")
	if w.Code != http.StatusSeeOther {
		return nil, fmt.Errorf("%s: signing in: %d", file, w.Code)
	}
	return c, nil
}

func (c *client) send(method, path string, form url.Values) *httptest.ResponseRecorder {
	w := httptest.NewRecorder()
	r := httptest.NewRequest(method, path, strings.NewReader(form.Encode()))
	r.Header.Set("Cookie", c.cookie)
	r.Header.Set("Accept-Encoding", "gzip")
	if method == "POST" {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Accept", "application/json")
	}
	c.handler.ServeHTTP(w, r)
	return w
}

// pages compares the pages of the large yard with those of a hundredth of it.
func pages(ctx context.Context, t *table, small, large string) error {
	var yards [2]*client
	for i, file := range []string{small, large} {
		c, err := open(ctx, file)
		if err != nil {
			return err
		}
		defer c.close()
		yards[i] = c
	}
	var walked, released [2]string
	for i, c := range yards {
		rows, err := c.store.Today(ctx, time.Now().AddDate(0, 0, -1))
		if err != nil {
			return err
		}
		for _, o := range rows {
			switch o.Status {
			case outing.Open:
				walked[i] = o.ID
			case outing.Out:
				released[i] = o.ID
			}
		}
	}
	for _, path := range []string{"/yard", "/yard/list", "/day", "/machines/m-000", "/due", "/wall", "/patterns", "/defects", "/muster", "/week", "/vespers", "/evening", "/find", "/find?machine=m-000", "/machines/m-000/bench", "/outings/WALKED/walk", "/outings/RELEASED/verdict", "/outings/RELEASED/do", "/rules", "/ground"} {
		var took [2]times
		for range 100 { // in turns, so that both meet the same machine
			for i, c := range yards {
				at := strings.NewReplacer("WALKED", walked[i], "RELEASED", released[i]).Replace(path)
				began := time.Now()
				w := c.send("GET", at, nil)
				took[i] = append(took[i], time.Since(began))
				if w.Code != http.StatusOK {
					return fmt.Errorf("%s: %d", at, w.Code)
				}
			}
		}
		p95 := [2]time.Duration{took[0].p95(), took[1].p95()}
		ratio := float64(p95[1]) / float64(p95[0])
		t.row("page "+path+", p95 on the large yard", "30 ms, 2 × the small", fmt.Sprintf("%s, %.2f × %s", ms(p95[1]), ratio, ms(p95[0])), p95[1] <= 30*time.Millisecond && ratio <= 2)
	}
	return weights(t, yards[1])
}

var linked = regexp.MustCompile(`(?:href|src)="(/static/[^"]+)"`)

// weights adds up what a first visit loads, compressed.
func weights(t *table, c *client) error {
	for _, path := range []string{"/sign-in", "/yard"} {
		w := c.send("GET", path, nil)
		total := w.Body.Len()
		seen := map[string]bool{}
		plain, err := gzip.NewReader(w.Body)
		if err != nil {
			return err
		}
		html, err := io.ReadAll(plain)
		if err != nil {
			return err
		}
		for _, m := range linked.FindAllStringSubmatch(string(html), -1) {
			if !seen[m[1]] {
				seen[m[1]] = true
				total += c.send("GET", m[1], nil).Body.Len()
			}
		}
		// The other two faces are asked for by the style sheet.
		for _, face := range []string{"atkinson-700.woff2", "zilla-700.woff2"} {
			total += c.send("GET", "/static/x/vendor/"+face, nil).Body.Len()
		}
		what := "first page " + path + " with all it loads, compressed"
		if path == "/yard" {
			t.note(what+" (500 machines)", fmt.Sprintf("%d kB", total/1000))
			continue
		}
		t.row(what, "200 kB", fmt.Sprintf("%d kB", total/1000), total <= 200_000)
	}
	return nil
}

// starting runs the real program on a yard until it answers.
func starting(t *table, large, what string) error {
	var took times
	for range 5 {
		server := exec.Command("bin/vespers", "serve", "--db", large, "--addr", "127.0.0.1:0")
		out, err := server.StdoutPipe()
		if err != nil {
			return err
		}
		began := time.Now()
		if err := server.Start(); err != nil {
			return err
		}
		line := make([]byte, 200)
		n, err := out.Read(line)
		if err != nil {
			return err
		}
		at := regexp.MustCompile(`http://\S+`).FindString(string(line[:n]))
		response, err := http.Get(at + "/healthz")
		if err != nil {
			return err
		}
		response.Body.Close()
		took = append(took, time.Since(began))
		if err := server.Process.Signal(os.Interrupt); err != nil {
			return err
		}
		server.Wait()
	}
	t.row(what+", to the first answer", "300 ms", ms(took.median()), took.median() <= 300*time.Millisecond)
	return nil
}
