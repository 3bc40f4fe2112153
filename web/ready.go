package web

import (
	"context"
	"net/http"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/store"
)

// readyPage asks whether the operator is ready.
type readyPage struct {
	outingPage
	Manuals    []manualWords
	Protection []machine.Protection
	Missing    []string
	Worn       map[string]bool
}

// manualWords is what the operator's record says of the manual of one machine.
type manualWords struct {
	Words string
	Read  bool
}

func (s *server) showReady(v *visit) {
	base, ok := s.outing(v, outing.StepReady)
	if !ok {
		return
	}
	p, err := s.Store.Person(v.ctx(), base.O.Operator)
	if err != nil {
		s.fail(v, err)
		return
	}
	page := readyPage{outingPage: base, Protection: protection(base.O), Worn: map[string]bool{}}
	for _, u := range base.O.Units {
		page.Manuals = append(page.Manuals, manual(v, p, u))
	}
	if base.O.Ready != nil {
		for _, r := range base.O.Unready(v.now) {
			page.Missing = append(page.Missing, v.Reason(r))
		}
		for _, w := range base.O.Ready.Worn {
			page.Worn[w] = true
		}
	}
	v.page(http.StatusOK, "ready", v.T("stage.ready"), page)
}

func manual(v *visit, p store.Person, u *outing.UnitState) manualWords {
	for _, m := range p.Manuals {
		if m.Sheet == u.Sheet.ID && m.Edition == u.Sheet.Edition {
			return manualWords{Read: true, Words: v.T("ready.manual_read", "machine", v.Text(u.Sheet.Name), "edition", m.Edition, "day", v.Day(m.On), "language", v.T("language."+string(m.Language)))}
		}
	}
	return manualWords{Words: v.T("ready.manual_missing", "machine", v.Text(u.Sheet.Name), "edition", u.Sheet.Edition)}
}

// protection is what the machines of an outing ask for together.
func protection(o *outing.Outing) []machine.Protection {
	var all []machine.Protection
	for _, u := range o.Units {
		for _, p := range u.Sheet.Protection {
			if !slices.ContainsFunc(all, func(q machine.Protection) bool { return q.ID == p.ID }) {
				all = append(all, p)
			}
		}
	}
	return all
}

// ready takes the answers to "Ready?"; the role, the manuals and what else the
// record shows come from the operator's own record.
func (s *server) ready(v *visit) {
	worn := v.gin.PostFormArray("worn")
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) {
		p, err := s.Store.Person(context.WithoutCancel(v.ctx()), o.Operator)
		if err != nil {
			return nil, err
		}
		var e outing.Readied
		e.Role, e.Manuals, e.Fit = p.Role, p.Manuals, v.field("fit") == "yes"
		for _, item := range protection(o) {
			if slices.Contains(worn, item.ID) {
				e.Worn = append(e.Worn, item.ID)
			}
		}
		return e, nil
	})
}
