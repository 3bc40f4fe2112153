package outing

// What an event may have harmed is looked over before the machine goes on: found
// sound, point by point, what the event left against it is gone. Anything else and it
// stays until a technician has closed it.

import (
	"slices"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/walk"
)

var ruleStandsFirst = text.NewRule("outing.stop_before_look", text.Slot{Name: "machine", Kind: text.Name})

// Look is what has to be looked over after an event on a machine.
type Look struct {
	Unit     *UnitState
	Event    machine.Event
	Happened Happening
}

// LookDue lists what has to be looked over and was not found sound.
func (o *Outing) LookDue() (out []Look) {
	if o.Status != Out {
		return nil
	}
	for _, u := range o.Units {
		for _, h := range u.Happenings() {
			if e, _ := u.Event(h.Event); h.Defect != "" && len(e.Look) > 0 && !o.soundAfter(u, h) {
				out = append(out, Look{u, e, h})
			}
		}
	}
	return out
}

func planAfter(due []Look) (e BreakBegun) {
	wanted := map[string][]string{}
	for _, d := range due {
		e.After = append(e.After, d.Happened.Defect)
		wanted[d.Unit.Machine] = append(wanted[d.Unit.Machine], d.Event.Look...)
	}
	for _, d := range due {
		if slices.ContainsFunc(e.Walks, func(w BreakWalk) bool { return w.Machine == d.Unit.Machine }) {
			continue
		}
		only := func(c *machine.Check) bool { return slices.Contains(wanted[d.Unit.Machine], c.ID) }
		if plan := walk.Cold(d.Unit.Sheet, walk.Options{Only: only, Hot: true}); len(plan.Stops) > 0 {
			e.Walks = append(e.Walks, BreakWalk{Machine: d.Unit.Machine, Route: plan.Stops})
		}
	}
	return e
}

// standsForLook refuses a look after an event while something of it is still to be
// done, or an engine runs.
func (o *Outing) standsForLook(by speech) error {
	for _, d := range o.LookDue() {
		live := d.Unit.Live(by.Meta)
		if r := d.Unit.open(live); r != nil {
			return record.Refuse(*r)
		}
		if live.Stands()["engine"] == "running" {
			return record.Refuse(ruleStandsFirst.Says(d.Unit.Name))
		}
	}
	return nil
}

// soundAfter reports whether every point that an event asks for was looked over since,
// in one look, and found sound.
func (o *Outing) soundAfter(u *UnitState, h Happening) bool {
	e, _ := u.Event(h.Event)
	return slices.ContainsFunc(o.Breaks, func(b *BreakState) bool {
		if !slices.Contains(b.After, h.Defect) || len(o.left(b)) > 0 {
			return false
		}
		i := slices.IndexFunc(b.Looks, func(look inspect.State) bool { return look.Machine == u.Machine })
		return i >= 0 && len(b.Looks[i].EveryFound()) == 0 && u.seen(e.Look, b.Looks[i])
	})
}

// seen reports whether a look holds an answer to every one of some points that the
// machine has, as it is built.
func (u *UnitState) seen(points []string, look inspect.State) bool {
	for _, id := range points {
		if _, has := u.Sheet.Check(id); has && (len(look.Open(id)) > 0 || !look.Asks(id)) {
			return false
		}
	}
	return true
}

// leaves reports whether an event leaves something against its machine.
func leaves(e machine.Event) bool {
	after := procedure.After(e)
	return after == "halt" || after == "return_only"
}
