package outing

// Letting the machines go out: who does it, and with whom.

import (
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

type releaseStage struct{ quiet }

var (
	RuleSecond      = text.NewRule("outing.second_person")
	ruleNotReleased = text.NewRule("outing.not_clear")
)

func (releaseStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	release, mine := c.(Release)
	if !mine {
		return pass()
	}
	if err := o.working(by.At); err != nil {
		return nil, true, err
	}
	if o.Repair != nil {
		return nil, true, record.Refuse(ruleNoRelease.Says())
	}
	e := Released{Verdict: o.Judge(by.At)}
	if e.Verdict.Outcome != Clear {
		return nil, true, record.Refuse(ruleNotReleased.Says())
	}
	if o.NeedsSecond() || !by.who.Role.MayRelease() {
		second, ok := by.crew.Person(release.Second)
		if !ok || !o.MayStandBy(second) {
			return nil, true, record.Refuse(RuleSecond.Says())
		}
		e.Second = second.ID
	}
	return one(e, nil)
}

func (releaseStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	released, mine := e.(Released)
	if mine {
		o.Status, o.Verdict, o.Release, o.Second = Out, &released.Verdict, m, released.Second
	}
	return mine
}

// NeedsSecond reports whether somebody else has to stand by at the release,
// because its operator may not do so alone.
func (o *Outing) NeedsSecond() bool { return o.Ready() != nil && !o.Ready().Role.MayRelease() }

// MayStandBy reports whether somebody may be the second person at the release.
func (o *Outing) MayStandBy(p operator.Person) bool {
	return p.Here() && p.Role.MayRelease() && p.ID != o.Operator()
}
