package web

// Who is signed in on which device.

import (
	"log/slog"
	"net/http"
	"sync"
	"time"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
)

// newSessions keeps sessions in the yard's file, by a hash of their token: whoever
// reads the file is signed in nowhere.
func newSessions(c Config) (sessions *scs.SessionManager, stop func()) {
	kept := sqlite3store.NewWithCleanupInterval(c.Store.Sessions(), 10*time.Minute)
	sessions = scs.New()
	sessions.Store = &endedStay{SQLite3Store: kept, ended: map[string]time.Time{}}
	sessions.HashTokenInStore = true
	sessions.Codec = jsonCodec{}
	sessions.Lifetime = 12 * time.Hour
	sessions.Cookie.Name = "vespers"
	sessions.Cookie.HttpOnly = true
	sessions.Cookie.SameSite = http.SameSiteLaxMode
	sessions.Cookie.Secure = c.Secure
	sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) { sessionFailed(c.Log, w, r, err) }
	return sessions, kept.StopCleanup
}

// endedStay is a session store in which an ended session stays so, also where a
// slow request that began before writes it down afterwards.
type endedStay struct {
	*sqlite3store.SQLite3Store
	mu    sync.Mutex
	ended map[string]time.Time
}

// slowest is how long a request may take to write its session down.
const slowest = 2 * time.Minute

// Delete implements scs.Store.
func (s *endedStay) Delete(token string) error {
	s.mu.Lock()
	now := time.Now()
	for old, at := range s.ended {
		if now.Sub(at) > slowest {
			delete(s.ended, old)
		}
	}
	s.ended[token] = now
	s.mu.Unlock()
	return s.SQLite3Store.Delete(token)
}

// Commit implements scs.Store.
func (s *endedStay) Commit(token string, b []byte, expiry time.Time) error {
	s.mu.Lock()
	_, ended := s.ended[token]
	s.mu.Unlock()
	if ended {
		return nil
	}
	return s.SQLite3Store.Commit(token, b, expiry)
}

// sessionFailed: a session that cannot be written (a full disk) must not cost
// the page, whoever is signed in can still read; one that cannot be read must.
func sessionFailed(log *slog.Logger, w http.ResponseWriter, r *http.Request, err error) {
	log.Error("session", "path", r.URL.Path, "error", err)
	if done, ok := r.Context().Value(begun{}).(*bool); ok && *done {
		return
	}
	voice := say.NewVoice(text.English, unit.Metric, nil)
	http.Error(w, voice.T("error.busy"), http.StatusServiceUnavailable)
}
