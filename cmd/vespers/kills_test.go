package main_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"vespers/demo"
	"vespers/store"
)

// kills is how often the server is killed.
const kills = 60

// client is somebody at a device that keeps what was not said to be saved, and
// sends it again under the same id.
type client struct {
	who     string
	address string
	http    *http.Client
	over    *atomic.Bool
	n       int
	saved   []string
	refused []string // with a status that no kill explains
}

func newClient(who, address string, over *atomic.Bool) *client {
	jar, _ := cookiejar.New(nil)
	return &client{who: who, address: address, over: over,
		http: &http.Client{Jar: jar, Timeout: 5 * time.Second, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
}

// once sends a form once; the status is 0 where no answer came.
func (c *client) once(path string, form url.Values) (status int, saved bool) {
	r, err := http.NewRequest("POST", c.address+path, strings.NewReader(form.Encode()))
	if err != nil {
		return 0, false
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Accept", "application/json")
	response, err := c.http.Do(r)
	if err != nil {
		return 0, false
	}
	defer response.Body.Close()
	var body struct{ Saved bool }
	_ = json.NewDecoder(response.Body).Decode(&body)
	return response.StatusCode, body.Saved
}

// signIn signs in with the right PIN, over kills.
func (c *client) signIn() {
	for !c.over.Load() {
		status, _ := c.once("/sign-in/"+c.who, url.Values{"pin": {demo.PINs()[c.who]}})
		if status == http.StatusSeeOther || status == http.StatusOK {
			return
		}
		if status != 0 && status < 500 {
			c.refused = append(c.refused, fmt.Sprintf("sign-in %d", status))
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// say sends something until it is said to be saved, and gives its id.
func (c *client) say(path string, pairs ...string) string {
	c.n++
	id := fmt.Sprintf("%s-%06d", c.who, c.n)
	form := url.Values{"id": {id}}
	for i := 0; i+1 < len(pairs); i += 2 {
		form.Set(pairs[i], pairs[i+1])
	}
	for {
		switch status, saved := c.once(path, form); {
		case saved:
			c.saved = append(c.saved, id)
			return id
		case status == http.StatusUnauthorized:
			c.signIn()
		case status != 0 && status < 500:
			c.refused = append(c.refused, fmt.Sprintf("%s %s %d", id, path, status))
			return ""
		}
		if c.over.Load() {
			return ""
		}
		time.Sleep(10 * time.Millisecond)
	}
}

// inspects answers and corrects a point of an outing, over and over.
func (c *client) inspects(machine string) {
	start := c.say("/machines/"+machine+"/outing", "both", "yes")
	o := "/outings/o-" + start
	c.say(o+"/ready", "fit", "yes", "option["+machine+".discharge]", "chute")
	last := ""
	for !c.over.Load() {
		form := []string{"machine", machine, "check", "seat_belt", "answer", "sound"}
		if last != "" {
			form = append(form, "supersedes", last)
		}
		if id := c.say(o+"/answer", form...); id != "" {
			last = id
		}
	}
}

// leads lends PINs and adds people.
func (c *client) leads() {
	for !c.over.Load() {
		c.say("/people/osk/pin", "pin", fmt.Sprintf("73%04d", 1000+c.n))
		c.say("/people", "name", fmt.Sprintf("Helper %s %d", strings.Repeat("i", 1+c.n%7), c.n), "role", "trainee", "language", "en", "pin", "835127")
	}
}

// settles changes their own settings.
func (c *client) settles() {
	for !c.over.Load() {
		c.say("/me", "language", "en", "units", []string{"us", "metric"}[c.n%2], "theme", "auto")
	}
}

// comesAndGoes signs in and out with the right PIN.
func (c *client) comesAndGoes() {
	for !c.over.Load() {
		c.signIn()
		c.once("/sign-out", url.Values{})
	}
}

// TestSixtyKills kills the real server sixty times while six people say
// different things. Everything that was said to be saved is there, once; what
// pages are made from is what a rebuild makes; nobody's right PIN counted as a
// wrong one.
func TestSixtyKills(t *testing.T) {
	if testing.Short() {
		t.Skip("a minute of kills")
	}
	bin := program(t)
	file := filepath.Join(t.TempDir(), "yard.vespers")
	free, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	at := free.Addr().String()
	free.Close()
	args := []string{"demo", "--db", file, "--addr", at}
	server, address := run(t, bin, args...)

	var over atomic.Bool
	var wait sync.WaitGroup
	var clients []*client
	for who, does := range map[string]func(*client){
		"ines":   func(c *client) { c.inspects("verger") },
		"tobias": func(c *client) { c.inspects("sexton") },
		"lucia":  func(c *client) { c.inspects("ostiary") },
		"maren":  (*client).leads,
		"ruth":   (*client).settles,
		"jonah":  (*client).comesAndGoes,
	} {
		c := newClient(who, address, &over)
		clients = append(clients, c)
		wait.Add(1)
		go func() {
			defer wait.Done()
			c.signIn()
			does(c)
		}()
	}
	for range kills {
		time.Sleep(time.Duration(100+rand.IntN(400)) * time.Millisecond)
		server.Process.Kill()
		server.Wait()
		server, _ = run(t, bin, args...)
	}
	over.Store(true)
	wait.Wait()
	server.Process.Kill()
	server.Wait()

	if out, err := exec.Command(bin, "verify", "--db", file).CombinedOutput(); err != nil {
		t.Errorf("verify before anything is mended: %v\n%s", err, out)
	}
	s, err := store.Open(context.Background(), file)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	// Verify compares every projection with a rebuild.
	if r, err := s.Verify(context.Background()); err != nil || len(r.Problems) > 0 {
		t.Errorf("%v %v", r.Problems, err)
	}
	total := 0
	for _, c := range clients {
		for _, id := range c.saved {
			var times int
			if err := s.Sessions().QueryRow("SELECT count(*) FROM record WHERE id=?", id).Scan(&times); err != nil || times != 1 {
				t.Errorf("%s was said to be saved and is there %d times: %v", id, times, err)
			}
		}
		if len(c.refused) > 0 {
			t.Errorf("%s was refused %d times: %v", c.who, len(c.refused), c.refused[:min(5, len(c.refused))])
		}
		if len(c.saved) == 0 && c.who != "jonah" {
			t.Errorf("%s saved nothing: the test shows little", c.who)
		}
		total += len(c.saved)
	}
	if total < 2*kills { // on a busy machine one of them may be left behind
		t.Errorf("%d answers in %d kills: the test shows little", total, kills)
	}
	t.Logf("%d kills, %d answers said to be saved", kills, total)
}
