package defects

// The desk of defects: what is open in the whole yard, for who has to decide or mend.

import (
	"errors"
	"net/http"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/yard"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// deskPage lists what is open, in groups by what it keeps machines from tomorrow.
type deskPage struct {
	Groups []deskGroup
	Count  int
	// Found and Mended are what changed since yesterday's day began.
	Found, Mended []changeLine
	More          int // defects that are not shown
}

type deskGroup struct {
	Title string
	Lines []deskLine
}

// deskLine is one open defect.
type deskLine struct {
	ID, Machine, Name, Bay string
	Grade, What            string
	Left                   string // how long until it is a Halt
	Limits                 []string
	Found                  string
	Waits                  string // who has to do something now
}

// changeLine is a defect that was found or closed since yesterday.
type changeLine struct{ ID, Grade, Words string }

// changes lists what was found and what was closed since yesterday's day began.
func (p *deskPage) changes(v *page.Visit, view yard.View) error {
	since := v.Yard.DayStart(v.Yard.DayStart(v.Now).Add(-time.Hour))
	list, err := v.Site.Store.FindDefects(v.Context(), store.Filter{From: since}, changesMost)
	if err != nil {
		return err
	}
	closed, err := v.Site.Store.ClosedSince(v.Context(), since, changesMost)
	if err != nil {
		return err
	}
	for _, d := range list {
		p.Found = append(p.Found, changeLine{d.ID, string(d.Finding.Grade), v.T("desk.was_found", "what", named(v, view, d), "who", d.FinderName, "when", v.When(d.FoundAt, v.Now))})
	}
	for _, d := range closed {
		p.Mended = append(p.Mended, changeLine{d.ID, string(defect.Sound), v.T("desk.was_closed", "what", named(v, view, d), "who", d.CloserName, "when", v.When(d.ClosedAt, v.Now))})
	}
	return nil
}

// changesMost is how many changes of each kind are shown.
const changesMost = 20

// named is a defect with the machine that it is of.
func named(v *page.Visit, view yard.View, d store.Defect) string {
	m, ok := view.Machine(d.Machine)
	if !ok {
		return d.ID
	}
	sheet, ok := view.Sheet(m.Sheet)
	if !ok {
		return m.Name
	}
	return m.Name + ", " + tell.Lower(v.Defect(sheet, d.Defect))
}

// deskMost is how many defects a page shows; what presses most comes first.
const deskMost = 120

var deskPages = page.New[deskPage](templates, "desk")

func showDesk(v *page.Visit) {
	view, check := v.Site.Store.View(v.Context())
	list := yard.Desk(view, v.Now)
	p := deskPage{Count: len(list)}
	titles := map[yard.Block]string{yard.KeptIn: "desk.kept_in", yard.RunsOut: "desk.runs_out", yard.Limited: "desk.limited", yard.Unhinged: "desk.goes_out"}
	last := yard.Block(-1)
	for i, d := range list {
		if i >= deskMost {
			p.More = len(list) - deskMost
			break
		}
		if d.Blocks != last {
			p.Groups, last = append(p.Groups, deskGroup{Title: v.T(titles[d.Blocks])}), d.Blocks
		}
		line, err := newDeskLine(v, view, d)
		if err != nil {
			v.Fail(err)
			return
		}
		g := &p.Groups[len(p.Groups)-1]
		g.Lines = append(g.Lines, line)
	}
	if err := errors.Join(p.changes(v, view), check()); err != nil {
		v.Fail(err)
		return
	}
	deskPages.Show(v, http.StatusOK, v.T("desk.title"), p)
}

func newDeskLine(v *page.Visit, view yard.View, d yard.OnDesk) (deskLine, error) {
	line := deskLine{ID: d.ID, Machine: d.Machine.ID, Name: d.Machine.Name, Bay: d.Machine.Bay, Grade: string(d.Grade),
		Found: v.T("defect.found", "who", v.Name(d.FoundBy), "when", v.When(d.FoundAt, v.Now))}
	sheet, ok := view.Sheet(d.Machine.Sheet)
	if !ok {
		return line, nil
	}
	line.What = v.Defect(sheet, d.Defect)
	_, line.Limits = tell.Reasons(v.Voice, d.Finding)
	line.Left = timeLeft(v, d)
	line.Waits = waits(v, d)
	return line, nil
}

// timeLeft is how long a Mend may still stand: hours of work and days.
func timeLeft(v *page.Visit, d yard.OnDesk) string {
	words := ""
	if d.Left != nil {
		words = v.T("desk.hours_left", "hours", v.Number(*d.Left, 1))
	}
	if d.Until == nil {
		return words
	}
	if words != "" {
		words += " · "
	}
	if left := d.Until.Sub(v.Now); left.Hours() < 48 {
		return words + v.T("desk.until_soon", "hours", v.Number(left.Hours(), 0), "when", tell.DayTime(v.Voice, *d.Until))
	}
	return words + v.T("desk.until", "days", int(d.Until.Sub(v.Now).Hours()/24), "when", tell.DayTime(v.Voice, *d.Until))
}

// waits says for whom a defect waits.
func waits(v *page.Visit, d yard.OnDesk) string {
	switch {
	case d.Proving != "":
		return v.T("desk.being_proved", "who", v.Name(d.Hand))
	case d.Machine.Hirer != "":
		return v.T("desk.waits_hirer", "hirer", d.Machine.Hirer)
	case d.Grade == defect.Halt || d.Grade == defect.Mend:
		return v.T("desk.waits_technician")
	}
	return v.T("desk.looked_at")
}

// hearNews says that the person has read what became of what they found.
func hearNews(v *page.Visit) {
	_, err := v.Say(yard.HearNews{})
	saved(v, err, "/yard")
}

// setTerms takes a lead's word on a Mend.
func setTerms(v *page.Visit) {
	id := v.Param("defect")
	_, err := v.Say(yard.SetTerms{Defect: id, Until: v.Field("until"), Hours: v.Field("hours"), Not: v.Fields("not"), Why: v.Field("why")})
	if words, refused := v.Words(err); refused {
		showDefectWith(v, http.StatusUnprocessableEntity, words)
		return
	}
	saved(v, err, "/defects/"+id)
}

// mayEase reports whether whoever reads may set the terms of a defect as it is now.
func mayEase(v *page.Visit, d yard.Defect, grade defect.Grade) bool {
	return d.Open && grade == defect.Mend && v.May(operator.Ease)
}
