package yard

// Mending: what was done about defects, what has to be looked at and tested again
// because of it, and the return to service.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// BeginRepair tells what was done about defects of a machine, so that it can be proved
// again. Carrier is what carries an implement while its engine is needed.
type BeginRepair struct {
	Defects            []string
	Cause, Work, Parts string
	// Touched are the points and controls (switches, drives) that hands were at, besides
	// those of the defects; Replaced those of all of them that have a new part.
	Touched, Replaced []string
	Carrier           string
}

// Act implements Command.
func (BeginRepair) Act() operator.Act { return operator.Mend }

var (
	ruleCauseAndWork = text.NewRule("defect.cause_and_work")
	ruleOfOne        = text.NewRule("repair.of_one_machine")
	ruleNoSuchPlace  = text.NewRule("repair.no_such_place")
	ruleNeedsCarrier = text.NewRule("repair.needs_carrier")
)

// repairTextMost is the longest cause or work, in characters.
const repairTextMost = 2000

func (c BeginRepair) decide(s speech) ([]Decided, error) {
	m, sheet, defects, err := c.about(s.View)
	if err != nil {
		return nil, err
	}
	for _, words := range []string{c.Cause, c.Work} {
		if strings.TrimSpace(words) == "" {
			return nil, record.Refuse(ruleCauseAndWork.Says())
		}
	}
	for _, words := range []string{c.Cause, c.Work, c.Parts} {
		if reason, wrong := text.Wrong(words, repairTextMost); wrong {
			return nil, record.Refuse(reason)
		}
	}
	if !places(sheet, slices.Concat(c.Touched, c.Replaced)) {
		return nil, record.Refuse(ruleNoSuchPlace.Says())
	}
	repair := c.repair(s.View, sheet, defects)
	var out []Decided
	if m.Outing != "" {
		o, ok := s.Outing(m.Outing)
		halted := func(d Defect) bool { return d.Outing == o.ID && d.Finding.Grade == defect.Halt }
		if !ok || o.Status != outing.Open || !slices.ContainsFunc(defects, halted) {
			who := operator.Person{}
			if ok {
				who, _ = s.Person(o.Operator())
			}
			return nil, record.Refuse(ruleTaken.Says(who.Name))
		}
		// The outing that found it never went out: it ends with it.
		out = append(out, Decided{Outing: o.ID, Machine: m.ID, Event: outing.Ended{How: outing.EndGivenUp}})
		m.Outing = ""
	}
	started, err := c.compose("o-"+s.ID, s, m, sheet, repair)
	if err != nil {
		return nil, err
	}
	if nothing(started) {
		return append(out, closed(defects, repair, "")...), nil
	}
	return append(out, Decided{Outing: "o-" + s.ID, Machine: m.ID, Event: started}), nil
}

// about is the machine of the defects, which are open and all of one.
func (c BeginRepair) about(v View) (m Machine, sheet *machine.Sheet, defects []Defect, err error) {
	if len(c.Defects) == 0 {
		return m, nil, nil, record.Refuse(ruleNoDefect.Says())
	}
	for _, id := range c.Defects {
		d, err := open(v, id)
		if err != nil {
			return m, nil, nil, err
		}
		if defects = append(defects, d); d.Machine != defects[0].Machine {
			return m, nil, nil, record.Refuse(ruleOfOne.Says())
		}
	}
	m, ok := v.Machine(defects[0].Machine)
	if !ok {
		return m, nil, nil, record.Refuse(ruleNoMachine.Says())
	}
	if sheet, ok = v.Sheet(m.Sheet); !ok {
		return m, nil, nil, record.Refuse(ruleNoSheet.Says())
	}
	return m, sheet, defects, nil
}

// repair is what follows from what was done: which points are looked at again, and
// which tests are repeated.
func (c BeginRepair) repair(v View, sheet *machine.Sheet, defects []Defect) outing.Repair {
	r := outing.Repair{Defects: c.Defects, Cause: c.Cause, Work: c.Work, Parts: c.Parts}
	points := map[string]bool{}
	for _, d := range defects {
		for _, id := range atDefect(sheet, d) {
			points[id] = true
		}
		provesSafety(v, sheet, d, &r)
	}
	for _, id := range slices.Concat(c.Touched, c.Replaced) {
		if _, isPoint := sheet.Check(id); isPoint {
			points[id] = true
		} else if !slices.Contains(r.Controls, id) {
			r.Controls = append(r.Controls, id)
		}
	}
	return repeats(sheet, points, c.Replaced, r)
}

// atDefect lists the points of a defect: its own, or those that what happened asks to
// be looked over.
func atDefect(sheet *machine.Sheet, d Defect) []string {
	if id, is := outing.EventID(d.Point); is {
		for _, e := range sheet.Events {
			if e.ID == id {
				return e.Look
			}
		}
	}
	if _, ok := sheet.Check(d.Point); ok {
		return []string{d.Point}
	}
	return nil
}

// provesSafety adds the tests that a defect asks for: those that would show what the
// test that failed would have shown, and those that cover a safety device; the whole
// round, where the sheet does not say which do.
func provesSafety(v View, sheet *machine.Sheet, d Defect, r *outing.Repair) {
	if o, ok := v.Outing(d.Outing); ok && d.Test >= 0 {
		u, test, found := o.Test(d.ID)
		if !found {
			r.Round = true // nobody knows which it was
			return
		}
		t := u.Round.Plan.Tests[test]
		r.Faults = append(r.Faults, t.Catches...)
		r.Controls = append(r.Controls, t.Permit)
		return
	}
	c, ok := sheet.Check(d.Point)
	if !ok || d.Finding.Grade != defect.Halt || sheet.Interlock.None != nil {
		return
	}
	class := c.Class
	if f, ok := c.Fault(d.Fault); ok {
		class = c.ClassOf(f)
	}
	switch {
	case class != machine.ClassA:
	case len(c.Switches) > 0:
		r.Controls = append(r.Controls, c.Switches...)
	default:
		r.Round = true
	}
}

// repeats fills in what is looked at and tested again when hands were at points: what
// they hold of switches, and what is due after every repair near them.
func repeats(sheet *machine.Sheet, points map[string]bool, replaced []string, r outing.Repair) outing.Repair {
	for i := range sheet.Checks {
		c := &sheet.Checks[i]
		if !points[c.ID] {
			continue
		}
		r.Touched = append(r.Touched, c.ID)
		r.Controls = append(r.Controls, c.Switches...)
		if slices.Contains(replaced, c.ID) {
			r.Replaced = append(r.Replaced, c.ID)
		}
	}
	for i := range sheet.Checks {
		c := &sheet.Checks[i]
		if points[c.ID] || afterRepair(sheet, c, points) {
			r.Points = append(r.Points, c.ID)
		}
	}
	for _, p := range interlock.Section(sheet).Permits {
		if slices.Contains(replaced, p.ID) {
			r.Renewed = append(r.Renewed, p.ID)
		}
	}
	slices.Sort(r.Controls)
	r.Controls = slices.Compact(r.Controls)
	slices.Sort(r.Faults)
	r.Faults = slices.Compact(r.Faults)
	return r
}

// afterRepair reports whether a point is looked at after every repair, and hands were
// near it: at its place, or in its system.
func afterRepair(sheet *machine.Sheet, c *machine.Check, points map[string]bool) bool {
	if c.Every == nil || !slices.Contains(c.Every.After, machine.AfterRepair) {
		return false
	}
	return slices.ContainsFunc(sheet.Checks, func(o machine.Check) bool {
		return points[o.ID] && (o.At == c.At || o.System != "" && o.System == c.System)
	})
}

// places reports whether everything that hands were at is on the machine.
func places(sheet *machine.Sheet, names []string) bool {
	section := interlock.Section(sheet)
	for _, id := range names {
		_, isPoint := sheet.Check(id)
		isSwitch := slices.ContainsFunc(section.Switches, func(sw machine.Switch) bool { return sw.ID == id })
		isDrive := slices.ContainsFunc(section.Permits, func(p machine.Permit) bool { return p.ID == id })
		if !isPoint && !isSwitch && !isDrive {
			return false
		}
	}
	return true
}

// compose is what the outing of the repair begins with.
func (c BeginRepair) compose(id string, s speech, m Machine, sheet *machine.Sheet, r outing.Repair) (outing.Started, error) {
	main, _ := bring(s.View, m, sheet, c.Defects, s.At)
	var carrier *outing.Machine
	if sheet.Carrier != nil && c.Carrier != "" {
		one, err := standing(s.View, c.Carrier, s.At)
		if err != nil {
			return outing.Started{}, err
		}
		carrier = &one
	}
	if sheet.Carrier != nil && carrier == nil && runs(sheet, r) {
		return outing.Started{}, record.Refuse(ruleNeedsCarrier.Says())
	}
	settings, _ := s.Settings()
	return outing.ComposeRepair(id, s.who, settings.House, main, carrier, s.Plan, r, s.At)
}

// runs reports whether an engine is needed for what is repeated.
func runs(sheet *machine.Sheet, r outing.Repair) bool {
	if r.Round || len(r.Controls)+len(r.Faults) > 0 {
		return true
	}
	return slices.ContainsFunc(r.Points, func(id string) bool {
		c, ok := sheet.Check(id)
		return ok && c.Phase != machine.Cold
	})
}

// nothing reports whether there is nothing to look at or test again.
func nothing(started outing.Started) bool {
	return !slices.ContainsFunc(started.Units, func(u outing.Unit) bool { return len(u.Route)+len(u.Round.Tests) > 0 })
}

// closed ends defects by a repair that was proved in an outing, or had nothing to prove.
func closed(defects []Defect, r outing.Repair, proof string) []Decided {
	var out []Decided
	for _, d := range defects {
		out = append(out, Decided{Machine: d.Machine, Event: DefectClosed{Defect: d.ID, Cause: r.Cause, Work: r.Work, Parts: r.Parts,
			Touched: r.Touched, Replaced: r.Replaced, Renewed: r.Renewed, Proof: proof}})
	}
	return out
}

// signed is the return to service at the end of a repair: its defects that are still
// open end, and its outing.
func signed(v View, o *outing.Outing, ended []record.Event) []Decided {
	var defects []Defect
	for _, id := range o.Repair.Defects {
		if d, ok := v.Defect(id); ok && d.Open {
			defects = append(defects, d)
		}
	}
	out := closed(defects, *o.Repair, o.ID)
	for _, e := range ended {
		out = append(out, Decided{Outing: o.ID, Machine: o.Main().Machine, Event: e})
	}
	return out
}

// Repeated tells what a repair would look at and test again, before it is begun: for
// the form that asks.
func (c BeginRepair) Repeated(v View, who operator.Person, now time.Time) (outing.Repair, int, error) {
	m, sheet, defects, err := c.about(v)
	if err != nil {
		return outing.Repair{}, 0, err
	}
	r := c.repair(v, sheet, defects)
	main, _ := bring(v, m, sheet, c.Defects, now)
	settings, _ := v.Settings()
	started, err := outing.ComposeRepair("", who, settings.House, main, nil, v.Plan, r, now)
	tests := 0
	for _, u := range started.Units {
		tests += len(u.Round.Tests)
	}
	return r, tests, err
}
