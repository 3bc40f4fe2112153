package page

// One visit of one person to one page.

import (
	"context"
	"crypto/rand"
	"errors"
	"net"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/say"
	"vespers/store"
)

// Visit is one request with who makes it.
type Visit struct {
	*say.Voice
	Site    *Site
	Person  *store.Person // nil where nobody is signed in
	Yard    store.Yard
	Now     time.Time
	Trouble yard.Clock // how the clock of the records stands

	gin    *gin.Context
	broken error             // why it could not be found out who is there
	lent   bool              // the person chooses their own PIN first
	part   int               // of a form that says several things
	names  map[string]string // of people that were asked for, by their id
}

// Context is the request's.
func (v *Visit) Context() context.Context { return v.gin.Request.Context() }

// Param is a part of the address.
func (v *Visit) Param(name string) string { return v.gin.Param(name) }

// Query is a field of the address.
func (v *Visit) Query(name string) string { return v.gin.Query(name) }

// Queries are all the fields of the address that have a name.
func (v *Visit) Queries(name string) []string { return v.gin.QueryArray(name) }

// Posted reports whether a form was sent.
func (v *Visit) Posted() bool { return v.gin.Request.Method == http.MethodPost }

// Address is a page's whole address, for codes that are printed.
func (v *Visit) Address(path string) string {
	scheme := "http"
	if v.Site.Secure {
		scheme = "https"
	}
	return scheme + "://" + v.Host() + path
}

// Host is the name the program was asked under.
func (v *Visit) Host() string { return v.gin.Request.Host }

// sessionTouch is how often a session in use is written down.
const sessionTouch = time.Minute

// visit finds out who is there. A session that idled too long, or was begun with
// an older PIN, is nobody's.
func (s *Site) visit(g *gin.Context) *Visit {
	if old, ok := g.Get("visit"); ok {
		return old.(*Visit)
	}
	v := &Visit{Site: s, gin: g, Now: s.Now()}
	ctx := g.Request.Context()
	v.Yard, v.broken = s.Store.Yard(ctx)
	if errors.Is(v.broken, store.ErrNotFound) {
		v.broken = nil // before the first visit
	}
	v.Trouble, _ = s.Store.Clock(ctx)
	language, units := s.guess(g), unit.Metric
	if id := s.Sessions.GetString(ctx, "person"); id != "" {
		seen := s.lastSeen(ctx)
		p, err := s.Store.Person(ctx, id)
		access, err2 := s.Store.Access(ctx, id)
		if errors.Is(err2, store.ErrNotFound) {
			err2 = nil
		}
		switch err := errors.Join(err, err2); {
		case err != nil && !errors.Is(err, store.ErrNotFound):
			// A request that was broken off says nothing about who is signed
			// in: the session stays as it is.
			v.broken = errors.Join(v.broken, err)
		case err != nil || !p.Here() || s.Sessions.GetString(ctx, "number") != strconv.Itoa(access.Number):
			s.Sessions.Remove(ctx, "person")
		case v.Now.Sub(seen) > s.Idle && !byItself(g):
			s.Sessions.Remove(ctx, "person")
		default:
			v.Person, v.lent = &p, access.Lent
			language, units = p.Language, p.Units
			if v.Now.Sub(seen) > min(sessionTouch, s.Idle/4) && !byItself(g) {
				s.see(ctx, v.Now)
			}
		}
	}
	v.Voice = say.NewVoice(language, units, v.Yard.Location())
	g.Set("visit", v)
	return v
}

// byItself reports whether a page asked, and nobody's hand: an open page goes on
// being told what cannot wait after its person has idled, and keeps nobody signed in.
func byItself(g *gin.Context) bool { return g.FullPath() == AlertsPath }

// see notes that the person was here; a session holds text only.
func (s *Site) see(ctx context.Context, now time.Time) {
	s.Sessions.Put(ctx, "seen", strconv.FormatInt(now.UnixMilli(), 10))
}

// lastSeen is when the person was here last, as far as it was written down.
func (s *Site) lastSeen(ctx context.Context) time.Time {
	ms, _ := strconv.ParseInt(s.Sessions.GetString(ctx, "seen"), 10, 64)
	return time.UnixMilli(ms)
}

// SignIn begins a session of a person whose PIN was right.
func (v *Visit) SignIn(person string, number int) error {
	ctx, s := v.Context(), v.Site.Sessions
	if err := s.RenewToken(ctx); err != nil {
		return err
	}
	s.Put(ctx, "person", person)
	s.Put(ctx, "number", strconv.Itoa(number))
	v.Site.see(ctx, v.Now)
	return nil
}

// Renumber keeps the session over a new PIN of one's own.
func (v *Visit) Renumber(number int) {
	v.Site.Sessions.Put(v.Context(), "number", strconv.Itoa(number))
}

// SignOut ends the session. Where that cannot be written down, the browser's
// cookie is taken all the same.
func (v *Visit) SignOut() error {
	err := v.Site.Sessions.Destroy(v.Context())
	c := v.Site.Sessions.Cookie
	http.SetCookie(v.gin.Writer, &http.Cookie{Name: c.Name, Path: "/", MaxAge: -1, HttpOnly: true, Secure: c.Secure, SameSite: c.SameSite})
	return err
}

const (
	deviceCookie   = "vespers-device"
	languageCookie = "vespers-language"
	year           = 365 * 24 * 3600
)

func (v *Visit) cookie(name, value string) {
	http.SetCookie(v.gin.Writer, &http.Cookie{Name: name, Value: value, Path: "/", MaxAge: year, HttpOnly: true, Secure: v.Site.Secure, SameSite: http.SameSiteStrictMode})
}

// From is where the request comes from: the device, by a secret it keeps, and
// the address.
func (v *Visit) From() store.From {
	device, _ := v.gin.Cookie(deviceCookie)
	host, _, err := net.SplitHostPort(v.gin.Request.RemoteAddr)
	if err != nil {
		host = v.gin.Request.RemoteAddr
	}
	return store.From{Device: device, Address: host}
}

// KnowDevice gives the device a secret of its own, if it has none.
func (v *Visit) KnowDevice() {
	if device, _ := v.gin.Cookie(deviceCookie); device == "" {
		v.cookie(deviceCookie, rand.Text())
	}
}

// guess is the language before anyone is signed in: as chosen on the sign-in
// page, else as the browser asks.
func (s *Site) guess(g *gin.Context) text.Language {
	for _, l := range text.Languages() {
		if g.Query("lang") == string(l) {
			(&Visit{Site: s, gin: g}).cookie(languageCookie, string(l))
			return l
		}
	}
	if kept, _ := g.Cookie(languageCookie); kept == string(text.Spanish) || kept == string(text.English) {
		return text.Language(kept)
	}
	if strings.HasPrefix(strings.ToLower(g.GetHeader("Accept-Language")), "es") {
		return text.Spanish
	}
	return text.English
}

// May reports whether whoever is here may do something of their own or nobody's.
func (v *Visit) May(a operator.Act) bool {
	return v.Person != nil && v.Person.May(a, operator.Own, v.Now)
}

// Name is a person's name, or their id where they are not known.
func (v *Visit) Name(id string) string {
	if id == "" {
		return ""
	}
	if name, known := v.names[id]; known {
		return name
	}
	name := id
	if p, err := v.Site.Store.Person(v.Context(), id); err == nil {
		name = p.Name
	}
	if v.names == nil {
		v.names = map[string]string{}
	}
	v.names[id] = name
	return name
}
