// Package day is a day of the yard as it was: every outing, who had it, and how it
// went. Any past day can be opened.
package day

import (
	"embed"
	"net/http"
	"time"

	"vespers/core/operator"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	return []page.Route{
		page.Get("/day", operator.Look, showDay),
		page.Get("/day.pdf", operator.Look, showPDF),
		page.Post("/clock", operator.House, endWrongClock),
	}
}

// dayPage is one day.
type dayPage struct {
	Title, On    string
	Before, Next string // the days beside it, as dates; "" where there is none
	Groups       []group
	Counts       []count
	Waiting      []strip // what is not home, those that need somebody first
	Hours        []page.DayHour
	Now          float64
	Today        bool
	ByMachine    bool
	Same         string // the address of the same day the other way round
	Paper        string // the address of the day as a document
	Legend       []string
	MayClock     bool // a lead can say that the clock is right
	ID           string
}

var dayPages = page.New[dayPage](templates, "day")

// showDay is today, or the day of the address: ?on=2006-01-02.
func showDay(v *page.Visit) {
	if p, ok := dayData(v); ok {
		dayPages.Show(v, http.StatusOK, p.Title, p)
	}
}

// dayData is the day of the address; ok is false, and the visit answered, where it could
// not be read.
func dayData(v *page.Visit) (p dayPage, ok bool) {
	at, today := v.Now, true
	if on := v.Query("on"); on != "" {
		asked, err := time.ParseInLocation(time.DateOnly, on, v.Zone)
		if err != nil {
			v.Fail(store.ErrNotFound)
			return p, false
		}
		at = asked.Add(12 * time.Hour)
		today = v.Yard.DayStart(at).Equal(v.Yard.DayStart(v.Now))
	}
	d := v.DayOf(at)
	tomorrow := v.Yard.DayStart(d.Start().Add(30 * time.Hour))
	p = dayPage{Title: v.T("day.title"), On: v.Day(d.Start()), Before: d.Start().In(v.Zone).AddDate(0, 0, -1).Format(time.DateOnly), MayClock: v.Trouble.Wrong && v.May(operator.House), ID: page.NewID()}
	var rows []store.OutingRow
	var err error
	if today {
		rows, err = v.Site.Store.Today(v.Context(), d.Start())
	} else {
		p.Title = v.T("day.of", "day", p.On)
		p.Next = tomorrow.In(v.Zone).Format(time.DateOnly)
		rows, err = v.Site.Store.Between(v.Context(), d.Start(), tomorrow)
	}
	if err != nil {
		v.Fail(err)
		return p, false
	}
	courses, err := v.Site.Store.Courses(v.Context(), rows)
	if err != nil {
		v.Fail(err)
		return p, false
	}
	h := hoursOf(v, today, courses)
	all := strips(v, d, h, rows, courses)
	p.Hours, p.Now = h.Marks, h.place(v.Now)
	p.Today, p.ByMachine = today, v.Query("by") == "machine"
	p.Groups, p.Counts = grouped(all, p.ByMachine), tally(v, all)
	for _, state := range []string{"halt", "open", "out"} {
		for _, s := range all {
			if s.State == state {
				p.Waiting = append(p.Waiting, s)
			}
		}
	}
	p.Legend = []string{"ready", "walk", "round", "running", "verdict", "out"}
	p.Same = "?by=" + map[bool]string{true: "person", false: "machine"}[p.ByMachine]
	if !today {
		p.Same += "&on=" + d.Start().In(v.Zone).Format(time.DateOnly)
	}
	p.Paper = "/day.pdf?on=" + d.Start().In(v.Zone).Format(time.DateOnly)
	return p, true
}
