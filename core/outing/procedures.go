package outing

// Procedures and events of the machines of an outing: fuelling, starting, working,
// putting away, and what happens meanwhile. Each is begun, answered step by step and
// left, as the sheet has it.

import (
	"slices"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

type procedureStage struct{ quiet }

var (
	ruleStepTwice  = text.NewRule("procedure.answered_already")
	ruleNotThere   = text.NewRule("procedure.not_on_this_machine")
	ruleRoundRuns  = text.NewRule("procedure.round_runs")
	ruleDoingFirst = text.NewRule("procedure.end_it_first", text.Slot{Name: "procedure", Kind: text.Term})
	ruleEventFirst = text.NewRule("procedure.end_event_first", text.Slot{Name: "event", Kind: text.Words})
	ruleUnsafeNow  = text.NewRule("procedure.not_to_be_started", text.Slot{Name: "fact", Kind: text.Term})
)

// ProcedureBegun begins a procedure of a machine.
type ProcedureBegun struct {
	Machine   string `json:"machine"`
	Procedure string `json:"procedure"`
	// Outing is how far the outing was: walk, refusals, stops, released.
	Outing machine.Facts `json:"outing"`
	// Told is how facts stand by the controls as the round has them, where it is its
	// engine that is started.
	Told machine.Facts `json:"told,omitempty"`
}

// StepAnswered answers a step of what is open on a machine.
type StepAnswered struct {
	Machine   string `json:"machine"`
	Procedure string `json:"procedure"` // or event:ID
	Step      string `json:"step"`
	Answer    string `json:"answer"`
	// Sure: the clock had jumped, and the person said that the wait was over.
	Sure bool `json:"sure,omitempty"`
	// Jump is when the clock was seen to be wrong, where it was.
	Jump *time.Time `json:"jump,omitempty"`
	// Found is the fault that it found, Event the event that it led to.
	Found *inspect.Answered `json:"found,omitempty"`
	Event string            `json:"event,omitempty"`
}

// ProcedureLeft leaves what is open: a procedure is closed, an event begins again.
type ProcedureLeft struct {
	Machine   string `json:"machine"`
	Procedure string `json:"procedure"`
}

// Happened says that something happened.
type Happened struct {
	Machine string `json:"machine"`
	Event   string `json:"event"`
	// Outing is how far the outing was.
	Outing machine.Facts `json:"outing"`
}

var _ = record.Register(ProcedureBegun{}, StepAnswered{}, ProcedureLeft{}, Happened{})

// Kind implements record.Event.
func (ProcedureBegun) Kind() string { return "procedure_begun" }

// Kind implements record.Event.
func (StepAnswered) Kind() string { return "step_answered" }

// Kind implements record.Event.
func (ProcedureLeft) Kind() string { return "procedure_left" }

// Kind implements record.Event.
func (Happened) Kind() string { return "happened" }

func (procedureStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	switch c := c.(type) {
	case BeginProcedure:
		return one(o.begun(c, by))
	case AnswerStep:
		e, err := o.stepAnswered(c, by)
		if err != nil {
			return nil, true, err
		}
		return o.andTheRound(e), true, nil
	case LeaveProcedure:
		return one(o.procedureLeft(c, by))
	case Happen:
		return one(o.happened(c, by))
	}
	return pass()
}

// besideRound: in the middle of the round the controls stay as the round has them.
// It may run dry before its engine has run: then it is fuelled. Where the round comes
// to its start, it is started.
func (o *Outing) besideRound(u *UnitState, id string) bool {
	r := o.prover(u).Round
	return !r.UnderWay() || !r.Runs && (id == fuelsIt || id == chargesIt) || id == startsIt && o.StartsRound(u)
}

// begun: for who may start the machine, on the day of the outing, and not while the
// engine runs in the round.
func (o *Outing) begun(c BeginProcedure, by speech) (ProcedureBegun, error) {
	e := ProcedureBegun{Machine: c.Machine, Procedure: c.Procedure}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	if err := o.fit(); err != nil {
		return e, err
	}
	switch {
	case o.Stale(by.At):
		return e, record.Refuse(ruleStale.Says())
	case !o.MayStart():
		return e, record.Refuse(ruleNoStart.Says())
	case !o.besideRound(u, c.Procedure):
		return e, record.Refuse(ruleRoundRuns.Says())
	}
	e.Outing = o.progress(u, by.At)
	if c.Procedure == startsIt && o.StartsRound(u) {
		e.Told = u.Round.Tells()
	}
	if _, refused := u.before(e, by.Meta).Start(c.Procedure, by.At); refused != nil {
		return e, record.Refuse(*refused)
	}
	return e, nil
}

// before is a machine as a procedure is begun on it. A crew that drives and works taps
// little: where the engine runs, whoever shuts it down is asked for every act.
func (u *UnitState) before(e ProcedureBegun, m record.Meta) *procedure.Live {
	live := u.Live(m).Know(e.Outing, nil)
	if len(e.Told) > 0 {
		live = live.Told(e.Told, m.At)
	}
	if e.Procedure == parksIt && live.Stands()["engine"] == "running" {
		live = live.Unseen(nil, m.At)
	}
	return live
}

func (o *Outing) stepAnswered(c AnswerStep, by speech) (StepAnswered, error) {
	e := StepAnswered{Machine: c.Machine, Procedure: c.Procedure, Step: c.Step, Answer: c.Answer, Sure: c.Sure}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	if !by.Wrong.IsZero() {
		e.Jump = &by.Wrong
	}
	live := u.Live(by.Meta)
	if live.Open() != c.Procedure {
		if was, ok := u.lastStep(c.Procedure, c.Step); ok {
			return e, &record.Refused{Reason: ruleStepTwice.Says(), Earlier: &was}
		}
		return e, record.Refuse(procedure.RuleNotOpen.Says())
	}
	_, came, refused := live.Answer(c.Step, c.Answer, c.Sure, by.At)
	if refused != nil {
		if was, ok := u.lastStep(c.Procedure, c.Step); ok && refused.Rule == procedure.RuleNoStep {
			return e, &record.Refused{Reason: ruleStepTwice.Says(), Earlier: &was}
		}
		return e, record.Refuse(*refused)
	}
	e.Event = came.Event
	if f := came.Finding; f != nil {
		found, err := u.AnswerFreely(inspect.Answer{Machine: c.Machine, Check: f.Check, Answer: inspect.Fault, Fault: f.Fault}, by.At)
		if err != nil {
			return e, err
		}
		e.Found = &found
	}
	return e, nil
}

func (o *Outing) procedureLeft(c LeaveProcedure, by speech) (ProcedureLeft, error) {
	e := ProcedureLeft{Machine: c.Machine, Procedure: c.Procedure}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	if open := u.Live(by.Meta).Open(); open == "" || open != c.Procedure {
		return e, record.Refuse(procedure.RuleNotOpen.Says())
	}
	return e, nil
}

// happened: at any time, whatever else was done or not, as long as the outing is not
// over. What occurs only while something runs is recorded even where nobody told
// that it runs: the world is right, and what is known of it was not.
func (o *Outing) happened(c Happen, by speech) (Happened, error) {
	e := Happened{Machine: c.Machine, Event: c.Event}
	u := o.Unit(c.Machine)
	if u == nil {
		return e, record.Refuse(ruleMachine.Says())
	}
	if _, ok := u.Event(c.Event); !ok {
		return e, record.Refuse(ruleNotThere.Says())
	}
	e.Outing = o.progress(u, by.At)
	return e, nil
}

func (procedureStage) apply(o *Outing, m record.Meta, e record.Event) bool {
	machineID := ""
	switch e := e.(type) {
	case ProcedureBegun:
		machineID = e.Machine
		o.change(e.Machine, func(u *UnitState) {
			live, _ := u.before(e, m).Start(e.Procedure, m.At)
			u.stand(live, m)
			u.procedures.spending = u.procedures.spending.begin(e.Procedure, m)
		})
	case StepAnswered:
		machineID = e.Machine
		o.change(e.Machine, func(u *UnitState) { u.took(m, e) })
	case ProcedureLeft:
		machineID = e.Machine
		o.change(e.Machine, func(u *UnitState) { u.stand(u.Live(m).Left(m.At), m) })
	case Happened:
		machineID = e.Machine
		o.change(e.Machine, func(u *UnitState) {
			live, _ := u.Live(m).Know(e.Outing, nil).Happened(eventOf(e.Event), m.At)
			u.happen(e.Event, m)
			u.stand(live, m)
		})
	default:
		return false
	}
	o.share(machineID, m)
	return true
}

// keptFromStart is why a machine must not be started, for its round: something is
// open on it, or something stands as nothing may that is started.
func (o *Outing) keptFromStart(u *UnitState, at record.Meta) *text.Reason {
	for _, one := range o.proves(u) {
		if !one.Recorded() {
			continue // nothing is open, and nobody said that anything stands otherwise
		}
		live := one.Live(at)
		if r := one.open(live); r != nil {
			return r
		}
		for _, unmet := range live.Unmet(startsIt) {
			if !slices.Contains(progressFacts, unmet.Fact) && unmet.Fact != "engine" {
				r := ruleUnsafeNow.Says(text.Key(procedure.FactKey(unmet.Fact, unmet.Is)))
				return &r
			}
		}
	}
	return nil
}

// open says what is open on a machine and has to be ended first, or nil.
func (u *UnitState) open(live *procedure.Live) *text.Reason {
	run := live.Open()
	if run == "" {
		return nil
	}
	r := ruleDoingFirst.Says(text.Key("procedure." + run))
	if id, ok := EventID(run); ok {
		e, _ := u.Event(id)
		r = ruleEventFirst.Says(e.Name)
	}
	return &r
}
