package page

// Procedures and events of a machine, as they are read.

import (
	"slices"
	"strings"

	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/unit"
)

// RunView is a procedure, or something that happened.
type RunView struct {
	ID, Title string
	// First is the first act of an event; the rest are its other steps.
	First StepView
	Steps []StepView
	After string // what the machine is then
}

// StepView is one step in words.
type StepView struct {
	Do, Why, Hazard string
	Wait, Otherwise string
}

// Procedures are the procedures of a sheet, in the order of a day.
func (v *Visit) Procedures(s *machine.Sheet) (out []RunView) {
	for _, p := range s.Procedures {
		r := RunView{ID: p.ID, Title: v.T("procedure." + p.ID)}
		r.Steps = v.steps(s, p.Steps)
		out = append(out, r)
	}
	slices.SortStableFunc(out, func(a, b RunView) int { return dayOrder(a.ID) - dayOrder(b.ID) })
	return out
}

// dayOrder is where a procedure comes in a day.
func dayOrder(id string) int {
	return slices.Index([]string{"unload", "charge", "fuel", "start", "work", "clear", "shutdown", "clean", "grease", "load", "store"}, id)
}

// Events are what can happen to a machine, the most pressing first.
func (v *Visit) Events(s *machine.Sheet) (out []RunView) {
	for _, e := range s.Events {
		r := RunView{ID: e.ID, Title: v.Text(e.Name)}
		steps := v.steps(s, e.Steps)
		if len(steps) == 0 {
			continue
		}
		r.First, r.Steps = steps[0], steps[1:]
		after := e.After
		if after == "" {
			after = "on"
		}
		r.After = v.T("event.after." + after)
		out = append(out, r)
	}
	slices.SortStableFunc(out, func(a, b RunView) int { return pressing(a.ID) - pressing(b.ID) })
	return out
}

// pressing puts what nobody may have to look for first.
func pressing(event string) int {
	if i := slices.Index([]string{"fire", "hurt"}, event); i >= 0 {
		return i
	}
	return 2
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
	shown := procedure.Shown(s, steps, procedure.Way{Options: s.Chosen()})
	for i := range shown {
		st := &shown[i]
		view := StepView{Do: v.Text(st.Do)}
		if st.Why != nil {
			view.Why = v.Text(*st.Why)
		}
		if st.Hazard != nil {
			view.Hazard = v.Text(*st.Hazard)
		}
		view.Wait, view.Otherwise = v.waits(s, st), v.otherwise(s, shown, st)
		out = append(out, view)
	}
	return out
}

// waits says how long a step has to wait, and since when.
func (v *Visit) waits(s *machine.Sheet, st *machine.Step) string {
	if st.Wait == nil {
		return ""
	}
	n := machine.Parameter{Value: st.Wait.Seconds, Unit: "s", Source: machine.Trade}
	if known, ok := s.Number(st.Wait.Parameter); ok {
		n = known
	}
	for fact, is := range st.Wait.Since {
		if key := "step.wait." + fact + "." + is; v.Has(key) {
			return v.T(key, "time", v.Amount(n.Amount()), "source", v.T("source."+string(n.Source)))
		}
	}
	return v.T("step.wait", "time", v.Amount(n.Amount()), "source", v.T("source."+string(n.Source)))
}

// otherwise says what an answer leads to that is not the good one.
func (v *Visit) otherwise(s *machine.Sheet, shown []machine.Step, st *machine.Step) string {
	if st.No == nil {
		return ""
	}
	to, id, _ := strings.Cut(st.No.Then, ":")
	switch to {
	case "stay", "stop":
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
