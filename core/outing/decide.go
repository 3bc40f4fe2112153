package outing

// The gate of an outing: who speaks, whether it is theirs to say, and what it
// becomes.

import (
	"time"

	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

// Crew finds people: who speaks, and whom they name.
type Crew interface {
	Person(id string) (operator.Person, bool)
}

var (
	ruleClosed     = text.NewRule("outing.closed")
	ruleReleased   = text.NewRule("outing.released_already")
	ruleMachine    = text.NewRule("outing.unknown_machine")
	ruleReadyFirst = text.NewRule("outing.ready_first")
	ruleStale      = text.NewRule("outing.day_is_over")
	ruleNotFit     = text.NewRule("outing.not_fit")
	RuleStranger   = text.NewRule("who.nobody_here")
	RuleRole       = text.NewRule("who.not_your_role", text.Slot{Name: "role", Kind: text.Term})
	RuleNotYours   = text.NewRule("who.anothers_outing", text.Slot{Name: "who", Kind: text.Name})
	RuleNoCommand  = text.NewRule("who.no_such_command")
)

// Decide turns what somebody says into what is recorded, or refuses it with a
// *record.Refused. What follows from rules is filled in here.
func Decide(o *Outing, c Command, m record.Meta, crew Crew) ([]record.Event, error) {
	who, err := speaker(m.By, crew)
	if err != nil {
		return nil, err
	}
	if err := o.mayDo(who, c.Act(), crew, m.At); err != nil {
		return nil, err
	}
	if o.Status == Closed {
		return nil, record.Refuse(ruleClosed.Says())
	}
	for _, s := range stages {
		if events, mine, err := s.decide(o, c, speech{m, who, crew}); mine {
			return events, err
		}
	}
	return nil, record.Refuse(RuleNoCommand.Says())
}

// speech is a command being decided: its record to be, and who speaks.
type speech struct {
	record.Meta
	who  operator.Person
	crew Crew
}

// speaker is who says something: somebody who works here.
func speaker(id string, crew Crew) (operator.Person, error) {
	who, ok := crew.Person(id)
	if !ok || !who.Here() {
		return who, record.Refuse(RuleStranger.Says())
	}
	return who, nil
}

// mayDo is the rule about whose outing it is.
func (o *Outing) mayDo(who operator.Person, a operator.Act, crew Crew, now time.Time) error {
	whose := operator.Others
	if o.Operator() == who.ID {
		whose = operator.Own
	}
	switch {
	case who.May(a, whose, now):
		return nil
	case whose == operator.Others && who.May(a, operator.Own, now):
		has, _ := crew.Person(o.Operator())
		return record.Refuse(RuleNotYours.Says(has.Name))
	case whose == operator.Own && a == operator.TakeOver:
		return record.Refuse(ruleYoursAlready.Says())
	}
	return record.Refuse(RuleRole.Says(text.Key("role." + string(who.Role))))
}

// May reports whether somebody may do something in the outing as it stands, as
// far as that is a matter of who they are: for pages, which offer nothing else.
func (o *Outing) May(who operator.Person, a operator.Act, now time.Time) bool {
	return o.Status != Closed && who.Here() && o.mayDo(who, a, nobody{}, now) == nil
}

// nobody is a crew of none.
type nobody struct{}

func (nobody) Person(string) (operator.Person, bool) { return operator.Person{}, false }

// working checks that the operator was asked and is fit, that the machines have
// not gone out already, and that the day in which it began has not ended: what
// was looked at yesterday says nothing of this morning.
func (o *Outing) working(now time.Time) error {
	switch {
	case o.Status == Out:
		return record.Refuse(ruleReleased.Says())
	case o.Stale(now):
		return record.Refuse(ruleStale.Says())
	}
	return o.fit()
}

// Stale reports whether an outing was not released by the end of its day.
func (o *Outing) Stale(now time.Time) bool {
	return o.Status == Open && !o.Until.IsZero() && !now.Before(o.Until)
}

// fit checks that whoever has the outing was asked and is fit: a no closes the
// way until that person says otherwise.
func (o *Outing) fit() error {
	switch {
	case o.Ready() == nil:
		return record.Refuse(ruleReadyFirst.Says())
	case !o.Ready().Fit:
		return record.Refuse(ruleNotFit.Says())
	}
	return nil
}

// one is what a command becomes, or why not.
func one(e record.Event, err error) ([]record.Event, bool, error) {
	if err != nil {
		return nil, true, err
	}
	return []record.Event{e}, true, nil
}

// pass: the command is another stage's.
func pass() ([]record.Event, bool, error) { return nil, false, nil }

// MayNow reports whether a command would be taken at a time, or why not: for
// pages that say what has to come first.
func (o *Outing) MayNow(c Command, by operator.Person, now time.Time, crew Crew) *record.Refused {
	_, err := Decide(o, c, record.Meta{ID: "asked", By: by.ID, At: now}, crew)
	refused, _ := err.(*record.Refused)
	return refused
}
