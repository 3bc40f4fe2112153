package outing

// Options that the operator tells at "Ready?": what the machine carries today.

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
)

var (
	ruleOptionNeeded = text.NewRule("ready.option_needed", text.Slot{Name: "option", Kind: text.Words}, text.Slot{Name: "machine", Kind: text.Name})
	ruleFoundThere   = text.NewRule("ready.option_has_finding", text.Slot{Name: "point", Kind: text.Words})
	ruleOption       = text.NewRule("ready.unknown_option")
)

// ToldOption is an option of a machine that its operator is asked about.
type ToldOption struct {
	Machine     string // id
	MachineName string
	machine.Option
	// Way is how it was told to stand, here or at the last outing; "" before.
	Way string
}

// Told lists what the operator is asked about the machines of an outing.
func (o *Outing) Told() []ToldOption {
	var out []ToldOption
	for _, u := range o.Units {
		for _, option := range u.Sheet.Told() {
			_, known := machine.SplitKey(u.Hash)
			out = append(out, ToldOption{Machine: u.Machine, MachineName: u.Name, Option: option, Way: known[option.ID]})
		}
	}
	return out
}

// refitted is what follows from the ways that an operator tells: each option is
// told, and machines on which one is another way than before get another way
// round and another round.
func (o *Outing) refitted(told map[string]machine.Chosen, now time.Time) ([]Refitted, error) {
	sheets := make([]*machine.Sheet, len(o.Units))
	changed := false // or told for the first time
	for i, u := range o.Units {
		chosen := machine.Chosen{}
		for option, way := range u.Sheet.Chosen() {
			chosen[option] = way
		}
		for _, option := range u.Sheet.Told() {
			way, ok := told[u.Machine][option.ID]
			if !ok || way == "" {
				return nil, record.Refuse(ruleOptionNeeded.Says(option.Name, u.Name))
			}
			if _, ok := option.Choice(way); !ok {
				return nil, record.Refuse(ruleOption.Says())
			}
			_, known := machine.SplitKey(u.Hash)
			changed = changed || known[option.ID] != way
			chosen[option.ID] = way
		}
		sheets[i] = u.Sheet.With(chosen)
		for _, f := range u.Found() {
			if _, ok := sheets[i].Check(f.Check); !ok { // nothing found is ever told away
				return nil, record.Refuse(ruleFoundThere.Says(u.Check(f.Check).Name))
			}
		}
	}
	if !changed {
		return nil, nil
	}
	units, err := o.plansFor(sheets)
	if err != nil {
		return nil, err
	}
	out := make([]Refitted, len(o.Units))
	for i, u := range o.Units {
		hash, _ := machine.SplitKey(u.Hash)
		out[i] = Refitted{Machine: u.Machine, Sheet: machine.Key(hash, sheets[i].Chosen()), Round: units[i].Round, Joined: units[i].Joined}
		look := u.State.Refit(measured(sheets[i], u.Spots), u.Route)
		out[i].Route = look.RouteOf("", now, func(c *machine.Check) bool { return u.Asks(c.ID) || slices.Contains(u.Due, c.ID) })
	}
	return out, nil
}

// plansFor are the rounds of the outing's machines with other sheets, a carrier
// before what it carries as they are planned.
func (o *Outing) plansFor(sheets []*machine.Sheet) ([]Unit, error) {
	order := make([]int, len(sheets))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case sheets[a].Carrier == nil && sheets[b].Carrier != nil:
			return -1
		case sheets[a].Carrier != nil && sheets[b].Carrier == nil:
			return 1
		}
		return 0
	})
	planned, ordered := make([]Unit, len(sheets)), make([]*machine.Sheet, len(sheets))
	for i, at := range order {
		planned[i].Sheet, ordered[i] = o.Units[at].Hash, sheets[at]
	}
	if err := plans(planned, ordered, Plan, o.Repair); err != nil {
		return nil, err
	}
	out := make([]Unit, len(sheets))
	for i, at := range order {
		out[at] = planned[i]
	}
	return out, nil
}

// refit takes in what follows from ways told.
func (o *Outing) refit(list []Refitted) {
	for _, r := range list {
		o.change(r.Machine, func(u *UnitState) {
			_, chosen := machine.SplitKey(r.Sheet)
			u.Hash, u.Joined, u.Proved = r.Sheet, r.Joined, nil // built otherwise than it was proved
			u.State = u.State.Refit(measured(u.Sheet.With(chosen), u.Spots), r.Route)
			u.Round = round.Begin(u.setup(r.Round))
		})
	}
}
