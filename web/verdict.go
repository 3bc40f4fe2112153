package web

import (
	"errors"
	"net/http"
	"slices"
	"time"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/draw"
	"vespers/store"
)

// verdictPage is the go / not-for card.
type verdictPage struct {
	outingPage
	Verdict  outing.Verdict
	Released bool
	Ended    bool
	Cleared  []useWords
	NotFor   []useWords
	Missing  []missingWords
	Found    []foundWords
	Until    string
	May      bool
	Second   []store.Person // who may release it for an operator who may not alone
	Printed  string
	Numbers  []numberWords
	Drawings []draw.Scene // each machine, with where something was found
	Tests    string
	Unseen   []string
	Cautions []text.Text
	Exposure []string
	By       string
	At       string
	Hired    []string // what to do with a hired machine that stands still
	Break    string   // when it was looked round at a break, and what was left
	MayBreak bool     // there is something to look at again at a break
}

type useWords struct {
	Words string
	Why   []string
}

type missingWords struct{ Words, Link, Do string }

type foundWords struct {
	ID, What, Grade string
	Reasons         []string
	Limits          []string
	Until           string
}

type numberWords struct{ Name, Value, Source string }

func (s *server) verdict(v *visit) (verdictPage, bool) {
	base, ok := s.outing(v, "verdict")
	if !ok {
		return verdictPage{}, false
	}
	o := base.O
	page := verdictPage{outingPage: base, Verdict: o.Judge(v.now), Released: o.Status == outing.Out || o.Verdict != nil, Ended: o.Status == outing.Closed,
		May: v.person.Role.MayRelease(), Printed: v.When(v.now, v.now)}
	if o.Verdict != nil {
		// What a break found counts from then on.
		if len(o.Breaks) == 0 {
			page.Verdict = *o.Verdict
		}
		page.breaks(v, s)
		page.At = v.When(o.Release.At, v.now)
		if p, err := s.Store.Person(v.ctx(), o.Release.By); err == nil {
			page.By = p.Name
		}
	}
	if o.NeedsSecond() && v.person.ID == o.Operator {
		people, err := s.Store.People(v.ctx())
		if err != nil {
			s.fail(v, err)
			return verdictPage{}, false
		}
		for _, p := range people {
			if p.Role.MayRelease() {
				page.Second = append(page.Second, p)
			}
		}
	}
	page.Halts = nil
	for _, r := range page.Verdict.Halts {
		page.Halts = append(page.Halts, v.Reason(r))
	}
	var err error
	if page.Exposure, err = s.exposureWords(v, o); err != nil {
		s.fail(v, err)
		return verdictPage{}, false
	}
	page.uses(v)
	for _, m := range page.Verdict.Missing {
		page.Missing = append(page.Missing, missingWords{Words: v.Reason(m.Reason), Link: "/outings/" + o.ID + "/" + pathOf(m.Step), Do: v.T("mend." + m.Step)})
	}
	page.found(v)
	page.Until = deadlineWords(v, page.Verdict.Deadline)
	tests, faults := 0, 0
	for _, u := range o.Units {
		if m, err := s.Store.Machine(v.ctx(), u.Machine); err == nil && m.Hirer != "" {
			page.Hired = append(page.Hired, v.T("halt.hired", "machine", m.Name, "hirer", m.Hirer))
		}
		for _, p := range u.Sheet.Procedure {
			name := v.T("parameter." + p.ID)
			if len(o.Units) > 1 {
				name = u.Name + ", " + lower(name)
			}
			page.Numbers = append(page.Numbers, numberWords{name, v.Amount(p.Amount()), v.T("source." + string(p.Source))})
		}
		plan := u.Round.Plan
		tests, faults = tests+len(plan.Tests), faults+len(plan.Dangerous)-len(plan.Uncatchable)
		for _, f := range plan.Uncatchable {
			page.Unseen = append(page.Unseen, faultWords(v, u.Interlocks(), f.Fault)+": "+v.T("uncatchable."+f.Reason))
		}
		page.Cautions = append(page.Cautions, u.Sheet.Cautions...)
		page.Drawings = append(page.Drawings, foundOn(o, u))
	}
	page.Tests = v.T("round.summary", "tests", tests, "faults", faults)
	return page, true
}

// breaks says when a released machine was last looked round at a break.
func (p *verdictPage) breaks(v *visit, s *server) {
	p.MayBreak = p.O.Status == outing.Out && v.person.Role != operator.Visitor && len(p.O.PlanBreak().Walks) > 0
	last := p.O.Break()
	if last == nil {
		return
	}
	who := last.Meta.By
	if person, err := s.Store.Person(v.ctx(), who); err == nil {
		who = person.Name
	}
	p.Break = v.T("break.begun", "who", who, "when", v.When(last.Meta.At, v.now))
	if left := len(p.O.BreakLeft()); left > 0 {
		p.Break += " " + v.T("break.left", "n", left)
	}
}

func (p *verdictPage) uses(v *visit) {
	for _, c := range p.Verdict.Cleared {
		w := useWords{Words: v.T("use." + c.Use)}
		if c.Limit != nil {
			w.Words = v.T("use."+c.Use+"_to", "limit", v.Amount(*c.Limit))
		}
		w.Why = []string{v.T("source." + string(c.Source))}
		p.Cleared = append(p.Cleared, w)
	}
	for _, r := range p.Verdict.Refused {
		w := useWords{Words: v.T("use." + r.Use)}
		for _, b := range r.Because {
			w.Why = append(w.Why, v.Reason(b))
		}
		p.NotFor = append(p.NotFor, w)
	}
}

func (p *verdictPage) found(v *visit) {
	for _, d := range p.O.Defects() {
		f := foundWords{ID: d.ID, Grade: string(d.Finding.Grade), Until: "",
			What: defectWords(v, p.O.Unit(d.Machine).Sheet, store.Defect{Point: d.Check, Item: d.Item, Fault: d.Fault, Test: d.Test, Value: d.Value})}
		if words := v.failedTest(p.O, d.ID); words != "" {
			f.What += ": " + lower(words)
		}
		for _, r := range d.Finding.Reasons {
			f.Reasons = append(f.Reasons, v.Reason(r))
		}
		for _, r := range d.Finding.Restrictions {
			f.Limits = append(f.Limits, v.T("restriction."+string(r)))
		}
		if f.Grade == "mend" {
			f.Until = deadlineWords(v, d.Finding.Deadline)
		}
		p.Found = append(p.Found, f)
	}
}

// foundOn draws a machine, with the loop and marks where something was found.
func foundOn(o *outing.Outing, u *outing.UnitState) draw.Scene {
	var marks []draw.Mark
	for _, d := range o.Defects() {
		c, ok := u.Sheet.Check(d.Check)
		if !ok || d.Machine != u.Machine {
			continue
		}
		if mark := (draw.Mark{Spot: c.At, State: "fault"}); !slices.Contains(marks, mark) {
			marks = append(marks, mark)
		}
	}
	if len(marks) == 0 {
		return draw.Machine(u.Sheet)
	}
	return draw.Walk(u.Sheet, marks)
}

// faultWords names a fault of the interlocks in the crew's words.
func faultWords(v *visit, section *machine.Interlock, fault string) string {
	f := interlock.ReadFault(fault)
	for _, sw := range section.Switches {
		if sw.ID != f.On {
			continue
		}
		if own := permit(section, f.Permit); own.ID != "" {
			return v.T("fault.contact_of", "switch", lower(v.Text(sw.Label)), "permit", lower(v.Text(own.Label)), "how", v.T("fault."+f.How))
		}
		return v.T("fault.contact", "switch", lower(v.Text(sw.Label)), "how", v.T("fault."+f.How))
	}
	own := permit(section, f.On)
	if f.How == "restarts" {
		return v.T("fault.restarts", "what", v.Text(own.Moves))
	}
	return v.T("fault.permit", "permit", lower(v.Text(own.Label)), "how", v.T("fault."+f.How))
}

func (s *server) showVerdict(v *visit) {
	if page, ok := s.verdict(v); ok {
		v.page(http.StatusOK, "verdict", v.T("stage.verdict"), page)
	}
}

// showSlip is the release slip, made to be printed and kept in the cab; a Halt
// prints as the tag.
func (s *server) showSlip(v *visit) {
	if page, ok := s.verdict(v); ok {
		v.page(http.StatusOK, "slip", page.Name, page)
	}
}

// release lets the machines out. For an operator who may not release alone,
// somebody who may does it with them: signed in here, or by name and PIN.
func (s *server) release(v *visit) {
	if !s.checkID(v) {
		return
	}
	second := ""
	switch {
	case v.person.Role.MayRelease():
		second = v.person.ID
	case v.field("second") != "":
		p, err := s.Store.Person(v.ctx(), v.field("second"))
		if err != nil || !p.Left.IsZero() || !p.Role.MayRelease() {
			v.problem(http.StatusUnprocessableEntity, v.T("verdict.second_who"), "")
			return
		}
		if !s.pinRight(v, p.ID) {
			return
		}
		second = p.ID
	}
	s.answer(v, func(o *outing.Outing, now time.Time) (outing.Event, error) {
		e := outing.Released{Verdict: o.Judge(now)}
		if o.NeedsSecond() {
			e.Second = second
		}
		return e, nil
	})
}

// pinRight checks the PIN in the form, and says what is wrong with it.
func (s *server) pinRight(v *visit, person string) bool {
	right, err := s.Store.CheckPIN(v.ctx(), person, v.field("pin"))
	var paused *store.Paused
	switch {
	case errors.As(err, &paused):
		v.problem(http.StatusTooManyRequests, v.T("signin.paused", "until", v.In(paused)), "")
	case err != nil:
		s.fail(v, err)
	case !right:
		v.problem(http.StatusUnprocessableEntity, v.T("signin.wrong"), "")
	}
	return err == nil && right
}
