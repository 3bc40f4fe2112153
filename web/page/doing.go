package page

// What is open of procedures and events in an outing, and how warm a machine is.

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/tell"
)

// At is now, by a clock that may be wrong.
func (v *Visit) At() record.Meta {
	return record.Meta{At: v.Now, Wrong: v.Site.Store.WrongSince()}
}

// MainFirst are the machines of an outing, the one it is named after first.
func MainFirst(o *outing.Outing) []*outing.UnitState {
	return append([]*outing.UnitState{o.Main()}, slices.DeleteFunc(slices.Clone(o.Units), func(u *outing.UnitState) bool { return u == o.Main() })...)
}

// OpenOn is the machine of an outing on which something is open: the one asked for, or
// the first; nil where nothing is.
func (v *Visit) OpenOn(o *outing.Outing, asked string) (open *outing.UnitState) {
	for _, u := range MainFirst(o) {
		if u.Running(v.At()) != "" && (open == nil || u.Machine == asked) {
			open = u
		}
	}
	return open
}

// RunTitle names a procedure or event of a machine.
func (v *Visit) RunTitle(u *outing.UnitState, run string) string {
	if id, is := outing.EventID(run); is {
		e, _ := u.Event(id)
		return v.Text(e.Name)
	}
	return v.ProcedureTitle(u.Sheet, run)
}

// Doing says what is open in an outing, and until when it waits; "" where nothing is.
func (v *Visit) Doing(o *outing.Outing) string {
	u := v.OpenOn(o, "")
	if u == nil {
		return ""
	}
	turn, _ := u.Live(v.At()).Turn(v.Now)
	what := tell.Lower(v.RunTitle(u, turn.Run))
	if turn.Until.IsZero() {
		return v.T("do.open", "what", what)
	}
	return v.T("do.open_until", "what", what, "until", v.Clock(turn.Until))
}

// Warmth says how a machine stands that is out, or that has come home and is not cool
// yet; "" where there is nothing to say. The unit is nil for one in its bay.
func (v *Visit) Warmth(sheet *machine.Sheet, worked time.Time, u *outing.UnitState) string {
	if u != nil && u.EngineRuns(v.At()) {
		return v.T("machine.runs")
	}
	if cool := outing.CoolAt(sheet, worked); !worked.IsZero() && cool.After(v.Now) {
		return v.T("machine.warm", "since", v.Clock(worked), "until", v.Clock(cool))
	}
	return ""
}

// ProcedureTitle names a procedure of a machine. What rides on a trailer is driven onto
// it; what hangs on a drawbar, or is driven on the road, is made ready for it.
func (v *Visit) ProcedureTitle(s *machine.Sheet, id string) string {
	if (id == "load" || id == "unload") && s.Rides() {
		return v.T("ride." + id)
	}
	return v.T("procedure." + id)
}
