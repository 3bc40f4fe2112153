package page

// The band over every page.

import (
	"time"

	"vespers/core/outing"
	"vespers/store"
)

// DayLine is the band over every page: the yard's day from first light to
// vespers, the present moment, and the outings as threads.
type DayLine struct {
	Now     float64 // per cent of the band
	NowText string
	Hours   []DayHour
	Mine    []Thread
	Calls   []Thread // somebody is needed
	Rest    int      // the others, as a count
	All     int

	start time.Time
	place func(time.Time) float64
}

// DayHour is a mark on the band.
type DayHour struct {
	X    float64
	Text string
}

// Thread is one outing along the day.
type Thread struct {
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
func (v *Visit) dayLine() (*DayLine, error) {
	d := v.DayOf(v.Now)
	rows, all, err := v.Site.Store.TodayOf(v.Context(), d.start, v.Person.ID)
	if err != nil {
		return nil, err
	}
	d.All, d.Rest = all, all-len(rows)
	for _, o := range rows {
		t := d.Thread(v, o)
		if t.State == "halt" {
			d.Calls = append(d.Calls, t)
			continue
		}
		if t.State != "home" {
			if err := v.doingOn(&t); err != nil {
				return nil, err
			}
		}
		d.Mine = append(d.Mine, t)
	}
	return d, nil
}

// doingOn adds what is open in an outing, and until when it waits; else how warm it is
// or what is in its tank, where that is known.
func (v *Visit) doingOn(t *Thread) error {
	o, err := v.Site.Store.Outing(v.Context(), t.Outing)
	if err != nil {
		return err
	}
	also := v.Doing(o)
	if in, _, known := o.Main().InTank(); also == "" && known && o.Status == outing.Out {
		also = v.T("fuel.in_tank_short", "litres", v.Litres(in))
	}
	if also != "" {
		t.Words += " · " + also
	}
	return nil
}

// DayOf is the band of the day that holds a moment, with nothing on it.
func (v *Visit) DayOf(t time.Time) *DayLine {
	d := &DayLine{start: v.Yard.DayStart(t)}
	midnight := time.Date(d.start.Year(), d.start.Month(), d.start.Day(), 0, 0, 0, 0, v.Zone)
	d.place = func(t time.Time) float64 {
		if t.Before(d.start) {
			return 0
		}
		return 100 * min(1, max(0, (t.Sub(midnight).Hours()-firstLight)/(vespers-firstLight)))
	}
	d.Now, d.NowText = d.place(v.Now), v.Clock(v.Now)
	for h := firstLight; h <= vespers; h += 3 {
		d.Hours = append(d.Hours, DayHour{X: 100 * float64(h-firstLight) / (vespers - firstLight), Text: v.Clock(time.Date(2000, 1, 1, h, 0, 0, 0, v.Zone))})
	}
	return d
}

// Thread is an outing on the band.
func (d *DayLine) Thread(v *Visit, o store.OutingRow) Thread {
	t := Thread{Outing: o.ID, Machine: o.MachineName, Who: o.OperatorName, From: d.place(o.Began), To: d.place(v.Now), Words: v.StateWords(&o), State: "open", Began: o.Began}
	t.Knots = append(t.Knots, t.From)
	if !o.Released.IsZero() {
		t.Knots = append(t.Knots, d.place(o.Released))
		t.State = "out"
	}
	if o.Status == outing.Open && o.Outcome == outing.Halted {
		t.State = "halt"
	}
	if !o.Ended.IsZero() {
		t.To = d.place(o.Ended)
		t.Knots = append(t.Knots, t.To)
		t.State = "home"
		t.Words = v.T("yard.ended", "when", v.When(o.Ended, v.Now))
		if o.Outcome == outing.EndLeft {
			t.Words = v.T("yard.left_on_site", "when", v.When(o.Ended, v.Now))
		}
	}
	t.To = max(t.To, t.From+0.6)
	return t
}

// StateWords says what an outing is at.
func (v *Visit) StateWords(o *store.OutingRow) string {
	switch {
	case o.Status == outing.Out:
		return v.T("yard.out_with", "who", o.OperatorName, "since", v.When(o.Released, v.Now))
	case o.Outcome == outing.Halted:
		return v.T("yard.halted_with", "who", o.OperatorName)
	case o.Stage == outing.StageWalk:
		return v.T("yard.walking", "who", o.OperatorName, "done", o.Done, "points", o.Points)
	}
	return v.T("yard.at_stage", "who", o.OperatorName, "stage", v.T("stage."+string(o.Stage)))
}

// Start is when the day began.
func (d *DayLine) Start() time.Time { return d.start }

// Shown are the threads drawn on the band: mine and those that need somebody.
func (d *DayLine) Shown() []Thread {
	out := append(append([]Thread{}, d.Calls...), d.Mine...)
	if len(out) > 4 {
		out = out[:4]
	}
	return out
}
