package page

// Procedures and events of a machine, as they are read.

import (
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/tell"
)

// RunView is a procedure, or something that happened.
type RunView struct {
	ID, Title string
	// First is the first act of an event; the rest are its other steps.
	First StepView
	Steps []StepView
	After string   // what the machine is then
	Kept  []string // the house rules that people keep at it
}

// StepView is one step in words.
type StepView struct {
	When            string // the only case in which it is done
	Do, Why, Hazard string
	Wait, Otherwise string
	Rule            string // the house rule by which it is there
	Numbers         []NumberView
}

// NumberView is a number of a sheet in words, with where it comes from.
type NumberView struct{ Name, Value, Source string }

// NumberView shows a number of a sheet.
func (v *Visit) NumberView(n *machine.Parameter) NumberView {
	return NumberView{v.T("parameter." + n.ID), v.Amount(n.Amount()), v.T("source." + string(n.Source))}
}

// Numbers are some of the numbers of a sheet, as far as it gives them.
func (v *Visit) Numbers(s *machine.Sheet, ids []string) (out []NumberView) {
	for _, id := range ids {
		if n, ok := s.Number(id); ok {
			out = append(out, v.NumberView(&n))
		}
	}
	return out
}

// Tries says how often it was tried to start a machine, and how often it may be.
func (v *Visit) Tries(s *machine.Sheet, n int) string {
	if most, ok := s.Number("crank_tries"); ok {
		return v.T("start.tries_of", "n", n, "most", int(most.Value))
	}
	return v.T("start.tries", "n", n)
}

// Kept are the rules that people keep at a procedure of a machine: those of the house, by
// what it had chosen, and how its sheet says that it gets onto a trailer.
func (v *Visit) Kept(sheet *machine.Sheet, house procedure.House, at string) (out []string) {
	for _, q := range yard.KeptWith(sheet, at) {
		if choice, ok := house[q.ID]; ok {
			out = append(out, v.T("house."+q.ID)+": "+tell.Lower(v.T("house."+q.ID+"."+choice)))
		}
	}
	if at == "load" {
		out = append(out, tell.Transport(v.Voice, sheet.Transport)...)
	}
	return out
}

// Procedures are the procedures of a sheet, in the order of a day.
func (v *Visit) Procedures(s *machine.Sheet) (out []RunView) {
	for _, p := range procedure.OfTheDay(s) {
		out = append(out, RunView{ID: p.ID, Title: v.ProcedureTitle(s, p.ID), Steps: v.steps(s, p.Steps), Kept: v.Kept(s, v.Yard.Practice.For(s.Family), p.ID)})
	}
	return out
}

// Events are what can happen to a machine, the most pressing first.
func (v *Visit) Events(s *machine.Sheet) (out []RunView) {
	for _, e := range procedure.Pressing(s) {
		steps := v.steps(s, e.Steps)
		if len(steps) == 0 {
			continue
		}
		out = append(out, RunView{ID: e.ID, Title: v.Text(e.Name), First: steps[0], Steps: steps[1:], After: v.After(e)})
	}
	return out
}

// After says what a machine is after an event.
func (v *Visit) After(e machine.Event) string {
	if len(e.Look) > 0 {
		return v.T("event.after.look")
	}
	return v.T("event.after." + procedure.After(e))
}

// Times are the times that the procedures of a sheet keep to, with their source.
func (v *Visit) Times(s *machine.Sheet) (out []string) {
	for _, n := range s.Numbers {
		if u, ok := unit.Find(n.Unit); ok && u.Dimension == unit.Time {
			out = append(out, v.T("steps.time", "what", v.T("parameter."+n.ID), "time", v.Amount(n.Amount()), "source", v.T("source."+string(n.Source))))
		}
	}
	return out
}

func (v *Visit) steps(s *machine.Sheet, steps []machine.Step) (out []StepView) {
	shown := procedure.Shown(s, steps, procedure.Way{Options: s.Chosen(), House: v.Yard.Practice.For(s.Family)})
	for i := range shown {
		st := &shown[i]
		view := StepView{Do: v.Text(st.Do), When: v.when(st), Wait: v.waits(s, st), Otherwise: v.otherwise(s, shown, st), Numbers: v.Numbers(s, st.Numbers)}
		if st.School != nil {
			view.Rule = v.T("house.in_force", "rule", v.T("house."+st.School.Question+"."+st.School.Choice))
		}
		if st.Why != nil {
			view.Why = v.Text(*st.Why)
		}
		if st.Hazard != nil {
			view.Hazard = v.Text(*st.Hazard)
		}
		out = append(out, view)
	}
	return out
}

// when says in which case alone a step is done, where its own words do not.
func (v *Visit) when(st *machine.Step) string {
	for fact, values := range st.When {
		if key := "step.when." + fact + "." + values[0]; len(values) == 1 && v.Has(key) {
			return v.T(key)
		}
	}
	return ""
}

// waits says how long a step has to wait, and since when.
func (v *Visit) waits(s *machine.Sheet, st *machine.Step) string {
	if st.Wait == nil {
		return ""
	}
	key := "step.wait"
	for fact, is := range st.Wait.Since {
		if since := key + "." + fact + "." + is; v.Has(since) {
			key = since
		}
	}
	n := procedure.Length(s.Numbers, st.Wait)
	return v.T(key, "time", v.Amount(n.Amount()), "source", v.T("source."+string(n.Source)))
}

// otherwise says what an answer leads to that is not the good one.
func (v *Visit) otherwise(s *machine.Sheet, shown []machine.Step, st *machine.Step) string {
	if st.No == nil {
		return ""
	}
	to, id, _ := strings.Cut(st.No.Then, ":")
	switch to {
	case "stay", "stop", "next":
		return v.T("step.otherwise." + to)
	case "back":
		return v.T("step.otherwise.back", "n", 1+slices.IndexFunc(shown, func(o machine.Step) bool { return o.ID == id }))
	case "event":
		for _, e := range s.Events {
			if e.ID == id {
				return v.T("step.otherwise.event", "event", v.Text(e.Name))
			}
		}
	}
	return ""
}

// Otherwise says what follows from the answer to a step that is not the good one, to
// whoever has it before them.
func (v *Visit) Otherwise(s *machine.Sheet, st *machine.Step) string {
	to, id, _ := strings.Cut(st.No.Then, ":")
	switch to {
	case "back":
		return v.T("step.otherwise.again")
	case "event":
		return v.otherwise(s, nil, &machine.Step{No: &machine.No{Then: "event:" + id}})
	}
	return v.T("step.otherwise." + to)
}
