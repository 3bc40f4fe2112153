package yard

// What the ground asks of the yard: its machines, as they are built and stand, who may take
// them, and the house rules of slopes and edges.

import (
	"math"
	"slices"
	"time"

	"vespers/core/ground"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/unit"
)

// Ground is the yard as a site is asked for it, now.
func Ground(v View, now time.Time) ground.With {
	settings, _ := v.Settings()
	w := ground.With{At: now, House: ground.Ruled()}
	sheets := map[string][]*machine.Sheet{} // of all that goes with a machine
	for _, m := range v.Machines() {
		if sheet, ok := v.Sheet(m.Sheet); ok {
			one, with := onGround(v, settings.Practice, m, sheet)
			w.Machines, sheets[m.ID] = append(w.Machines, one), with
		}
	}
	for _, p := range v.People() {
		if !p.Here() {
			continue
		}
		who := ground.Person{ID: p.ID}
		for _, m := range w.Machines {
			with := sheets[m.ID]
			if p.Role.MayWork() && len(p.Readiness().Unschooled(with, now)) == 0 {
				who.Machines = append(who.Machines, m.ID)
			}
			if !slices.ContainsFunc(with, func(s *machine.Sheet) bool { return !p.Readiness().Slopes(s, now) }) {
				who.Practised = append(who.Practised, m.ID)
			}
		}
		w.People = append(w.People, who)
	}
	return w
}

// choice is what is in force for a family where good practitioners differ.
func (p Practice) choice(id, family string) string {
	for _, q := range kept {
		if q.ID == id {
			return p.Now(q, family)
		}
	}
	return ""
}

// onGround is a machine as it stands, with the sheets of all that goes with it. One that is
// out is built as was said when it was taken out, and what goes with it, its tractor or
// what it pulls, limits it too; of one that stands in, whatever it may be built as counts.
func onGround(v View, house Practice, m Machine, sheet *machine.Sheet) (ground.Machine, []*machine.Sheet) {
	o, ok := v.Outing(m.Outing)
	if !ok || m.Outing == "" {
		return alone(v, house, m.ID, sheet), []*machine.Sheet{sheet}
	}
	if u := o.Unit(m.ID); u != nil {
		sheet = u.Sheet
	}
	out, sheets := alone(v, house, m.ID, sheet), []*machine.Sheet{sheet}
	out.Released = o.Status == outing.Out
	for _, u := range o.Units {
		if u.Machine != m.ID {
			out = together(out, alone(v, house, u.Machine, u.Sheet))
			sheets = append(sheets, u.Sheet)
		}
		if u.Sheet.Towed != nil && len(o.Units) > 1 && !slices.Contains(out.Conditions, "towing") {
			out.Conditions = append(out.Conditions, "towing")
		}
	}
	return out, sheets
}

// together is a machine with another that goes with it: it may what both may, and takes
// the room of the larger.
func together(m, with ground.Machine) ground.Machine {
	m.Uses = slices.DeleteFunc(m.Uses, func(use string) bool { return !slices.Contains(with.Uses, use) })
	for _, r := range with.Restrictions {
		if !slices.Contains(m.Restrictions, r) {
			m.Restrictions = append(m.Restrictions, r)
		}
	}
	m.Slope = m.Slope.With(with.Slope)
	m.Width, m.Exclusion = max(m.Width, with.Width), max(m.Exclusion, with.Exclusion)
	m.Reach, m.Height = higher(m.Reach, with.Reach), higher(m.Height, with.Height)
	if m.Pace.Burn == nil {
		m.Pace.Burn = with.Pace.Burn // an implement burns what its tractor does
	}
	return m
}

// higher is the greater of two heights, nil where one is not known.
func higher(a, b *ground.Measured) *ground.Measured {
	if a == nil || b == nil {
		return nil
	}
	return &ground.Measured{Value: max(a.Value, b.Value)}
}

// alone is a machine by itself.
func alone(v View, house Practice, id string, sheet *machine.Sheet) ground.Machine {
	out := ground.Machine{ID: id, Does: sheet.Does, Slope: slopeOf(sheet), Width: sheet.Drawing.Width}
	for _, use := range sheet.Uses {
		if use.Limit == nil && !slices.Contains(out.Uses, use.ID) {
			out.Uses = append(out.Uses, use.ID)
		}
	}
	for _, d := range v.OpenDefects(id) {
		for _, r := range d.Finding.Restrictions {
			if !slices.Contains(out.Restrictions, string(r)) {
				out.Restrictions = append(out.Restrictions, string(r))
			}
		}
	}
	n := numbersOf{sheet}
	out.Cut, out.Setback = n.most("cutting_width", "m"), n.most("setback", "m")
	if out.Setback == nil && house.choice("setback", sheet.Family) == "one_width" {
		out.Setback = &out.Width
	}
	if house.choice("slope_turn", sheet.Family) == "uphill" {
		out.Turning = ground.TurnUphill
	}
	out.Exclusion = math.Inf(1) // nobody has said how far people keep off: everything is near
	if r := n.most("exclusion", "m"); r != nil {
		out.Exclusion = *r
	}
	out.Reach, out.Height = measured(n.most("reach", "m")), measured(n.most("height", "m"))
	out.HandDig = ground.HandDig
	if dig := n.most("hand_dig", "m"); dig != nil {
		out.HandDig = *dig
	}
	out.Pace = ground.Pace{Speed: n.least("working_speed", "km/h"), Overlap: n.most("overlap", "m"), Efficiency: n.least("efficiency", ""), SetUp: n.most("set_up", "min"), Burn: n.most("burn", "L/h")}
	return out
}

// measured is a number of a sheet, which carries no doubt.
func measured(metres *float64) *ground.Measured {
	if metres == nil {
		return nil
	}
	return &ground.Measured{Value: *metres}
}

// slopeOf is what a sheet says of slopes.
func slopeOf(s *machine.Sheet) ground.Slope {
	out := ground.Slope{Off: map[string]float64{}}
	for _, u := range s.Uses {
		if u.Limit == nil {
			continue
		}
		t := ground.Tier{When: map[string][]string{}, Limit: inUnit(*u.Limit, u.Unit, "°"), NeverAbove: inUnit(*u.Limit, u.Unit, "°")}
		for option, ways := range u.If {
			t.When[option] = ways
		}
		for _, more := range []*float64{u.Up, u.NeverAbove} {
			if more != nil {
				t.NeverAbove = max(t.NeverAbove, inUnit(*more, u.Unit, "°"))
			}
		}
		switch u.ID {
		case "slope":
			out.Tiers = append(out.Tiers, t)
		case "wet_slope":
			out.Wet = append(out.Wet, t)
		}
	}
	if s.Slopes != nil {
		out.Direction = s.Slopes.Direction
		for _, off := range s.Slopes.Off {
			out.Off[off.Condition] = off.Degrees
		}
	}
	return out
}

// inUnit is a value of one unit in another; "" is the SI unit.
func inUnit(value float64, from, to string) float64 {
	if from == to {
		return value // as it stands, not a rounding off
	}
	u, _ := unit.Find(from)
	q := u.Of(value)
	if to == "" {
		return q.Value
	}
	t, _ := unit.Find(to)
	return t.In(q)
}

// numbersOf gives the numbers of a sheet; where the way that a machine is built is not
// known, the one that allows least.
type numbersOf struct{ *machine.Sheet }

func (n numbersOf) most(id, unit string) *float64 {
	return n.worst(id, unit, func(a, b float64) float64 { return max(a, b) })
}

func (n numbersOf) least(id, unit string) *float64 {
	return n.worst(id, unit, func(a, b float64) float64 { return min(a, b) })
}

func (n numbersOf) worst(id, unit string, of func(a, b float64) float64) (out *float64) {
	for _, p := range n.Numbers {
		if p.ID != id {
			continue
		}
		value := inUnit(p.Value, p.Unit, unit)
		if out != nil {
			value = of(value, *out)
		}
		out = &value
	}
	return out
}
