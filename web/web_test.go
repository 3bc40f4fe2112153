package web_test

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"vespers/catalogue"
	"vespers/demo"
	"vespers/store"
	"vespers/web"
)

type yard struct {
	*testing.T
	server *httptest.Server
	store  *store.Store
	log    *strings.Builder
}

// filled is a whole demo yard as a file: filling one takes seconds, and every test wants
// one of its own.
var filled = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "vespers-web-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	ctx := context.Background()
	s, err := store.Open(ctx, filepath.Join(dir, "yard"))
	if err != nil {
		return nil, err
	}
	defer s.Close()
	if err := withSheets(ctx, s); err != nil {
		return nil, err
	}
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		return nil, err
	}
	copied := filepath.Join(dir, "copy")
	if _, err := s.Backup(ctx, copied); err != nil {
		return nil, err
	}
	return os.ReadFile(copied)
})

func withSheets(ctx context.Context, s *store.Store) error {
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

// newYard is one that nobody has set up.
func newYard(t *testing.T) *yard { return yardOf(t, nil) }

// yardOf serves a yard from a file, or a new one.
func yardOf(t *testing.T, file []byte) *yard {
	t.Helper()
	ctx, path := context.Background(), filepath.Join(t.TempDir(), "yard")
	if file != nil {
		if err := os.WriteFile(path, file, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	s, err := store.Open(ctx, path)
	if err != nil {
		t.Fatal(err)
	}
	if file == nil {
		if err := withSheets(ctx, s); err != nil {
			t.Fatal(err)
		}
	}
	log := &strings.Builder{}
	handler, stop, err := web.New(web.Config{Store: s, Log: slog.New(slog.NewTextHandler(log, nil)), Idle: time.Hour})
	if err != nil {
		t.Fatal(err)
	}
	y := &yard{T: t, server: httptest.NewServer(handler), store: s, log: log}
	t.Cleanup(func() { y.server.Close(); stop(); s.Close() })
	return y
}

func wrenfield(t *testing.T) *yard {
	t.Helper()
	file, err := filled()
	if err != nil {
		t.Fatal(err)
	}
	return yardOf(t, file)
}

// browser keeps cookies and does not follow redirects.
type browser struct {
	y      *yard
	client *http.Client
	accept string
}

func (y *yard) browser() *browser {
	jar, _ := cookiejar.New(nil)
	return &browser{y: y, client: &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
}

func (y *yard) as(person string) *browser {
	y.Helper()
	b := y.browser()
	if status, _ := b.post("/sign-in/"+person, "pin", demo.PINs()[person]); status != http.StatusSeeOther {
		y.Fatalf("%s cannot sign in: %d", person, status)
	}
	return b
}

func (b *browser) do(method, path string, form url.Values) (*http.Response, string) {
	b.y.Helper()
	var body io.Reader
	if form != nil {
		body = strings.NewReader(form.Encode())
	}
	r, err := http.NewRequest(method, b.y.server.URL+path, body)
	if err != nil {
		b.y.Fatal(err)
	}
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	if b.accept != "" {
		r.Header.Set("Accept", b.accept)
	}
	response, err := b.client.Do(r)
	if err != nil {
		b.y.Fatal(err)
	}
	defer response.Body.Close()
	text, err := io.ReadAll(response.Body)
	if err != nil {
		b.y.Fatal(err)
	}
	return response, string(text)
}

func (b *browser) get(path string) (int, string) {
	b.y.Helper()
	r, text := b.do("GET", path, nil)
	return r.StatusCode, text
}

func (b *browser) post(path string, pairs ...string) (int, string) {
	b.y.Helper()
	form := url.Values{}
	for i := 0; i+1 < len(pairs); i += 2 {
		form.Add(pairs[i], pairs[i+1])
	}
	r, text := b.do("POST", path, form)
	return r.StatusCode, text
}

func (y *yard) outingOf(machine string) string {
	y.Helper()
	m, err := y.store.Machine(context.Background(), machine)
	if err != nil {
		y.Fatal(err)
	}
	return m.Outing
}

func TestHeaders(t *testing.T) {
	y := wrenfield(t)
	for _, path := range []string{"/sign-in", "/healthz", "/no-such-page"} {
		r, _ := y.browser().do("GET", path, nil)
		policy := r.Header.Get("Content-Security-Policy")
		if policy == "" || strings.Contains(policy, "unsafe") || r.Header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s: %v", path, r.Header)
		}
	}
	b := y.as("ines")
	u, _ := url.Parse(y.server.URL)
	r, _ := b.do("POST", "/sign-in/ines", url.Values{"pin": {"2608"}})
	cookie := r.Header.Get("Set-Cookie")
	if !strings.Contains(cookie, "HttpOnly") || !strings.Contains(cookie, "SameSite=Lax") || len(b.client.Jar.Cookies(u)) != 1 {
		t.Errorf("cookie: %s", cookie)
	}
}

func TestOtherSitesMayNotPost(t *testing.T) {
	y := wrenfield(t)
	b := y.as("ines")
	for _, header := range [][2]string{{"Sec-Fetch-Site", "cross-site"}, {"Origin", "https://elsewhere.example"}} {
		r, _ := http.NewRequest("POST", y.server.URL+"/sign-out", nil)
		r.Header.Set(header[0], header[1])
		response, err := b.client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		response.Body.Close()
		if response.StatusCode != http.StatusForbidden {
			t.Errorf("%s: %d", header, response.StatusCode)
		}
	}
	if status, _ := b.get("/yard"); status != http.StatusOK {
		t.Error("the session was ended by another site")
	}
}

func TestLargeBodiesAreRefused(t *testing.T) {
	y := wrenfield(t)
	if status, _ := y.as("ines").post("/machines/verger/outing", "id", "large-body-1", "note", strings.Repeat("x", 100<<10)); status == http.StatusSeeOther {
		t.Error("a body of 100 kB was taken")
	}
}

func TestLogsSayNothingPersonal(t *testing.T) {
	y := wrenfield(t)
	b := y.as("ines")
	b.post("/sign-in/tobias", "pin", "9999")
	b.get("/yard")
	b.get("/machines/beadle")
	if log := y.log.String(); log == "" || regexp.MustCompile(`(?i)9999|2608|Carvanal|Fennimar|\bines\b|tobias`).MatchString(log) {
		t.Errorf("log: %s", log)
	}
}

func TestFirstVisit(t *testing.T) {
	y := newYard(t)
	b := y.browser()
	if r, _ := b.do("GET", "/", nil); r.Header.Get("Location") != "/setup" {
		t.Fatalf("first visit leads to %q", r.Header.Get("Location"))
	}
	for name, form := range map[string][]string{
		"letters":   {"pin", "abcd", "pin_again", "abcd", "name", "Ida", "yard", "Y", "timezone", "UTC"},
		"differ":    {"pin", "5093", "pin_again", "5094", "name", "Ida", "yard", "Y", "timezone", "UTC"},
		"no name":   {"pin", "5093", "pin_again", "5093", "yard", "Y", "timezone", "UTC"},
		"no zone":   {"pin", "5093", "pin_again", "5093", "name", "Ida", "yard", "Y", "timezone", "Mars/Base"},
		"bad chars": {"pin", "12 4", "pin_again", "12 4", "name", "Ida", "yard", "Y", "timezone", "UTC"},
	} {
		t.Run(name, func(t *testing.T) {
			status, text := b.post("/setup", append(form, "id", "setup-form-1")...)
			if status != http.StatusUnprocessableEntity || !strings.Contains(text, `role="alert"`) {
				t.Errorf("%s: %d", name, status)
			}
			if strings.Contains(name, "letters") && !strings.Contains(text, `value="Ida"`) {
				t.Error("what was typed is gone")
			}
		})
	}
	r, _ := b.do("POST", "/setup", url.Values{"pin": {"5093"}, "pin_again": {"5093"}, "name": {"Ida Northwold"}, "yard": {"Quiet Hill"}, "timezone": {"Europe/Dublin"}, "id": {"setup-form-2"}})
	lead := r.Header.Get("Location")
	if !strings.HasPrefix(lead, "/sign-in/") {
		t.Fatalf("set-up leads to %q", lead)
	}
	if status, _ := b.post("/setup", "pin", "5093", "pin_again", "5093", "name", "Eve", "yard", "Y", "timezone", "UTC", "id", "setup-form-3"); status != http.StatusUnprocessableEntity {
		t.Errorf("set up twice: %d", status)
	}
	b.post(lead, "pin", "5093")
	if _, text := b.get("/yard"); !strings.Contains(text, "Quiet Hill") || !strings.Contains(text, "/machines-new") {
		t.Error("the empty yard does not say what comes first")
	}
	_, form := b.get("/machines-new")
	sheet := regexp.MustCompile(`name="sheet" value="([0-9a-f]+)"`).FindStringSubmatch(form)[1]
	if status, text := b.post("/machines-new", "id", "machine-000", "name", "Verger", "bay", "1", "hours", "a lot", "sheet", sheet); status != http.StatusUnprocessableEntity || !strings.Contains(text, `value="a lot"`) {
		t.Errorf("hours in words: %d", status)
	}
	if status, _ := b.post("/machines-new", "id", "machine-001", "name", "Verger", "bay", "1", "hours", "412,5", "sheet", sheet); status != http.StatusSeeOther {
		t.Error("no machine added")
	}
	if status, _ := b.post("/people", "id", "person-0001", "name", "Bo", "role", "operator", "language", "es", "pin", "4807"); status != http.StatusSeeOther {
		t.Error("no person added")
	}
	if _, text := b.get("/yard"); !strings.Contains(text, "Verger") {
		t.Error("the machine is not in the yard")
	}
}

func TestAnswersThatGoWrong(t *testing.T) {
	y := wrenfield(t)
	o := "/outings/" + y.outingOf("almoner")
	b := y.as("ines")
	b.accept = "application/json"
	reading := func(id, typed string) (int, string) {
		return b.post(o+"/answer", "id", id, "machine", "almoner", "check", "wheel_right_rear", "item", "pressure", "answer", "reading", "typed", typed, "unit", "kPa")
	}
	for typed, want := range map[string]string{"": "Tome la lectura", "1e9": "no es un n", "12 mm": "unidad", "-3": "no puede ser", "999": "no puede ser"} {
		t.Run(typed, func(t *testing.T) {
			if status, text := reading("wrong-"+url.QueryEscape(strings.ToLower(typed))+"-0000", typed); status < 400 || status >= 500 || !strings.Contains(text, want) && !strings.Contains(text, "error") {
				t.Errorf("reading %q: %d %s", typed, status, text)
			}
		})
	}
	if status, text := reading("good-reading-1", "92,5 kPa"); status != http.StatusOK || !strings.Contains(text, `"saved":true`) {
		t.Fatalf("a good reading: %d %s", status, text)
	}
	if status, text := reading("good-reading-1", "92,5 kPa"); status != http.StatusOK {
		t.Errorf("the same answer twice: %d %s", status, text)
	}
	if status, text := reading("good-reading-1", "93"); status != http.StatusConflict || !strings.Contains(text, "92.5") || !strings.Contains(text, "93") {
		t.Errorf("the same id with another answer: %d %s", status, text)
	}
	other := y.as("tobias")
	other.accept = "application/json"
	if status, text := other.post(o+"/answer", "id", "other-hand-1", "machine", "almoner", "check", "wheel_right_rear", "item", "pressure", "answer", "reading", "typed", "94", "unit", "kPa"); status != http.StatusForbidden || !strings.Contains(text, "Inés Carvanal has this") {
		t.Errorf("another person: %d %s", status, text)
	}
	if status, _ := b.post(o+"/answer", "id", "no", "machine", "almoner"); status != http.StatusBadRequest {
		t.Errorf("an id that is none: %d", status)
	}
	gone := y.browser()
	gone.accept = "application/json"
	if status, text := gone.post(o+"/answer", "id", "no-cookie-01", "machine", "almoner"); status != http.StatusUnauthorized || !strings.Contains(text, "sign_in") {
		t.Errorf("a deleted cookie: %d %s", status, text)
	}
}

func TestFullDiskTellsThePerson(t *testing.T) {
	y := wrenfield(t)
	b := y.as("tobias")
	b.accept = "application/json"
	if err := y.store.LimitPages(context.Background(), 1); err != nil {
		t.Fatal(err)
	}
	o := "/outings/" + y.outingOf("almoner")
	status, text := 0, ""
	for n := 0; n < 400 && status != http.StatusInsufficientStorage; n++ {
		status, text = b.post("/me", "id", "fill-disk-"+strings.Repeat("x", 1+n%9)+strings.Repeat("y", n/9), "language", "en", "units", "us", "theme", "auto")
	}
	if status != http.StatusInsufficientStorage || !strings.Contains(text, "disk") {
		t.Fatalf("full disk: %d %s", status, text)
	}
	b.accept = ""
	if status, _ := b.get(o + "/walk"); status != http.StatusOK {
		t.Errorf("pages on a full disk: %d", status)
	}
}

func TestPINPage(t *testing.T) {
	y := wrenfield(t)
	b := y.browser()
	if status, text := b.post("/sign-in/jonah", "pin", "letters"); status != http.StatusUnprocessableEntity || !strings.Contains(text, "digits") {
		t.Errorf("a PIN of letters: %d", status)
	}
	want := []int{http.StatusUnauthorized, http.StatusUnauthorized, http.StatusTooManyRequests, http.StatusTooManyRequests}
	for i, status := range want {
		if got, _ := b.post("/sign-in/jonah", "pin", "0000"); got != status {
			t.Errorf("wrong PIN %d: %d, want %d", i+1, got, status)
		}
	}
	r, _ := y.browser().do("POST", "/sign-in/ines", url.Values{"pin": {"2608"}, "next": {"//elsewhere.example/"}})
	if r.Header.Get("Location") != "/yard" {
		t.Errorf("sign-in leads to %q", r.Header.Get("Location"))
	}
}

// TestABrokenOffRequestSignsNobodyOut: a browser that leaves a page breaks off
// what it was still loading.
func TestABrokenOffRequestSignsNobodyOut(t *testing.T) {
	y := wrenfield(t)
	b := y.as("ines")
	at, _ := url.Parse(y.server.URL)
	for range 20 {
		ctx, leave := context.WithCancel(t.Context())
		leave()
		for _, path := range []string{"/yard", "/static/x/app.css"} {
			r := httptest.NewRequest("GET", path, nil).WithContext(ctx)
			for _, c := range b.client.Jar.Cookies(at) {
				r.AddCookie(c)
			}
			y.server.Config.Handler.ServeHTTP(httptest.NewRecorder(), r)
		}
	}
	if status, _ := b.get("/yard"); status != http.StatusOK {
		t.Errorf("signed out: %d", status)
	}
}

func TestIdleSessionsEnd(t *testing.T) {
	y := wrenfield(t)
	var mu sync.Mutex
	now := time.Now()
	wait := func(d time.Duration) {
		mu.Lock()
		defer mu.Unlock()
		now = now.Add(d)
	}
	clock := func() time.Time {
		mu.Lock()
		defer mu.Unlock()
		return now
	}
	handler, stop, err := web.New(web.Config{Store: y.store, Log: slog.New(slog.DiscardHandler), Now: clock, Idle: 10 * time.Minute})
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	shared := &yard{T: t, server: httptest.NewServer(handler), store: y.store}
	defer shared.server.Close()
	b := shared.as("ines")
	for range 4 {
		wait(6 * time.Minute)
		if status, _ := b.get("/yard"); status != http.StatusOK {
			t.Fatal("a session in use ended")
		}
	}
	// A page that stays open is told what cannot wait, and keeps nobody signed in.
	for range 11 {
		wait(time.Minute)
		if status, _ := b.get("/alerts"); status != http.StatusOK {
			t.Fatal("an open page is told nothing more")
		}
	}
	if status, _ := b.get("/yard"); status != http.StatusSeeOther {
		t.Error("an idle session goes on")
	}
	if status, _ := b.get("/alerts"); status != http.StatusSeeOther {
		t.Error("who is signed out is told on")
	}
}
