package web

import (
	"errors"
	"net/http"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/unit"
	"vespers/store"
)

// takeOut begins an outing, or says why the machine stays.
func (s *server) takeOut(v *visit) {
	if !s.checkID(v) {
		return
	}
	e := v.entry()
	id := "o-" + e.ID
	r, err := s.Store.StartOuting(v.ctx(), e, id, v.param("machine"), v.field("carrier"))
	var taken *store.Taken
	var halt *store.OnHalt
	switch {
	case errors.As(err, &taken):
		who := taken.Operator
		if p, err := s.Store.Person(v.ctx(), taken.Operator); err == nil {
			who = p.Name
		}
		s.machinePage(v, http.StatusConflict, v.T("machine.taken", "who", who))
	case errors.As(err, &halt):
		d := halt.Defects[0]
		s.machinePage(v, http.StatusConflict, v.T("machine.on_halt", "who", d.FinderName, "when", v.When(d.FoundAt, v.now)))
	case errors.Is(err, store.ErrNeedsCarrier):
		s.machinePage(v, http.StatusUnprocessableEntity, v.T("machine.needs_carrier"))
	case err != nil:
		s.fail(v, err)
	default:
		v.saved("/outings/" + r.Outing)
	}
}

// outingPage is what every page of an outing shows.
type outingPage struct {
	O    *outing.Outing
	U    *outing.UnitState // the machine the page is about
	Name string            // of all its machines
	ID   string            // for the form without script
	Who  string
	Mine bool
	// Halts are the reasons if the outing has come to a Halt already.
	Halts []string
	Stage string
	Steps []step
}

// step is one knot of the outing's own thread.
type step struct {
	Name, Path string
	State      string // done, here, ahead
}

// steps of an outing, in order.
var stepNames = []string{outing.StepReady, outing.StepWalk, outing.StepRound, outing.StepRunning, "verdict"}

func (s *server) outing(v *visit, here string) (outingPage, bool) {
	o, err := s.Store.Outing(v.ctx(), v.param("outing"))
	if err != nil {
		s.fail(v, err)
		return outingPage{}, false
	}
	page := outingPage{O: o, U: o.Main(), Name: outingName(o), ID: newID(), Mine: o.Operator == v.person.ID, Stage: o.Stage()}
	if asked := o.Unit(v.gin.Query("machine")); asked != nil {
		page.U = asked
	} else if next := o.At(here); next != nil {
		page.U = next
	}
	if p, err := s.Store.Person(v.ctx(), o.Operator); err == nil {
		page.Who = p.Name
	}
	if verdict := o.Judge(v.now); verdict.Outcome == outing.Halted {
		for _, r := range verdict.Halts {
			page.Halts = append(page.Halts, v.Reason(r))
		}
	}
	reached := slices.Index(stepNames, page.Stage)
	for i, name := range stepNames {
		st := step{Name: name, Path: "/outings/" + o.ID + "/" + pathOf(name), State: "ahead"}
		switch {
		case name == here:
			st.State = "here"
		case i < reached:
			st.State = "done"
		}
		page.Steps = append(page.Steps, st)
	}
	return page, true
}

// outingName names the machines of an outing, the one it is named after first.
func outingName(o *outing.Outing) string {
	name := o.Main().Name
	for _, u := range o.Units {
		if u != o.Main() {
			name += " + " + u.Name
		}
	}
	return name
}

func pathOf(stage string) string {
	if stage == outing.StepRunning {
		return "walk?phase=running"
	}
	return stage
}

// showOuting leads to the step the outing is at: exactly where it was left.
func (s *server) showOuting(v *visit) {
	o, err := s.Store.Outing(v.ctx(), v.param("outing"))
	if err != nil {
		s.fail(v, err)
		return
	}
	v.gin.Redirect(http.StatusSeeOther, next(o))
}

func next(o *outing.Outing) string {
	if len(o.BreakLeft()) > 0 {
		return "/outings/" + o.ID + "/break"
	}
	return "/outings/" + o.ID + "/" + pathOf(o.Stage())
}

// answer records an event and leads on.
func (s *server) answer(v *visit, build func(*outing.Outing, time.Time) (outing.Event, error)) {
	if !s.checkID(v) {
		return
	}
	_, o, err := s.Store.Answer(v.ctx(), v.param("outing"), v.entry(), build)
	if err != nil {
		s.fail(v, err)
		return
	}
	v.saved(s.after(v, o))
}

// after is the page that follows an answer: a finding that can be put right is
// offered that first.
func (s *server) after(v *visit, o *outing.Outing) string {
	check, item := v.field("check"), v.field("item")
	if u := o.Unit(v.field("machine")); u != nil && check != "" && !v.gin.GetBool("right") {
		if g := u.Given(check, item); len(g) > 0 && g[len(g)-1].Right == nil {
			last := g[len(g)-1]
			if c, ok := u.Sheet.Check(check); ok && last.Finding.Grade != "sound" && outing.PutRightAct(c, last.Answered) != nil {
				return "/outings/" + o.ID + "/walk?machine=" + u.Machine + "&point=" + check + "&item=" + item + "&phase=" + string(c.Phase)
			}
		}
	}
	return next(o)
}

func (s *server) answerPoint(v *visit) {
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) { return v.answered(o) })
}

// answered reads an answer to a point out of the form.
func (v *visit) answered(o *outing.Outing) (outing.Answered, error) {
	e := outing.Answered{Machine: v.field("machine"), Check: v.field("check"), Item: v.field("item"), Answer: v.field("answer"), Fault: v.field("fault"), Note: v.field("note"), Again: v.field("again") == "1"}
	if len(e.Note) > 500 {
		e.Note = e.Note[:500]
	}
	if e.Answer == outing.AnswerReading {
		var r *machine.Reading
		if u := o.Unit(e.Machine); u != nil {
			if c, ok := u.Sheet.Check(e.Check); ok {
				r, _ = c.Reading(e.Item)
			}
		}
		if r == nil {
			return e, store.ErrNotFound
		}
		var err error
		e.Value, err = outing.ParseValue(r, v.field("typed"), v.field("unit"))
		return e, err
	}
	return e, nil
}

func (s *server) putRight(v *visit) {
	v.gin.Set("right", true)
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) {
		now, err := v.answered(o)
		return outing.PutRight{Machine: now.Machine, Check: now.Check, Item: now.Item, Finding: v.field("finding"), Now: now}, err
	})
}

// reroute plans the rest of the walk from where the operator stands.
func (s *server) reroute(v *visit) {
	s.answer(v, func(o *outing.Outing, now time.Time) (outing.Event, error) {
		e := outing.Rerouted{Machine: v.field("machine"), From: v.field("from")}
		if u := o.Unit(e.Machine); u != nil {
			e.Route = u.RouteFrom(e.From, now)
		}
		return e, nil
	})
}

func (s *server) tell(v *visit) {
	s.answer(v, func(*outing.Outing, time.Time) (outing.Event, error) {
		return outing.Conditioned{Machine: v.field("machine"), Condition: v.field("condition"), Choice: v.field("choice")}, nil
	})
}

func (s *server) set(v *visit) {
	s.answer(v, func(*outing.Outing, time.Time) (outing.Event, error) {
		return outing.Set{Machine: v.field("machine"), Setting: v.field("setting"), To: v.field("to")}, nil
	})
}

func (s *server) crank(v *visit) {
	s.answer(v, func(*outing.Outing, time.Time) (outing.Event, error) {
		attempt, _ := parseInt(v.field("attempt"))
		did := v.field("did")
		return outing.Cranked{Machine: v.field("machine"), Attempt: attempt, Cranked: did == "cranked" || did == "started", Started: did == "started"}, nil
	})
}

func (s *server) test(v *visit) {
	s.answer(v, func(*outing.Outing, time.Time) (outing.Event, error) {
		attempt, _ := parseInt(v.field("attempt"))
		number, ok := parseInt(v.field("test"))
		if !ok {
			number = -1
		}
		e := outing.Tested{Machine: v.field("machine"), Attempt: attempt, Test: number, Before: v.field("result") != "not_before", After: v.field("result") == "bad", Restarted: v.field("result") == "again"}
		second, _ := unit.Find("s")
		if took, _, err := unit.Parse(v.field("seconds"), second); err == nil && took.Value >= 0 && took.Value < 3600 {
			e.Seconds = &took.Value
		}
		return e, nil
	})
}

func (s *server) end(v *visit) {
	s.answer(v, func(o *outing.Outing, _ time.Time) (outing.Event, error) {
		e := outing.Ended{How: outing.EndGivenUp}
		if o.Status == outing.Out {
			e.How = outing.EndHome
		}
		return e, nil
	})
}
