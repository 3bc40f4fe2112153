// Package calendar is what falls due as somebody's own calendar reads it: under a private
// address that they open, change and close themselves.
package calendar

import (
	"bytes"
	"crypto/rand"
	"embed"
	"encoding/base32"
	"net/http"
	"regexp"
	"strings"

	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/export"
	"vespers/say"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses. The calendar itself is for whoever has its address.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/me/calendar", operator.OwnThings, show),
		page.Post("/me/calendar", operator.OwnThings, open),
		page.Post("/me/calendar/close", operator.OwnThings, closeIt),
		page.Get("/calendar/:key", "", feed),
	}
}

type calendarPage struct {
	ID      string
	Open    bool
	Key     string // of the next address
	Address string // of the one that was opened just now
}

var pages = page.New[calendarPage](templates, "calendar")

func show(v *page.Visit) { showWith(v, "") }

func showWith(v *page.Visit, address string) {
	view, check := v.Site.Store.View(v.Context())
	p := calendarPage{ID: page.NewID(), Open: view.CalendarOpen(v.Person.ID), Key: newKey(), Address: address}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	pages.Show(v, http.StatusOK, v.T("calendar.title"), p)
}

// keyLike is how a private address looks: 26 letters and digits, 130 bits.
var keyLike = regexp.MustCompile(`^[a-z2-7]{26}$`)

func newKey() string {
	var b [17]byte
	rand.Read(b[:])
	return strings.ToLower(base32.StdEncoding.EncodeToString(b[:]))[:26]
}

// open opens a new address: the page sent it, so that a form that is sent twice opens one.
func open(v *page.Visit) {
	key := v.Field("key")
	if !keyLike.MatchString(key) {
		v.Fail(store.ErrNotFound)
		return
	}
	if _, err := v.Say(yard.OpenCalendar{Hash: store.HashOf(key)}); err != nil {
		v.Fail(err)
		return
	}
	showWith(v, v.Address("/calendar/"+key+".ics"))
}

func closeIt(v *page.Visit) {
	if _, err := v.Say(yard.CloseCalendar{}); err != nil {
		v.Fail(err)
		return
	}
	v.Saved("/me/calendar")
}

// feed is the calendar as a program reads it, in its person's words.
func feed(v *page.Visit) {
	key, ics := strings.CutSuffix(v.Param("key"), ".ics")
	if !ics || !keyLike.MatchString(key) {
		v.Fail(store.ErrNotFound)
		return
	}
	p, err := v.Site.Store.CalendarOf(v.Context(), key)
	if err != nil {
		v.Fail(err)
		return
	}
	v.Voice = say.NewVoice(p.Language, p.Units, v.Yard.Location())
	view, check := v.Site.Store.View(v.Context())
	var entries []export.Entry
	for _, d := range yard.Calendar(view, p, v.Now) {
		entries = append(entries, entryOf(v, view, p, d))
	}
	if err := check(); err != nil {
		v.Fail(err)
		return
	}
	var out bytes.Buffer
	if err := export.Calendar(&out, v.Yard.Name, string(p.Language), v.Now, entries); err != nil {
		v.Fail(err)
		return
	}
	v.SendFile("text/calendar; charset=utf-8", "vespers.ics", out.Bytes())
}

// entryOf is a date in words.
func entryOf(v *page.Visit, view yard.View, who operator.Person, d yard.Dated) export.Entry {
	e := export.Entry{On: d.On.In(v.Zone)}
	late := ""
	if d.On.Before(v.Now) {
		late = " " + v.T("calendar.overdue")
	}
	switch {
	case d.Due != nil:
		e.UID = "care-" + d.Machine.ID + "-" + d.Due.ID
		e.Summary = d.Machine.Name + ": " + v.Text(d.Due.Name) + late
		e.Description = tell.WhoLooks(v.Voice, d.Due) + ", " + tell.Every(v.Voice, d.Due.Every)
		e.URL = v.Address("/machines/" + d.Machine.ID)
	case d.Defect != nil:
		e.UID = "deadline-" + d.Defect.ID
		e.Summary = v.T("calendar.deadline", "machine", d.Machine.Name) + late
		if sheet, ok := view.Sheet(d.Machine.Sheet); ok {
			e.Description = v.Defect(sheet, *d.Defect)
		}
		e.URL = v.Address("/defects/" + d.Defect.ID)
	default:
		e.UID = "runs-out-" + d.Person.ID + "-" + d.Qualification.Kind + "-" + d.Qualification.Sheet
		what := v.T("calendar.kind." + d.Qualification.Kind)
		if d.Sheet != nil {
			what += ", " + v.Text(d.Sheet.Name)
		}
		e.Summary = v.T("calendar.runs_out", "who", d.Person.Name, "what", what) + late
		if d.Person.ID != who.ID {
			e.URL = v.Address("/people")
		}
	}
	e.UID += "@vespers"
	return e
}
