package page

// What cannot wait for the next page: an operator who was not heard of, and a
// machine that has come to a Halt while somebody is out with it.

import (
	"bytes"
	"errors"

	"vespers/core/operator"
	"vespers/tell"
)

// AlertsPath is where a page that stays open asks.
const AlertsPath = "/alerts"

// Alert is something that a page which stays open tells by itself.
type Alert struct {
	Href, Words string
	Goes        string // who sees to it, or what is to be done
	Why         string // what it comes from, where the words do not say so
}

// MayBeTold reports whether pages of the person tell what cannot wait.
func (v *Visit) MayBeTold() bool { return v.May(operator.End) }

// alerts lists what the person is told of: what is out is its operator's, and
// whose it is to end it.
func (v *Visit) alerts() ([]Alert, error) {
	missed, err := v.missed()
	lapsed, more := v.lapsed()
	return append(missed, lapsed...), errors.Join(err, more)
}

// missed are operators who were to be heard of and were not, for whoever sends
// somebody.
func (v *Visit) missed() (out []Alert, err error) {
	if !v.May(operator.Seek) {
		return nil, nil
	}
	rows, err := v.Site.Store.Missed(v.Context(), v.Now)
	for _, o := range rows {
		a := Alert{
			Href:  "/outings/" + o.ID + "/check-in",
			Words: v.T("check_in.missed", "who", o.OperatorName, "machine", o.MachineName, "due", v.When(o.Due, v.Now)),
			Goes:  v.T("check_in.send"),
		}
		if o.Sought != "" {
			a.Goes = v.T("check_in.sent", "who", v.Name(o.Sought))
		}
		out = append(out, a)
	}
	return out, err
}

// lapsed are machines that are out and have come to a Halt by the clock.
func (v *Visit) lapsed() (out []Alert, err error) {
	if !v.MayBeTold() {
		return nil, nil
	}
	rows, err := v.Site.Store.Lapsed(v.Context(), v.Now)
	for _, m := range rows {
		whose, key := operator.Own, "alert.lapsed"
		if m.Out.Operator != v.Person.ID {
			whose, key = operator.Others, "alert.lapsed_of"
		}
		if v.Person.May(operator.End, whose, v.Now) {
			out = append(out, Alert{
				Href:  "/outings/" + m.Out.ID,
				Words: v.T(key, "machine", m.Name, "who", m.Out.OperatorName),
				Goes:  v.T(key + ".goes"),
				Why:   v.T("alert.lapsed.why", "until", tell.Deadline(v.Voice, m.Deadline)),
			})
		}
	}
	return out, err
}

// ShowAlerts sends what cannot wait, for pages that stay open.
func ShowAlerts(v *Visit) {
	alerts, err := v.alerts()
	if err != nil {
		v.Fail(err)
		return
	}
	var b bytes.Buffer
	if err := Part(&b, "alerts", Frame{Visit: v, Alerts: alerts}); err != nil {
		v.Fail(err)
		return
	}
	v.gin.Header("Cache-Control", "no-store")
	v.Send("text/html; charset=utf-8", b.Bytes(), false)
}
