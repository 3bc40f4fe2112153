package page

// What went wrong, in the person's words, with the status it has.

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strings"

	"vespers/core/inspect"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/yard"
	"vespers/photo"
	"vespers/store"
	"vespers/tell"
)

// ErrForm says that a form was not one of this program's pages, or an old one.
var ErrForm = errors.New("page: a form without a usable id")

// Anothers says that an answer is another person's than who is signed in.
type Anothers struct{ Person string }

func (e *Anothers) Error() string { return "page: the answer is another person's" }

type problemPage struct {
	Message, Detail string
	Typed           []string
}

var problemOf = New[problemPage](Templates, "problem")

// Problem shows one plain message; what was typed stays on the page that sent
// it, or in the browser's own form.
func (v *Visit) Problem(status int, message, detail string) { v.problem(status, message, detail, nil) }

// Choice is one answer to what is asked back: a field of the form and its value, in words.
type Choice struct {
	Name  string `json:"name"`
	Value string `json:"value"`
	Words string `json:"words"`
}

// Ask asks a script back about what it sent, which is not taken until one of the choices
// comes with it.
func (v *Visit) Ask(message string, choices []Choice) {
	v.problem(http.StatusConflict, message, "", map[string]any{"choices": choices})
}

func (v *Visit) problem(status int, message, detail string, more map[string]any) {
	if v.Scripted() {
		body := map[string]any{"error": message, "detail": detail}
		for k, m := range more {
			body[k] = m
		}
		v.gin.JSON(status, body)
		return
	}
	problemOf.Show(v, status, v.T("problem.title"), problemPage{Message: message, Detail: detail, Typed: typed(v.gin.Request.PostForm)})
}

// typed is what the person had entered, to be shown back.
func typed(form url.Values) []string {
	var out []string
	for _, name := range []string{"typed", "note", "cause", "work", "name", "reason", "hours"} {
		if s := strings.TrimSpace(form.Get(name)); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// statusGone is logged where the browser left before the page was made; nobody
// reads it.
const statusGone = 499

// Words are what was refused, for a page that shows it itself; ok is false for
// an error that is not a refusal of the core, or about something that is not there.
func (v *Visit) Words(err error) (words string, ok bool) {
	var refused *record.Refused
	if !errors.As(err, &refused) || yard.Missing(refused.Reason.Rule) {
		return "", false
	}
	return v.Reason(refused.Reason), true
}

// Fail turns an error into a message in the person's language.
func (v *Visit) Fail(err error) {
	var refused *record.Refused
	var conflict *store.Conflict
	var anothers *Anothers
	var paused *store.Paused
	switch {
	case errors.As(err, &refused):
		v.refuse(refused)
	case errors.As(err, &conflict):
		v.Problem(http.StatusConflict, v.T("error.conflict"), v.conflict(conflict))
	case errors.As(err, &anothers):
		v.problem(http.StatusConflict, v.T("error.anothers", "who", v.Name(anothers.Person)), "", map[string]any{"waits": true})
	case errors.As(err, &paused):
		v.Problem(http.StatusTooManyRequests, v.Paused(paused), "")
	case errors.Is(err, ErrForm):
		v.Problem(http.StatusBadRequest, v.T("error.bad_form"), "")
	case errors.Is(err, store.ErrNotFound):
		v.Problem(http.StatusNotFound, v.T("error.not_found"), "")
	case errors.Is(err, photo.ErrTooLarge):
		v.Problem(http.StatusRequestEntityTooLarge, v.T("photo.too_large"), "")
	case errors.Is(err, photo.ErrBusy):
		v.Problem(http.StatusServiceUnavailable, v.T("photo.busy"), "")
	case errors.Is(err, store.ErrFull):
		v.Site.Log.Error("disk full")
		v.Problem(http.StatusInsufficientStorage, v.T("error.disk_full"), "")
	case errors.Is(err, store.ErrReadOnly):
		v.Site.Log.Error("file cannot be written", "error", err)
		v.Problem(http.StatusInsufficientStorage, v.T("error.read_only"), "")
	case errors.Is(err, context.Canceled):
		v.gin.AbortWithStatus(statusGone)
	case errors.Is(err, store.ErrBusy):
		v.Problem(http.StatusServiceUnavailable, v.T("error.busy"), "")
	default:
		v.Site.Log.Error("failed", "route", v.gin.FullPath(), "error", err)
		v.Problem(http.StatusInternalServerError, v.T("error.internal"), "")
	}
}

// refuse shows a refusal of the core. The status follows from its rule.
func (v *Visit) refuse(r *record.Refused) {
	status, detail := http.StatusUnprocessableEntity, ""
	switch {
	case r.Earlier != nil:
		status, detail = http.StatusConflict, v.earlier(r.Earlier)
	case yard.Missing(r.Reason.Rule):
		status = http.StatusNotFound
	case strings.HasPrefix(string(r.Reason.Rule), "who."):
		status = http.StatusForbidden
	}
	v.problem(status, v.Reason(r.Reason), detail, map[string]any{"rule": r.Reason.Rule})
}

// Paused says how long no PIN is looked at.
func (v *Visit) Paused(p *store.Paused) string {
	return v.T("signin.paused", "until", v.Now.Add(p.For).In(v.Zone).Format("15:04:05"))
}

// conflict shows both answers that came under one id.
func (v *Visit) conflict(c *store.Conflict) string {
	e, err := record.Decode(c.Earlier.Format, c.Earlier.Kind, c.Earlier.Body)
	before, ok := e.(inspect.Answered)
	if err != nil || !ok {
		return ""
	}
	now := v.Field("typed")
	if now == "" {
		now = v.T("answer." + v.Field("answer"))
	}
	return v.T("error.conflict_both", "before", tell.Answer(v.Voice, before), "now", now)
}

func (v *Visit) earlier(e *record.Earlier) string {
	answer := ""
	if a, ok := e.Event.(inspect.Answered); ok {
		answer = tell.Answer(v.Voice, a)
	}
	return v.T("error.answered_by", "answer", answer, "who", v.Name(e.Meta.By), "when", v.When(e.Meta.At, v.Now))
}

// turnAway sends whoever is not signed in to the sign-in page.
func (v *Visit) turnAway() {
	if v.Scripted() {
		v.gin.JSON(http.StatusUnauthorized, map[string]any{"error": v.T("error.signed_out"), "sign_in": "/sign-in"})
		return
	}
	if v.Yard.Name == "" {
		v.Go("/setup")
		return
	}
	next := ""
	if v.gin.Request.Method == http.MethodGet && v.gin.Request.URL.Path != "/" {
		next = "?next=" + url.QueryEscape(v.gin.Request.URL.RequestURI())
	}
	v.Go("/sign-in" + next)
}

func (v *Visit) forbidden(roles []operator.Role) {
	names := make([]string, len(roles))
	for i, r := range roles {
		names[i] = v.T("role." + string(r))
	}
	v.Problem(http.StatusForbidden, v.T("error.role", "roles", strings.Join(names, ", ")), "")
}
