// Package web is the interface: pages rendered on the server, answers taken as
// forms. It holds no rule of the job; it asks the core and shows the reasons.
package web

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"vespers/core/text"
	"vespers/core/unit"
	"vespers/photo"
	"vespers/say"
	"vespers/store"
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
	// Demo lists people with their PINs on the sign-in page of the demo.
	Demo map[string]string
}

type server struct {
	Config
	engine   *gin.Engine
	sessions *scs.SessionManager
	pages    *pages
	assets   *assets
}

// maxBody bounds what a client may send.
const maxBody = 64 << 10

// New makes the handler of a yard. Close the returned stop when done.
func New(c Config) (handler http.Handler, stop func(), err error) {
	if c.Idle == 0 {
		c.Idle = 15 * time.Minute
	}
	if c.Now == nil {
		c.Now = time.Now
	}
	gin.SetMode(gin.ReleaseMode)
	s := &server{Config: c, engine: gin.New()}
	if s.assets, err = loadAssets(); err != nil {
		return nil, nil, err
	}
	if s.pages, err = loadPages(); err != nil {
		return nil, nil, err
	}
	sessions := sqlite3store.NewWithCleanupInterval(c.Store.Sessions(), 10*time.Minute)
	s.sessions = scs.New()
	s.sessions.Store = sessions
	s.sessions.Codec = jsonCodec{}
	s.sessions.Lifetime = 12 * time.Hour
	s.sessions.Cookie.Name = "vespers"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = c.Secure
	s.sessions.ErrorFunc = s.sessionFailed
	if err := s.engine.SetTrustedProxies(nil); err != nil {
		return nil, nil, err
	}
	s.engine.HandleMethodNotAllowed = true
	s.engine.Use(s.observe, s.headers, gzip.Gzip(5, gzip.WithCustomShouldCompressFn(compressed)), s.limit)
	for _, r := range s.routes() {
		s.engine.Handle(r.method, r.path, s.admit(r))
	}
	s.engine.NoRoute(func(g *gin.Context) { s.fail(s.visit(g), store.ErrNotFound) })
	s.engine.NoMethod(func(g *gin.Context) { g.AbortWithStatus(http.StatusMethodNotAllowed) })
	origin := http.NewCrossOriginProtection()
	return origin.Handler(s.withSessions(s.engine)), sessions.StopCleanup, nil
}

// compressed: pages and text files are; answers to a form are a line or two, and
// faces and pictures are packed already.
func compressed(g *gin.Context) bool {
	switch path.Ext(g.Request.URL.Path) {
	case ".woff2", ".png", ".jpg":
		return false
	}
	return g.Request.Method == http.MethodGet && strings.Contains(g.GetHeader("Accept-Encoding"), "gzip")
}

// begun is where withSessions keeps, in a request's context, whether its page
// was begun.
type begun struct{}

// withSessions gives every page its session; files that ship with the program
// and the health check have none.
func (s *server) withSessions(pages http.Handler) http.Handler {
	sessions := s.sessions.LoadAndSave(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		*r.Context().Value(begun{}).(*bool) = true
		pages.ServeHTTP(w, r)
	}))
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/static/") || r.URL.Path == "/healthz" {
			pages.ServeHTTP(w, r)
			return
		}
		sessions.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), begun{}, new(bool))))
	})
}

// sessionFailed: a session that cannot be written (a full disk) must not cost
// the page, whoever is signed in can still read; one that cannot be read must.
func (s *server) sessionFailed(w http.ResponseWriter, r *http.Request, err error) {
	s.Log.Error("session", "path", r.URL.Path, "error", err)
	if page, ok := r.Context().Value(begun{}).(*bool); ok && *page {
		return
	}
	voice := say.NewVoice(text.English, unit.Metric, nil)
	http.Error(w, voice.T("error.busy"), http.StatusServiceUnavailable)
}

// observe logs each request without saying who made it or what they typed.
func (s *server) observe(g *gin.Context) {
	began := time.Now()
	defer func() {
		if p := recover(); p != nil {
			s.Log.Error("panic", "route", g.FullPath(), "panic", p)
			if !g.Writer.Written() {
				s.fail(s.visit(g), errors.New("panic"))
			}
		}
		s.Log.Info("request", "method", g.Request.Method, "route", g.FullPath(), "status", g.Writer.Status(), "ms", float64(time.Since(began).Microseconds())/1000)
	}()
	g.Next()
}

// policy allows this server's own files and nothing else.
const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

func (s *server) headers(g *gin.Context) {
	h := g.Writer.Header()
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(self), microphone=(), geolocation=()")
	if s.Secure {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
	g.Next()
}

func (s *server) limit(g *gin.Context) {
	most := int64(maxBody)
	if g.FullPath() == photoRoute {
		most = photo.MaxUpload + maxBody
	}
	g.Request.Body = http.MaxBytesReader(g.Writer, g.Request.Body, most)
	g.Next()
}

func (s *server) health(v *visit) {
	ctx, cancel := context.WithTimeout(v.ctx(), 2*time.Second)
	defer cancel()
	if err := s.Store.Healthy(ctx); err != nil {
		v.gin.String(http.StatusServiceUnavailable, "unwell\n")
		return
	}
	v.gin.String(http.StatusOK, "ok\n")
}
