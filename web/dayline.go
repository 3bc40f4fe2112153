package web

import (
	"net/http"
	"time"

	"vespers/core/outing"
	"vespers/store"
)

// dayLine is the band over every page: the yard's day from first light to
// vespers, the present moment, and the outings as threads.
type dayLine struct {
	Now     float64 // per cent of the band
	NowText string
	Hours   []dayHour
	Mine    []thread
	Calls   []thread // somebody is needed
	Rest    int      // the others, as a count
	All     int

	start time.Time
	place func(time.Time) float64
}

type dayHour struct {
	X    float64
	Text string
}

// thread is one outing along the day.
type thread struct {
	Outing, Machine, Who string
	From, To             float64
	Knots                []float64
	State                string // open, out, halt, home
	Words                string
	Began                time.Time
}

// The band runs from first light to vespers: these hours of the yard's clock.
// Earlier and later work is held at its ends.
const (
	firstLight = 5
	vespers    = 20
)

// dayLine is the band with the threads that the person has to do with.
func (s *server) dayLine(v *visit) (*dayLine, error) {
	d := newDayLine(v)
	rows, all, err := s.Store.TodayOf(v.ctx(), d.start, v.person.ID)
	if err != nil {
		return nil, err
	}
	d.All, d.Rest = all, all-len(rows)
	for _, o := range rows {
		if t := s.thread(v, o, d.place); t.State == "halt" {
			d.Calls = append(d.Calls, t)
		} else {
			d.Mine = append(d.Mine, t)
		}
	}
	return d, nil
}

func newDayLine(v *visit) *dayLine {
	d := &dayLine{start: v.yard.DayStart(v.now)}
	midnight := time.Date(d.start.Year(), d.start.Month(), d.start.Day(), 0, 0, 0, 0, v.Zone)
	d.place = func(t time.Time) float64 {
		if t.Before(d.start) {
			return 0
		}
		return 100 * min(1, max(0, (t.Sub(midnight).Hours()-firstLight)/(vespers-firstLight)))
	}
	d.Now, d.NowText = d.place(v.now), v.Clock(v.now)
	for h := firstLight; h <= vespers; h += 3 {
		d.Hours = append(d.Hours, dayHour{X: 100 * float64(h-firstLight) / (vespers - firstLight), Text: v.Clock(time.Date(2000, 1, 1, h, 0, 0, 0, v.Zone))})
	}
	return d
}

func (s *server) thread(v *visit, o store.OutingRow, place func(time.Time) float64) thread {
	t := thread{Outing: o.ID, Machine: o.MachineName, Who: o.OperatorName, From: place(o.Began), To: place(v.now), Words: s.stateWords(v, &o), State: "open", Began: o.Began}
	t.Knots = append(t.Knots, t.From)
	if !o.Released.IsZero() {
		t.Knots = append(t.Knots, place(o.Released))
		t.State = "out"
	}
	if o.Status == outing.Open && o.Outcome == outing.Halted {
		t.State = "halt"
	}
	if !o.Ended.IsZero() {
		t.To = place(o.Ended)
		t.Knots = append(t.Knots, t.To)
		t.State = "home"
		t.Words = v.T("yard.ended", "when", v.Clock(o.Ended))
	}
	t.To = max(t.To, t.From+0.6)
	return t
}

// Shown are the threads drawn on the band: mine and those that need somebody.
func (d *dayLine) Shown() []thread {
	out := append(append([]thread{}, d.Calls...), d.Mine...)
	if len(out) > 4 {
		out = out[:4]
	}
	return out
}

// showDay is the day with every thread.
func (s *server) showDay(v *visit) {
	d := newDayLine(v)
	rows, err := s.Store.Today(v.ctx(), d.start)
	if err != nil {
		s.fail(v, err)
		return
	}
	threads := make([]thread, len(rows))
	for i, o := range rows {
		threads[i] = s.thread(v, o, d.place)
	}
	v.page(http.StatusOK, "day", v.T("day.title"), threads)
}
