// Package review looks across outings: what comes again and again in how a
// machine or a person is looked at, what wears, what wants a look. Leads and
// technicians see it, never an operator during an outing.
package review

import (
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/walk"
)

// Walked is how a cold walk-around was gone through: for a lead, who sees
// patterns over many, never for the operator.
type Walked struct {
	Machine string
	By      string
	At      time.Time
	// Seconds from the first answer to the last, and Least, the walking alone
	// at a walking pace.
	Seconds, Least float64
}

// Hurried reports whether the answers came faster than one can walk round: half
// the walking alone, looking not counted (house rule).
func (w Walked) Hurried() bool { return w.Seconds < w.Least/2 }

// HurriedLeast is how many of a person's walks have to be hurried before it is
// more than one bad morning (house rule).
const HurriedLeast = 2

// AlikeMost is how often the same gauge reading may come in a row at one place
// before it is more than chance (house rule).
const AlikeMost = 5

// Walks tells how each machine of the outing was walked round. A walk by more
// than one person, with few answers, or while the clock was
// wrong, tells nothing.
func Walks(o *outing.Outing) []Walked {
	var out []Walked
	for _, u := range o.Units {
		var first, last record.Meta
		n, alone := 0, true
		for _, stop := range u.Route {
			if stop.Do != walk.Check || stop.Phase != machine.Cold {
				continue
			}
			for _, item := range inspect.Items(u.Check(stop.ID)) {
				given := u.Given(stop.ID, item)
				if len(given) == 0 {
					continue
				}
				m := given[0].Meta
				n++
				alone = alone && (n == 1 || m.By == first.By) && !m.Doubtful
				if n == 1 || m.At.Before(first.At) {
					first = m
				}
				if n == 1 || m.At.After(last.At) {
					last = m
				}
			}
		}
		if n < 8 || !alone {
			continue
		}
		var cold []walk.Stop
		for _, s := range u.Route {
			if s.Phase == machine.Cold {
				cold = append(cold, s)
			}
		}
		metres, _, _ := walk.Left(u.Sheet, cold)
		out = append(out, Walked{Machine: u.Machine, By: first.By, At: first.At, Seconds: last.At.Sub(first.At).Seconds(), Least: metres / walk.Pace})
	}
	return out
}

// HaltTakenBack reports whether what was found kept the machine in, and what was said
// in its place does not.
func HaltTakenBack(b inspect.Back) bool {
	return b.Was.Finding.Grade == defect.Halt && b.Now.Finding.Grade != defect.Halt
}

// missedWithin is how long after a point was called sound a fault there says
// something about the look (house rule).
const missedWithin = 36 * time.Hour

// Missed is a point that one outing called sound and the next found faulty.
type Missed struct {
	Machine, Check string
	By             string // who had called it sound
	At             time.Time
	Found          time.Time
}

// MissedBy compares what was found in this outing with what the machine's outing
// before it had said.
func MissedBy(o *outing.Outing, machineID string, before *outing.Outing) []Missed {
	was := before.Unit(machineID)
	if was == nil {
		return nil
	}
	var out []Missed
	seen := map[string]bool{}
	for _, d := range o.Defects() {
		if d.Machine != machineID || d.Carried || d.Check == "" || seen[d.Check] || d.Finding.Grade == defect.Watch {
			continue
		}
		if g, ok := soundBefore(was, d); ok && d.At.Sub(g.Meta.At) < missedWithin {
			seen[d.Check] = true
			out = append(out, Missed{Machine: machineID, Check: d.Check, By: g.Meta.By, At: g.Meta.At, Found: d.At})
		}
	}
	return out
}

// soundBefore is the answer of an outing that a defect of the next speaks against: the
// point ticked, a fault not seen beside readings that were taken, or the same reading
// sound that is past its limit now.
func soundBefore(was *outing.UnitState, d outing.Defect) (g inspect.Given, ok bool) {
	c := was.Check(d.Check)
	if c == nil {
		return g, false
	}
	whole, answered := was.Last(d.Check, "")
	switch {
	case d.Item != "":
		g, ok = was.Last(d.Check, d.Item)
		return g, ok && d.Finding.Extent == machine.Lost && g.Answer == inspect.Read && g.Right == nil && g.Finding.Extent == machine.Sound
	case answered:
		return whole, whole.Now().Answer == inspect.Sound
	case len(c.Readings) > 0 && len(was.Open(c.ID)) == 0:
		return was.Last(d.Check, c.Readings[0].ID)
	}
	return g, false
}

// Gauged lists the readings of a machine that can be taken too often alike: only
// a gauge. A dipstick knows few places, an hour meter moves by itself.
func Gauged(u *outing.UnitState) []inspect.Before {
	var out []inspect.Before
	for _, r := range u.Readings() {
		if reading, ok := u.Check(r.Check).Reading(r.Item); ok && (reading.Kind == "" || reading.Kind == "gauge") {
			out = append(out, r)
		}
	}
	return out
}
