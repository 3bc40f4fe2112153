package outings

// The runner of procedures and events: one step at a time, what it waits for, and
// what may be begun next.

import (
	"math"
	"net/http"
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/procedure"
	"vespers/core/walk"
	"vespers/core/yard"
	"vespers/draw"
	"vespers/web/page"
)

type doPage struct {
	common
	view      yard.View
	Run       *runNow
	Scene     draw.Scene
	Guided    []page.SignalView // of a guide, while it is loaded
	Train     trainView         // with what the machine of the step goes
	Machines  []machineChoices  // what may be begun, where nothing is open
	Metered   bool              // one has an hour meter
	Fuelled   bool              // one has a tank
	Home      bool              // everything is shut down: it can be ended
	Walking   string            // the walk-around goes on meanwhile, and what that saves
	Look      *checkIn
	HomeAt    *homeAt  // when it is expected
	Hand      []choice // to whom it can be handed over
	Happened  []string
	LooksOver []lookOver
	Fetchers  []choice // who may fetch it, where it may be left on site
	NotTold   []string // machines that were fuelled, and nobody said how much went in
	Emergency yard.Emergency
}

// runNow is the step that is up of what is open on a machine.
type runNow struct {
	ID, Title, Of string
	Event, First  bool
	After         string // what the machine is then, of an event
	Step          stepNow
	Wait          *wait
	Unmet         []string
	Held          string // by the machines that it goes with
	Meanwhile     []stepNow
	Saves         string // how much time those take, which nobody has to spend after the wait
	Unsure        bool
	Kept          []string // the house rules that people keep at it
	Going         bool     // the step is what the procedure is for: they are all in sight
	Idles         string   // it has idled for longer than it may
	Dead          int      // the attempt of the round that is void if it would not crank; 0 where there is none
	Cord          bool     // it is started by a cord
	Tries         string   // how often it was tried to start, where it was
	TriedOut      bool
}

// stepNow is a step that is answered.
type stepNow struct {
	ID, Do, Why, Hazard, Where string
	Good, Bad                  string // answers
	GoodWords, BadWords        string
	Otherwise                  string
	Rule                       string // the house rule by which it is there
	Halts                      bool   // the other answer finds a fault
	Numbers                    []page.NumberView
}

// machineChoices are the procedures of a machine.
type machineChoices struct {
	Machine, Name string
	Now, Later    []choiceWords
	Train         trainView
}

// choiceWords is a procedure: what has to be first, or when it was last ended.
type choiceWords struct {
	ID, Title, First, Ended string
	Next                    bool // in the order of a day
}

var doPages = page.New[doPage](templates, "do")

func showDo(v *page.Visit) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	place := "work"
	if base.o.Status == outing.Open && base.o.Stage() == outing.StageRound {
		place = string(outing.StageRound) // its engine is started
	}
	base.beside(place)
	view, _ := v.Site.Store.View(v.Context())
	if u := v.OpenOn(base.o, v.Query("machine")); u != nil {
		base.about(u)
		p := doPage{common: base, view: view, Emergency: v.Yard.Emergency}
		if base.o.Status == outing.Open && base.o.Stage() == outing.StageWalk {
			_, seconds, _ := walk.Left(u.Sheet, base.o.ToLook(outing.StageWalk, u))
			p.Walking = v.T("do.meanwhile_walk", "time", minutes(v, time.Duration(seconds*float64(time.Second))))
		}
		p.run(v)
		p.Train = trainOf(v, p.view, u, p.Run.ID)
		if p.Run.ID == "load" || p.Run.ID == "unload" {
			p.Guided = v.Guided()
		}
		doPages.Show(v, http.StatusOK, p.Run.Title+" · "+p.Name, p)
		return
	}
	p := doPage{common: base, view: view, Look: newCheckIn(v, base.o), HomeAt: newHomeAt(v, base.o), Fuelled: slices.ContainsFunc(base.o.Units, hasTank), Metered: slices.ContainsFunc(base.o.Units, func(u *outing.UnitState) bool { return u.Sheet.Metered() }), Home: base.o.Status == outing.Out && base.o.NotParked() == nil && base.o.May(*v.Person, outing.End{}.Act(), v.Now)}
	var err error
	if p.Hand, err = takers(v, base.o); err != nil {
		v.Fail(err)
		return
	}
	if p.Mine {
		p.LooksOver = looksOver(v, base.o)
	}
	if p.Home {
		p.Fetchers = fetchers(view)
	}
	for _, u := range page.MainFirst(base.o) {
		p.choices(v, u)
		if u.NotTold() && p.Mine {
			p.NotTold = append(p.NotTold, u.Machine)
		}
		for _, h := range u.Happenings() {
			if e, ok := u.Event(h.Event); ok {
				p.Happened = append(p.Happened, v.T("happened.recorded", "what", v.Text(e.Name), "when", v.When(h.Meta.At, v.Now)))
			}
		}
	}
	doPages.Show(v, http.StatusOK, v.T("do.title"), p)
}

func (p *doPage) run(v *page.Visit) {
	live := p.u.Live(v.At())
	turn, _ := live.Turn(v.Now)
	r := &runNow{ID: turn.Run, Title: v.RunTitle(p.u, turn.Run), First: turn.Behind == 0}
	if id, is := outing.EventID(turn.Run); is {
		e, _ := p.u.Event(id)
		r.Event, r.After = true, v.After(e)
	}
	r.Kept, r.Going = v.Kept(p.u.Sheet, p.u.Practice, turn.Run), turn.Step.ID == turn.Run
	r.Of = v.T("do.step_of", "what", r.Title, "i", turn.Behind+1, "n", turn.All)
	r.Step = p.step(v, turn.Step, turn.Answers)
	for _, u := range turn.Unmet {
		r.Unmet = append(r.Unmet, factWords(v, u.Fact, u.Is))
	}
	if p.Mine && len(r.Unmet) == 0 && turn.Until.IsZero() {
		asked := v.At()
		asked.ID, asked.By = "asked", v.Person.ID
		if why := yard.Held(p.view, p.o, outing.AnswerStep{Machine: p.u.Machine, Procedure: turn.Run, Step: turn.Step.ID, Answer: turn.Answers[0], Sure: true}, asked); why != nil {
			r.Held = v.Reason(*why)
		}
	}
	if !turn.Until.IsZero() {
		whole := turn.Until.Sub(turn.Since)
		r.Wait = newWait(v, turn.Until, whole)
	}
	r.Unsure = turn.Unsure
	if since, most, too := live.TooLong(v.Now); too {
		r.Idles = v.T("do.idles", "since", v.Clock(since), "most", minutes(v, most))
	}
	if procedure.Starts(turn.Step) {
		r.Cord = p.u.Round.Section.ByCord()
		if p.o.StartsRound(p.u) && p.u.Round.Refusals() > 0 {
			r.Dead = p.u.Round.Attempt
		}
		r.Step.GoodWords, r.Step.BadWords, r.Step.Otherwise = v.T("round.started"), v.T("round.cranked_only"), v.T("start.if_not")
		if r.Cord {
			r.Step.BadWords = v.T("round.pulled_only")
		}
	}
	if n := p.u.Tried(); n > 0 && turn.Run == "start" {
		r.Tries, r.TriedOut = v.Tries(p.u.Sheet, n), p.u.TriedOut()
	}
	if saved := procedure.Takes(turn.Meanwhile); saved > 0 {
		r.Saves = v.T("do.saves", "time", minutes(v, min(saved, turn.Until.Sub(v.Now))))
	}
	for _, s := range turn.Meanwhile {
		r.Meanwhile = append(r.Meanwhile, p.step(v, s, []string{"done"}))
	}
	p.Run = r
	var marks []draw.Mark
	if turn.Step.Spot != "" {
		marks = append(marks, draw.Mark{Spot: turn.Step.Spot, State: "here"})
	}
	p.Scene = draw.Walk(p.u.Sheet, marks)
}

func (p *doPage) step(v *page.Visit, s *machine.Step, answers []string) stepNow {
	out := stepNow{ID: s.ID, Do: v.Text(s.Do), Good: answers[0], GoodWords: v.T("do." + answers[0])}
	out.Numbers = v.Numbers(p.u.Sheet, s.Numbers)
	if s.Why != nil {
		out.Why = v.Text(*s.Why)
	}
	if s.Hazard != nil {
		out.Hazard = v.Text(*s.Hazard)
	}
	if s.School != nil {
		out.Rule = v.T("house.in_force", "rule", v.T("house."+s.School.Question+"."+s.School.Choice))
	}
	if spot, ok := p.u.Sheet.Spot(s.Spot); ok {
		out.Where = v.Text(spot.Name)
	}
	if len(answers) > 1 {
		out.Bad, out.BadWords = answers[1], v.T("do."+answers[1])
		out.Halts = s.No.Finding != nil
		out.Otherwise = v.Otherwise(p.u.Sheet, s)
	}
	return out
}

// factWords says how a fact stands.
func factWords(v *page.Visit, fact, is string) string { return v.T(procedure.FactKey(fact, is)) }

func (p *doPage) choices(v *page.Visit, u *outing.UnitState) {
	m := machineChoices{Machine: u.Machine, Name: u.Name}
	may, _ := p.o.Choices(u, v.At())
	next := p.o.ComesNext(u, v.At())
	for _, proc := range procedure.OfTheDay(u.Sheet) {
		i := slices.IndexFunc(may, func(c procedure.Choice) bool { return c.ID == proc.ID })
		c := choiceWords{ID: proc.ID, Title: v.ProcedureTitle(u.Sheet, proc.ID)}
		if m, ended := u.Ended(proc.ID); ended {
			c.Ended = v.T("do.ended", "when", v.Clock(m.At))
		}
		if unmet := may[i].Unmet; len(unmet) > 0 {
			if slices.ContainsFunc(unmet, func(u procedure.Unmet) bool { return u.Fact == "transport" && u.Is == "no" }) {
				continue // nothing to take off a trailer that it is not on
			}
			c.First = v.T("do.because", "what", factWords(v, unmet[0].Fact, unmet[0].Wants[0]))
			if i := slices.IndexFunc(unmet, func(u procedure.Unmet) bool { return u.Is == "halt" }); i >= 0 {
				c.First = factWords(v, unmet[i].Fact, "halt")
			}
			m.Later = append(m.Later, c)
			continue
		}
		c.Next = proc.ID == next
		m.Now = append(m.Now, c)
	}
	m.Train = trainOf(v, p.view, u, "")
	if len(m.Now)+len(m.Later) > 0 {
		p.Machines = append(p.Machines, m)
	}
}

// went leads on after something said of procedures: to the step that is up, to what
// comes next, or back to the walk-around.
func went(v *page.Visit, c outing.Command, machineID string) {
	o, ok := v.SayIn(c)
	if !ok {
		return
	}
	if v.OpenOn(o, machineID) != nil || o.Status != outing.Open {
		v.Saved("/outings/" + o.ID + "/do?machine=" + machineID)
		return
	}
	v.Saved(next(v, o))
}

func beginProcedure(v *page.Visit) {
	went(v, outing.BeginProcedure{Machine: v.Field("machine"), Procedure: v.Field("procedure")}, v.Field("machine"))
}

func answerStep(v *page.Visit) {
	went(v, outing.AnswerStep{Machine: v.Field("machine"), Procedure: v.Field("procedure"), Step: v.Field("step"), Answer: v.Field("answer"), Sure: v.Field("sure") == "yes"}, v.Field("machine"))
}

func leaveProcedure(v *page.Visit) {
	went(v, outing.LeaveProcedure{Machine: v.Field("machine"), Procedure: v.Field("procedure")}, v.Field("machine"))
}

func happen(v *page.Visit) {
	went(v, outing.Happen{Machine: v.Field("machine"), Event: v.Field("event")}, v.Field("machine"))
}

// minutes is how long something takes about, in whole minutes.
func minutes(v *page.Visit, d time.Duration) string {
	return v.Number(math.Ceil(d.Minutes()), 0) + "\u00a0min"
}

func hasTank(u *outing.UnitState) bool {
	_, has := u.Tank()
	return has
}
