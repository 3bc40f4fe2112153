package outing

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// Refused says why an event may not come next.
type Refused struct {
	Reason text.Reason
	// Earlier is the answer already taken, where the event would have
	// answered the same thing again.
	Earlier *Given
}

func (e *Refused) Error() string { return "outing: refused by " + string(e.Reason.Rule) }

func refuse(r text.Reason) error { return &Refused{Reason: r} }

// The rules of what may come next.
var (
	RuleAnswered         = text.NewRule("outing.already_answered")
	ruleClosed           = text.NewRule("outing.closed")
	ruleReleased         = text.NewRule("outing.released_already")
	ruleMachine          = text.NewRule("outing.unknown_machine")
	ruleCheck            = text.NewRule("outing.unknown_point")
	ruleFault            = text.NewRule("outing.unknown_fault")
	ruleSetting          = text.NewRule("outing.unknown_setting")
	ruleNeeds            = text.NewRule("outing.setting_needed", text.Slot{Name: "do", Kind: text.Words})
	ruleAfter            = text.NewRule("outing.point_first", text.Slot{Name: "point", Kind: text.Words})
	ruleCondition        = text.NewRule("outing.condition_first", text.Slot{Name: "condition", Kind: text.Words})
	ruleUnknownCondition = text.NewRule("outing.unknown_condition")
	RuleHot              = text.NewRule("outing.still_warm", text.Slot{Name: "until", Kind: text.Moment})
	ruleReadyFirst       = text.NewRule("outing.ready_first")
	ruleWalkFirst        = text.NewRule("outing.walk_first", text.Slot{Name: "left", Kind: text.Count})
	ruleRoundFirst       = text.NewRule("outing.round_first")
	ruleOnHalt           = text.NewRule("outing.on_halt")
	ruleNotNext          = text.NewRule("outing.test_not_next")
	ruleNoRetry          = text.NewRule("outing.failed_stays_failed")
	ruleNoCrank          = text.NewRule("outing.not_time_to_start")
	ruleTimeNeeded       = text.NewRule("outing.time_needed")
	ruleNotRight         = text.NewRule("outing.not_put_right_here")
	ruleSupersede        = text.NewRule("outing.not_the_last_answer")
	RuleSecond           = text.NewRule("outing.second_person")
	ruleTwice            = text.NewRule("outing.measured_twice")
	ruleEmptyNote        = text.NewRule("outing.empty_note")
	ruleNotReleased      = text.NewRule("outing.not_clear")
	RuleEmpty            = text.NewRule("reading.empty")
	RuleNotNumber        = text.NewRule("reading.not_a_number", text.Slot{Name: "typed", Kind: text.Name})
	RuleWrongUnit        = text.NewRule("reading.wrong_unit", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "unit", Kind: text.Name})
	RuleRange            = text.NewRule("reading.out_of_range", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "low", Kind: text.Amount}, text.Slot{Name: "high", Kind: text.Amount})
	ruleHoursBack        = text.NewRule("reading.hours_back", text.Slot{Name: "last", Kind: text.Amount})
	ruleHoursForward     = text.NewRule("reading.hours_jump", text.Slot{Name: "last", Kind: text.Amount})
)

// hoursJump is the most an hour meter may have moved since it was last known,
// in hours, before the entry is taken for a slip of the finger (house rule).
const hoursJump = 200

// Accept says whether e may come next; the error is a *Refused.
func (o *Outing) Accept(meta Meta, e Event) error {
	if o.Status == Closed {
		return refuse(ruleClosed.Says())
	}
	switch e := e.(type) {
	case Ended:
		return nil
	case BreakBegun:
		return o.acceptBreak(e)
	case BreakAnswered:
		return o.acceptBreakAnswer(e)
	case Readied:
		if o.Status == Out {
			return refuse(ruleReleased.Says())
		}
		return nil
	}
	if o.Status == Out {
		return refuse(ruleReleased.Says())
	}
	if o.Ready == nil {
		return refuse(ruleReadyFirst.Says())
	}
	switch e := e.(type) {
	case Set:
		return o.acceptSet(e)
	case Rerouted:
		return o.acceptReroute(e)
	case Conditioned:
		return o.acceptCondition(e)
	case Answered:
		return o.acceptAnswer(meta, e)
	case Noted:
		return o.acceptNote(e)
	case PutRight:
		return o.acceptPutRight(e)
	case Cranked:
		return o.acceptCrank(e)
	case Tested:
		return o.acceptTest(e)
	case Released:
		if o.Judge(meta.At).Outcome != Clear {
			return refuse(ruleNotReleased.Says())
		}
		if o.NeedsSecond() && (e.Second == "" || e.Second == o.Operator) {
			return refuse(RuleSecond.Says())
		}
		return nil
	}
	return fmt.Errorf("outing: %s cannot be answered", e.Kind())
}

func (o *Outing) acceptSet(e Set) error {
	u := o.Unit(e.Machine)
	if u == nil {
		return refuse(ruleMachine.Says())
	}
	s, ok := u.Sheet.Setting(e.Setting)
	if ok {
		_, ok = s.Way(e.To)
	}
	if !ok {
		return refuse(ruleSetting.Says())
	}
	return nil
}

func (o *Outing) acceptAnswer(meta Meta, e Answered) error {
	u, c, err := o.point(e.Machine, e.Check, e.Item)
	if err != nil {
		return err
	}
	if err := u.fits(c, e); err != nil {
		return err
	}
	last, answered := u.last(e.Check, e.Item)
	switch {
	case meta.Supersedes != "":
		if !answered || last.Meta.ID != meta.Supersedes {
			return refuse(ruleSupersede.Says())
		}
		if e.Again && !u.MayMeasureAgain(e.Check, e.Item) {
			return refuse(ruleTwice.Says())
		}
		return nil
	case answered && last.now().Answer != AnswerNotReached:
		return &Refused{Reason: RuleAnswered.Says(), Earlier: &last}
	}
	return o.inTurn(u, c, meta.At)
}

func (o *Outing) acceptCondition(e Conditioned) error {
	u := o.Unit(e.Machine)
	if u == nil {
		return refuse(ruleMachine.Says())
	}
	c, ok := u.Sheet.Condition(e.Condition)
	if ok {
		_, ok = c.Choice(e.Choice)
	}
	if !ok {
		return refuse(ruleUnknownCondition.Says())
	}
	if _, told := u.Told[e.Condition]; told {
		return &Refused{Reason: RuleAnswered.Says()}
	}
	return nil
}

// inTurn checks that the point's time has come: its phase, its settings, the
// points it must follow, the condition its limits depend on, and that the
// machine has cooled where it must.
func (o *Outing) inTurn(u *UnitState, c *machine.Check, now time.Time) error {
	if until := u.CoolAt(c); now.Before(until) {
		return refuse(RuleHot.Says(until))
	}
	if condition := u.Wants(c); condition != nil {
		return refuse(ruleCondition.Says(condition.Name))
	}
	if c.Phase == machine.Running && !o.prover(u).Round.Done() {
		return refuse(ruleRoundFirst.Says())
	}
	for _, s := range u.Sheet.Settings {
		if want, ok := c.Needs[s.ID]; ok && u.Stands[s.ID] != want {
			way, _ := s.Way(want)
			return refuse(ruleNeeds.Says(way.Do))
		}
	}
	for _, id := range c.After {
		if before, _ := u.Sheet.Check(id); len(u.Open(id)) > 0 {
			return refuse(ruleAfter.Says(before.Name))
		}
	}
	return nil
}

func (o *Outing) point(machineID, check, item string) (*UnitState, *machine.Check, error) {
	u := o.Unit(machineID)
	if u == nil {
		return nil, nil, refuse(ruleMachine.Says())
	}
	c, ok := u.Sheet.Check(check)
	if !ok || item != "" && !slices.Contains(Items(c), item) {
		return nil, nil, refuse(ruleCheck.Says())
	}
	return u, c, nil
}

// fits checks that an answer is one that this point can have.
func (u *UnitState) fits(c *machine.Check, e Answered) error {
	switch e.Answer {
	case AnswerNotReached:
	case AnswerSound:
		if e.Item != "" || len(c.Readings) > 0 {
			return refuse(RuleEmpty.Says()) // a reading is never ticked
		}
	case AnswerFault:
		// A fault belongs to the point as a whole, beside its readings.
		if _, ok := c.Fault(e.Fault); !ok || e.Item != "" {
			return refuse(ruleFault.Says())
		}
	case AnswerReading:
		r, ok := c.Reading(e.Item)
		if !ok || e.Value == nil {
			return refuse(RuleEmpty.Says())
		}
		return u.fitsRange(r, *e.Value)
	default:
		return refuse(ruleFault.Says())
	}
	return nil
}

func (u *UnitState) fitsRange(r *machine.Reading, v Value) error {
	low, high := r.Measure(r.Range[0]), r.Measure(r.Range[1])
	if v.Quantity.Value < low.Quantity.Value || v.Quantity.Value > high.Quantity.Value {
		return refuse(RuleRange.Says(v.Typed, low, high))
	}
	if r.Kind != "hours" {
		return nil
	}
	hours := r.UnitOf().In(v.Quantity)
	switch last := r.Measure(u.Hours); {
	case hours < u.Hours-0.05:
		return refuse(ruleHoursBack.Says(last))
	case hours > u.Hours+hoursJump:
		return refuse(ruleHoursForward.Says(last))
	}
	return nil
}

// ParseValue reads a typed reading for r. The unit is the one the operator was
// shown, unless they typed another of the same kind; the error is a *Refused.
func ParseValue(r *machine.Reading, typed, shown string) (*Value, error) {
	typed = strings.TrimSpace(typed)
	u, ok := unit.Find(shown)
	if !ok || u.Dimension != r.UnitOf().Dimension {
		u = r.UnitOf()
	}
	q, taken, err := unit.Parse(typed, u)
	switch {
	case errors.Is(err, unit.ErrEmpty):
		return nil, refuse(RuleEmpty.Says())
	case errors.Is(err, unit.ErrUnit):
		return nil, refuse(RuleWrongUnit.Says(typed, u.Symbol))
	case err != nil:
		return nil, refuse(RuleNotNumber.Says(typed))
	}
	return &Value{Typed: typed, Unit: taken.Symbol, Quantity: q}, nil
}

func (o *Outing) acceptPutRight(e PutRight) error {
	u, c, err := o.point(e.Machine, e.Check, e.Item)
	if err != nil {
		return err
	}
	last, ok := u.last(e.Check, e.Item)
	if !ok || last.Meta.ID != e.Finding {
		return refuse(ruleSupersede.Says())
	}
	if last.Right != nil {
		return &Refused{Reason: RuleAnswered.Says(), Earlier: &last}
	}
	if PutRightAct(c, last.Answered) == nil || last.Finding.Grade == defect.Sound {
		return refuse(ruleNotRight.Says())
	}
	if e.Now.Machine != e.Machine || e.Now.Check != e.Check || e.Now.Item != e.Item {
		return refuse(ruleCheck.Says())
	}
	if e.Now.Answer == AnswerSound && e.Item == "" && last.Answer == AnswerFault {
		return nil // a fault at a point with readings is put right like any other
	}
	return u.fits(c, e.Now)
}

// acceptNote: a note or picture belongs to the finding that stands.
func (o *Outing) acceptNote(e Noted) error {
	u, _, err := o.point(e.Machine, e.Check, e.Item)
	if err != nil {
		return err
	}
	last, ok := u.last(e.Check, e.Item)
	switch {
	case !ok || last.Meta.ID != e.Finding:
		return refuse(ruleSupersede.Says())
	case e.Note == "" && e.Photo == "":
		return refuse(ruleEmptyNote.Says())
	}
	return nil
}

// PutRightAct is what the operator may do about an answer on the spot, or nil.
func PutRightAct(c *machine.Check, a Answered) *text.Text {
	switch a.Answer {
	case AnswerFault:
		if f, ok := c.Fault(a.Fault); ok {
			return f.PutRight
		}
	case AnswerReading:
		if r, ok := c.Reading(a.Item); ok {
			return r.PutRight
		}
	}
	return nil
}

// mayTest checks what the round waits for: a ready operator, the cold walk of
// every machine it proves done, and no Halt on one.
func (o *Outing) mayTest(u *UnitState) error {
	left := 0
	tested := o.proves(u)
	for _, one := range tested {
		left += len(one.Left(machine.Cold))
	}
	if left > 0 {
		return refuse(ruleWalkFirst.Says(left))
	}
	for _, d := range o.Defects() {
		if slices.Contains(tested, o.Unit(d.Machine)) && d.Finding.Grade == defect.Halt {
			return refuse(ruleOnHalt.Says())
		}
	}
	return nil
}

func (o *Outing) acceptCrank(e Cranked) error {
	u := o.Unit(e.Machine)
	if u == nil {
		return refuse(ruleMachine.Says())
	}
	if err := o.mayTest(u); err != nil {
		return err
	}
	if !u.Round.NeedsCrank() || e.Attempt != u.Round.Attempt || e.Started && !e.Cranked {
		return refuse(ruleNoCrank.Says())
	}
	return nil
}

func (o *Outing) acceptTest(e Tested) error {
	u := o.Unit(e.Machine)
	if u == nil {
		return refuse(ruleMachine.Says())
	}
	if e.Test >= 0 && e.Test < len(u.Round.Results) && u.Round.Results[e.Test].Outcome == Failed {
		return refuse(ruleNoRetry.Says())
	}
	if err := o.mayTest(u); err != nil {
		return err
	}
	if e.Test != u.Round.Next() || e.Attempt != u.Round.Attempt || e.Test >= len(u.Round.Plan.Tests) {
		return refuse(ruleNotNext.Says())
	}
	stop := u.Round.Plan.Tests[e.Test].Kind != interlock.Refusal
	if stop && !u.Round.Runs && u.Sheet.HasEngine() {
		return refuse(ruleNoCrank.Says())
	}
	if stop && e.Before && !e.After && u.StopWithin(e.Test) > 0 && (e.Seconds == nil || *e.Seconds < 0) {
		return refuse(ruleTimeNeeded.Says())
	}
	return nil
}
