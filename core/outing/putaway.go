package outing

// What is left to do on a machine until it is put away for the night: of its own
// procedures, in the order that its house keeps, with the minutes of their steps.

import (
	"maps"
	"time"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
)

// The chores of an evening.
const (
	ChoreAir    = "air"
	ChoreWash   = "wash"
	ChoreGrease = "grease"
	ChoreFuel   = "fuel"
	ChorePark   = "park"
	ChoreCharge = "charge" // until it is plugged in
)

// Chore is one of them.
type Chore struct {
	ID      string
	Seconds float64
	Cool    bool // only with cool metal
	Begun   bool // some of it is done already: Seconds is what is left by the sheet
}

// PutAway is what is left to do on a machine.
type PutAway struct {
	// Shutdown is how many seconds it takes to shut it down once it is back, 0 where it
	// is.
	Shutdown float64
	// Off is when it was shut down, zero where it is not; Cools how long after that its
	// metal is cool.
	Off    time.Time
	Cools  time.Duration
	Chores []Chore
}

// cleansIt and greasesIt are procedures of the evening; the others are in live.go.
const (
	cleansIt  = "clean"
	greasesIt = "grease"
)

// PutAway is what is left to do on a machine of an outing that is out.
func (u *UnitState) PutAway(m record.Meta) PutAway {
	live := u.Live(m)
	stands := live.Stands()
	p := PutAway{Cools: procedure.Cooling(u.Sheet)}
	e := evening{u: u, at: m, facts: stands}
	if u.Parked && stands["engine"] != "running" {
		if p.Off, _ = live.Since("engine"); p.Off.IsZero() {
			p.Off = u.Off
		}
	} else {
		e.facts = maps.Clone(stands)
		for _, s := range e.planned(parksIt) {
			p.Shutdown += takes(s)
		}
		// Standing as a shutdown leaves it, whoever brought it back beside it.
		e.facts["engine"], e.facts["motion"], e.facts["person"], e.facts["metal"] = "off", "still", "beside", "hot"
	}
	warm := u.house("grease_when") == "warm"
	if warm {
		p.Chores = e.chores(p.Chores, p.Off, greasesIt)
	}
	p.Chores = e.chores(p.Chores, p.Off, cleansIt)
	if u.house("grease_when") == "after_wash" {
		p.Chores = e.chores(p.Chores, p.Off, greasesIt)
	}
	if u.house("refuel_when") == "day_end" {
		p.Chores = e.chores(p.Chores, p.Off, fuelsIt)
	}
	p.Chores = e.chores(p.Chores, p.Off, storesIt)
	if stands["charger"] != "plugged" {
		p.Chores = e.chores(p.Chores, p.Off, chargesIt)
	}
	return p
}

// Undone are the procedures of the evening that a machine was brought home without, in the
// order of an evening: those that it has and its house asks for, after work.
func (o *Outing) Undone(u *UnitState) (ids []string) {
	if o.End == nil || !o.WorkedUntil(o.Home) {
		return nil
	}
	asked := map[string]bool{cleansIt: true, greasesIt: u.house("grease_when") != "before_work", fuelsIt: u.house("refuel_when") == "day_end", storesIt: true}
	for _, p := range u.Sheet.Procedures {
		if _, ended := u.Ended(p.ID); asked[p.ID] && !ended {
			ids = append(ids, p.ID)
		}
	}
	return ids
}

// house is what was chosen for a question, or its first choice.
func (u *UnitState) house(question string) string { return u.Practice.Choice(question) }

// evening is a machine as its chores are planned one after the other.
type evening struct {
	u     *UnitState
	at    record.Meta
	facts machine.Facts
}

// planned is the way through a procedure from how the machine stands, which it leaves as
// the procedure does; nil where it has none, or no way leads through it.
func (e *evening) planned(id string) []procedure.Planned {
	has := false
	for i := range e.u.Sheet.Procedures {
		has = has || e.u.Sheet.Procedures[i].ID == id
	}
	if !has {
		return nil
	}
	way := e.u.Way()
	plan := procedure.MakePlan(e.u.Sheet, id, procedure.Given{Facts: e.facts, Options: way.Options, House: way.House})
	for _, s := range plan.Steps {
		for fact, is := range s.Makes {
			if fact != "metal" { // of each chore is said for itself whether it waits for that
				e.facts[fact] = is
			}
		}
	}
	return plan.Steps
}

// chores adds those of a procedure that was not ended since the machine was shut down.
// Steps that were answered since are behind it.
func (e *evening) chores(list []Chore, off time.Time, id string) []Chore {
	if at, ended := e.u.Ended(id); ended && !off.IsZero() && !at.At.Before(off) {
		return list
	}
	at, begun := -1, map[string]bool{}
	wet, cools := false, false
	for _, s := range e.planned(id) {
		wet = wet || id == cleansIt && s.Makes["water"] == "on"
		cools = cools || s.Step().Answer == machine.AnswerWait && s.Makes["metal"] == "cool"
		if s.Procedure != id || s.Step().Answer == machine.AnswerWait {
			continue
		}
		if was, ok := e.u.lastStep(id, s.ID); ok && !off.IsZero() && !was.Meta.At.Before(off) {
			begun[choreOf(id, wet)] = true
			continue
		}
		chore := choreOf(id, wet)
		if at < 0 || list[at].ID != chore {
			at = len(list)
			list = append(list, Chore{ID: chore})
		}
		list[at].Seconds += takes(s)
		list[at].Begun = begun[chore]
		list[at].Cool = list[at].Cool || wet || cools && id != cleansIt
		if s.Makes["charger"] == "plugged" {
			break // the rest is tomorrow's
		}
	}
	return list
}

// choreOf is the chore that a step of a procedure belongs to: from the water on, cleaning
// is washing, at the wash place.
func choreOf(id string, wet bool) string {
	switch {
	case id == cleansIt && wet:
		return ChoreWash
	case id == cleansIt:
		return ChoreAir
	case id == greasesIt:
		return ChoreGrease
	case id == fuelsIt:
		return ChoreFuel
	case id == chargesIt:
		return ChoreCharge
	}
	return ChorePark
}

// takes is how long a step takes, in seconds.
func takes(s procedure.Planned) float64 { return procedure.Takes([]*machine.Step{s.Step()}).Seconds() }
