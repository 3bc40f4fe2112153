// Package signin is who is there: the wall of names, PINs, the first visit of
// all, and a person's own settings.
package signin

import (
	"embed"
	"errors"
	"net/http"
	"strings"

	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/yard"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/", "", page.Home),
		page.Get("/setup", "", showSetup),
		page.Post("/setup", "", setUp),
		page.Get("/sign-in", "", showPeople),
		page.Get("/sign-in/:person", "", showPIN),
		page.Post("/sign-in/:person", "", signIn),
		page.Post("/sign-out", "", signOut),
		page.Get("/me", operator.OwnThings, showMe),
		page.Post("/me", operator.OwnThings, saveMe),
		page.Get(page.OwnPIN, operator.OwnThings, showOwnPIN),
		page.Post(page.OwnPIN, operator.OwnThings, saveOwnPIN),
	}
}

// peoplePage is the wall of names.
type peoplePage struct {
	People []store.Person
	Next   string
	Demo   map[string]string
}

var peoplePages = page.New[peoplePage](templates, "people")

func showPeople(v *page.Visit) {
	if v.Yard.Name == "" {
		v.Go("/setup")
		return
	}
	people, err := v.Site.Store.People(v.Context())
	if err != nil {
		v.Fail(err)
		return
	}
	peoplePages.Show(v, http.StatusOK, v.T("signin.title"), peoplePage{People: people, Next: safeNext(v.Query("next")), Demo: v.Site.Demo})
}

// pinPage asks for one person's PIN.
type pinPage struct {
	Who     store.Person
	Next    string
	Problem string
	DemoPIN string
}

var pinPages = page.New[pinPage](templates, "pin")

func showPIN(v *page.Visit) {
	v.KnowDevice()
	askPIN(v, http.StatusOK, "")
}

func askPIN(v *page.Visit, status int, problem string) {
	p, err := v.Site.Store.Person(v.Context(), v.Param("person"))
	if err != nil || !p.Here() {
		v.Fail(store.ErrNotFound)
		return
	}
	next := v.Query("next")
	if v.Posted() {
		next = v.Field("next")
	}
	pinPages.Show(v, status, v.T("signin.pin_title"), pinPage{Who: p, Next: safeNext(next), Problem: problem, DemoPIN: v.Site.Demo[p.ID]})
}

// safeNext keeps a way on inside this program: a plain path, with nothing in it
// that a browser would drop or read as a host.
func safeNext(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.ContainsAny(next, "\\\t\r\n") || strings.HasPrefix(next, "/sign") {
		return ""
	}
	for _, r := range next {
		if r < ' ' {
			return ""
		}
	}
	return next
}

func signIn(v *page.Visit) {
	id, pin := v.Param("person"), v.Field("pin")
	p, err := v.Site.Store.Person(v.Context(), id)
	if err != nil || !p.Here() {
		v.Fail(store.ErrNotFound)
		return
	}
	if !operator.PINLike(pin) {
		askPIN(v, http.StatusUnprocessableEntity, v.T("signin.pin_digits"))
		return
	}
	access, right, err := v.Site.Store.CheckPIN(v.Context(), id, pin, v.From())
	var paused *store.Paused
	switch {
	case errors.As(err, &paused):
		askPIN(v, http.StatusTooManyRequests, v.Paused(paused))
	case err != nil:
		v.Fail(err)
	case !right:
		askPIN(v, http.StatusUnauthorized, v.T("signin.wrong"))
	default:
		if err := v.SignIn(id, access.Number); err != nil {
			v.Fail(err)
			return
		}
		next := safeNext(v.Field("next"))
		if next == "" {
			next = "/yard"
		}
		v.Go(next)
	}
}

func signOut(v *page.Visit) {
	if err := v.SignOut(); err != nil {
		v.Site.Log.Error("session not ended", "error", err)
	}
	v.Go("/sign-in")
}

// setupPage is the first visit of all.
type setupPage struct {
	Problem  string
	ID       string
	Yard     string
	Name     string
	Timezone string
	Zones    []string
}

var setupPages = page.New[setupPage](templates, "setup")

func showSetup(v *page.Visit) {
	if v.Yard.Name != "" {
		v.Go("/sign-in")
		return
	}
	setupPages.Show(v, http.StatusOK, v.T("setup.title"), setupPage{ID: page.NewID(), Timezone: "UTC", Zones: page.Zones()})
}

func setUp(v *page.Visit) {
	form := setupPage{ID: v.Field("id"), Yard: v.Field("yard"), Name: v.Field("name"), Timezone: v.Field("timezone"), Zones: page.Zones()}
	c := yard.SetUp{Yard: form.Yard, Timezone: form.Timezone, Name: form.Name, Language: string(v.Language), PIN: v.Field("pin")}
	if v.Field("pin") != v.Field("pin_again") {
		form.Problem = v.T("setup.pins_differ")
	} else if done, err := v.Say(c); err == nil {
		v.Go("/sign-in/p-" + done.Record.ID)
		return
	} else if words, refused := v.Words(err); refused && v.Yard.Name == "" {
		form.Problem = words
	} else {
		v.Fail(err)
		return
	}
	setupPages.Show(v, http.StatusUnprocessableEntity, v.T("setup.title"), form)
}

// mePage is a person's own settings.
type mePage struct {
	ID        string
	Languages []text.Language
	Saved     bool
	Tried     []string // wrong PINs for this person
}

var mePages = page.New[mePage](templates, "me")

// triedDays is how far back wrong PINs are told of.
const triedDays = 30

func showMe(v *page.Visit) {
	tried, err := v.Site.Store.Tried(v.Context(), v.Person.ID, v.Now.AddDate(0, 0, -triedDays), 10)
	if err != nil {
		v.Fail(err)
		return
	}
	me := mePage{ID: page.NewID(), Languages: text.Languages(), Saved: v.Query("saved") != ""}
	for _, t := range tried {
		key := "tried.elsewhere"
		if t.Known {
			key = "tried.here"
		}
		me.Tried = append(me.Tried, v.T(key, "n", t.Times, "when", v.When(t.At, v.Now), "address", t.Address))
	}
	mePages.Show(v, http.StatusOK, v.T("me.title"), me)
}

func saveMe(v *page.Visit) {
	_, err := v.Say(yard.SetOwn{Language: v.Field("language"), Units: v.Field("units"), Theme: v.Field("theme"), Keys: v.Field("keys") == "on"})
	if err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/me?saved=1")
}

// ownPINPage lets a person choose their own PIN.
type ownPINPage struct {
	ID      string
	First   bool // with a PIN that somebody else set
	Problem string
}

var ownPINPages = page.New[ownPINPage](templates, "ownpin")

func showOwnPIN(v *page.Visit) { askOwnPIN(v, http.StatusOK, "") }

func askOwnPIN(v *page.Visit, status int, problem string) {
	ownPINPages.Show(v, status, v.T("pin.own_title"), ownPINPage{ID: page.NewID(), First: v.Lent(), Problem: problem})
}

// saveOwnPIN asks for the PIN that is so far, but where it was lent a moment ago.
func saveOwnPIN(v *page.Visit) {
	if v.Field("pin") != v.Field("pin_again") {
		askOwnPIN(v, http.StatusUnprocessableEntity, v.T("setup.pins_differ"))
		return
	}
	if !v.Lent() {
		_, right, err := v.Site.Store.CheckPIN(v.Context(), v.Person.ID, v.Field("pin_now"), v.From())
		var paused *store.Paused
		switch {
		case errors.As(err, &paused):
			askOwnPIN(v, http.StatusTooManyRequests, v.Paused(paused))
			return
		case err != nil:
			v.Fail(err)
			return
		case !right:
			askOwnPIN(v, http.StatusUnprocessableEntity, v.T("signin.wrong"))
			return
		}
	}
	if _, err := v.Say(yard.ChangePIN{PIN: v.Field("pin")}); err != nil {
		if words, refused := v.Words(err); refused {
			askOwnPIN(v, http.StatusUnprocessableEntity, words)
			return
		}
		v.Fail(err)
		return
	}
	access, err := v.Site.Store.Access(v.Context(), v.Person.ID)
	if err != nil {
		v.Fail(err)
		return
	}
	v.Renumber(access.Number)
	v.Go("/me?saved=1")
}
