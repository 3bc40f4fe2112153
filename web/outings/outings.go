// Package outings is an outing from "Ready?" to home: the walk-around, the
// interlock round, the running checks, the verdict, the slip, and the look at a
// break. It turns forms into commands and shows what the core says.
package outings

import (
	"embed"
	"errors"
	"slices"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/store"
	"vespers/web/page"
)

//go:embed templates/*.html
var templates embed.FS

// Routes are the feature's addresses.
func Routes() []page.Route {
	photo := page.Post("/outings/:outing/photo", operator.Work, note)
	photo.Upload = true
	return []page.Route{
		page.Get("/outings/:outing", operator.Look, showOuting),
		page.Get("/outings/:outing/ready", operator.Look, showReady),
		page.Post("/outings/:outing/ready", operator.Work, ready),
		page.Post("/outings/:outing/take-over", operator.TakeOver, takeOver),
		page.Post("/outings/:outing/hand-over", operator.HandOver, handOver),
		page.Get("/outings/:outing/walk", operator.Look, showWalk),
		page.Post("/outings/:outing/answer", operator.Work, answerPoint),
		page.Post("/outings/:outing/right", operator.Work, putRight),
		photo,
		page.Post("/outings/:outing/worse", operator.Work, worsen),
		page.Get("/photos/:photo", operator.Look, showPhoto),
		page.Post("/outings/:outing/set", operator.Work, changeSetting),
		page.Post("/outings/:outing/from", operator.Work, reroute),
		page.Post("/outings/:outing/tell", operator.Work, tellCondition),
		page.Get("/outings/:outing/round", operator.Look, showRound),
		page.Post("/outings/:outing/round", operator.Work, beginRound),
		page.Post("/outings/:outing/crank", operator.Work, crank),
		page.Post("/outings/:outing/test", operator.Work, test),
		page.Post("/outings/:outing/mistap", operator.Work, mistap),
		page.Post("/outings/:outing/shown", operator.Work, showDrive),
		page.Post("/outings/:outing/put-back", operator.Work, putBack),
		page.Get("/outings/:outing/verdict", operator.Look, showVerdict),
		page.Get("/outings/:outing/slip", operator.Look, showSlip),
		page.Get("/outings/:outing/outing.pdf", operator.Look, showPDF),
		page.Post("/outings/:outing/release", operator.Release, release),
		page.Post("/outings/:outing/sign", operator.Mend, sign),
		page.Get("/outings/:outing/happened", operator.Look, showHappened),
		page.Post("/outings/:outing/happened", operator.Work, happen),
		page.Get("/outings/:outing/check-in", operator.Look, showCheckIn),
		page.Get("/outings/:outing/meter", operator.Look, showMeter),
		page.Post("/outings/:outing/meter", operator.Work, readMeter),
		page.Post("/outings/:outing/check-in", operator.Work, checkedIn),
		page.Post("/outings/:outing/seek", operator.Seek, seek),
		page.Get(page.AlertsPath, operator.End, page.ShowAlerts),
		page.Get("/outings/:outing/do", operator.Look, showDo),
		page.Post("/outings/:outing/do/begin", operator.Work, beginProcedure),
		page.Post("/outings/:outing/leave", operator.End, leaveOnSite),
		page.Post("/outings/:outing/home-at", operator.Work, expect),
		page.Post("/outings/:outing/link", operator.Work, link),
		page.Post("/outings/:outing/do/answer", operator.Work, answerStep),
		page.Post("/outings/:outing/do/leave", operator.Work, leaveProcedure),
		page.Get("/outings/:outing/fuel", operator.Look, showFuel),
		page.Post("/outings/:outing/fuel", operator.Work, fill),
		page.Post("/outings/:outing/plan", operator.Work, plan),
		page.Get("/outings/:outing/break", operator.Look, showBreak),
		page.Post("/outings/:outing/break", operator.Work, beginBreak),
		page.Post("/outings/:outing/break/answer", operator.Work, answerBreak),
		page.Post("/outings/:outing/end", operator.End, end),
	}
}

// common is what every page of an outing shows.
type common struct {
	Outing  string // id
	Machine string // id of the one the page is about
	Name    string // of the machine
	Names   string // of all machines of the outing
	Several bool
	ID      string // for a form without script
	Who     string // has it now
	// Mine: whoever reads may answer here. MayTakeOver and MayHandOver are offered
	// to others, and to leads.
	Mine, MayTakeOver bool
	Over              string // id for the form that takes it over
	// Halts are the reasons if the outing has come to a Halt already.
	Halts     []string
	HaltCount int // of findings
	Steps     []step
	// Doing is what is open of a procedure or event meanwhile; "" is nothing.
	Doing string

	o *outing.Outing
	u *outing.UnitState
}

// step is one knot of the outing's own thread.
type step struct {
	Name, Path string
	State      string // done, here, ahead
}

// load reads the outing of the address; ok is false, and the visit answered,
// where it cannot.
func load(v *page.Visit, here outing.Stage) (common, bool) {
	o, err := v.Site.Store.Outing(v.Context(), v.Param("outing"))
	if err != nil {
		v.Fail(err)
		return common{}, false
	}
	if o.Paper != nil {
		v.Go(next(v, o))
		return common{}, false
	}
	c := common{Outing: o.ID, Names: o.Name(), Several: len(o.Units) > 1, ID: page.NewID(), Over: page.NewID(), Who: v.Name(o.Operator()), o: o, u: o.Main(),
		Mine: o.May(*v.Person, operator.Work, v.Now), MayTakeOver: o.May(*v.Person, operator.TakeOver, v.Now)}
	if asked := o.Unit(v.Query("machine")); asked != nil {
		c.u = asked
	} else if next := o.At(here); next != nil {
		c.u = next
	}
	c.about(c.u)
	c.Doing = v.Doing(o)
	if verdict := o.Judge(v.Now); verdict.Outcome == outing.Halted {
		c.HaltCount = o.HaltsStanding(v.Now)
		for _, r := range verdict.Halts {
			c.Halts = append(c.Halts, v.Reason(r))
		}
	}
	for _, name := range outing.Stages() {
		st := step{Name: string(name), Path: "/outings/" + o.ID + "/" + pathOf(name), State: "ahead"}
		switch {
		case name == here:
			st.State = "here"
		case o.Through(name), name == outing.StageVerdict && o.Status != outing.Open:
			st.State = "done"
		}
		c.Steps = append(c.Steps, st)
	}
	c.Steps = append(c.Steps, step{Name: "work", Path: "/outings/" + o.ID + "/do", State: "ahead"})
	return c, true
}

// beside makes the page one of no stage that leads to the release.
func (c *common) beside(name string) {
	for i := range c.Steps {
		switch {
		case c.Steps[i].Name == name:
			c.Steps[i].State = "here"
		case c.Steps[i].State == "here":
			c.Steps[i].State = "ahead"
			if c.Steps[i].Name == string(outing.StageVerdict) && c.o.Status != outing.Open {
				c.Steps[i].State = "done"
			}
		}
	}
}

// about makes the page one about a machine.
func (c *common) about(u *outing.UnitState) { c.u, c.Machine, c.Name = u, u.Machine, u.Name }

func pathOf(stage outing.Stage) string {
	if stage == outing.StageRunning {
		return "walk?phase=running"
	}
	return string(stage)
}

// next is the page of the step that the outing is at: exactly where it was left. In its
// round that is the start procedure, as long as it is open.
func next(v *page.Visit, o *outing.Outing) string {
	if o.Paper != nil {
		return "/outings/" + o.ID + "/paper"
	}
	if len(o.BreakLeft()) > 0 {
		return "/outings/" + o.ID + "/break"
	}
	if o.Status == outing.Open && o.Stage() == outing.StageRound {
		if u := v.OpenOn(o, ""); u != nil {
			return "/outings/" + o.ID + "/do?machine=" + u.Machine
		}
	}
	if u := o.At(outing.StageRunning); o.Status == outing.Open && o.Stage() == outing.StageRunning && u.Proved != nil && !u.EngineRuns(v.At()) {
		return "/outings/" + o.ID + "/do?machine=" + u.Machine // no round has started it
	}
	return "/outings/" + o.ID + "/" + pathOf(o.Stage())
}

func showOuting(v *page.Visit) {
	o, err := v.Site.Store.Outing(v.Context(), v.Param("outing"))
	if err != nil {
		v.Fail(err)
		return
	}
	v.Go(next(v, o))
}

// say passes on something said in the outing, and leads to the next step.
func say(v *page.Visit, c outing.Command) {
	if o, ok := v.SayIn(c); ok {
		v.Saved(next(v, o))
	}
}

func end(v *page.Visit) { say(v, outing.End{}) }

func takeOver(v *page.Visit) { say(v, outing.TakeOver{}) }

// handOver gives the outing to somebody by name. With their PIN they take it here, on
// this device, and are asked at once.
func handOver(v *page.Visit) {
	c := outing.HandOver{To: v.Field("to")}
	if v.Field("pin") == "" {
		if o, ok := v.SayIn(c); ok {
			v.Saved("/outings/" + o.ID + "/verdict")
		}
		return
	}
	if !mayNow(v, c) {
		return
	}
	number, right := v.TheirPIN(c.To)
	if !right {
		return
	}
	if o, ok := v.SayIn(c); ok {
		if err := v.SignIn(c.To, number); err != nil {
			v.Fail(err)
			return
		}
		v.Saved("/outings/" + o.ID + "/ready")
	}
}

// mayNow reports whether a command would be taken, before anybody's PIN is looked at
// for it; else it has said why not.
func mayNow(v *page.Visit, c outing.Command) bool {
	view, check := v.Site.Store.View(v.Context())
	o, ok := view.Outing(v.Param("outing"))
	if err := check(); err != nil || !ok {
		v.Fail(errors.Join(err, store.ErrNotFound))
		return false
	}
	refused := o.MayNow(c, *v.Person, v.Now, view)
	if refused != nil {
		v.Fail(refused)
	}
	return refused == nil
}

// takers are those that somebody may hand an outing to.
func takers(v *page.Visit, o *outing.Outing) (out []choice, err error) {
	if !o.May(*v.Person, operator.HandOver, v.Now) {
		return nil, nil
	}
	people, err := v.Site.Store.People(v.Context())
	for _, other := range o.Mates(people) {
		out = append(out, choice{ID: other.ID, Name: other.Name})
	}
	return out, err
}

// answerers says who answered what: the operators in turn, and anybody else who
// gave answers.
func answerers(v *page.Visit, o *outing.Outing) []string {
	var out []string
	for i, t := range o.Turns {
		key := "turn.had_it"
		if i == len(o.Turns)-1 {
			key = "turn.has_it"
		}
		out = append(out, v.T(key, "who", v.Name(t.Operator), "since", v.When(t.Since.At, v.Now)))
	}
	for _, u := range o.Units {
		for _, id := range u.Answerers() {
			if !slices.ContainsFunc(o.Turns, func(t outing.Turn) bool { return t.Operator == id }) {
				out = append(out, v.T("turn.answered_too", "who", v.Name(id), "machine", u.Name))
			}
		}
	}
	return out
}
