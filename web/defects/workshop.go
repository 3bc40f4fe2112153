package defects

// The technician's own list, by machine: what is open, what is due, which drives wear
// out, and what no round shows, to be looked at by hand.

import (
	"net/http"
	"time"

	"vespers/core/yard"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

type workshopPage struct {
	Machines []benchMachine
	KeptIn   int // machines that do not start until somebody has seen to them
	More     int // machines that are not shown
}

// benchMachine is a machine that wants hands.
type benchMachine struct {
	ID, Name, Bay, Hirer string
	In                   bool // it does not start
	Out                  string
	Open                 []deskLine
	Due                  []page.DueLine
	Wears                []string // drives that come to the limit of their stopping time
	Unseen               []string // faults that no round shows
}

// workshopMost is how many machines a page has; what presses most comes first.
const workshopMost = 40

var workshopPages = page.New[workshopPage](templates, "workshop")

func showWorkshop(v *page.Visit) {
	p, err := workshop(v)
	if err != nil {
		v.Fail(err)
		return
	}
	workshopPages.Show(v, http.StatusOK, v.T("workshop.title"), p)
}

func workshop(v *page.Visit) (p workshopPage, err error) {
	proofs, err := v.Site.Store.Proofs(v.Context())
	if err != nil {
		return p, err
	}
	reaches := map[string]time.Time{}
	for _, m := range proofs {
		reaches[m.ID] = m.Reaches
	}
	view, check := v.Site.Store.View(v.Context())
	list := yard.Workshop(view, reaches, v.Now)
	if err := check(); err != nil {
		return p, err
	}
	for _, w := range list {
		if w.Presses == yard.KeptIn {
			p.KeptIn++
		}
	}
	if len(list) > workshopMost {
		p.More, list = len(list)-workshopMost, list[:workshopMost]
	}
	ids := make([]string, len(list))
	for i, w := range list {
		ids[i] = w.Machine.ID
	}
	times, err := v.Site.Store.StopTimes(v.Context(), ids...)
	if err != nil {
		return p, err
	}
	for _, w := range list {
		m, err := newBenchMachine(v, view, w, times[w.Machine.ID])
		if err != nil {
			return p, err
		}
		p.Machines = append(p.Machines, m)
	}
	return p, check()
}

func newBenchMachine(v *page.Visit, view yard.View, w yard.ForHands, times []store.StopTimes) (benchMachine, error) {
	m := benchMachine{ID: w.Machine.ID, Name: w.Machine.Name, Bay: w.Machine.Bay, Hirer: w.Machine.Hirer, In: w.Presses == yard.KeptIn, Due: v.DueLines(w.Due)}
	if w.Machine.Outing != "" {
		m.Out = "/outings/" + w.Machine.Outing
	}
	for _, d := range w.Open {
		line, err := newDeskLine(v, view, d)
		if err != nil {
			return m, err
		}
		m.Open = append(m.Open, line)
	}
	sheet, err := v.Site.Store.Sheet(v.Context(), w.Machine.Sheet)
	if err != nil {
		return m, err
	}
	for _, t := range times {
		permit := sheet.Interlock.Permit(t.Permit)
		if permit.ID == "" || !t.Wear.Soon(v.Now) {
			continue
		}
		key := "workshop.wears"
		if t.Wear.Over(v.Now) {
			key = "workshop.worn"
		}
		m.Wears = append(m.Wears, v.T(key, "what", v.Text(permit.Moves), "last", v.Number(t.Seconds, 1), "limit", v.Number(t.Within, 1), "day", v.Day(t.Wear.Reaches)))
	}
	if logic := v.Site.Store.Logic(w.Machine.Sheet, sheet); logic != nil && !logic.None {
		for _, u := range v.Site.Store.Plan(w.Machine.Sheet, sheet).Uncatchable {
			m.Unseen = append(m.Unseen, tell.Fault(v.Voice, &sheet.Interlock, u.Fault))
		}
	}
	return m, nil
}
