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
type meter struct{ ID, Form, Name, Last string }

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
		p.Meters = append(p.Meters, m)
	}
	meterPages.Show(v, http.StatusOK, v.T("meter.title"), p)
}

func readMeter(v *page.Visit) {
	if o, ok := v.SayIn(outing.ReadMeter{Machine: v.Field("machine"), Hours: v.Field("hours")}); ok {
		v.Saved("/outings/" + o.ID)
	}
}
