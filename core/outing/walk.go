package outing

// The walk-around, which ends in the operator's place with the key on, and the
// checks with the engine running: two stages with one kind of question.

import (
	"slices"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/walk"
)

type walkStage struct{ stage Stage }

var (
	ruleNoWalkLeft = text.NewRule("outing.no_walk_left")
	ruleRoundFirst = text.NewRule("outing.round_first")
	ruleOpenPoints = text.NewRule("release.points_open", text.Slot{Name: "count", Kind: text.Count}, text.Slot{Name: "first", Kind: text.Words})
	ruleWhoLooks   = text.NewRule("who.looks_at_this", text.Slot{Name: "who", Kind: text.Term})
	ruleSettings   = text.NewRule("release.setting_left", text.Slot{Name: "do", Kind: text.Words})
)

func (s walkStage) name() Stage { return s.stage }

// phases are those of the sheet that belong to the stage.
func (s walkStage) phases(o *Outing) []machine.Phase {
	switch {
	case s.stage == StageWalk && o.Order > 0:
		return []machine.Phase{machine.Cold, machine.KeyOn}
	case s.stage == StageWalk:
		return []machine.Phase{machine.Cold}
	case o.Order > 0:
		return []machine.Phase{machine.Running}
	}
	return []machine.Phase{machine.KeyOn, machine.Running}
}

func (s walkStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if s.stage != StageWalk {
		return pass() // the walk decides for both: points know their own phase
	}
	var machineID string
	switch c := c.(type) {
	case Answer:
		machineID = c.Machine
	case PutRight:
		machineID = c.Now.Machine
	case Note:
		machineID = c.Machine
	case Worsen:
		machineID = c.Machine
	case ChangeSetting:
		machineID = c.Machine
	case Tell:
		machineID = c.Machine
	case Reroute:
		machineID = c.Machine
	default:
		return pass()
	}
	if err := o.working(by.At); err != nil {
		return nil, true, err
	}
	u := o.Unit(machineID)
	if u == nil {
		return nil, true, record.Refuse(ruleMachine.Says())
	}
	switch c := c.(type) {
	case Answer:
		return one(o.answered(u, c, by))
	case PutRight:
		if err := u.mayLook(by, c.Now.Check); err != nil {
			return nil, true, err
		}
		return one(u.PutRight(c.Finding, c.Now, by.At))
	case Note:
		return one(u.Note(c.Noted))
	case Worsen:
		return one(u.Worsen(c.Worsened))
	case ChangeSetting:
		return one(u.Change(c.Set))
	case Tell:
		return one(u.Tell(c.Conditioned))
	case Reroute:
		return one(u.rerouted(c, by.At))
	}
	return pass()
}

// answered: what is looked at with the key on or the engine running is for who
// may start it, and a running check also waits for the round.
func (o *Outing) answered(u *UnitState, c Answer, by speech) (inspect.Answered, error) {
	e, err := u.Answer(by.Meta, c.Answer)
	if err != nil {
		return e, err
	}
	if err := u.mayLook(by, c.Check); err != nil {
		return e, err
	}
	if e.Second != "" {
		if second, ok := by.crew.Person(e.Second); !ok || !o.mate(second) || second.ID == by.who.ID {
			return e, record.Refuse(inspect.RuleSecondLook.Says())
		}
	}
	if by.Supersedes != "" {
		return e, nil
	}
	switch phase := u.Check(c.Check).Phase; {
	case phase != machine.Cold && !o.MayStart():
		return e, record.Refuse(ruleNoStart.Says())
	case phase == machine.Running && !o.prover(u).Round.Done():
		return e, record.Refuse(ruleRoundFirst.Says())
	}
	return e, nil
}

// mayLook checks that a point is for whoever speaks to look at.
func (u *UnitState) mayLook(by speech, check string) error {
	if c := u.Check(check); c != nil && !by.who.MayLookAt(u.Sheet, c, by.At) {
		return record.Refuse(ruleWhoLooks.Says(text.Key("who." + c.WhoLooks())))
	}
	return nil
}

// rerouted plans anew: the spot is one of the sheet, and something is left to
// walk.
func (u *UnitState) rerouted(c Reroute, now time.Time) (Rerouted, error) {
	e := Rerouted{Machine: c.Machine, From: c.From}
	if _, ok := u.Sheet.Spot(c.From); !ok {
		return e, record.Refuse(machine.UnknownSpot(u.Sheet, c.From))
	}
	if len(u.Left(machine.Cold)) == 0 {
		return e, record.Refuse(ruleNoWalkLeft.Says())
	}
	e.Route = u.RouteFrom(c.From, now)
	return e, nil
}

func (s walkStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	if s.stage != StageWalk {
		return false
	}
	machineID := ""
	switch e := e.(type) {
	case Rerouted:
		o.change(e.Machine, func(u *UnitState) { u.State = u.Rerouted(e.Route) })
		return true
	case inspect.Set:
		machineID = e.Machine
	case inspect.Conditioned:
		machineID = e.Machine
	case inspect.Answered:
		machineID = e.Machine
	case inspect.PutRight:
		machineID = e.Machine
	case inspect.Noted:
		machineID = e.Machine
	case inspect.Worsened:
		machineID = e.Machine
	default:
		return false
	}
	o.change(machineID, func(u *UnitState) { u.State, _ = u.State.Apply(m, e) })
	return true
}

func (s walkStage) undone(o *Outing, u *UnitState) bool {
	return slices.ContainsFunc(s.phases(o), u.AnyLeft)
}

func (s walkStage) left(o *Outing, u *UnitState) bool {
	if s.stage == StageRunning {
		return o.MayStart() && u.Round.FailedTest() < 0 && s.undone(o, u)
	}
	return u.AnyLeft(machine.Cold) || o.keyOn() && u.AnyLeft(machine.KeyOn)
}

// ToLook lists the stops that a stage has left on a machine: on the walk, with
// the key on only once every machine was walked round, and for who may start it.
func (o *Outing) ToLook(stage Stage, u *UnitState) []walk.Stop {
	var left []walk.Stop
	for _, phase := range (walkStage{stage}).phases(o) {
		if stage == StageWalk && phase == machine.KeyOn && !o.keyOn() {
			continue
		}
		if left = append(left, u.Left(phase)...); phase == machine.Cold && len(left) > 0 {
			return left
		}
	}
	return left
}

// keyOn reports whether it is time for what the walk looks at with the key on.
func (o *Outing) keyOn() bool {
	return o.Order > 0 && o.MayStart() && !slices.ContainsFunc(o.Units, func(u *UnitState) bool { return u.AnyLeft(machine.Cold) })
}

// missing asks for the open points and for settings left where they must not
// stay.
func (s walkStage) missing(o *Outing, u *UnitState, _ time.Time) []Missing {
	var out []Missing
	for _, phase := range s.phases(o) {
		var open []*machine.Check
		var undone []text.Text
		for _, stop := range u.Left(phase) {
			if stop.Do == walk.Check {
				open = append(open, u.Check(stop.ID))
				continue
			}
			setting, _ := u.Sheet.Setting(stop.ID)
			way, _ := setting.Way(stop.To)
			undone = append(undone, way.Do)
		}
		switch {
		case len(open) > 0:
			m := Missing{Reason: ruleOpenPoints.Says(len(open), open[0].Name), Step: s.stage, Machine: u.Machine, Check: open[0].ID, Acts: len(undone)}
			for _, c := range open {
				m.Acts, m.Seconds = m.Acts+len(u.Open(c.ID)), m.Seconds+c.Seconds
			}
			out = append(out, m)
		case len(undone) > 0:
			out = append(out, Missing{Reason: ruleSettings.Says(undone[0]), Step: s.stage, Machine: u.Machine, Acts: len(undone)})
		}
	}
	return append(out, u.unseen(s.phases(o))...)
}

// defects: the walk finds for both stages.
func (s walkStage) defects(o *Outing, u *UnitState, standing []Defect) []Defect {
	if s.stage != StageWalk {
		return standing
	}
	for _, f := range u.Found() {
		standing = o.join(standing, Defect{Machine: u.Machine, Test: -1, Found: f})
	}
	return standing
}
