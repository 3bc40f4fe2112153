package yard

// The gate: who speaks, and which rule answers.

import (
	"time"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// Decided is an event with where it belongs.
type Decided struct {
	Outing  string // the outing it is of, or ""
	Machine string // the machine it is of, or ""
	Event   record.Event
}

var (
	ruleSetUp     = text.NewRule("yard.set_up_already")
	ruleNoPerson  = text.NewRule("yard.no_such_person")
	ruleNoMachine = text.NewRule("yard.no_such_machine")
	ruleNoSheet   = text.NewRule("yard.no_such_sheet")
	ruleNoDefect  = text.NewRule("yard.no_such_defect")
	ruleNoOuting  = text.NewRule("yard.no_such_outing")
	ruleOwnWord   = text.NewRule("who.not_for_yourself")
)

// Missing reports whether a refusal is about something that is not there.
func Missing(r text.Rule) bool {
	switch r {
	case ruleNoPerson, ruleNoMachine, ruleNoDefect, ruleNoOuting:
		return true
	}
	return false
}

// Decide turns what somebody says into what is recorded, or refuses it with a
// *record.Refused.
func Decide(v View, c Command, m record.Meta) ([]Decided, error) {
	who, ok := v.Person(m.By)
	s := speech{Meta: m, View: v, who: who}
	switch c.(type) {
	case SetUp, InOuting: // nobody is there yet; the outing asks who may
		return c.decide(s)
	}
	if !ok || !who.Here() {
		return nil, record.Refuse(outing.RuleStranger.Says())
	}
	if err := mayDo(who, c.Act(), subject(c), m.At); err != nil {
		return nil, err
	}
	return c.decide(s)
}

// speech is a command being decided: its record to be, the yard, and who speaks.
type speech struct {
	record.Meta
	View
	who operator.Person
}

// mayDo is the rule about who may; a subject of "" is nobody else's thing.
func mayDo(who operator.Person, a operator.Act, subject string, now time.Time) error {
	whose := operator.Own
	if subject != "" && subject != who.ID {
		whose = operator.Others
	}
	switch {
	case who.May(a, whose, now):
		return nil
	case whose == operator.Own && who.May(a, operator.Others, now):
		return record.Refuse(ruleOwnWord.Says())
	}
	return record.Refuse(outing.RuleRole.Says(text.Key("role." + string(who.Role))))
}

// subject is whom a command is about.
func subject(c Command) string {
	switch c := c.(type) {
	case ChangePerson:
		return c.Person
	case LendPIN:
		return c.Person
	case HandDuties:
		return c.Person
	case LetGo:
		return c.Person
	case TakeBack:
		return c.Person
	case SawManual:
		return c.Person
	case SawShown:
		return c.Person
	case SawBorn:
		return c.Person
	case Withdraw:
		return c.Person
	case SayCame:
		return c.Person
	case SayWhere:
		return c.Person
	}
	return ""
}

// just is one event that belongs to no outing.
func just(e record.Event) []Decided { return []Decided{{Event: e}} }

func (c InOuting) decide(s speech) ([]Decided, error) {
	o, ok := s.Outing(c.Outing)
	if !ok {
		return nil, record.Refuse(ruleNoOuting.Says())
	}
	if _, over := c.Command.(outing.TakeOver); over && s.who.ID != "" {
		if err := notAlreadyOut(s.View, s.who, false); err != nil {
			return nil, err
		}
	}
	if link, links := c.Command.(outing.Link); links {
		if err := linkable(s.View, o, link, s.Meta); err != nil {
			return nil, err
		}
	}
	events, err := outing.Decide(o, c.Command, s.Meta, s.View)
	if _, sign := c.Command.(outing.Sign); sign && err == nil {
		return signed(s.View, o, events), nil
	}
	var out []Decided
	for _, e := range events {
		out = append(out, Decided{Outing: o.ID, Machine: o.Main().Machine, Event: e})
	}
	if err != nil {
		return nil, err
	}
	told, err := train(s.View, o, events, s.Meta)
	if err != nil {
		return nil, err
	}
	return append(out, told...), nil
}
