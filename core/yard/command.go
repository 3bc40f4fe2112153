package yard

// What a person can say to the yard.

import (
	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
)

// Command is one thing said.
type Command interface {
	// Act is what the command is, for who may.
	Act() operator.Act
	// decide is what is recorded, by who may; it stands with the rules it asks.
	decide(s speech) ([]Decided, error)
}

// SetUp is the first visit of all: the yard and its first lead.
type SetUp struct{ Yard, Timezone, Name, Language, PIN string }

// NameYard changes the yard's name, time zone or house rules.
type NameYard struct {
	Name, Timezone string
	House          defect.House
	Practice       Practice
	Emergency      Emergency
	Places         Places
	Pictures       Pictures
}

// AddPerson adds one of the crew.
type AddPerson struct{ Name, Role, Language, PIN string }

// ChangePerson puts right what is known of a person.
type ChangePerson struct{ Person, Name, Role, Language string }

// SetOwn changes the speaker's own settings.
type SetOwn struct {
	Language, Units, Theme string
	Keys                   bool
}

// ChangePIN is the speaker's own new PIN. That the old one was given, or lent,
// has been found right by whoever passes this on.
type ChangePIN struct{ PIN string }

// LendPIN gives somebody a PIN for their next sign-in.
type LendPIN struct{ Person, PIN string }

// HandDuties hands a lead's duties to somebody until the end of a date; "" ends it.
type HandDuties struct{ Person, Until string }

// LetGo says that somebody no longer works here; TakeBack that they do.
type LetGo struct{ Person string }

// TakeBack undoes LetGo.
type TakeBack struct{ Person string }

// SawManual says that somebody has read the manual of a sheet, by its hash.
type SawManual struct{ Person, Sheet string }

// SawShown says that somebody has shown something. Until is a date or "".
type SawShown struct{ Person, Kind, Sheet, Until string }

// SawBorn says when somebody was born; Was is what the page showed before.
type SawBorn struct{ Person, Born, Was string }

// Withdraw takes back what was written down of somebody.
type Withdraw struct{ Person, Record, Why string }

// AddMachine puts a machine in a bay. Hours is as typed.
type AddMachine struct{ Name, Bay, Sheet, Hours, Hirer string }

// AdoptSheet gives a machine another edition of its sheet.
type AdoptSheet struct{ Machine, Sheet string }

// SetOptions says how the options of a machine stand that are fixed for it.
type SetOptions struct {
	Machine string
	Ways    machine.Chosen
}

// SetMeter says what the hour meter of a machine says. Hours is as typed.
type SetMeter struct {
	Machine, Hours, Reason string
	Exchanged              bool
}

// TryFault tells what the next test of a search showed. Tried is how many tests
// the page knew of, so that an old page does not answer for a newer test.
type TryFault struct {
	Defect string
	Tried  int
	Seen   string // good, bad, restarted or not_before
}

// DropTrials begins the search of a defect again.
type DropTrials struct{ Defect string }

// EndWrongClock says that the clock was wrong until now, and is right.
type EndWrongClock struct{ Reason string }

// TakeOut takes a machine out, an implement with what carries it. Both says
// that the speaker keeps what they have out already.
type TakeOut struct {
	Machine, Carrier string
	Both             bool
	// For is what it is meant for; nothing said is nothing planned.
	For outing.Intend
}

// InOuting says something in an outing.
type InOuting struct {
	Outing  string
	Command outing.Command
}

// Act implements Command.
func (SetUp) Act() operator.Act { return "" }

// Act implements Command.
func (NameYard) Act() operator.Act { return operator.House }

// Act implements Command.
func (AddPerson) Act() operator.Act { return operator.People }

// Act implements Command.
func (ChangePerson) Act() operator.Act { return operator.People }

// Act implements Command.
func (SetOwn) Act() operator.Act { return operator.OwnThings }

// Act implements Command.
func (ChangePIN) Act() operator.Act { return operator.OwnThings }

// Act implements Command.
func (LendPIN) Act() operator.Act { return operator.People }

// Act implements Command.
func (HandDuties) Act() operator.Act { return operator.People }

// Act implements Command.
func (LetGo) Act() operator.Act { return operator.People }

// Act implements Command.
func (TakeBack) Act() operator.Act { return operator.People }

// Act implements Command.
func (SawManual) Act() operator.Act { return operator.Vouch }

// Act implements Command.
func (SawShown) Act() operator.Act { return operator.Vouch }

// Act implements Command.
func (SawBorn) Act() operator.Act { return operator.Vouch }

// Act implements Command.
func (Withdraw) Act() operator.Act { return operator.Vouch }

// Act implements Command.
func (AddMachine) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (SetOptions) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (AdoptSheet) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (SetMeter) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (TryFault) Act() operator.Act { return operator.Mend }

// Act implements Command.
func (DropTrials) Act() operator.Act { return operator.Mend }

// Act implements Command.
func (EndWrongClock) Act() operator.Act { return operator.House }

// Act implements Command.
func (TakeOut) Act() operator.Act { return operator.TakeOut }

// Act implements Command.
func (c InOuting) Act() operator.Act { return c.Command.Act() }
