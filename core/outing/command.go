package outing

// What a person can say in an outing. A command is small and holds nothing that
// follows from rules: it could come from a page without signal.

import (
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/round"
)

// Command is one thing said in an outing.
type Command interface {
	// Act is what the command is, for who may.
	Act() operator.Act
}

// Ready answers "Ready?" for the person who says it.
type Ready struct {
	Fit string // yes or no
	// Shown lists the protection on the page, by id; Worn what of it is on;
	// ClearOf what is not worn of what must not be.
	Shown, Worn, ClearOf []string
	Company              string // who is about, a person's id
	CheckIn              string // when somebody looks for the operator, 15:04
	// Watched says, where somebody has it after another, whether it was in sight of one
	// of them or locked all the time: yes or no.
	Watched string
	// Options is how the options stand that the operator tells, by machine.
	Options map[string]machine.Chosen
}

// TakeOver takes the outing over from whoever has it.
type TakeOver struct{}

// HandOver gives the outing to somebody by name.
type HandOver struct{ To string }

// Answer answers a point of the walk-around or a running check.
type Answer struct{ inspect.Answer }

// PutRight says that a finding was put right and what was seen then.
type PutRight struct {
	Finding string
	Now     inspect.Answer
}

// Note adds a note or a picture to a finding.
type Note struct{ inspect.Noted }

// Worsen says that a finding is worse than the rules make it.
type Worsen struct{ inspect.Worsened }

// ChangeSetting says that a setting was changed.
type ChangeSetting struct{ inspect.Set }

// Tell tells a condition of the day.
type Tell struct{ inspect.Conditioned }

// Reroute asks for the rest of the walk from where the operator stands.
type Reroute struct{ Machine, From string }

// Crank tells what turning the key came to.
type Crank struct{ round.Crank }

// Test tells what a test of the round came to.
type Test struct{ round.Test }

// BeginRound says that its operator is in place and the circle clear.
type BeginRound struct{ round.BeginRound }

// Show tells whether a drive moved when it was let to.
type Show struct{ round.Show }

// PutBack says that the controls are put back after the round.
type PutBack struct{ round.PutThingsBack }

// Mistap takes back a result that was tapped and not confirmed.
type Mistap struct{ round.Test }

// Release lets the machines go out. Second is who stands by for an operator who
// may not release alone; their PIN has been found right by whoever passes this on.
type Release struct{ Second string }

// BeginBreak begins the look round at a break.
type BeginBreak struct{}

// AnswerBreak answers a point of it.
type AnswerBreak struct{ inspect.Answer }

// BeginProcedure begins a procedure of a machine.
type BeginProcedure struct{ Machine, Procedure string }

// AnswerStep answers a step of what is open on a machine. Sure says, where the clock
// jumped, that its wait is over.
type AnswerStep struct {
	Machine, Procedure, Step, Answer string
	Sure                             bool
}

// LeaveProcedure leaves what is open on a machine.
type LeaveProcedure struct{ Machine, Procedure string }

// Happen says that something happened to a machine.
type Happen struct{ Machine, Event string }

// Fill says what was filled into a machine: litres as they were typed, to the mark of
// its tank, or both; and how its hour meter stands, from which day the can is, and
// when it was, where that is not now.
type Fill struct {
	Machine      string
	Litres, Unit string
	ToMark       string // yes
	Hours        string
	Can          string // 2006-01-02
	When         string // 2006-01-02T15:04
}

// ReadMeter says what the hour meter of a machine that is out says, as typed.
type ReadMeter struct{ Machine, Hours string }

// CheckIn says that its operator is well, and when somebody looks for them next.
type CheckIn struct{ Next string } // 15:04

// Seek says who goes to look for an operator who was not heard of.
type Seek struct{ Who string } // a person's id

// End brings the machines home, or gives up an outing that never went out.
type End struct{}

// Act implements Command.
func (Ready) Act() operator.Act { return operator.Work }

// Act implements Command.
func (TakeOver) Act() operator.Act { return operator.TakeOver }

// Act implements Command.
func (HandOver) Act() operator.Act { return operator.HandOver }

// Act implements Command.
func (Answer) Act() operator.Act { return operator.Work }

// Act implements Command.
func (PutRight) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Note) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Worsen) Act() operator.Act { return operator.Work }

// Act implements Command.
func (ChangeSetting) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Tell) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Reroute) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Crank) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Test) Act() operator.Act { return operator.Work }

// Act implements Command.
func (BeginRound) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Show) Act() operator.Act { return operator.Work }

// Act implements Command.
func (PutBack) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Mistap) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Release) Act() operator.Act { return operator.Release }

// Act implements Command.
func (BeginBreak) Act() operator.Act { return operator.Work }

// Act implements Command.
func (AnswerBreak) Act() operator.Act { return operator.Work }

// Act implements Command.
func (End) Act() operator.Act { return operator.End }

// Act implements Command.
func (BeginProcedure) Act() operator.Act { return operator.Work }

// Act implements Command.
func (AnswerStep) Act() operator.Act { return operator.Work }

// Act implements Command.
func (LeaveProcedure) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Fill) Act() operator.Act { return operator.Work }

// Act implements Command.
func (ReadMeter) Act() operator.Act { return operator.Work }

// Act implements Command.
func (CheckIn) Act() operator.Act { return operator.Work }

// Act implements Command.
func (Seek) Act() operator.Act { return operator.Seek }

// Act implements Command.
func (Happen) Act() operator.Act { return operator.Work }
