package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	core "vespers/core/yard"
	"vespers/demo"
	"vespers/store"
)

// TestAnswersOfAnotherWait: what waits on a device is sent only under the person
// who gave it.
func TestAnswersOfAnotherWait(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	before, err := y.store.Newest(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	r, err := http.NewRequest("POST", y.server.URL+"/me", strings.NewReader(url.Values{"id": {"waits-0001"}, "language": {"es"}, "units": {"us"}, "theme": {"auto"}}.Encode()))
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("Accept", "application/json")
	r.Header.Set("X-Vespers-Person", "ines")
	response, err := b.client.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	var said struct {
		Waits bool   `json:"waits"`
		Error string `json:"error"`
	}
	if err := json.NewDecoder(response.Body).Decode(&said); err != nil || response.StatusCode != http.StatusConflict || !said.Waits || !strings.Contains(said.Error, "Inés") {
		t.Errorf("%d %+v %v", response.StatusCode, said, err)
	}
	if after, err := y.store.Newest(t.Context()); err != nil || after.Seq != before.Seq {
		t.Errorf("something was recorded: %v", err)
	}
}

// TestSignInLeadsNowhereElse: not to another host, however it is written.
func TestSignInLeadsNowhereElse(t *testing.T) {
	y := wrenfield(t)
	for _, next := range []string{"//elsewhere.example/", "/\t/elsewhere.example/", "/\\elsewhere.example", "https://elsewhere.example", "/\r\n/x", "/%09/elsewhere.example", "yard", ""} {
		r, _ := y.browser().do("POST", "/sign-in/ines", url.Values{"pin": {demo.PINs()["ines"]}, "next": {next}})
		to, err := url.Parse(r.Header.Get("Location"))
		if err != nil || to.Host != "" || strings.ContainsAny(r.Header.Get("Location"), "\t\\") || strings.HasPrefix(r.Header.Get("Location"), "//") {
			t.Errorf("%q leads to %q", next, r.Header.Get("Location"))
		}
	}
	if r, _ := y.browser().do("POST", "/sign-in/ines", url.Values{"pin": {demo.PINs()["ines"]}, "next": {"/machines/verger?x=1"}}); r.Header.Get("Location") != "/machines/verger?x=1" {
		t.Errorf("a page of our own: %q", r.Header.Get("Location"))
	}
}

// TestSignOutTakesTheCookieAway, also where nothing can be written any more.
func TestSignOutTakesTheCookieAway(t *testing.T) {
	for _, full := range []bool{false, true} {
		t.Run(fmt.Sprintf("full disk %v", full), func(t *testing.T) {
			y := wrenfield(t)
			b := y.as("maren")
			if full {
				if err := y.store.LimitPages(context.Background(), 1); err != nil {
					t.Fatal(err)
				}
			}
			at, err := url.Parse(y.server.URL)
			if err != nil {
				t.Fatal(err)
			}
			had := len(b.client.Jar.Cookies(at))
			b.post("/sign-out")
			if now := len(b.client.Jar.Cookies(at)); now >= had {
				t.Errorf("%d cookies before, %d after", had, now)
			}
			if status, _ := b.get("/people"); status != http.StatusSeeOther {
				t.Errorf("still signed in: %d", status)
			}
		})
	}
}

// TestASignedOutSessionStaysSo: neither its cookie nor a request that was under
// way brings it back.
func TestASignedOutSessionStaysSo(t *testing.T) {
	y := wrenfield(t)
	b := y.as("maren")
	at, err := url.Parse(y.server.URL)
	if err != nil {
		t.Fatal(err)
	}
	kept := b.client.Jar.Cookies(at)
	// A slow request whose body has not all come when the sign-out is over.
	body, slow := newSlowBody("language=en&units=us&theme=auto&id=slow-0001")
	r, err := http.NewRequest("POST", y.server.URL+"/me", body)
	if err != nil {
		t.Fatal(err)
	}
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	for _, c := range kept {
		r.AddCookie(c)
	}
	done := make(chan struct{})
	go func() {
		defer close(done)
		if response, err := http.DefaultClient.Do(r); err == nil {
			response.Body.Close()
		}
	}()
	slow.half()
	b.post("/sign-out")
	slow.rest()
	<-done
	stolen := y.browser()
	stolen.client.Jar.SetCookies(at, kept)
	if status, _ := stolen.get("/people"); status != http.StatusSeeOther {
		t.Errorf("a session that was ended opens /people: %d", status)
	}
}

// slowBody gives half of a text, waits, and gives the rest.
type slowBody struct {
	first, second string
	sent          chan struct{}
	go1           chan struct{}
	once          sync.Once
	read          int
}

func newSlowBody(s string) (*slowBody, *slowBody) {
	b := &slowBody{first: s[:len(s)/2], second: s[len(s)/2:], sent: make(chan struct{}), go1: make(chan struct{})}
	return b, b
}

func (b *slowBody) half() { <-b.sent }
func (b *slowBody) rest() { close(b.go1) }

func (b *slowBody) Read(p []byte) (int, error) {
	b.read++
	switch b.read {
	case 1:
		return copy(p, b.first), nil
	case 2:
		b.once.Do(func() { close(b.sent) })
		<-b.go1
		return copy(p, b.second), nil
	}
	return 0, errEnd
}

var errEnd = func() error { _, err := strings.NewReader("").Read(make([]byte, 1)); return err }()

// TestAnewPINEndsSessions: whoever was signed in with the old one is not.
func TestANewPINEndsSessions(t *testing.T) {
	y := wrenfield(t)
	jonah, maren := y.as("jonah"), y.as("maren")
	if status, text := maren.post("/people/jonah/pin", "id", "reset-0001", "pin", "7391"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if status, _ := jonah.get("/yard"); status != http.StatusSeeOther {
		t.Errorf("the old session goes on: %d", status)
	}
	again := y.browser()
	if status, _ := again.post("/sign-in/jonah", "pin", "7391"); status != http.StatusSeeOther {
		t.Fatal("the lent PIN does not open")
	}
	r, _ := again.do("GET", "/yard", nil)
	if r.StatusCode != http.StatusSeeOther || !strings.Contains(r.Header.Get("Location"), "pin") {
		t.Errorf("a lent PIN opens the yard: %d %s", r.StatusCode, r.Header.Get("Location"))
	}
	if status, text := again.post("/me/pin", "id", "own-0001", "pin", "7391", "pin_again", "7391"); status == http.StatusSeeOther {
		t.Error("the lent PIN can be kept:", text)
	}
	if status, text := again.post("/me/pin", "id", "own-0002", "pin", "582914", "pin_again", "582914"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if status, _ := again.get("/yard"); status != http.StatusOK {
		t.Errorf("one's own PIN does not open the yard: %d", status)
	}
}

// TestWhoHasLeftCannotSignIn, even with the right PIN, and is not told that it
// was right.
func TestWhoHasLeftCannotSignIn(t *testing.T) {
	y := wrenfield(t)
	maren := y.as("maren")
	if status, text := maren.post("/people/osk/left", "id", "left-0001"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	b := y.browser()
	if r, _ := b.do("POST", "/sign-in/osk", url.Values{"pin": {demo.PINs()["osk"]}}); r.StatusCode != http.StatusNotFound || r.Header.Get("Set-Cookie") != "" && strings.Contains(r.Header.Get("Set-Cookie"), "session") {
		t.Errorf("%d %q", r.StatusCode, r.Header.Get("Set-Cookie"))
	}
}

// TestLookingLeavesNoSession: a visit without a person is not kept.
func TestLookingLeavesNoSession(t *testing.T) {
	y := wrenfield(t)
	for range 20 {
		y.browser().get("/sign-in?lang=es")
	}
	var n int
	if err := y.store.Sessions().QueryRow("SELECT count(*) FROM sessions").Scan(&n); err != nil || n != 0 {
		t.Errorf("%d sessions of nobody, %v", n, err)
	}
}

// TestSessionsAreKeptHashed: a copy of the file opens nothing.
func TestSessionsAreKeptHashed(t *testing.T) {
	y := wrenfield(t)
	b := y.as("maren")
	at, err := url.Parse(y.server.URL)
	if err != nil {
		t.Fatal(err)
	}
	var token string
	if err := y.store.Sessions().QueryRow("SELECT token FROM sessions").Scan(&token); err != nil {
		t.Fatal(err)
	}
	for _, c := range b.client.Jar.Cookies(at) {
		if c.Value == token || strings.Contains(c.Value, token) {
			t.Errorf("cookie %s is in the file", c.Name)
		}
	}
}

// TestHealth answers without a body where asked so, and tells of a full disk.
func TestHealth(t *testing.T) {
	y := wrenfield(t)
	b := y.browser()
	if r, _ := b.do("HEAD", "/healthz", nil); r.StatusCode != http.StatusOK {
		t.Errorf("HEAD: %d", r.StatusCode)
	}
	if err := y.store.LimitPages(t.Context(), 1); err != nil {
		t.Fatal(err)
	}
	full := y.as("ines")
	for n := 0; n < 400; n++ {
		if status, _ := full.post("/me", "id", fmt.Sprintf("fill-%08d", n), "language", "en", "units", "us", "theme", "auto"); status == http.StatusInsufficientStorage {
			break
		}
	}
	deadline := time.Now().Add(15 * time.Second)
	for {
		status, _ := b.get("/healthz")
		if status >= 500 {
			return
		}
		if time.Now().After(deadline) {
			t.Fatalf("a full disk is healthy: %d", status)
		}
		time.Sleep(200 * time.Millisecond)
	}
}

// TestAWrongClockIsSaidOnEveryPage to everybody, also after a restart, until a
// lead says that it is right.
func TestAWrongClockIsSaidOnEveryPage(t *testing.T) {
	y := wrenfield(t)
	// The clock stood in the evening once; then it was put right.
	ahead := time.Now().Add(16 * time.Hour)
	if _, err := y.store.WithClock(func() time.Time { return ahead }).Do(t.Context(), store.Entry{ID: "ahead-0001", Person: "ines"}, core.SetOwn{Language: "en", Units: "us", Theme: "auto"}); err != nil {
		t.Fatal(err)
	}
	const says = "clock-wrong"
	for _, who := range []string{"tobias", "osk", "maren"} {
		b := y.as(who)
		for _, page := range []string{"/yard", "/yard/list", "/day", "/me"} {
			if _, text := b.get(page); !strings.Contains(text, says) {
				t.Errorf("%s is not told on %s", who, page)
			}
		}
	}
	tobias, maren := y.as("tobias"), y.as("maren")
	if status, _ := tobias.post("/clock", "id", "clock-0001", "reason", "Battery"); status != http.StatusForbidden {
		t.Errorf("an operator ends it: %d", status)
	}
	if status, text := maren.post("/clock", "id", "clock-0002", "reason", "Battery"); status != http.StatusSeeOther {
		t.Fatal(status, text)
	}
	if _, text := tobias.get("/yard"); strings.Contains(text, says) {
		t.Error("it is still said")
	}
	last, err := y.store.Newest(t.Context())
	if err != nil || last.Kind != "clock_wrong" || last.At.After(time.Now().Add(time.Minute)) {
		t.Errorf("%s at %v, %v", last.Kind, last.At, err)
	}
}

// TestPicturesAtOnce: where too many come, some are told to come again, and none
// is an error; the program's memory stays small.
func TestPicturesAtOnce(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	o := b.take("verger")
	b.post(o+"/ready", "id", "many-ready1", "option[verger.discharge]", "chute", "fit", "yes")
	b.accept = "application/json"
	if status, text := b.post(o+"/answer", "id", "many-found1", "machine", "verger", "check", "castors", "answer", "fault", "fault", "grease"); status != http.StatusOK {
		t.Fatal(status, text)
	}
	var large bytes.Buffer
	if err := png.Encode(&large, image.NewGray(image.Rect(0, 0, 9000, 9000))); err != nil {
		t.Fatal(err)
	}
	var wait sync.WaitGroup
	said := make([]int, 12)
	for n := range said {
		wait.Add(1)
		go func() {
			defer wait.Done()
			said[n], _ = b.upload(o+"/photo", large.Bytes(), "id", fmt.Sprintf("many-%06d", n), "machine", "verger", "check", "castors", "finding", "many-found1")
		}()
	}
	wait.Wait()
	busy := 0
	for _, status := range said {
		switch status {
		case http.StatusOK:
		case http.StatusServiceUnavailable:
			busy++
		default:
			t.Errorf("%d", status)
		}
	}
	if busy == 0 || busy == len(said) {
		t.Errorf("%d of %d were told to come again", busy, len(said))
	}
}
