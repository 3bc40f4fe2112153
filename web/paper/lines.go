package paper

// The lines of a paper in words: as they are printed, and as they are copied.

import (
	"slices"
	"strconv"
	"strings"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/round"
	"vespers/core/text"
	"vespers/tell"
	"vespers/web/page"
)

// line is one line of a paper.
type line struct {
	Number    int
	Set, Risk string // a setting to be put so first
	Point     *point
	Step      *step
	// What follows is of a paper that is being copied.
	Next  bool // the first that has nothing yet
	Given []string
	May   bool   // whoever copies may answer it
	Who   string // else who does
}

// point is a point to look at. Its readings are in the sheet's own units, so that a
// number copied by somebody else means what it meant.
type point struct {
	ID, Name, Look, Risk string
	Every, Who           string
	Readings             []reading
	Faults               []choice
	Whole                bool // it is ticked; else it is read
	Open                 bool
}

type reading struct {
	ID, Name, Unit string
	Good           []string // what is in order, in words
	Marks          []choice
	Open           bool
}

type choice struct{ ID, Name string }

// step is a step of the round.
type step struct {
	Title    string
	Todos    []string
	Cautions []string
	Start    []string // the steps by which its engine is started
	Test     int      // place in the plan, -1 for none
	Good     string
	Bad      string
	Limit    string // a stop is timed against it
	Open     bool
}

// lines puts the paper of a unit into words.
func lines(v *page.Visit, o *outing.Outing, u *outing.UnitState) []line {
	var out []line
	for _, l := range u.PaperLines() {
		one := line{Number: l.Number}
		switch {
		case l.Set != nil:
			if one.Set = v.Text(l.Set.Do); l.Set.Hazard != nil {
				one.Risk = v.Text(*l.Set.Hazard)
			}
		case l.Check != nil:
			one.Point = newPoint(v, u, l.Check)
		default:
			one.Step = newStep(v, o, u, *l.Told)
		}
		out = append(out, one)
	}
	return out
}

func newPoint(v *page.Visit, u *outing.UnitState, c *machine.Check) *point {
	p := &point{ID: c.ID, Name: v.Text(c.Name), Look: v.Text(c.Look), Whole: len(c.Readings) == 0, Every: tell.Every(v.Voice, c.Every)}
	if c.Hazard != nil {
		p.Risk = v.Text(*c.Hazard)
	}
	if c.WhoLooks() != machine.ByOperator {
		p.Who = tell.WhoLooks(v.Voice, c)
	}
	for _, f := range c.Faults {
		p.Faults = append(p.Faults, choice{f.ID, v.Text(f.Name)})
	}
	for i := range c.Readings {
		p.Readings = append(p.Readings, newReading(v, u, c, &c.Readings[i]))
	}
	open := u.Open(c.ID)
	p.Open = len(open) > 0
	for i := range p.Readings {
		p.Readings[i].Open = slices.Contains(open, p.Readings[i].ID)
	}
	return p
}

func newReading(v *page.Visit, u *outing.UnitState, c *machine.Check, r *machine.Reading) reading {
	out := reading{ID: r.ID, Name: v.Text(r.Name), Unit: r.Unit}
	if r.Kind == "marks" {
		var fine []string
		for _, l := range tell.Levels() {
			out.Marks = append(out.Marks, choice{l.Typed, v.T(l.Key)})
			value, err := inspect.ParseValue(r, l.Typed, r.Unit)
			if err != nil {
				continue
			}
			if extent, _ := defect.ExtentOf(c, r, value.Quantity); extent == machine.Sound {
				fine = append(fine, tell.Lower(v.T(l.Key)))
			}
		}
		out.Good = []string{v.T("paper.good_marks", "marks", strings.Join(fine, ", "))}
		return out
	}
	if r.Limits == nil {
		return out
	}
	condition, hangs := u.Sheet.Condition(r.Limits.By)
	if !hangs {
		out.Good = append(out.Good, good(v, r))
		return out
	}
	for _, c := range condition.Choices {
		out.Good = append(out.Good, v.Text(c.Name)+": "+good(v, r.Under(map[string]float64{r.Limits.By: c.Value})))
	}
	return out
}

// good says between what a reading is in order, in the unit of its sheet.
func good(v *page.Visit, r *machine.Reading) string {
	low, high := r.Limits.Low, r.Limits.High
	plain := func(value float64) string {
		_, decimals, _ := strings.Cut(strconv.FormatFloat(value, 'f', -1, 64), ".")
		return v.Number(value, len(decimals)) + "\u00a0" + r.Unit
	}
	switch {
	case low != nil && high != nil:
		return v.T("paper.between", "low", plain(*low), "high", plain(*high))
	case low != nil:
		return v.T("paper.at_least", "low", plain(*low))
	}
	return v.T("paper.at_most", "high", plain(*high))
}

// startsIt is the procedure by which an engine is started.
const startsIt = "start"

func newStep(v *page.Visit, o *outing.Outing, u *outing.UnitState, told round.Told) *step {
	section, in := u.Round.Section, told.Now
	s := &step{Test: told.Test}
	try, turn := v.T("round.turn_key_moment"), v.T("round.turn_key")
	place := v.T("round.in_place")
	if own := section.HowStarted(); own != nil {
		place, try, turn = v.Text(own.Place), v.Text(own.Try), v.Text(own.Start)
	}
	watch := v.Text(section.Permit(in.Permit).Moves)
	cautions := in.Cautions
	switch told.Step {
	case round.StepBegin:
		s.Title, cautions = v.T("round.begin_title"), section.Cautions
		s.Todos = []string{place, v.T("round.look_round")}
		if n, ok := u.Sheet.Number("exclusion"); ok {
			s.Todos[1] = v.T("round.look_round_within", "distance", v.Amount(n.Amount()))
		}
	case round.StepStart:
		s.Title = v.T("round.start_title")
		s.Todos = words(v, in.Set)
		for _, p := range v.Procedures(u.Sheet) {
			for _, st := range p.Steps {
				if p.ID == startsIt && st.When == "" {
					s.Start = append(s.Start, strings.TrimSpace(st.Do+" "+st.Wait+" "+st.Otherwise))
				}
			}
		}
		if len(s.Start) == 0 {
			s.Todos = append(s.Todos, v.T("round.call_out"), turn)
		}
	case round.StepShow:
		s.Title = v.T("round.show_title", "what", watch)
		s.Todos = append(come(v, in, turn), speed(v, in)+v.T("round.look_moving", "what", watch))
	case round.StepPutBack:
		s.Title = v.T("round.put_back_title")
		if s.Todos = come(v, in, turn); len(s.Todos) == 0 {
			s.Todos = []string{v.T("round.all_back")}
		}
	case round.StepTest:
		s.test(v, u, in, try, turn, watch)
	}
	for _, c := range cautions {
		s.Cautions = append(s.Cautions, v.Text(c))
	}
	return s
}

// test is a test of the round: what is done, what must be seen, and the two answers.
func (s *step) test(v *page.Visit, u *outing.UnitState, in round.Instruction, try, turn, watch string) {
	r := u.Round
	test, cord := r.Plan.Tests[s.Test], r.Section.ByCord()
	limit := r.StopWithin(s.Test)
	if limit > 0 {
		s.Limit = v.Number(limit, 1) + "\u00a0s"
	}
	s.Todos, s.Bad = come(v, in, turn), v.T("round.bad."+test.Kind)
	for _, id := range in.Stays {
		s.Todos = append(s.Todos, v.T("round.leave_so", "how", tell.Position(v.Voice, r.Section.Switch(id), in.At[id])))
	}
	act := v.Todo(in.Act)
	if test.Kind != interlock.Refusal {
		see := map[string]string{interlock.Engage: v.T("round.see_still", "what", watch), interlock.EngineStop: v.T("round.see_running"), interlock.DriveStop: v.T("round.see_moving", "what", watch)}
		s.Todos = append(s.Todos, speed(v, in)+see[test.Kind], act.Words)
		if act.Caution != "" {
			s.Cautions = append(s.Cautions, act.Caution)
		}
	}
	switch test.Kind {
	case interlock.Refusal:
		s.Title, s.Good = v.T("round.refusal_title"), v.T("round.did_not_crank")
		if cord {
			s.Title, s.Good, s.Bad = v.T("round.refusal_title_cord"), v.T("round.did_not_fire"), v.T("round.fired")
		}
		s.Todos = append(s.Todos, try)
	case interlock.Engage:
		s.Title, s.Good = v.T("round.engage_title", "what", watch), v.T("round.stayed_still")
	case interlock.EngineStop:
		s.Title, s.Good = v.T("round.must_stop"), v.T("round.engine_stopped")
		if limit > 0 {
			s.Title, s.Good = v.T("round.must_stop_all_within", "limit", s.Limit), v.T("round.engine_stopped_timed")
		}
	case interlock.DriveStop:
		s.Title, s.Good = v.T("round.stop_title", "what", watch), v.T("round.it_stopped")
		expect := v.T("round.must_stop_at_once")
		if limit > 0 {
			s.Good, expect = v.T("round.stopped_timed"), v.T("round.must_stop_within", "limit", s.Limit)
		}
		s.Todos = append(s.Todos, expect)
	}
	if test.Return {
		s.Todos = append(s.Todos, v.T("round.then")+" "+v.Todo(in.Back).Words, v.T("round.must_stay_still"))
	}
	s.Open = r.Results[s.Test].Outcome == ""
}

// come are the controls as they are moved before the act.
func come(v *page.Visit, in round.Instruction, turn string) (out []string) {
	if in.Stop {
		out = append(out, v.T("round.switch_off"))
	}
	out = append(out, words(v, in.Restart)...)
	if in.Start {
		out = append(out, v.T("round.start_again", "how", turn))
	}
	return append(out, words(v, in.Set)...)
}

func words(v *page.Visit, changes []round.Change) (out []string) {
	for _, t := range v.Todos(changes) {
		if t.Caution != "" {
			t.Words += " " + t.Caution
		}
		out = append(out, t.Words)
	}
	return out
}

func speed(v *page.Visit, in round.Instruction) string {
	if in.Speed == "" {
		return ""
	}
	return v.T("round.speed."+string(in.Speed)) + " "
}

// copied adds what was copied so far, and whether whoever copies may answer.
func copied(v *page.Visit, u *outing.UnitState, who operator.Person, list []line) (left int) {
	for i := range list {
		l := &list[i]
		open := false
		switch {
		case l.Point != nil:
			c := u.Check(l.Point.ID)
			if l.May = who.MayLookAt(u.Sheet, c, v.Now); !l.May {
				l.Who = tell.WhoLooks(v.Voice, c)
			}
			l.Given, open = given(v, u, c), l.May && l.Point.Open
		case l.Step != nil && l.Step.Test >= 0:
			l.May = true
			if result := u.Round.Results[l.Step.Test]; result.Outcome != "" {
				l.Given = []string{l.Step.Good}
				if result.Outcome == round.Failed {
					l.Given = []string{v.T("grade.halt") + ": " + v.Reason(u.Round.Failure(l.Step.Test))}
				}
			}
			open = l.Step.Open
		default:
			continue
		}
		if open {
			l.Next = left == 0
			left++
		}
	}
	return left
}

// given is what was copied at a point, with its grade.
func given(v *page.Visit, u *outing.UnitState, c *machine.Check) (out []string) {
	for _, item := range u.Places(c) {
		g, ok := u.Last(c.ID, item)
		if !ok || g.Answer == inspect.NotReached {
			continue
		}
		words := tell.Given(v.Voice, c, g.Answered)
		if grade := u.Judged(g).Grade; grade != "" && grade != defect.Sound {
			words += " · " + v.T("grade."+string(grade))
		}
		out = append(out, words)
	}
	return out
}

// reasons puts several into words.
func reasons(v *page.Visit, list []text.Reason) (out []string) {
	for _, r := range list {
		out = append(out, v.Reason(r))
	}
	return out
}
