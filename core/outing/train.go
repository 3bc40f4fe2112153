package outing

// Combinations of machines that are out: what pulls one, and on which trailer one
// stands. Each is in an outing of its own; what one does to another is told to it.

import (
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
)

// The ways two machines go together.
const (
	Behind = "behind" // it is pulled
	On     = "on"     // it stands on the bed of a trailer
)

// Link says what a machine goes behind, or on. To is a machine of the yard, or "" for
// one that is not in this book.
type Link struct{ Machine, How, To string }

// Act implements Command.
func (Link) Act() operator.Act { return operator.Work }

// Linked says what a machine goes behind, or on, from now on.
type Linked struct {
	Machine string `json:"machine"`
	How     string `json:"how"`
	To      string `json:"to,omitempty"`
}

// Kind implements record.Event.
func (Linked) Kind() string { return "linked" }

// Beside tells a machine what the steps of another did to it.
type Beside struct {
	Machine string        `json:"machine"`
	From    string        `json:"from"` // the other machine, by id
	Facts   machine.Facts `json:"facts"`
}

// Kind implements record.Event.
func (Beside) Kind() string { return "told_beside" }

var _ = record.Register(Linked{}, Beside{})

type trainStage struct{ quiet }

func (trainStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	link, mine := c.(Link)
	if !mine {
		return pass()
	}
	u := o.Unit(link.Machine)
	switch {
	case u == nil:
		return nil, true, record.Refuse(ruleMachine.Says())
	case link.How == Behind && u.Sheet.Towed == nil, link.How == On && !u.Sheet.Rides(), link.How != Behind && link.How != On:
		return nil, true, record.Refuse(ruleNotThere.Says())
	}
	if err := o.fit(); err != nil {
		return nil, true, err
	}
	return one(Linked(link), nil)
}

func (trainStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	switch e := e.(type) {
	case Linked:
		o.change(e.Machine, func(u *UnitState) {
			if e.How == Behind {
				u.Behind = &e.To
			} else {
				u.On = &e.To
			}
		})
	case Beside:
		o.change(e.Machine, func(u *UnitState) { u.stand(u.Live(m).Told(e.Facts, m.At), m) })
		o.share(e.Machine, m)
	default:
		return false
	}
	return true
}

// stoodBehind is, among the facts that a machine was left with, what it was left coupled
// to: no fact of any sheet is called so.
const stoodBehind = "left behind"

// LeftBehind is what a machine was left coupled to, a machine's id, or "".
func LeftBehind(stood machine.Facts) string { return stood[stoodBehind] }

// stoodOnSite is, among them, where it was left on site.
const stoodOnSite = "left on site"

// LeftOnSiteAt is where a machine was left on site when it was last out, or "".
func LeftOnSiteAt(stood machine.Facts) string { return stood[stoodOnSite] }

// Facts are how the facts of a machine stand at a moment.
func (u *UnitState) Facts(m record.Meta) machine.Facts { return u.Live(m).Stands() }

// Coupled reports whether a machine hangs on what pulls it, as facts stand.
func Coupled(s *machine.Sheet, stands machine.Facts) bool {
	return s.Towed != nil && s.Towed.Coupled.Hold(stands)
}
