package outing

// An inspection that was written on paper, where Vespers could not be reached, copied in
// afterwards by who wrote it. What was found counts from when it was written; nothing is
// released or proved by it.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
	"vespers/core/unit"
)

// Paper is what an outing is copied from: the code on the printed sheet, and when the
// inspection on it was begun.
type Paper struct {
	Code    string    `json:"code"`
	Written time.Time `json:"written"`
}

// CopyTest says what the paper says of a test of the round.
type CopyTest struct{ round.Copy }

// FinishPaper says that everything on the paper is copied. Out is whether the machine
// worked that day (yes or no), Until when it was home again (15:04, on the paper's day
// or the night after), Hours what its meter said then, "" where the paper does not say.
type FinishPaper struct{ Out, Until, Hours string }

// Act implements Command.
func (CopyTest) Act() operator.Act { return operator.Work }

// Act implements Command.
func (FinishPaper) Act() operator.Act { return operator.Work }

// paperDay is the longest that a machine is out on one paper (house rule).
const paperDay = 16 * time.Hour

// EndPaper is how an outing ends that was copied from paper.
const EndPaper = "on_paper"

var (
	ruleNoPaper    = text.NewRule("paper.not_one")
	ruleOnlyCopied = text.NewRule("paper.only_copied")
	ruleNotByPaper = text.NewRule("paper.nothing_released")
	ruleLaterMeter = text.NewRule("paper.meter_read_later", text.Slot{Name: "when", Kind: text.Moment})
	ruleWentOut    = text.NewRule("paper.say_whether_out")
	ruleStayedIn   = text.NewRule("paper.stayed_in_and_home")
	ruleUntil      = text.NewRule("paper.home_when")
	ruleHomeHours  = text.NewRule("paper.hours_at_home")
)

// ComposePaper makes what the outing of a paper begins with: the points of its paper
// that who wrote it may look at, and the tests of its own round. What an implement does
// with its carrier is not proved on paper.
func ComposePaper(id string, who operator.Person, house defect.House, main Machine, plan Planner, paper Paper, now time.Time) (Started, error) {
	main.Worked = time.Time{} // it has cooled since it was written, or had to be then
	return compose(composing{id: id, who: who, house: house, main: main, plan: plan, now: now, paper: &paper})
}

// saidAt is when something was said: what is copied, when it was written.
func (o *Outing) saidAt(m record.Meta, e record.Event) time.Time {
	if o.Paper == nil {
		return m.At
	}
	switch e.(type) {
	case inspect.Answered, inspect.Conditioned, round.Copied:
		return o.Paper.Written
	}
	return m.At
}

// SaidAt is when an event of the outing that is recorded at a moment was said.
func (o *Outing) SaidAt(m record.Meta, e record.Event) time.Time {
	if o == nil {
		return m.At
	}
	return o.saidAt(m, e)
}

// paperStage decides everything of an outing that is copied from paper, and nothing else.
type paperStage struct{ quiet }

func (paperStage) decide(o *Outing, c Command, by speech) ([]record.Event, bool, error) {
	if o.Paper == nil {
		switch c.(type) {
		case CopyTest, FinishPaper:
			return nil, true, record.Refuse(ruleNoPaper.Says())
		}
		return pass()
	}
	switch c := c.(type) {
	case Answer:
		return one(o.copied(c, by))
	case Tell:
		u := o.Unit(c.Machine)
		if u == nil {
			return nil, true, record.Refuse(ruleMachine.Says())
		}
		return one(u.Tell(c.Conditioned))
	case CopyTest:
		u := o.Unit(c.Machine)
		if u == nil {
			return nil, true, record.Refuse(ruleMachine.Says())
		}
		return one(u.Round.Copy(c.Copy))
	case FinishPaper:
		return one(o.finished(c, by))
	case End:
		return pass() // given up: what was copied so far stands
	}
	return nil, true, record.Refuse(ruleOnlyCopied.Says())
}

// copied is an answer as it stands on the paper. A meter that was read later is known
// better than by the paper.
func (o *Outing) copied(c Answer, by speech) (inspect.Answered, error) {
	u := o.Unit(c.Machine)
	if u == nil {
		return inspect.Answered{}, record.Refuse(ruleMachine.Says())
	}
	if err := u.mayLook(by, c.Check); err != nil {
		return inspect.Answered{}, err
	}
	if u.IsMeter(c.Check) && c.Answer.Answer == inspect.Read && u.HoursAt.After(o.Paper.Written) {
		return inspect.Answered{}, record.Refuse(ruleLaterMeter.Says(u.HoursAt))
	}
	return u.Copy(c.Answer, o.Paper.Written)
}

func (o *Outing) finished(c FinishPaper, by speech) (Ended, error) {
	e := Ended{How: EndPaper}
	switch c.Out {
	case "no":
		if c.Until != "" || c.Hours != "" {
			return e, record.Refuse(ruleStayedIn.Says()) // what is typed is kept or refused
		}
		return e, nil
	case "yes":
	default:
		return e, record.Refuse(ruleWentOut.Says())
	}
	until, err := o.homeAt(c.Until, by.At)
	if err != nil {
		return e, err
	}
	e.Worked = &until
	if c.Hours == "" {
		return e, nil
	}
	u := o.Main()
	hour, _ := unit.Find("h")
	hours, _, err := unit.Parse(c.Hours, hour)
	if err != nil || hour.In(hours) < 0 {
		return e, record.Refuse(ruleHomeHours.Says())
	}
	if at := u.ReadAt(); at.After(until) {
		return e, record.Refuse(ruleLaterMeter.Says(at))
	}
	read := hour.In(hours)
	if err := inspect.FitsMeter(u.HoursNow(), u.ReadAt(), read, until); err != nil {
		return e, err
	}
	e.Hours = &read
	return e, nil
}

// homeAt is the moment of a time of day after the paper was begun, which is over.
func (o *Outing) homeAt(typed string, now time.Time) (time.Time, error) {
	written := o.Paper.Written
	if !timeOfDay.MatchString(typed) {
		return written, record.Refuse(ruleUntil.Says())
	}
	clock, err := time.Parse("15:04", typed)
	if err != nil {
		return written, record.Refuse(ruleUntil.Says())
	}
	at := time.Date(written.Year(), written.Month(), written.Day(), clock.Hour(), clock.Minute(), 0, 0, written.Location())
	if at.Before(written) {
		at = at.AddDate(0, 0, 1)
	}
	if at.After(now) || at.Sub(written) > paperDay {
		return at, record.Refuse(ruleUntil.Says())
	}
	return at, nil
}

func (paperStage) apply(*Outing, record.Meta, record.Event) bool { return false }

// missing: a paper releases nothing.
func (paperStage) missing(o *Outing, u *UnitState, _ time.Time) []Missing {
	if o.Paper == nil || u != o.Units[0] {
		return nil
	}
	return []Missing{{Reason: ruleNotByPaper.Says(), Step: StageVerdict, Machine: u.Machine}}
}

// AsOnPaper is what the paper comes to: what would have kept the machine in when it was
// written, by what stands on it, what it brought in, and the papers of who wrote it.
func (o *Outing) AsOnPaper(who operator.Person) (halts []text.Reason, missing []Missing) {
	written := o.Paper.Written
	v := Verdict{Grade: defect.Sound}
	o.judgeDefects(&v, o.Defects(), written)
	for _, r := range who.Readiness().Unschooled(o.Sheets(), written) {
		missing = append(missing, Missing{Reason: r, Step: StageReady})
	}
	for _, u := range o.Units {
		for _, s := range stages {
			if _, itself := s.(paperStage); !itself {
				missing = append(missing, s.missing(o, u, written)...)
			}
		}
	}
	return v.Halts, missing
}
