package outings

// Reading the hour meter while a machine is out.

import (
	"net/http"

	"vespers/core/outing"
	"vespers/web/page"
)

type meterPage struct {
	common
	Meters []meter
}

// meter is a machine of the outing with an hour meter, and how it was last known.
type meter struct {
	ID, Form, Name, Last string
	Reported, Hours      string // what it reported by itself, and as it would be typed
}

var meterPages = page.New[meterPage](templates, "meter")

func showMeter(v *page.Visit) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	base.beside("")
	p := meterPage{common: base}
	for _, u := range base.o.Units {
		if !u.Sheet.Metered() {
			continue
		}
		m := meter{ID: u.Machine, Form: page.NewID(), Name: u.Name, Last: v.T("meter.known", "hours", v.Number(u.HoursNow(), 1))}
		if at := u.ReadAt(); !at.IsZero() {
			m.Last = v.T("meter.read", "hours", v.Number(u.HoursNow(), 1), "when", v.When(at, v.Now))
		}
		m.reported(v)
		p.Meters = append(p.Meters, m)
	}
	meterPages.Show(v, http.StatusOK, v.T("meter.title"), p)
}

// reported is what the meter says by itself: shown, and typed in by nobody but a person.
func (m *meter) reported(v *page.Visit) {
	r, ok := v.Site.Outside.Reported(m.ID)
	if !ok {
		return
	}
	hours := v.Number(*r.Hours, 1)
	if r.Doubt != nil {
		m.Reported = v.T("meter.doubted", "hours", hours, "when", v.When(*r.At, v.Now)) + " " + v.Reason(*r.Doubt)
		return
	}
	m.Reported, m.Hours = v.T("meter.reported", "hours", hours, "when", v.When(*r.At, v.Now)), hours
}

func readMeter(v *page.Visit) {
	if o, ok := v.SayIn(outing.ReadMeter{Machine: v.Field("machine"), Hours: v.Field("hours")}); ok {
		v.Saved("/outings/" + o.ID)
	}
}
