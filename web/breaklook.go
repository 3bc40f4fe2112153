package web

import (
	"net/http"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/walk"
	"vespers/draw"
)

// breakPage is one point of the look round at a break.
type breakPage struct {
	outingPage
	Scene   draw.Scene
	Check   *machine.Check
	Item    string
	Where   text.Text
	First   []text.Text // what has to be set before it can be seen
	Reading *readingView
	Before  string
	Points  int // still to be looked at
	Known   []string
}

// beginBreak begins the look, or goes on with the one under way.
func (s *server) beginBreak(v *visit) {
	o, err := s.Store.Outing(v.ctx(), v.param("outing"))
	if err != nil {
		s.fail(v, err)
		return
	}
	if len(o.BreakLeft()) > 0 {
		v.saved("/outings/" + o.ID + "/break")
		return
	}
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) { return o.PlanBreak(), nil })
}

func (s *server) answerBreak(v *visit) {
	v.gin.Set("right", true) // nothing is put right from here: the look goes on
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) {
		e, err := v.answered(o)
		return outing.BreakAnswered{Answered: e}, err
	})
}

func (s *server) showBreak(v *visit) {
	base, ok := s.outing(v, "verdict")
	if !ok {
		return
	}
	left := base.O.BreakLeft()
	if len(left) == 0 {
		v.gin.Redirect(http.StatusSeeOther, "/outings/"+base.O.ID+"/verdict")
		return
	}
	now := left[0]
	base.U = now.Unit
	page := breakPage{outingPage: base, Check: now.Check, Item: now.Item, Points: len(left)}
	spot, _ := now.Unit.Sheet.Spot(now.Check.At)
	page.Where = spot.Name
	for i := range now.Unit.Sheet.Settings {
		setting := &now.Unit.Sheet.Settings[i]
		if want, needs := now.Check.Needs[setting.ID]; needs && want != setting.End {
			way, _ := setting.Way(want)
			page.First = append(page.First, way.Do)
		}
	}
	if r, ok := now.Check.Reading(now.Item); ok {
		page.Reading = v.reading(r.Under(now.Unit.Conditions))
		for _, this := range now.Unit.Readings() {
			if this.Check == now.Check.ID && this.Item == now.Item {
				page.Before = v.T("reading.before", "value", v.Amount(text.Measure{Quantity: this.Value.Quantity, Unit: r.Unit}), "when", v.When(this.At, v.now))
			}
		}
	}
	for _, d := range base.O.Defects() {
		if d.Machine == now.Unit.Machine && d.Check == now.Check.ID {
			for _, r := range d.Finding.Reasons {
				page.Known = append(page.Known, v.Reason(r))
			}
		}
	}
	page.Scene = draw.Walk(now.Unit.Sheet, breakMarks(base.O, now))
	v.page(http.StatusOK, "break", v.Text(now.Check.Name), page)
}

// breakMarks says how each spot of the look stands.
func breakMarks(o *outing.Outing, now outing.BreakStop) []draw.Mark {
	open := map[string]int{}
	for _, s := range o.BreakLeft() {
		if s.Unit == now.Unit {
			open[s.Check.At]++
		}
	}
	var out []draw.Mark
	seen := map[string]bool{}
	for _, w := range o.Break().Walks {
		if w.Machine != now.Unit.Machine {
			continue
		}
		for _, stop := range w.Route {
			if stop.Do != walk.Check || seen[stop.At] {
				continue
			}
			seen[stop.At] = true
			m := draw.Mark{Spot: stop.At, State: "done", Count: open[stop.At]}
			switch {
			case stop.At == now.Check.At:
				m.State = "here"
			case m.Count > 0:
				m.State = "ahead"
			}
			out = append(out, m)
		}
	}
	return out
}
