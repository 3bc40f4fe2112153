// Package web is the server: the features' addresses, sessions, headers and the
// files that ship with the program. It holds no rule of the job.
package web

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"

	"vespers/outside"
	"vespers/store"
	"vespers/web/bench"
	"vespers/web/calendar"
	"vespers/web/care"
	"vespers/web/day"
	"vespers/web/defects"
	"vespers/web/find"
	"vespers/web/ground"
	"vespers/web/house"
	"vespers/web/models"
	"vespers/web/muster"
	"vespers/web/outings"
	devices "vespers/web/outside"
	"vespers/web/page"
	"vespers/web/paper"
	"vespers/web/people"
	"vespers/web/signin"
	"vespers/web/vespers"
	"vespers/web/wall"
	"vespers/web/yard"
)

// Config is what a server needs.
type Config struct {
	Store *store.Store
	Log   *slog.Logger
	// Secure marks cookies for HTTPS only.
	Secure bool
	// Idle ends a session on a shared tablet after this long without a page.
	Idle time.Duration
	// Now is the clock that pages go by; left out, the machine's own.
	Now func() time.Time
	// Backups writes the yard's backups; nil where nobody asked for that.
	Backups *store.Keeper
	// Outside are the devices beside the yard; nil where there are none.
	Outside *outside.Desk
	// Demo lists people with their PINs on the sign-in page of the demo.
	Demo map[string]string
}

// Routes are every feature's addresses.
func Routes() []page.Route {
	return slices.Concat(signin.Routes(), yard.Routes(), models.Routes(), outings.Routes(), defects.Routes(), bench.Routes(), wall.Routes(), paper.Routes(), day.Routes(), vespers.Routes(), muster.Routes(), ground.Routes(), calendar.Routes(), devices.Routes(), people.Routes(), care.Routes(), house.Routes(), find.Routes())
}

// New makes the handler of a yard. Call the returned stop when done.
func New(c Config) (handler http.Handler, stop func(), err error) {
	if c.Idle == 0 {
		c.Idle = 15 * time.Minute
	}
	if c.Now == nil {
		c.Now = time.Now
	}
	files, err := loadAssets()
	if err != nil {
		return nil, nil, err
	}
	sessions, stop := newSessions(c)
	site := &page.Site{Store: c.Store, Log: c.Log, Sessions: sessions, Now: c.Now, Idle: c.Idle, Secure: c.Secure, Demo: c.Demo, Backups: c.Backups, Outside: c.Outside, Static: files.prefix}
	pages, err := page.Handler(site, Routes(), map[string]http.HandlerFunc{"/healthz": health(c.Store), "/static/*file": files.serve})
	if err != nil {
		return nil, nil, err
	}
	origin := http.NewCrossOriginProtection()
	return headers(c.Secure, origin.Handler(withSessions(sessions, pages))), stop, nil
}

// begun is where withSessions keeps, in a request's context, whether its page
// was begun.
type begun struct{}

// withSessions gives every page its session; files that ship with the program
// and the health check have none.
func withSessions(sessions *scs.SessionManager, pages http.Handler) http.Handler {
	within := sessions.LoadAndSave(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		*r.Context().Value(begun{}).(*bool) = true
		pages.ServeHTTP(w, r)
	}))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/static/") || r.URL.Path == "/healthz" {
			pages.ServeHTTP(w, r)
			return
		}
		within.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), begun{}, new(bool))))
	})
}

// policy allows this server's own files and nothing else.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

func headers(secure bool, pages http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), microphone=(self), geolocation=()")
		if secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		pages.ServeHTTP(w, r)
	})
}

// health says whether the yard can be read and written.
func health(s *store.Store) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
		defer cancel()
		status, words := http.StatusServiceUnavailable, "unwell\n"
		switch err := s.Healthy(ctx); {
		case err == nil:
			status, words = http.StatusOK, "ok\n"
		case errors.Is(err, store.ErrFull):
			words = "the disk is full\n"
		case errors.Is(err, store.ErrReadOnly):
			words = "the file cannot be written\n"
		}
		w.Header().Set("Content-Type", "text/plain; charset=utf-8")
		w.WriteHeader(status)
		io.WriteString(w, words)
	}
}
