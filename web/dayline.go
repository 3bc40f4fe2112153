package web

import (
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
	Others  []thread // all of them, for the day's own page
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

func (s *server) dayLine(v *visit) (*dayLine, error) {
	start := v.yard.DayStart(v.now)
	rows, err := s.Store.Today(v.ctx(), start)
	if err != nil {
		return nil, err
	}
	place := func(t time.Time) float64 {
		local := t.In(v.Zone)
		if t.Before(start) {
			return 0
		}
		hour := local.Sub(time.Date(start.Year(), start.Month(), start.Day(), 0, 0, 0, 0, v.Zone)).Hours()
		return 100 * min(1, max(0, (hour-firstLight)/(vespers-firstLight)))
	}
	d := &dayLine{Now: place(v.now), NowText: v.Clock(v.now)}
	for h := firstLight; h <= vespers; h += 3 {
		d.Hours = append(d.Hours, dayHour{X: 100 * float64(h-firstLight) / (vespers - firstLight), Text: v.Clock(time.Date(2000, 1, 1, h, 0, 0, 0, v.Zone))})
	}
	for _, o := range rows {
		t := s.thread(v, o, place)
		d.Others = append(d.Others, t)
		switch {
		case t.State == "halt":
			d.Calls = append(d.Calls, t)
		case o.Operator == v.person.ID:
			d.Mine = append(d.Mine, t)
		default:
			d.Rest++
		}
	}
	return d, nil
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

func (s *server) showDay(v *visit) {
	d, err := s.dayLine(v)
	if err != nil {
		s.fail(v, err)
		return
	}
	v.page(200, "day", v.T("day.title"), d)
}
