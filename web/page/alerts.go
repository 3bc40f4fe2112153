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
	runOut, more := v.runOut()
	return append(append(v.lightning(), missed...), runOut...), errors.Join(err, more)
}

// lightning is what the weather post says of it, to whoever may have people or machines
// out.
func (v *Visit) lightning() []Alert {
	seen, ok := v.Site.Outside.Weather()
	if !ok || seen.Storm != "about" || !v.MayBeTold() {
		return nil
	}
	return []Alert{{Href: "/muster", Words: v.T("alert.lightning", "when", v.Clock(seen.At)), Goes: v.T("alert.lightning.goes")}}
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

// runOut are machines that are out and have come to a Halt by a deadline, or may have: then
// somebody reads the hour meter.
func (v *Visit) runOut() (out []Alert, err error) {
	if !v.MayBeTold() {
		return nil, nil
	}
	rows, err := v.Site.Store.RunOut(v.Context(), v.Now)
	for _, m := range rows {
		what, href := "alert.lapsed", "/outings/"+m.Out.ID
		if !m.Lapsed(v.Now) {
			what, href = "alert.unread", href+"/meter"
		}
		whose, key := operator.Own, what
		if m.Out.Operator != v.Person.ID {
			whose, key = operator.Others, what+"_of"
		}
		if v.Person.May(operator.End, whose, v.Now) {
			out = append(out, Alert{
				Href:  href,
				Words: v.T(key, "machine", m.Name, "who", m.Out.OperatorName),
				Goes:  v.T(key + ".goes"),
				Why:   v.T(what+".why", "until", tell.Deadline(v.Voice, m.Deadline)),
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
