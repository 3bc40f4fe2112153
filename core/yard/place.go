package yard

// Where machines stand and what they are called; leaving the yard and coming back.

import (
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// ChangeMachine names a machine, puts it in a bay, and says whose it is where it is hired.
type ChangeMachine struct{ Machine, Name, Bay, Hirer string }

// SendAway takes a machine out of the yard: sold, scrapped, back to its hirer.
type SendAway struct{ Machine, Why string }

// BringBack puts one that left in a bay again.
type BringBack struct{ Machine, Bay string }

// Act implements Command.
func (ChangeMachine) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (SendAway) Act() operator.Act { return operator.Machines }

// Act implements Command.
func (BringBack) Act() operator.Act { return operator.Machines }

// MachineChanged says what a machine is called, where it stands and whose it is.
type MachineChanged struct {
	Machine string `json:"machine"`
	Name    string `json:"name"`
	Bay     string `json:"bay"`
	Hirer   string `json:"hirer,omitempty"`
}

// MachineLeft says that a machine has left the yard, and why. Its records stay.
type MachineLeft struct {
	Machine string `json:"machine"`
	Why     string `json:"why"`
}

// MachineReturned says that it is back, in a bay.
type MachineReturned struct {
	Machine string `json:"machine"`
	Bay     string `json:"bay"`
}

// Kind implements record.Event.
func (MachineChanged) Kind() string { return "machine_changed" }

// Kind implements record.Event.
func (MachineLeft) Kind() string { return "machine_left" }

// Kind implements record.Event.
func (MachineReturned) Kind() string { return "machine_returned" }

var _ = record.Register(MachineChanged{}, MachineLeft{}, MachineReturned{})

var (
	ruleLeft    = text.NewRule("machine.left", text.Slot{Name: "name", Kind: text.Name}, text.Slot{Name: "when", Kind: text.Moment})
	ruleHere    = text.NewRule("machine.is_here")
	ruleItIsOut = text.NewRule("machine.is_out", text.Slot{Name: "name", Kind: text.Name})
)

// inYard is a machine that is in the yard.
func inYard(v View, id string) (Machine, error) {
	m, ok := v.Machine(id)
	switch {
	case !ok:
		return m, record.Refuse(ruleNoMachine.Says())
	case !m.Left.IsZero():
		return m, record.Refuse(ruleLeft.Says(m.Name, m.Left))
	}
	return m, nil
}

func (c ChangeMachine) decide(s speech) ([]Decided, error) {
	m, err := inYard(s.View, c.Machine)
	if err != nil {
		return nil, err
	}
	e := MachineChanged{Machine: m.ID, Hirer: c.Hirer}
	if e.Name, err = named(c.Name, nameMost); err != nil {
		return nil, err
	}
	if e.Bay, err = named(c.Bay, bayMost); err != nil {
		return nil, err
	}
	if reason, wrong := text.Wrong(c.Hirer, nameMost); wrong {
		return nil, record.Refuse(reason)
	}
	if err := nameFree(s.View, e.Name, m.ID); err != nil {
		return nil, err
	}
	return []Decided{{Machine: m.ID, Event: e}}, nil
}

// nameFree checks that no other machine in the yard looks named so.
func nameFree(v View, name, but string) error {
	for _, other := range v.Machines() {
		if other.ID != but && looks(other.Name) == looks(name) {
			return record.Refuse(ruleNamedSo.Says(other.Name, other.Bay))
		}
	}
	return nil
}

func (c SendAway) decide(s speech) ([]Decided, error) {
	m, err := inYard(s.View, c.Machine)
	if err != nil {
		return nil, err
	}
	if m.Outing != "" {
		return nil, record.Refuse(ruleItIsOut.Says(m.Name))
	}
	why, err := why(c.Why)
	if err != nil {
		return nil, err
	}
	return []Decided{{Machine: m.ID, Event: MachineLeft{Machine: m.ID, Why: why}}}, nil
}

// A machine that comes back has what was wrong with it still.
func (c BringBack) decide(s speech) ([]Decided, error) {
	m, ok := s.Machine(c.Machine)
	switch {
	case !ok:
		return nil, record.Refuse(ruleNoMachine.Says())
	case m.Left.IsZero():
		return nil, record.Refuse(ruleHere.Says())
	}
	bay, err := named(c.Bay, bayMost)
	if err != nil {
		return nil, err
	}
	if err := nameFree(s.View, m.Name, m.ID); err != nil {
		return nil, err
	}
	return []Decided{{Machine: m.ID, Event: MachineReturned{Machine: m.ID, Bay: bay}}}, nil
}
