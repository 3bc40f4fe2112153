package yard_test

import (
	"math"
	"slices"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/ground"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/unit"
	"vespers/core/yard"
)

// on finds a machine among those that the ground is asked for.
func on(t *testing.T, w ground.With, id string) ground.Machine {
	t.Helper()
	i := slices.IndexFunc(w.Machines, func(m ground.Machine) bool { return m.ID == id })
	if i < 0 {
		t.Fatalf("no machine %s", id)
	}
	return w.Machines[i]
}

// TestTheGroundOfAYard: a machine that stands in is none that is released, and is limited
// as whatever it may be built as; what its defects forbid, and the house rules of its
// family, go with it.
func TestTheGroundOfAYard(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger")
	whole, less := w.sheet().Sheet.Copy(), 8.0 // with another deck that it may have
	wide := machine.If{"deck": {"wide"}}
	whole.Uses = append(whole.Uses, machine.Use{ID: "slope", Limit: &less, Unit: "°", If: wide})
	for id, value := range map[string]float64{"cutting_width": 1.52, "exclusion": 20} {
		whole.Numbers = append(whole.Numbers, machine.Parameter{ID: id, Value: value, Unit: "m", If: wide})
	}
	whole.Numbers = append(whole.Numbers, machine.Parameter{ID: "working_speed", Value: 6, Unit: "km/h", If: wide})
	w.sheets["whole"] = whole
	verger.Sheet = "whole"
	w.machines[verger.ID] = verger
	m := on(t, yard.Ground(w, w.at), verger.ID)
	sheet, _ := w.Sheet(verger.Sheet)
	if m.Released || !slices.Equal(m.Does, []string{"mow"}) || m.Slope.Direction != machine.Across || m.Slope.Off["soft"] != 4 || m.Width != sheet.Drawing.Width {
		t.Errorf("%+v", m)
	}
	if l := m.Slope.Limits(ground.Under{Practised: true}); l.Limit != 8 {
		t.Errorf("limited to %v, not as with the wide deck", l)
	}
	if *m.Cut != 1.52 || m.Setback != nil || m.Exclusion != 20 || m.Reach.Value != 1.9 || m.HandDig != ground.HandDig || *m.Pace.Efficiency != .8 || *m.Pace.SetUp != 6 || *m.Pace.Speed != 6 {
		t.Errorf("its numbers: %+v", m)
	}
	if m.Turning != "" || slices.Contains(m.Uses, "slope") || len(m.Uses) == 0 {
		t.Errorf("%+v", m)
	}

	id := w.found(verger.ID, defect.Mend, nil)
	d := w.defects[id]
	d.Finding.Restrictions = []machine.Restriction{machine.NoSlope}
	w.defects[id], w.defects["again"] = d, d
	w.settings.Practice = yard.Practice{"setback": "one_width", sheet.Family + "/slope_turn": "uphill"}
	m = on(t, yard.Ground(w, w.at), verger.ID)
	if !slices.Equal(m.Restrictions, []string{"no_slope"}) || *m.Setback != m.Width || m.Turning != ground.TurnUphill {
		t.Errorf("%+v", m)
	}
}

// TestWhoMayTakeItOnTheGround: who has read and practised it; onto slopes who has
// practised those, where the sheet asks for it.
func TestWhoMayTakeItOnTheGround(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger")
	sheet, _ := w.Sheet(verger.Sheet)
	who := func(id string) ground.Person {
		people := yard.Ground(w, w.at).People
		return people[slices.IndexFunc(people, func(p ground.Person) bool { return p.ID == id })]
	}
	if p := who("otto"); slices.Contains(p.Machines, verger.ID) {
		t.Errorf("nobody has shown him: %+v", p)
	}
	shown := func(kinds ...string) func(*operator.Person) {
		return func(p *operator.Person) {
			all := outingtest.Schooled(p.ID, p.Role, sheet)
			p.Manuals = all.Manuals
			p.Qualifications = slices.DeleteFunc(all.Qualifications, func(q operator.Qualification) bool { return !slices.Contains(kinds, q.Kind) })
		}
	}
	w.person("otto", shown(operator.Practice))
	slopes := sheet.Needs != nil && sheet.Needs.SlopePractice
	if p := who("otto"); !slices.Contains(p.Machines, verger.ID) || slices.Contains(p.Practised, verger.ID) == slopes {
		t.Errorf("%+v, and the sheet asks for slopes: %v", p, slopes)
	}
	w.person("otto", shown(operator.Practice, operator.SlopePractice))
	if p := who("otto"); !slices.Contains(p.Practised, verger.ID) {
		t.Errorf("%+v", p)
	}
	w.person("osk", shown(operator.Practice))
	if p := who("osk"); len(p.Machines) > 0 {
		t.Errorf("a visitor: %+v", p)
	}
	w.person("otto", func(p *operator.Person) { p.Left = w.at })
	if people := yard.Ground(w, w.at).People; slices.ContainsFunc(people, func(p ground.Person) bool { return p.ID == "otto" }) {
		t.Error("he has left")
	}
}

// TestWhatIsOutOnTheGround is built as was said when it was taken out.
func TestWhatIsOutOnTheGround(t *testing.T) {
	w := newTown(t)
	verger := w.machine("Verger")
	o := outingtest.Begin(t, "ida", outingtest.Machine(verger.ID, w.sheet()), nil)
	o.Status = outing.Out
	w.outings[o.ID] = o
	verger.Outing = o.ID
	w.machines[verger.ID] = verger
	m := on(t, yard.Ground(w, w.at.Add(time.Hour)), verger.ID)
	if !m.Released {
		t.Fatalf("%+v", m)
	}
	if l := m.Slope.Limits(ground.Under{Practised: true}); len(m.Slope.Tiers) != 1 || l.Limit <= 8 {
		t.Errorf("%+v: %v", m.Slope, l)
	}
}

// TestWhatGoesTogetherOnTheGround: what a tractor may not, what it carries may not either,
// and who takes it has been shown both.
func TestWhatGoesTogetherOnTheGround(t *testing.T) {
	w := newTown(t)
	boom, tractor := w.machine("Verger"), w.machine("Sexton")
	o := outingtest.Begin(t, "ida", outingtest.Machine(boom.ID, w.sheet()), nil)
	o.Status = outing.Out
	steep := 6.0
	carrier := w.sheet().Sheet.Copy()
	carrier.ID, carrier.Uses, carrier.Slopes = "carrier", []machine.Use{{ID: "slope", Limit: &steep, Unit: "°"}, {ID: "near_public"}}, &machine.Slopes{Direction: machine.AnyWays}
	o.Units = append(o.Units, &outing.UnitState{State: inspect.State{Machine: tractor.ID, Sheet: carrier}})
	w.outings[o.ID] = o
	for _, m := range []yard.Machine{boom, tractor} {
		m.Outing = o.ID
		w.machines[m.ID] = m
	}
	id := w.found(tractor.ID, defect.Mend, nil)
	d := w.defects[id]
	d.Finding.Restrictions = []machine.Restriction{machine.NoNearPublic}
	w.defects[id] = d
	g := yard.Ground(w, w.at)
	m := on(t, g, boom.ID)
	if l := m.Slope.Limits(ground.Under{Practised: true}); l.Limit != steep || !slices.Equal(m.Uses, []string{"near_public"}) || !slices.Equal(m.Restrictions, []string{"no_near_public"}) {
		t.Errorf("%+v: %+v", l, m)
	}
	if ida := g.People[slices.IndexFunc(g.People, func(p ground.Person) bool { return p.ID == "ida" })]; slices.Contains(ida.Machines, boom.ID) {
		t.Errorf("nobody has shown her the other: %+v", ida)
	}
}

// TestClearedForAsTheGroundHasIt: what an outing is cleared for on slopes is what the
// ground limits the same machine to, on every sheet, built every way, dry and wet.
func TestClearedForAsTheGroundHasIt(t *testing.T) {
	newTown(t) // reads the sheets
	compared := 0
	for _, r := range resolved {
		for _, chosen := range r.Sheet.EveryWay() {
			built := machinetest.Resolved{Sheet: r.Sheet.With(chosen), Hash: r.Hash}
			o := outingtest.Begin(t, "ida", outingtest.Machine("m", built), nil)
			w := newTown(t)
			w.outings[o.ID] = o
			m := w.machine("Verger")
			delete(w.machines, m.ID)
			m.ID, m.Outing = "m", o.ID
			w.machines[m.ID] = m
			limits := on(t, yard.Ground(w, w.at), "m").Slope
			for use, under := range map[string]ground.Under{"slope": {Practised: true}, "wet_slope": {Practised: true, Conditions: []string{ground.Wet}}} {
				want := float64(ground.Flat)
				for _, c := range o.Judge(w.at).Cleared {
					if c.Use == use && c.Limit != nil {
						deg, _ := unit.Find("°")
						want = deg.In(c.Limit.Quantity)
						compared++
					}
				}
				got := limits.Limits(under).Limit
				// On wet grass the dry limit counts too, and a sheet without a direction stays
				// on the flat.
				if limits.Direction == "" || use == "wet_slope" && limits.Limits(ground.Under{Practised: true}).Limit < want {
					want = min(want, got)
				}
				if math.Abs(got-want) > 1e-9 {
					t.Errorf("%s %v, %s: cleared to %v°, the ground says %v°", r.Sheet.ID, chosen, use, want, got)
				}
			}
		}
	}
	if compared < 4 {
		t.Errorf("only %d limits compared", compared)
	}
}
