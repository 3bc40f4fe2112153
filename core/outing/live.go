package outing

// How a machine of an outing stands in its procedures, and what of it the round, the
// release and what stands against it say.

import (
	"maps"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/machine"
	"vespers/core/procedure"
	"vespers/core/record"
	"vespers/core/text"
)

// The procedures by which an outing goes on.
const (
	startsIt  = "start"
	parksIt   = "shutdown"
	storesIt  = "store"
	fuelsIt   = "fuel"
	chargesIt = "charge"
)

const eventMark = "event:"

func eventOf(id string) string { return eventMark + id }

// EventID is the event that an open run, or the point of a defect, is.
func EventID(run string) (string, bool) { return strings.CutPrefix(run, eventMark) }

// inProcedures is what a machine's procedures and events came to in an outing.
type inProcedures struct {
	live *procedure.Live // nil until it is asked for the first time
	// told is what was done elsewhere: in the round, with the running checks.
	told    []told
	answers map[string]record.Earlier // the last answer of each step
	ended   map[string]record.Meta    // when each procedure was last ended
	events  []Happening
	tried   int           // starts that did not start it, since it last ran
	looks   inspect.State // at faults that steps found
	looked  bool
	// spending is how long its chores took.
	spending spending
}

// told is how facts stand from a moment on.
type told struct {
	facts machine.Facts
	at    time.Time
}

// Happening is something that happened to a machine.
type Happening struct {
	Event string
	Meta  record.Meta
	// Defect is the id of what it leaves standing against the machine, if it does.
	Defect string
}

// Live is how a machine stands in its procedures at a moment. What nobody told in
// this outing stands as its last one left it, or as where nobody knows.
func (u *UnitState) Live(m record.Meta) *procedure.Live {
	live := u.procedures.live
	if live == nil {
		live = procedure.NewLive(u.Sheet, u.Way()).Know(u.began())
		for _, t := range u.procedures.told {
			live = live.Told(t.facts, t.at)
		}
	}
	if !m.Wrong.IsZero() {
		live = live.Jumped(m.Wrong)
	}
	live = live.At(m.At)
	for { // what time alone has brought to its end
		turn, open := live.Turn(m.At)
		if !open || turn.Step != nil {
			return live
		}
		live, _ = live.Finish(m.At)
	}
}

// Way is how its options stand, and what its house chose.
func (u *UnitState) Way() procedure.Way {
	return procedure.Way{Options: u.Sheet.Chosen(), House: u.Practice}
}

// began is how it stood when the outing began: as it was left; standing still, since
// whoever takes it out has it before them; its engine off since it last worked, and no
// longer hot where it has not for as long as it takes to cool.
func (u *UnitState) began() (machine.Facts, map[string]time.Time) {
	facts := machine.Facts{}
	maps.Copy(facts, u.Stood)
	facts["engine"], facts["motion"] = "off", "still"
	facts["metal"] = "hot"
	if u.Cool {
		facts["metal"] = "cool"
	}
	return facts, map[string]time.Time{"engine=off": u.Off}
}

// stand keeps how a machine stands after a record. What is open and has no step left
// is at its end.
func (u *UnitState) stand(live *procedure.Live, m record.Meta) {
	for {
		turn, open := live.Turn(m.At)
		if !open || turn.Step != nil {
			break
		}
		u.procedures.live = live
		u.over(turn.Run, m)
		live, _ = live.Finish(m.At)
	}
	if live.Stands()["engine"] == "running" {
		u.Parked = false
	}
	u.procedures.live = live
}

// Running is the procedure, or event:ID, that is open on it; "" where none is.
func (u *UnitState) Running(m record.Meta) string {
	if !u.Recorded() {
		return ""
	}
	return u.Live(m).Open()
}

// EngineRuns reports whether its engine runs, as far as anybody told.
func (u *UnitState) EngineRuns(m record.Meta) bool {
	return u.Recorded() && u.Live(m).Stands()["engine"] == "running"
}

// Recorded reports whether anything was recorded of its procedures in this outing.
func (u *UnitState) Recorded() bool { return u.procedures.live != nil }

// together are the facts of a carrier and of what it carries that are one and the
// same: they stand on one set of wheels, and one engine turns both.
var together = []string{"engine", "key", "travel", "brake", "person", "people", "place", "level", "transport"}

// share tells the other machines of an outing what stands otherwise since a record on
// one of them.
func (o *Outing) share(machineID string, m record.Meta) {
	from := o.Unit(machineID)
	if len(o.Units) < 2 || from == nil {
		return
	}
	stands := from.Live(m).Stands()
	for _, u := range o.Units {
		if u.Machine == machineID {
			continue
		}
		differs := machine.Facts{}
		have := u.Live(m).Stands()
		for _, f := range together {
			if is, ok := stands[f]; ok && have[f] != "" && have[f] != is {
				differs[f] = is
			}
		}
		if len(differs) > 0 {
			o.change(u.Machine, func(u *UnitState) { u.stand(u.Live(m).Told(differs, m.At), m) })
		}
	}
}

// tell notes what was done elsewhere.
func (u *UnitState) tell(facts machine.Facts, m record.Meta) {
	if u.procedures.live != nil {
		u.stand(u.Live(m).Told(facts, m.At), m)
		return
	}
	u.procedures.told = append(slices.Clip(u.procedures.told), told{facts, m.At})
}

// Event is one of the events of its sheet.
func (u *UnitState) Event(id string) (machine.Event, bool) {
	i := slices.IndexFunc(u.Sheet.Events, func(e machine.Event) bool { return e.ID == id })
	if i < 0 {
		return machine.Event{}, false
	}
	return u.Sheet.Events[i], true
}

// lastStep is the last answer to a step.
func (u *UnitState) lastStep(run, step string) (record.Earlier, bool) {
	was, ok := u.procedures.answers[run+"/"+step]
	return was, ok
}

// Ended is when a procedure was last ended in this outing; ok is false where it was
// not.
func (u *UnitState) Ended(id string) (m record.Meta, ok bool) {
	m, ok = u.procedures.ended[id]
	return m, ok
}

// Happenings are the events of a machine in this outing.
func (u *UnitState) Happenings() []Happening { return u.procedures.events }

// over notes that what was open is not any more: where it was the end, nothing of it
// is left.
func (u *UnitState) over(run string, m record.Meta) {
	ended := maps.Clone(u.procedures.ended)
	if ended == nil {
		ended = map[string]record.Meta{}
	}
	ended[run] = m
	u.procedures.ended = ended
	if run == parksIt || u.stopped(run) || u.leaves(run) {
		u.Parked = true
	}
}

// leaves reports whether a procedure ends with its operator leaving the machine: it asks
// for all that a shutdown asks for then.
func (u *UnitState) leaves(run string) bool {
	i := slices.IndexFunc(u.Sheet.Procedures, func(p machine.Procedure) bool { return p.ID == run })
	if i < 0 {
		return false
	}
	return slices.ContainsFunc(u.Sheet.Procedures[i].Steps, func(s machine.Step) bool { return s.Makes["person"] == "away" })
}

// stopped reports whether what happened has left the machine where it stands, its
// engine off: nobody shuts it down once more.
func (u *UnitState) stopped(run string) bool {
	id, is := EventID(run)
	e, _ := u.Event(id)
	return is && procedure.After(e) == "halt" && u.procedures.live != nil && u.procedures.live.Stands()["engine"] == "off"
}

// Tried is how often it was tried to start it by its procedure since it last ran.
func (u *UnitState) Tried() int { return u.procedures.tried }

// TriedOut reports whether that is as often as it may be.
func (u *UnitState) TriedOut() bool {
	most, ok := u.Sheet.Number("crank_tries")
	return ok && u.procedures.tried >= int(most.Value)
}

// took takes in an answer to a step.
func (u *UnitState) took(m record.Meta, e StepAnswered) {
	if e.Jump != nil {
		m.Wrong = *e.Jump
	}
	before := u.Live(m)
	live, _, _ := before.Answer(e.Step, e.Answer, e.Sure, m.At)
	wet := before.Stands()["water"] == "on" || live.Stands()["water"] == "on"
	u.procedures.spending = u.procedures.spending.answered(before.Step(e.Procedure, e.Step), e.Procedure, wet, m)
	answers := maps.Clone(u.procedures.answers)
	if answers == nil {
		answers = map[string]record.Earlier{}
	}
	answers[e.Procedure+"/"+e.Step] = record.Earlier{Meta: m, Event: e}
	u.procedures.answers = answers
	if s := live.Step(e.Procedure, e.Step); procedure.Starts(s) {
		if u.procedures.tried++; live.Stands()["engine"] == "running" {
			u.procedures.tried = 0
		}
	}
	if e.Found != nil {
		if !u.procedures.looked {
			u.procedures.looks, u.procedures.looked = u.Again(nil), true
		}
		u.procedures.looks, _ = u.procedures.looks.Apply(m, *e.Found)
	}
	if id, ok := EventID(e.Event); ok {
		u.happen(id, m)
	}
	u.stand(live, m)
}

// happen keeps an event, and what it leaves standing.
func (u *UnitState) happen(id string, m record.Meta) {
	h := Happening{Event: id, Meta: m}
	if e, _ := u.Event(id); leaves(e) {
		h.Defect = m.ID + "-" + id
	}
	u.procedures.events = append(slices.Clip(u.procedures.events), h)
	u.Parked = false
}

var (
	ruleEventHalt = text.NewRule("release.halt_by_event", text.Slot{Name: "event", Kind: text.Words})
	ruleEventHome = text.NewRule("release.home_by_event", text.Slot{Name: "event", Kind: text.Words})
)

// defects: what steps found, and what an event leaves: it stays until somebody has
// looked it over and put it right.
func (procedureStage) defects(o *Outing, u *UnitState, standing []Defect) []Defect {
	found := []inspect.Found{}
	if u.procedures.looked {
		found = u.procedures.looks.EveryFound()
	}
	for _, h := range u.procedures.events {
		if h.Defect == "" || o.soundAfter(u, h) {
			continue
		}
		e, _ := u.Event(h.Event)
		why := ruleEventHalt.Says(e.Name)
		if procedure.After(e) == "return_only" {
			why = ruleEventHome.Says(e.Name)
		}
		found = append(found, inspect.Found{ID: h.Defect, Check: eventOf(h.Event), By: h.Meta.By, At: h.Meta.At,
			Finding: defect.Finding{Extent: machine.Lost, Grade: defect.Halt, Reasons: []text.Reason{why}}})
	}
	return o.beside(u, standing, found)
}

// Choices are the procedures and events that may be begun on a machine, or what keeps
// them.
func (o *Outing) Choices(u *UnitState, at record.Meta) (procedures, events []procedure.Choice) {
	return u.Live(at).Know(o.progress(u, at.At), nil).Choices()
}

// ComesNext is the procedure of the day that comes next: the first that may be begun
// and was not gone through. After a Halt only standing still and being put away come
// next; "" where nothing does.
func (o *Outing) ComesNext(u *UnitState, at record.Meta) string {
	may, _ := o.Choices(u, at)
	halted := o.progress(u, at.At)["released"] == "halt"
	for _, p := range procedure.OfTheDay(u.Sheet) {
		if halted && p.ID != parksIt && p.ID != storesIt {
			continue
		}
		open := slices.ContainsFunc(may, func(c procedure.Choice) bool { return c.ID == p.ID && len(c.Unmet) == 0 })
		if _, ended := u.Ended(p.ID); open && !ended {
			return p.ID
		}
	}
	return ""
}

// The facts that are only read: how far the outing is.
var progressFacts = []string{"walk", "refusals", "stops", "released"}

// progress is how far the outing is for a machine. The round is one thing: its
// refusals count once all of it has passed, or where its engine is to be started.
func (o *Outing) progress(u *UnitState, now time.Time) machine.Facts {
	is := func(passed bool) string {
		if passed {
			return "passed"
		}
		return "open"
	}
	round := is(o.prover(u).Round.Done())
	refusals := is(o.prover(u).Round.Done() || o.StartsRound(u))
	facts := machine.Facts{"walk": is(!u.AnyLeft(machine.Cold)), "refusals": refusals, "stops": round, "released": is(o.Status == Out)}
	for _, d := range o.Defects() { // what halts one machine of an outing halts all
		if d.Finding.GradeAt(o.Unit(d.Machine).HoursNow(), now) == defect.Halt {
			for _, f := range progressFacts {
				facts[f] = "halt"
			}
		}
	}
	return facts
}
