package web

import (
	"errors"
	"net/http"
	"strings"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/store"
)

func (s *server) home(v *visit) {
	if v.person == nil {
		s.turnAway(v)
		return
	}
	v.gin.Redirect(http.StatusSeeOther, "/yard")
}

// peoplePage is the wall of names.
type peoplePage struct {
	People []store.Person
	Next   string
	Demo   map[string]string
}

func (s *server) showPeople(v *visit) {
	if _, err := s.Store.Yard(v.ctx()); errors.Is(err, store.ErrNotFound) {
		v.gin.Redirect(http.StatusSeeOther, "/setup")
		return
	}
	people, err := s.Store.People(v.ctx())
	if err != nil {
		s.fail(v, err)
		return
	}
	v.page(http.StatusOK, "people", v.T("signin.title"), peoplePage{People: people, Next: safeNext(v.gin.Query("next")), Demo: s.Demo})
}

// pinPage asks for one person's PIN.
type pinPage struct {
	Who     store.Person
	Next    string
	Problem string
	DemoPIN string
}

// Keys are the digits of the keypad, but for the last row.
func (pinPage) Keys() []string { return keypad }

func (s *server) showPIN(v *visit) { s.askPIN(v, http.StatusOK, "") }

func (s *server) askPIN(v *visit, status int, problem string) {
	p, err := s.Store.Person(v.ctx(), v.param("person"))
	if err != nil || !p.Left.IsZero() {
		s.fail(v, store.ErrNotFound)
		return
	}
	next := v.gin.Query("next")
	if v.gin.Request.Method == http.MethodPost {
		next = v.field("next")
	}
	v.page(status, "pin", v.T("signin.pin_title"), pinPage{Who: p, Next: safeNext(next), Problem: problem, DemoPIN: s.Demo[p.ID]})
}

// safeNext keeps a way on inside this program.
func safeNext(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.Contains(next, "\\") || strings.HasPrefix(next, "/sign") {
		return ""
	}
	return next
}

func (s *server) signIn(v *visit) {
	id, pin := v.param("person"), v.field("pin")
	if !store.ValidPIN(pin) {
		s.askPIN(v, http.StatusUnprocessableEntity, v.T("signin.pin_digits"))
		return
	}
	right, err := s.Store.CheckPIN(v.ctx(), id, pin)
	var paused *store.Paused
	switch {
	case errors.As(err, &paused):
		s.askPIN(v, http.StatusTooManyRequests, v.T("signin.paused", "until", v.In(paused)))
	case err != nil:
		s.fail(v, err)
	case !right:
		s.askPIN(v, http.StatusUnauthorized, v.T("signin.wrong"))
	default:
		if err := s.sessions.RenewToken(v.ctx()); err != nil {
			s.fail(v, err)
			return
		}
		s.sessions.Put(v.ctx(), "person", id)
		s.see(v.ctx(), v.now)
		next := safeNext(v.field("next"))
		if next == "" {
			next = "/yard"
		}
		v.gin.Redirect(http.StatusSeeOther, next)
	}
}

// In is the end of a pause as a time of day with seconds.
func (v *visit) In(p *store.Paused) string { return p.Until.In(v.Zone).Format("15:04:05") }

func (s *server) signOut(v *visit) {
	if err := s.sessions.Destroy(v.ctx()); err != nil {
		s.Log.Error("session not ended", "error", err)
	}
	v.gin.Redirect(http.StatusSeeOther, "/sign-in")
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

// zones offered at set-up; any other IANA name may be typed.
var zones = []string{"America/Bogota", "America/Chicago", "America/Denver", "America/Lima", "America/Los_Angeles", "America/Mexico_City", "America/New_York", "Atlantic/Azores", "Europe/Dublin", "Europe/London", "Europe/Madrid", "Pacific/Auckland", "UTC"}

func (s *server) showSetup(v *visit) {
	if _, err := s.Store.Yard(v.ctx()); err == nil {
		v.gin.Redirect(http.StatusSeeOther, "/sign-in")
		return
	}
	v.page(http.StatusOK, "setup", v.T("setup.title"), setupPage{ID: newID(), Timezone: "UTC", Zones: zones})
}

func (s *server) setup(v *visit) {
	if _, err := s.Store.Yard(v.ctx()); err == nil {
		v.problem(http.StatusConflict, v.T("setup.done_already"), "")
		return
	}
	form := setupPage{ID: v.field("id"), Yard: v.field("yard"), Name: v.field("name"), Timezone: v.field("timezone"), Zones: zones}
	yard := store.Yard{Timezone: form.Timezone}
	switch {
	case form.Yard == "" || form.Name == "" || len(form.Name) > 80 || len(form.Yard) > 120:
		form.Problem = v.T("setup.names_needed")
	case yard.Location().String() != form.Timezone:
		form.Problem = v.T("setup.zone_unknown")
	case !store.ValidPIN(v.field("pin")):
		form.Problem = v.T("signin.pin_digits")
	case v.field("pin") != v.field("pin_again"):
		form.Problem = v.T("setup.pins_differ")
	}
	if form.Problem != "" {
		v.page(http.StatusUnprocessableEntity, "setup", v.T("setup.title"), form)
		return
	}
	person := "p-" + newID()[:8]
	// The yard comes last: until it is there, the first visit is still to come.
	err := s.Store.Record(v.ctx(), store.Entry{ID: newID()}, store.PersonAdded{ID: person, Name: form.Name, Role: operator.Lead, Language: v.Language, Units: unit.Metric})
	if err == nil {
		err = s.Store.SetPIN(v.ctx(), store.Entry{ID: newID()}, person, v.field("pin"))
	}
	if err == nil {
		err = s.Store.Record(v.ctx(), store.Entry{ID: "setup.yard"}, store.YardNamed{Name: form.Yard, Timezone: form.Timezone, House: defect.DefaultHouse()})
	}
	if err != nil {
		s.fail(v, err)
		return
	}
	v.gin.Redirect(http.StatusSeeOther, "/sign-in/"+person)
}

// mePage is a person's own settings.
type mePage struct {
	ID        string
	Languages []text.Language
}

func (s *server) showMe(v *visit) {
	v.page(http.StatusOK, "me", v.T("me.title"), mePage{ID: newID(), Languages: text.Languages()})
}

func (s *server) saveMe(v *visit) {
	set := store.PersonSet{ID: v.person.ID, Language: text.Language(v.field("language")), Units: unit.System(v.field("units")), Theme: v.field("theme"), Keys: v.field("keys") == "on"}
	if set.Language != text.Spanish {
		set.Language = text.English
	}
	if set.Units != unit.US {
		set.Units = unit.Metric
	}
	if set.Theme != "daylight" && set.Theme != "lantern" {
		set.Theme = "auto"
	}
	if !s.checkID(v) {
		return
	}
	if err := s.Store.Record(v.ctx(), v.entry(), set); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/me?saved=1")
}
