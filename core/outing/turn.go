package outing

// Whose outing it is: asking "Ready?", taking it over, handing it on.

import (
	"regexp"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
)

type turnStage struct{ quiet }

var (
	ruleYoursAlready = text.NewRule("turn.yours_already")
	ruleUnfitHanded  = text.NewRule("turn.a_lead_hands_it_over")
	ruleToWhom       = text.NewRule("turn.to_whom")
	ruleWatchedWord  = text.NewRule("ready.watched_word")
	ruleFitWord      = text.NewRule("ready.fit_word")
	ruleCompanyWho   = text.NewRule("ready.company_who")
	ruleCheckInTime  = text.NewRule("ready.check_in_time")
	ruleNotShown     = text.NewRule("ready.not_shown")
)

func (turnStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	switch c := c.(type) {
	case Ready:
		if o.Status == Out && o.Ready() != nil {
			return nil, true, record.Refuse(ruleReleased.Says())
		}
		return one(o.readied(c, by))
	case TakeOver:
		if r := o.Ready(); r != nil && !r.Fit {
			return nil, true, record.Refuse(ruleUnfitHanded.Says())
		}
		return one(TurnBegun{Operator: by.who.ID, Routes: o.routesFor(by.who, by.At)}, nil)
	case HandOver:
		to, ok := by.crew.Person(c.To)
		if !ok || !o.mate(to) {
			return nil, true, record.Refuse(ruleToWhom.Says())
		}
		return one(TurnBegun{Operator: to.ID, Routes: o.routesFor(to, by.At)}, nil)
	}
	return pass()
}

func (turnStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	switch e := e.(type) {
	case Readied:
		o.turn(func(t *Turn) {
			t.Ready, t.ReadyBy = &e.Readiness, m
			if t.Due = (time.Time{}); e.Due != nil && e.Fit {
				t.Due = *e.Due
			}
		})
		if o.refit(e.Refitted); e.Unwatched {
			o.proveAgain(m.At)
		}
	case TurnBegun:
		o.Turns = append(slices.Clip(o.Turns), Turn{Operator: e.Operator, Since: m})
		for id, route := range e.Routes {
			o.change(id, func(u *UnitState) { u.State = u.Rerouted(route) })
		}
		for _, u := range o.Units {
			if u.Recorded() { // nobody looks any more
				o.change(u.Machine, func(u *UnitState) { u.stand(u.Live(m).Left(m.At), m) })
			}
		}
	default:
		return false
	}
	return true
}

// timeOfDay is what a check-in time has to look like.
var timeOfDay = regexp.MustCompile(`^([01]\d|2[0-3]):[0-5]\d$`)

// readied is the person's own word, beside what their record shows.
func (o *Outing) readied(c Ready, by speech) (Readied, error) {
	e := Readied{Readiness: by.who.Readiness()}
	switch c.Fit {
	case "yes":
		e.Fit = true
	case "no":
	default:
		return e, record.Refuse(ruleFitWord.Says())
	}
	if e.Fit && o.AsksWatched() {
		if c.Watched != "yes" && c.Watched != "no" {
			return e, record.Refuse(ruleWatchedWord.Says())
		}
		e.Unwatched = c.Watched == "no"
	}
	if c.Company != "" {
		with, ok := by.crew.Person(c.Company)
		if !ok || !with.Here() || with.ID == by.who.ID {
			return e, record.Refuse(ruleCompanyWho.Says())
		}
		e.Company = with.ID
	}
	if c.CheckIn != "" {
		due, err := o.checkInAt(c.CheckIn, by.At)
		if err != nil {
			return e, err
		}
		e.CheckIn, e.Due = c.CheckIn, &due
	}
	if e.Fit {
		var err error
		if e.Refitted, err = o.refitted(c.Options, by.At); err != nil {
			return e, err
		}
	}
	for _, item := range o.Protection() {
		if slices.Contains(c.Shown, item.ID) {
			e.Asked = append(e.Asked, item.ID)
		}
		if slices.Contains(c.Worn, item.ID) {
			e.Worn = append(e.Worn, item.ID)
		}
	}
	for _, id := range c.Worn {
		if !slices.Contains(e.Asked, id) {
			return e, record.Refuse(ruleNotShown.Says()) // nobody has on what they were not asked about
		}
	}
	for _, conflict := range o.NotToWear() {
		if slices.Contains(c.ClearOf, conflict.ID) {
			e.ClearOf = append(e.ClearOf, conflict.ID)
		}
	}
	return e, nil
}

// AsksWatched reports whether the operator, who has it after another, is asked whether
// anybody else could reach it meanwhile: where some of a round was run before.
func (o *Outing) AsksWatched() bool {
	if len(o.Turns) < 2 || o.Ready() != nil {
		return false
	}
	return slices.ContainsFunc(o.Units, func(u *UnitState) bool { return u.Round.Begun })
}

// proveAgain takes its rounds, and its release, back: somebody could have done something
// to it that nobody saw. What failed stays failed.
func (o *Outing) proveAgain(now time.Time) {
	for _, u := range o.Units {
		o.change(u.Machine, func(u *UnitState) { u.Round = u.Round.Again() })
	}
	if o.Status != Out {
		return
	}
	ran := map[string]time.Duration{}
	for _, t := range o.Turns {
		ran[t.Operator] = o.RanBy(t.Operator, now)
	}
	o.Status, o.Verdict, o.ran = Open, nil, ran
}

// Protection is what the machines of an outing ask for together.
func (o *Outing) Protection() []machine.Protection {
	var all []machine.Protection
	for _, u := range o.Units {
		for _, p := range u.Sheet.Protection {
			i := slices.IndexFunc(all, func(q machine.Protection) bool { return q.ID == p.ID })
			switch {
			case i < 0:
				all = append(all, p)
			case len(p.For) == 0 || len(all[i].For) == 0:
				all[i].For = nil // one machine asks for it always
			default:
				all[i].For = append(slices.Clip(all[i].For), p.For...)
			}
		}
	}
	return all
}

// NotOn lists what the operator should have on at all times and has not said to.
func (o *Outing) NotOn() []text.Text {
	var out []text.Text
	if o.Ready() == nil {
		return nil
	}
	for _, p := range o.Protection() {
		if len(p.For) == 0 && !slices.Contains(o.Ready().Worn, p.ID) {
			out = append(out, p.Name)
		}
	}
	return out
}

// NotToWear is what the machines of an outing forbid together.
func (o *Outing) NotToWear() []machine.Conflict {
	var all []machine.Conflict
	for _, u := range o.Units {
		all = append(all, u.Sheet.NotToWear...)
	}
	return all
}

// Companions lists who may be somebody's company or stand by: who works here
// and is not the operator.
func (o *Outing) Companions(people []operator.Person) []operator.Person {
	var out []operator.Person
	for _, p := range people {
		if p.Here() && p.ID != o.Operator() {
			out = append(out, p)
		}
	}
	return out
}

// Mates lists who may have the outing instead of its operator, or look with them:
// companions who may do the work.
func (o *Outing) Mates(people []operator.Person) []operator.Person {
	return slices.DeleteFunc(slices.Clone(people), func(p operator.Person) bool { return !o.mate(p) })
}

func (o *Outing) mate(p operator.Person) bool {
	return p.Here() && p.Role.MayWork() && p.ID != o.Operator()
}

// MayStart reports whether the operator may start the machines: who has not read
// the manual or not practised may look round and learn, and nothing is started.
func (o *Outing) MayStart() bool { return o.Ready() != nil && len(o.unschooled()) == 0 }

func (o *Outing) unschooled() []text.Reason {
	return o.Ready().Unschooled(o.Sheets(), o.Now().ReadyBy.At)
}

// RanBy is for how long the machines were out in somebody's hands, up to a moment: each
// turn for whoever had it, from the release until they were shut down.
func (o *Outing) RanBy(person string, now time.Time) (ran time.Duration) {
	ran = o.ran[person]
	if o.Verdict == nil {
		return ran
	}
	end := now
	if o.Status == Closed {
		end = o.RanUntil(o.Home)
	}
	for i, t := range o.Turns {
		from, until := t.Since.At, end
		if from.Before(o.Release.At) {
			from = o.Release.At
		}
		if i+1 < len(o.Turns) && o.Turns[i+1].Since.At.Before(until) {
			until = o.Turns[i+1].Since.At
		}
		if t.Operator == person && until.After(from) {
			ran += until.Sub(from)
		}
	}
	return ran
}
