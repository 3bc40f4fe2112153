package web

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/say"
	"vespers/store"
)

// visit is one request with who makes it.
type visit struct {
	*say.Voice
	s      *server
	gin    *gin.Context
	person *store.Person
	yard   store.Yard
	now    time.Time
	broken error // why it could not be found out who is there
}

func (v *visit) ctx() context.Context { return v.gin.Request.Context() }

// param is a part of the address.
func (v *visit) param(name string) string { return v.gin.Param(name) }

// field is one field of the form, trimmed.
func (v *visit) field(name string) string { return strings.TrimSpace(v.gin.PostForm(name)) }

// sessionTouch is how often a session in use is written down.
const sessionTouch = time.Minute

// visit finds out who is there. A session that idled too long is nobody's.
func (s *server) visit(g *gin.Context) *visit {
	if old, ok := g.Get("visit"); ok {
		return old.(*visit)
	}
	v := &visit{s: s, gin: g, now: s.Now()}
	ctx := g.Request.Context()
	v.yard, _ = s.Store.Yard(ctx)
	language, units := s.guess(g), unit.Metric
	if id := s.sessions.GetString(ctx, "person"); id != "" {
		seen := s.lastSeen(ctx)
		p, err := s.Store.Person(ctx, id)
		switch {
		case err != nil && !errors.Is(err, store.ErrNotFound):
			// A request that was broken off says nothing about who is signed
			// in: the session stays as it is.
			v.broken = err
		case err != nil || !p.Left.IsZero() || v.now.Sub(seen) > s.Idle:
			s.sessions.Remove(ctx, "person")
		default:
			v.person = &p
			language, units = p.Language, p.Units
			if v.now.Sub(seen) > min(sessionTouch, s.Idle/4) {
				s.see(ctx, v.now)
			}
		}
	}
	v.Voice = say.NewVoice(language, units, v.yard.Location())
	g.Set("visit", v)
	return v
}

// see notes that the person was here; a session holds text only.
func (s *server) see(ctx context.Context, now time.Time) {
	s.sessions.Put(ctx, "seen", strconv.FormatInt(now.UnixMilli(), 10))
}

// lastSeen is when the person was here last, as far as it was written down.
func (s *server) lastSeen(ctx context.Context) time.Time {
	ms, _ := strconv.ParseInt(s.sessions.GetString(ctx, "seen"), 10, 64)
	return time.UnixMilli(ms)
}

// guess is the language before anyone is signed in: as chosen on the sign-in
// page, else as the browser asks.
func (s *server) guess(g *gin.Context) text.Language {
	for _, l := range text.Languages() {
		if g.Query("lang") == string(l) {
			s.sessions.Put(g.Request.Context(), "language", string(l))
			return l
		}
	}
	if l := s.sessions.GetString(g.Request.Context(), "language"); l != "" {
		return text.Language(l)
	}
	if strings.HasPrefix(strings.ToLower(g.GetHeader("Accept-Language")), "es") {
		return text.Spanish
	}
	return text.English
}

// wantsJSON reports whether the page's script sent this, rather than a form.
func (v *visit) wantsJSON() bool {
	return strings.Contains(v.gin.GetHeader("Accept"), "application/json")
}

// entry is the record that a form becomes. Its id was made by whoever sent it;
// the request is all its fields in a fixed order.
func (v *visit) entry() store.Entry {
	v.gin.Request.ParseForm()
	fields := url.Values{}
	for k, values := range v.gin.Request.PostForm {
		if k != "id" && k != "device_at" && k != "pin" {
			fields[k] = values
		}
	}
	e := store.Entry{ID: v.field("id"), Supersedes: v.field("supersedes"), Request: []byte(v.gin.Request.URL.Path + "?" + fields.Encode())}
	if v.person != nil {
		e.Person = v.person.ID
	}
	if ms, err := strconv.ParseInt(v.field("device_at"), 10, 64); err == nil && ms > 0 {
		e.DeviceAt = time.UnixMilli(ms)
	}
	return e
}

// validID bounds ids made by clients.
func validID(id string) bool {
	if len(id) < 8 || len(id) > 64 {
		return false
	}
	for _, r := range id {
		if !('a' <= r && r <= 'z' || '0' <= r && r <= '9' || r == '-' || r == '.') {
			return false
		}
	}
	return true
}

// saved tells that an answer is on disk and where to go next.
func (v *visit) saved(next string) {
	if v.wantsJSON() {
		v.gin.JSON(http.StatusOK, gin.H{"saved": true, "next": next})
		return
	}
	v.gin.Redirect(http.StatusSeeOther, next)
}

// turnAway sends whoever is not signed in to the sign-in page.
func (s *server) turnAway(v *visit) {
	if v.wantsJSON() {
		v.gin.JSON(http.StatusUnauthorized, gin.H{"error": v.T("error.signed_out"), "sign_in": "/sign-in"})
		return
	}
	if _, err := s.Store.Yard(v.ctx()); errors.Is(err, store.ErrNotFound) {
		v.gin.Redirect(http.StatusSeeOther, "/setup")
		return
	}
	next := ""
	if v.gin.Request.Method == http.MethodGet && v.gin.Request.URL.Path != "/" {
		next = "?next=" + url.QueryEscape(v.gin.Request.URL.RequestURI())
	}
	v.gin.Redirect(http.StatusSeeOther, "/sign-in"+next)
}

func (v *visit) forbidden(roles []operator.Role) {
	names := make([]string, len(roles))
	for i, r := range roles {
		names[i] = v.T("role." + string(r))
	}
	v.problem(http.StatusForbidden, v.T("error.role", "roles", strings.Join(names, ", ")), "")
}

// problem shows one plain message; what was typed stays on the page that sent
// it, or in the browser's own form.
func (v *visit) problem(status int, message, detail string) {
	if v.wantsJSON() {
		v.gin.JSON(status, gin.H{"error": message, "detail": detail})
		return
	}
	v.page(status, "problem", v.T("problem.title"), problemPage{Message: message, Detail: detail, Typed: typed(v.gin.Request.PostForm)})
}

type problemPage struct {
	Message, Detail string
	Typed           []string
}

// typed is what the person had entered, to be shown back.
func typed(form url.Values) []string {
	var out []string
	for _, name := range []string{"typed", "note", "cause", "work", "name"} {
		if s := strings.TrimSpace(form.Get(name)); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// statusGone is logged where the browser left before the page was made; nobody
// reads it.
const statusGone = 499

// fail turns an error into a message in the person's language.
func (s *server) fail(v *visit, err error) {
	var refused *outing.Refused
	var conflict *store.Conflict
	switch {
	case errors.As(err, &refused):
		detail := ""
		if refused.Earlier != nil {
			detail = s.earlier(v, refused.Earlier)
			v.problem(http.StatusConflict, v.Reason(refused.Reason), detail)
			return
		}
		v.problem(http.StatusUnprocessableEntity, v.Reason(refused.Reason), detail)
	case errors.As(err, &conflict):
		v.problem(http.StatusConflict, v.T("error.conflict"), s.conflict(v, conflict))
	case errors.Is(err, store.ErrNotFound):
		v.problem(http.StatusNotFound, v.T("error.not_found"), "")
	case errors.Is(err, store.ErrFull):
		s.Log.Error("disk full")
		v.problem(http.StatusInsufficientStorage, v.T("error.disk_full"), "")
	case errors.Is(err, store.ErrReadOnly):
		s.Log.Error("file cannot be written", "error", err)
		v.problem(http.StatusInsufficientStorage, v.T("error.read_only"), "")
	case errors.Is(err, context.Canceled):
		v.gin.AbortWithStatus(statusGone)
	case errors.Is(err, store.ErrBusy):
		v.problem(http.StatusServiceUnavailable, v.T("error.busy"), "")
	default:
		s.Log.Error("failed", "route", v.gin.FullPath(), "error", err)
		v.problem(http.StatusInternalServerError, v.T("error.internal"), "")
	}
}

// conflict shows both answers that came under one id.
func (s *server) conflict(v *visit, c *store.Conflict) string {
	var before outing.Answered
	if c.Earlier.Kind == before.Kind() && json.Unmarshal(c.Earlier.Body, &before) == nil {
		return v.T("error.conflict_both", "before", s.answerWords(v, before), "now", v.answerSent())
	}
	return ""
}

// answerSent is the answer in the form just sent, in the person's words.
func (v *visit) answerSent() string {
	if t := v.field("typed"); t != "" {
		return t
	}
	return v.T("answer." + v.field("answer"))
}

// answerWords is an answer as a person would say it.
func (s *server) answerWords(v *visit, a outing.Answered) string {
	if a.Value != nil {
		return a.Value.Typed + "\u00a0" + a.Value.Unit
	}
	return v.T("answer." + a.Answer)
}

func (s *server) earlier(v *visit, g *outing.Given) string {
	who := g.Meta.By
	if p, err := s.Store.Person(v.ctx(), g.Meta.By); err == nil {
		who = p.Name
	}
	return v.T("error.answered_by", "answer", s.answerWords(v, g.Answered), "who", who, "when", v.When(g.Meta.At, v.now))
}
