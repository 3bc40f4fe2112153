package outings

// The interlock round.

import (
	"net/http"
	"slices"
	"strconv"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/round"
	"vespers/tell"
	"vespers/web/page"
)

// roundPage is one step of the interlock round: being in place, a test, the
// start between refusals and the rest, a drive let move, the controls put back.
type roundPage struct {
	common
	Step    string
	Blocked string
	Attempt int
	Number  int
	All     int
	Kind    string // of the test: refusal, engage, engine_stop, drive_stop
	Permit  string // what is watched
	Return  bool   // the control goes back after the stop
	Stop    bool   // the running engine is switched off first
	Start   bool   // and started again
	Restart []page.Todo
	Set     []page.Todo
	Act     page.Todo
	Back    page.Todo
	Speed   string // how fast it runs then, in words
	Place   string // the operator's place, in the sheet's words
	Try     string // what is done in a refusal
	Turn    string // what is done to start the engine
	Rungs   []page.Rung
	Figures []page.Figure // where the controls are that this step moves
	Watch   string        // what must stop or stay still, in words, if it is not the engine
	Limit   string        // stop time limit, if timed
	Below   string        // a time below this many seconds is clear of the limit, and is taken as tapped
	Near    string
	Void    bool
	// NotBefore: the last try proved nothing, because it was not moving.
	NotBefore bool
	Cautions  []string // of the round, or of this step
	Exclusion string
	Left      []string // how the controls are to stand, where the round was left meanwhile
	LeftRuns  bool     // and the engine ran
	Stays     []string // how controls stand that a refusal is about and leaves alone
	Refusals  bool     // there are any
	Cord      bool     // it is started by a cord
	BadWords  string   // what is said when it did what it must not
	Routine   string   // how the manual's own routine stands to the round
	Manual    bool     // the test is of that routine
	Runs      bool     // it runs when everything is put back
	Cold      *wait    // for the engine to warm up
	ByStart   bool     // the engine is started by its start procedure
	Rest      *wait    // for the starter, or the arm
	Tries     string   // how often it was tried to start
	TriedOut  bool     // and that is as often as it may be
	Numbers   []page.NumberView
}

var roundPages = page.New[roundPage](templates, "round")

func showRound(v *page.Visit) {
	base, ok := load(v, outing.StageRound)
	if !ok {
		return
	}
	r := base.u.Round
	switch {
	case base.o.Ready() == nil:
		v.Go("/outings/" + base.Outing + "/ready")
		return
	case r.Step() == round.StepOver:
		v.Go(next(v, base.o))
		return
	}
	p := roundPage{common: base, Step: string(r.Step()), All: len(r.Plan.Tests), Void: r.WouldNotCrank, Attempt: r.Attempt, Number: min(r.Next(), len(r.Plan.Tests)), Runs: r.Running && r.Engine}
	if n, ok := base.u.Sheet.Number("exclusion"); ok {
		p.Exclusion = v.Amount(n.Amount())
	}
	p.words(v)
	p.Blocked = p.blocked(v)
	in := r.Now()
	if base.o.StartsRound(base.u) {
		in = r.ToStart()
	}
	p.instruction(v, in)
	changed := map[string]bool{in.Act.Switch: true}
	for _, c := range in.Set {
		changed[c.Switch] = true
	}
	p.Rungs = v.Rungs(r.Section, in.At, changed, in.Permit)
	p.figures(v, in)
	p.left(v)
	roundPages.Show(v, http.StatusOK, p.title(v), p)
}

// figures marks the controls of the step on their machines, and numbers what is
// to be done by them.
func (p *roundPage) figures(v *page.Visit, in round.Instruction) {
	changes := slices.Concat(in.Restart, in.Set, []round.Change{in.Act, in.Back})
	var sheets []*machine.Sheet
	var names []string
	for _, u := range p.o.Units {
		if u.Machine == p.Machine || p.u.Joined != nil {
			sheets, names = append(sheets, u.Sheet), append(names, u.Name)
		}
	}
	figures, numbers := v.Moved(sheets, changes)
	for i, f := range figures {
		if len(f.Controls) == 0 {
			continue
		}
		if len(sheets) > 1 {
			f.Machine = names[i]
		}
		p.Figures = append(p.Figures, f)
	}
	for i, n := range numbers {
		switch j := i - len(p.Restart); {
		case j < 0:
			p.Restart[i].Number = n
		case j < len(p.Set):
			p.Set[j].Number = n
		case j == len(p.Set):
			p.Act.Number = n
		default:
			p.Back.Number = n
		}
	}
}

// left says how the controls are to stand where the round was left meanwhile.
func (p *roundPage) left(v *page.Visit) {
	r := p.u.Round
	at, runs, left := r.WasLeft(v.Now, p.o.Unwatched(p.u))
	if !left {
		return
	}
	p.LeftRuns = runs
	for _, sw := range r.Section.Switches {
		p.Left = append(p.Left, tell.Position(v.Voice, sw, at[sw.ID]))
	}
}

// title tells one step from the next for somebody who hears pages, or has many.
func (p *roundPage) title(v *page.Visit) string {
	of := v.T("stage.round")
	if p.Step == string(round.StepTest) {
		of = v.T("round.test_of", "i", p.Number+1, "n", p.All)
		if p.Watch != "" {
			of += ": " + p.Watch
		}
	}
	return of + " · " + p.Name
}

// words are the sheet's own for starting, or those of a key.
func (p *roundPage) words(v *page.Visit) {
	p.Place, p.Try, p.Turn = v.T("round.in_place"), v.T("round.turn_key_moment"), v.T("round.turn_key")
	if own := p.u.Round.Section.HowStarted(); own != nil {
		p.Place, p.Try, p.Turn = v.Text(own.Place), v.Text(own.Try), v.Text(own.Start)
	}
}

// instruction puts what is to be done into words.
func (p *roundPage) instruction(v *page.Visit, in round.Instruction) {
	r := p.u.Round
	p.Refusals, p.Cord = r.Refusals() > 0, r.Section.ByCord()
	p.Stop, p.Start = in.Stop, in.Start
	p.Restart, p.Set = v.Todos(in.Restart), v.Todos(in.Set)
	p.Act, p.Back = v.Todo(in.Act), v.Todo(in.Back)
	p.Permit, p.Watch = in.Permit, v.Text(r.Section.Permit(in.Permit).Moves)
	for _, id := range in.Stays {
		p.Stays = append(p.Stays, tell.Position(v.Voice, r.Section.Switch(id), in.At[id]))
	}
	if in.Speed != "" {
		p.Speed = v.T("round.speed." + string(in.Speed))
	}
	cautions := in.Cautions
	switch r.Step() {
	case round.StepBegin:
		cautions = r.Section.Cautions
		p.routine(v)
	case round.StepStart:
		p.start(v)
	case round.StepTest:
		test := r.Plan.Tests[p.Number]
		p.Kind, p.Return = test.Kind, test.Return
		_, p.Manual = r.Logic().Asked(test)
		p.result(v)
		if p.BadWords = v.T("round.bad." + test.Kind); p.Cord && test.Kind == interlock.Refusal {
			p.BadWords = v.T("round.fired")
		}
	}
	for _, c := range cautions {
		p.Cautions = append(p.Cautions, v.Text(c))
	}
	if until, cold := r.Warming(v.Now); cold {
		p.Cold = newWait(v, until, r.WarmUp)
	}
}

// startNumbers are the numbers that an engine is started by.
var startNumbers = []string{"crank", "crank_tries"}

// start is how the engine is started, how often that was tried, and for how long the
// starter rests.
func (p *roundPage) start(v *page.Visit) {
	r := p.u.Round
	if p.ByStart = p.o.StartsRound(p.u); p.ByStart {
		return // its steps say the rest
	}
	p.Numbers = v.Numbers(p.u.Sheet, startNumbers)
	if r.Tried > 0 {
		p.Tries, p.TriedOut = v.Tries(p.u.Sheet, r.Tried), r.TriedOut()
	}
	if until, resting := r.Resting(v.Now); resting {
		p.Rest = newWait(v, until, r.Rest)
	}
}

// result shows the limit of a timed stop and what came of the last try.
func (p *roundPage) result(v *page.Visit) {
	r := p.u.Round
	if limit := r.StopWithin(p.Number); limit > 0 {
		p.Limit = v.Number(limit, 1) + "\u00a0s"
		if !p.Return {
			p.Below = strconv.FormatFloat(r.Clear(limit), 'f', 1, 64)
		}
	}
	switch res := r.Results[p.Number]; res.Outcome {
	case round.Near:
		p.Near = v.Number(*res.Seconds, 1) + "\u00a0s"
	case round.Void:
		p.NotBefore = true
	}
}

// routine says what the manual's own routine shows by itself, where the sheet
// has one.
func (p *roundPage) routine(v *page.Visit) {
	own, caught := p.u.Round.Logic().OwnRoutine()
	if own == 0 {
		return
	}
	plan := p.u.Round.Plan
	p.Routine = v.T("round.own_routine", "n", own, "shown", caught, "all", len(plan.Dangerous), "added", len(plan.Tests)-own)
}

// blocked says what the round waits for. A machine that warms up is no
// hindrance, and has a page of its own.
func (p *roundPage) blocked(v *page.Visit) string {
	r := p.u.Round
	var probe outing.Command
	switch r.Step() {
	case round.StepBegin:
		probe = outing.BeginRound{BeginRound: round.BeginRound{Machine: p.Machine, Attempt: r.Attempt, Clear: "yes"}}
	case round.StepStart:
		probe = outing.Crank{Crank: round.Crank{Machine: p.Machine, Attempt: r.Attempt, Did: "no"}}
	case round.StepShow:
		probe = outing.Show{Show: round.Show{Machine: p.Machine, Attempt: r.Attempt, Permit: r.Unshown(), Moved: "no"}}
	case round.StepPutBack:
		probe = outing.PutBack{PutThingsBack: round.PutThingsBack{Machine: p.Machine, Attempt: r.Attempt}}
	default:
		probe = outing.Test{Test: round.Test{Machine: p.Machine, Attempt: r.Attempt, Test: p.Number, Result: round.Bad}}
	}
	view, _ := v.Site.Store.View(v.Context())
	operator, _ := view.Person(p.o.Operator())
	if refused := p.o.MayNow(probe, operator, v.Now, view); refused != nil && refused.Reason.Rule != round.RuleWarming && refused.Reason.Rule != round.RuleResting {
		return v.Reason(refused.Reason)
	}
	return ""
}

func beginRound(v *page.Visit) {
	say(v, outing.BeginRound{BeginRound: round.BeginRound{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Clear: v.Field("clear")}})
}

func crank(v *page.Visit) {
	say(v, outing.Crank{Crank: round.Crank{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Did: v.Field("did")}})
}

func testOf(v *page.Visit) round.Test {
	return round.Test{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Test: v.Whole("test"), Result: v.Field("result"), Seconds: v.Field("seconds")}
}

func test(v *page.Visit) { say(v, outing.Test{Test: testOf(v)}) }

func mistap(v *page.Visit) { say(v, outing.Mistap{Test: testOf(v)}) }

func showDrive(v *page.Visit) {
	say(v, outing.Show{Show: round.Show{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Permit: v.Field("permit"), Moved: v.Field("moved")}})
}

func putBack(v *page.Visit) {
	say(v, outing.PutBack{PutThingsBack: round.PutThingsBack{Machine: v.Field("machine"), Attempt: v.Whole("attempt")}})
}
