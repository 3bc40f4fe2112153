package inspect

// What may be answered next, and what a command becomes.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
)

// Answer is what a person says at a point: a word, a fault, or a reading as
// typed.
type Answer struct {
	Machine, Check, Item string
	Answer, Fault, Note  string
	Typed, Unit          string // a reading, and the unit it was asked in
	Again                bool
	Why, Second          string // of a correction
}

// The rules of what may come next.
var (
	RuleAnswered         = text.NewRule("outing.already_answered")
	RuleCheck            = text.NewRule("outing.unknown_point")
	ruleFault            = text.NewRule("outing.unknown_fault")
	ruleSetting          = text.NewRule("outing.unknown_setting")
	ruleNeeds            = text.NewRule("outing.setting_needed", text.Slot{Name: "do", Kind: text.Words})
	ruleAfter            = text.NewRule("outing.point_first", text.Slot{Name: "point", Kind: text.Words})
	ruleCondition        = text.NewRule("outing.condition_first", text.Slot{Name: "condition", Kind: text.Words})
	ruleUnknownCondition = text.NewRule("outing.unknown_condition")
	RuleHot              = text.NewRule("outing.still_warm", text.Slot{Name: "until", Kind: text.Moment})
	ruleNotRight         = text.NewRule("outing.not_put_right_here")
	ruleSupersede        = text.NewRule("outing.not_the_last_answer")
	ruleWhy              = text.NewRule("outing.why_taken_back")
	RuleSecondLook       = text.NewRule("outing.second_look")
	ruleNoCorrection     = text.NewRule("outing.no_correction")
	ruleTwice            = text.NewRule("outing.measured_twice")
	ruleEmptyNote        = text.NewRule("outing.empty_note")
	ruleStandsSo         = text.NewRule("outing.stands_so_already")
)

// noteMost is the longest note, in characters.
const noteMost = 500

// plain checks that an answer is no correction: only one has a reason, and a
// second person whose word it is.
func (a Answer) plain() error {
	if a.Why != "" || a.Second != "" {
		return record.Refuse(ruleNoCorrection.Says())
	}
	return nil
}

// read is the answer as it will be recorded.
func (s State) read(a Answer, now time.Time) (Answered, *machine.Check, error) {
	e := Answered{Machine: a.Machine, Check: a.Check, Item: a.Item, Answer: a.Answer, Fault: a.Fault, Note: a.Note, Again: a.Again, Why: a.Why, Second: a.Second}
	c := s.checks[a.Check]
	if c == nil {
		return e, nil, record.Refuse(RuleCheck.Says())
	}
	if _, further := also(c, a.Item); a.Item != "" && !further && !slices.Contains(Items(c), a.Item) {
		return e, nil, record.Refuse(RuleCheck.Says())
	}
	for _, words := range []string{a.Note, a.Why} {
		if reason, wrong := text.Wrong(words, noteMost); wrong {
			return e, nil, record.Refuse(reason)
		}
	}
	if a.Answer == Read {
		r, ok := c.Reading(a.Item)
		if !ok {
			return e, nil, record.Refuse(RuleEmpty.Says())
		}
		var err error
		if e.Value, err = ParseValue(r, a.Typed, a.Unit); err != nil {
			return e, nil, err
		}
	}
	return e, c, s.fits(c, e, now)
}

// fits checks that an answer is one that this point can have.
func (s State) fits(c *machine.Check, e Answered, now time.Time) error {
	if strings.HasPrefix(e.Item, alsoMark) {
		if !s.further(c, e) {
			return record.Refuse(ruleFault.Says())
		}
		return nil
	}
	switch e.Answer {
	case NotReached:
	case Sound:
		// A reading is never ticked; but a fault found beside readings is taken back.
		if last, ok := s.Last(c.ID, ""); e.Item != "" || len(c.Readings) > 0 && !(ok && last.Answer == Fault) {
			return record.Refuse(RuleEmpty.Says())
		}
	case Fault:
		// A fault belongs to the point as a whole, beside its readings.
		if _, ok := c.Fault(e.Fault); !ok || e.Item != "" {
			return record.Refuse(ruleFault.Says())
		}
	case Read:
		r, _ := c.Reading(e.Item)
		return s.fitsRange(r, *e.Value, now)
	default:
		return record.Refuse(ruleFault.Says())
	}
	return nil
}

// Answer decides an answer of the walk: in its turn, or a correction of the
// answer that counts.
func (s State) Answer(m record.Meta, a Answer) (Answered, error) {
	if m.Supersedes == "" {
		if err := a.plain(); err != nil {
			return Answered{}, err
		}
	}
	e, c, err := s.read(a, m.At)
	if err != nil {
		return e, err
	}
	last, answered := s.Last(e.Check, e.Item)
	switch {
	case m.Supersedes != "":
		if !answered || last.Meta.ID != m.Supersedes && s.latest(e.Check, e.Item).Meta.ID != m.Supersedes {
			return e, record.Refuse(ruleSupersede.Says())
		}
		return e, s.corrects(c, last, e, m)
	case answered && last.Now().Answer != NotReached:
		return e, &record.Refused{Reason: RuleAnswered.Says(), Earlier: &record.Earlier{Meta: last.Meta, Event: last.Answered}}
	}
	if _, further := also(c, e.Item); further {
		return e, nil // worse is always heard
	}
	return e, s.InTurn(c, m.At)
}

// AnswerFreely decides an answer of a look that keeps no order.
func (s State) AnswerFreely(a Answer, now time.Time) (Answered, error) {
	if err := a.plain(); err != nil {
		return Answered{}, err
	}
	e, _, err := s.read(a, now)
	return e, err
}

// Copy decides an answer that is copied from paper, written at a time: its order, how
// settings stood and how cold it was were the business of who wrote it. What is there
// already only becomes worse.
func (s State) Copy(a Answer, written time.Time) (Answered, error) {
	if err := a.plain(); err != nil {
		return Answered{}, err
	}
	e, c, err := s.read(a, written)
	if err != nil {
		return e, err
	}
	if condition := s.Wants(c); condition != nil && e.Answer == Read {
		return e, record.Refuse(ruleCondition.Says(condition.Name))
	}
	last, answered := s.Last(e.Check, e.Item)
	if !answered || last.Now().Answer == NotReached {
		return e, nil
	}
	if was, now := s.standing(last).Finding.Grade, s.grade(e, written).Grade; was == now || defect.Worse(was, now) == was {
		return e, &record.Refused{Reason: RuleAnswered.Says(), Earlier: &record.Earlier{Meta: last.Meta, Event: last.Answered}}
	}
	return e, nil
}

// InTurn checks that the point's time has come: its settings, the points it
// must follow, the condition its limits depend on, and that the machine has
// cooled where it must.
func (s State) InTurn(c *machine.Check, now time.Time) error {
	if until, hot := s.Hot(c, now); hot {
		return record.Refuse(RuleHot.Says(until))
	}
	if condition := s.Wants(c); condition != nil {
		return record.Refuse(ruleCondition.Says(condition.Name))
	}
	for _, setting := range s.Sheet.Settings {
		if want, ok := c.Needs[setting.ID]; ok && s.stands[setting.ID] != want {
			way, _ := setting.Way(want)
			return record.Refuse(ruleNeeds.Says(way.Do))
		}
	}
	for _, id := range c.After {
		if before, _ := s.Sheet.Check(id); s.Asks(id) && len(s.Open(id)) > 0 {
			return record.Refuse(ruleAfter.Says(before.Name))
		}
	}
	return nil
}

// Change decides that a setting is changed.
func (s State) Change(e Set) (Set, error) {
	setting, ok := s.Sheet.Setting(e.Setting)
	if ok {
		_, ok = setting.Way(e.To)
	}
	switch {
	case !ok:
		return e, record.Refuse(ruleSetting.Says())
	case s.stands[e.Setting] == e.To:
		return e, record.Refuse(ruleStandsSo.Says())
	}
	return e, nil
}

// Tell decides what is told of a condition of the day; told another way, every
// reading that hangs on it is judged again.
func (s State) Tell(e Conditioned) (Conditioned, error) {
	c, ok := s.Sheet.Condition(e.Condition)
	if ok {
		_, ok = c.Choice(e.Choice)
	}
	if !ok {
		return e, record.Refuse(ruleUnknownCondition.Says())
	}
	if told := s.told[e.Condition]; told == e.Choice {
		return e, record.Refuse(RuleAnswered.Says())
	}
	return e, nil
}

// PutRight decides that a finding was put right on the spot.
func (s State) PutRight(finding string, now Answer, at time.Time) (PutRight, error) {
	e := PutRight{Machine: now.Machine, Check: now.Check, Item: now.Item, Finding: finding}
	if err := now.plain(); err != nil {
		return e, err
	}
	c := s.checks[now.Check]
	if c == nil {
		return e, record.Refuse(RuleCheck.Says())
	}
	last, ok := s.Last(now.Check, now.Item)
	if !ok || last.Meta.ID != finding {
		return e, record.Refuse(ruleSupersede.Says())
	}
	if last.Right != nil {
		return e, &record.Refused{Reason: RuleAnswered.Says(), Earlier: &record.Earlier{Meta: last.Meta, Event: last.Answered}}
	}
	if PutRightAct(c, last.Answered) == nil || last.Finding.Grade == defect.Sound {
		return e, record.Refuse(ruleNotRight.Says())
	}
	if _, further := also(c, now.Item); now.Answer == Sound && (now.Item == "" || further) && last.Answer == Fault {
		// A fault at a point with readings is put right like any other.
		e.Now = Answered{Machine: now.Machine, Check: now.Check, Item: now.Item, Answer: Sound}
		return e, nil
	}
	var err error
	e.Now, _, err = s.read(now, at)
	return e, err
}

// Note decides that a note or picture is added to the finding that stands.
func (s State) Note(e Noted) (Noted, error) {
	last, ok := s.Last(e.Check, e.Item)
	if !ok || last.Meta.ID != e.Finding {
		return e, record.Refuse(ruleSupersede.Says())
	}
	if e.Note == "" && e.Photo == "" {
		return e, record.Refuse(ruleEmptyNote.Says())
	}
	if reason, wrong := text.Wrong(e.Note, noteMost); wrong {
		return e, record.Refuse(reason)
	}
	return e, nil
}
