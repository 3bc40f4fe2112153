package yard

// What a yard makes of devices outside it: a key cabinet is told which keys may be taken,
// an hour meter that reports and a weather post are believed as far as that goes, and
// people are told what concerns them. None of them says anything in anybody's name: what
// they report is shown, and a person says it.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
)

var (
	ruleKeyNobody = text.NewRule("key.nobody_has_it")
	ruleKeyWalk   = text.NewRule("key.walk_first")
	ruleKeyHalt   = text.NewRule("key.on_halt")
	ruleFedBack   = text.NewRule("fed.runs_back", text.Slot{Name: "known", Kind: text.Amount})
	ruleFedFast   = text.NewRule("fed.too_fast", text.Slot{Name: "known", Kind: text.Amount})
)

// KeyMay reports whether the key of a machine may be out of its cabinet, or why not: only
// for an outing whose cold walk-around is done and that nothing halts (house rule). A
// repair has its machine on Halt, and needs the key to prove it.
func KeyMay(v View, m Machine, now time.Time) (why text.Reason, may bool) {
	o, ok := v.Outing(m.Outing)
	switch {
	case m.Outing == "" || !ok || o.Status == outing.Closed:
		return ruleKeyNobody.Says(), false
	case o.Paper != nil:
		return ruleKeyNobody.Says(), false
	case o.Repair == nil && (m.GradeAt(now) == defect.Halt || o.Judge(now).Outcome == outing.Halted):
		return ruleKeyHalt.Says(), false
	case o.Status == outing.Open && slices.Index(outing.Stages(), o.Stage()) <= slices.Index(outing.Stages(), outing.StageWalk):
		return ruleKeyWalk.Says(), false
	}
	return text.Reason{}, true
}

// clockMost is how far a device's clock may be off until nothing is believed that hangs on
// it (house rule).
const clockMost = 10 * time.Minute

// OnTime reports whether a device's clock says about what the yard's says.
func OnTime(at, now time.Time) bool { return at.Sub(now).Abs() <= clockMost }

// weatherMost is how old what a weather post saw may be until it is nothing (house rule).
const weatherMost = 15 * time.Minute

// SeenLately reports whether what a weather post saw at a moment says anything of now.
func SeenLately(at, now time.Time) bool { return now.Sub(at) <= weatherMost }

// meterSlack is by how many hours a meter that reports may differ from one that is read.
const meterSlack = 0.2

// Believe reports whether what a meter reports can be, against what is known of it, or why
// not: no meter runs back, and none faster than the clock.
func Believe(m Machine, hours float64, at time.Time) (why text.Reason, ok bool) {
	hour, _ := unit.Find("h")
	known := text.Measure{Quantity: hour.Of(m.Hours), Unit: "h"}
	switch {
	case hours < m.Hours-meterSlack:
		return ruleFedBack.Says(known), false
	case !m.HoursAt.IsZero() && hours > m.Hours+max(0, at.Sub(m.HoursAt).Hours())+meterSlack:
		return ruleFedFast.Says(known), false
	}
	return why, true
}

// stormMost is how far off lightning is about, in kilometres: thunder is heard half a
// minute after it (trade practice).
const stormMost = 10

// Seen is what a weather post sees, as a yard says it; ok is false where it is none of
// what the weather can be. Lightning is how far off it was, nil for none.
func Seen(grass, light string, lightning *float64) (w WeatherSaid, ok bool) {
	w = WeatherSaid{Grass: grass, Light: light, Storm: storms[0]}
	if lightning != nil {
		if !(*lightning >= 0) {
			return w, false
		}
		if *lightning <= stormMost {
			w.Storm = "about"
		}
	}
	return w, slices.Contains(grasses, grass) && slices.Contains(lights, light)
}

// Tiding is something that a person is told outside the yard: exactly one of Defect and
// Outing is set, or neither for a day that was sealed.
type Tiding struct {
	// ID is the same for the same thing told to the same person.
	ID     string
	To     operator.Person
	At     time.Time
	Defect *Defect
	Outing *outing.Outing
	Seal   *Seal
}

// toldFor is how long something is worth telling (house rule).
const toldFor = 24 * time.Hour

// Tidings are what leads are told: every Halt that was found lately, every operator who
// was to be heard of and was not, every day that was sealed lately. Who did it is not
// told of it.
func Tidings(v View, now time.Time) (out []Tiding) {
	var leads []operator.Person
	for _, p := range v.People() {
		if p.Leads(now) {
			leads = append(leads, p)
		}
	}
	tell := func(id, by string, one Tiding) {
		for _, p := range leads {
			if p.ID == by {
				continue
			}
			one.ID, one.To = id+"-"+p.ID, p
			out = append(out, one)
		}
	}
	for _, d := range v.EveryOpenDefect() {
		m, ok := v.Machine(d.Machine)
		if ok && now.Sub(d.FoundAt) < toldFor && d.Finding.GradeAt(m.Hours, now) == defect.Halt {
			tell("halt-"+d.ID, d.FoundBy, Tiding{At: d.FoundAt, Defect: &d})
		}
	}
	seen := map[string]bool{}
	for _, m := range v.Machines() {
		if m.Outing == "" || seen[m.Outing] {
			continue
		}
		seen[m.Outing] = true
		if o, ok := v.Outing(m.Outing); ok && o.Missed(now) {
			due := o.Now().Due
			tell("missed-"+o.ID+"-"+due.UTC().Format("20060102T1504"), o.Operator(), Tiding{At: due, Outing: o})
		}
	}
	if s, ok := v.LastSeal(); ok && now.Sub(s.Until) < toldFor {
		tell("sealed-"+s.Record, s.By, Tiding{At: s.Until, Seal: &s})
	}
	return out
}
