package outing

// The stages of a day, in their order. To add one: a type with these methods in
// a file of its own, and one line in the list.

import (
	"slices"
	"time"

	"vespers/core/record"
	"vespers/core/text"
)

// Stage is a part of an outing, by name.
type Stage string

// The stages that lead to the release, and the verdict where they end.
const (
	StageReady   Stage = "ready"
	StageWalk    Stage = "walk"
	StageRound   Stage = "round"
	StageRunning Stage = "running"
	StageVerdict Stage = "verdict"
)

// StagePaper is where an outing is that is copied from paper; it leads to no release.
const StagePaper Stage = "paper"

// Stages lists them in the order of a day.
func Stages() []Stage {
	return []Stage{StageReady, StageWalk, StageRound, StageRunning, StageVerdict}
}

// stage is what a part of an outing knows. What it has taken in is in the
// outing's units, turns and breaks.
type stage interface {
	// name is "" for a stage that does not lead to the release.
	name() Stage
	// decide makes events of a command; mine is false if it is another's.
	decide(o *Outing, c Command, by speech) (events []record.Event, mine bool, err error)
	// apply takes an event into an outing that is being made; false if it is
	// another's.
	apply(o *Outing, m record.Meta, e record.Event) bool
	// undone reports whether something was not done on a machine, for whatever
	// reason; left whether it is still to be done.
	undone(o *Outing, u *UnitState) bool
	left(o *Outing, u *UnitState) bool
	// missing is what keeps a machine from its release here.
	missing(o *Outing, u *UnitState, now time.Time) []Missing
	// defects puts what was found on a machine among what stands.
	defects(o *Outing, u *UnitState, standing []Defect) []Defect
}

var stages []stage

func init() {
	stages = []stage{
		paperStage{},
		turnStage{},
		planStage{},
		termsStage{},
		walkStage{StageWalk},
		roundStage{},
		walkStage{StageRunning},
		releaseStage{},
		repairStage{},
		breakStage{},
		procedureStage{},
		trainStage{},
		fuelStage{},
		meterStage{},
		checkInStage{},
		expectStage{},
		homeStage{},
	}
}

// quiet is a stage that finds nothing and misses nothing.
type quiet struct{}

func (quiet) name() Stage                                             { return "" }
func (quiet) undone(*Outing, *UnitState) bool                         { return false }
func (quiet) left(*Outing, *UnitState) bool                           { return false }
func (quiet) missing(*Outing, *UnitState, time.Time) []Missing        { return nil }
func (quiet) defects(_ *Outing, _ *UnitState, list []Defect) []Defect { return list }

// Missing is one thing that keeps an outing from release, and the stage where
// it is mended.
type Missing struct {
	Reason  text.Reason `json:"reason"`
	Step    Stage       `json:"step"`
	Machine string      `json:"machine,omitempty"`
	Check   string      `json:"check,omitempty"`
	// Acts is how many answers it takes at least to mend it, and Seconds how long a
	// practised person needs for them; 0 where nobody can tell. Of no record: it is
	// reckoned when it is asked for.
	Acts    int     `json:"-"`
	Seconds float64 `json:"-"`
}

// Stage is where an outing is. Each stage is done for every machine of the
// outing before the next begins.
func (o *Outing) Stage() Stage {
	switch {
	case o.Status == Closed:
		return StageVerdict
	case o.Paper != nil:
		return StagePaper
	case o.fit() != nil:
		return StageReady
	case o.Status != Open:
		return StageVerdict
	}
	for _, s := range stages {
		if s.name() != "" && o.At(s.name()) != nil {
			return s.name()
		}
	}
	return StageVerdict
}

// Through reports whether a stage lies behind the outing and all of it was done:
// what a Halt ended, or its operator may not do, was not.
func (o *Outing) Through(name Stage) bool {
	if slices.Index(Stages(), name) >= slices.Index(Stages(), o.Stage()) || o.Ready() == nil {
		return false
	}
	for _, s := range stages {
		for _, u := range o.Units {
			if s.name() == name && s.undone(o, u) {
				return false
			}
		}
	}
	return true
}

// At is the machine that a stage goes on with, or nil if it is done for all.
// Rounds begin with the machine that has the engine, which moves the others.
func (o *Outing) At(name Stage) *UnitState {
	var later *UnitState
	for _, s := range stages {
		if s.name() != name {
			continue
		}
		for _, u := range o.Units {
			switch {
			case !s.left(o, u):
			case name == StageRound && u.With != "":
				// tested in its carrier's round
			case name != StageRound || u.Round.Engine:
				return u
			case later == nil:
				later = u
			}
		}
	}
	return later
}
