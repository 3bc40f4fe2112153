package web

import (
	"net/http"

	"vespers/core/interlock"
	"vespers/core/outing"
	"vespers/draw"
	"vespers/store"
)

var errNotFound = store.ErrNotFound

// roundPage is one test of the interlock round, or the start between refusals
// and stops.
type roundPage struct {
	outingPage
	Blocked   string
	Crank     bool
	Number    int
	All       int
	Test      interlock.Test
	Do        outing.Instruction
	Rungs     []rungView
	Watch     string // what must stop, in words, if it is not the engine
	Limit     string // stop time limit, if timed
	LimitSec  float64
	Near      string
	Void      bool
	NotBefore bool
	First     bool

	Exclusion string
}

type rungView struct {
	draw.Rung
	View    sceneView
	Watched bool
}

func (s *server) showRound(v *visit) {
	base, ok := s.outing(v, outing.StepRound)
	if !ok {
		return
	}
	u := base.U
	page := roundPage{outingPage: base, All: len(u.Round.Plan.Tests), Void: u.Round.WouldNotCrank}
	if base.O.Ready == nil {
		v.gin.Redirect(http.StatusSeeOther, "/outings/"+base.O.ID+"/ready")
		return
	}
	for _, p := range u.Sheet.Procedure {
		if p.ID == "exclusion" {
			page.Exclusion = v.Amount(p.Amount())
		}
	}
	if u.Round.Done() || u.Round.FailedTest() >= 0 {
		v.gin.Redirect(http.StatusSeeOther, next(base.O))
		return
	}
	page.Crank = u.Round.NeedsCrank()
	page.Number = min(u.Round.Next(), page.All)
	page.First = page.Number == 0
	page.Blocked = s.roundBlocked(v, &page)
	changed := map[string]bool{}
	watched := ""
	if page.Crank {
		page.Do = u.StartInstruction()
		for _, p := range u.Sheet.Interlock.Permits {
			if p.Kind == "start" {
				watched = p.ID
			}
		}
	} else {
		page.Test = u.Round.Plan.Tests[page.Number]
		page.Do = u.Instruction(page.Number)
		watched = page.Test.Permit
		s.fillResult(v, &page)
	}
	for _, c := range append(append([]outing.Change{}, page.Do.Set...), page.Do.Act) {
		changed[c.Switch] = true
	}
	for _, p := range u.Sheet.Interlock.Permits {
		if p.ID == watched {
			page.Watch = v.Text(p.Moves)
		}
	}
	for _, r := range draw.Ladder(u.Sheet.Interlock, page.Do.At, changed) {
		page.Rungs = append(page.Rungs, rungView{Rung: r, View: sceneView{Scene: r.Scene, Frame: &frame{visit: v}}, Watched: r.Permit == watched})
	}
	v.page(http.StatusOK, "round", v.T("stage.round"), page)
}

// fillResult shows the limit of a timed stop and what came of the last try.
func (s *server) fillResult(v *visit, page *roundPage) {
	u := page.U
	if limit := u.StopWithin(page.Number); limit > 0 {
		page.LimitSec = limit
		page.Limit = v.Number(limit, 1) + "\u00a0s"
	}
	switch res := u.Round.Results[page.Number]; res.Outcome {
	case outing.Near:
		page.Near = v.Number(*res.Seconds, 1) + "\u00a0s"
	case outing.Void:
		page.NotBefore = true
	}
}

// roundBlocked says what the round waits for.
func (s *server) roundBlocked(v *visit, page *roundPage) string {
	var probe outing.Event = outing.Tested{Machine: page.U.Machine, Attempt: page.U.Round.Attempt, Test: page.Number}
	if page.Crank {
		probe = outing.Cranked{Machine: page.U.Machine, Attempt: page.U.Round.Attempt}
	}
	if refused, ok := page.O.Accept(outing.Meta{At: v.now}, probe).(*outing.Refused); ok {
		return v.Reason(refused.Reason)
	}
	return ""
}

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
	Printed  string
	Numbers  []numberWords
	Tests    string
	Unseen   []string
	By       string
	At       string
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
		page.Verdict = *o.Verdict
		page.At = v.When(o.Release.At, v.now)
		if p, err := s.Store.Person(v.ctx(), o.Release.By); err == nil {
			page.By = p.Name
		}
	}
	page.Halts = nil
	for _, r := range page.Verdict.Halts {
		page.Halts = append(page.Halts, v.Reason(r))
	}
	page.uses(v)
	for _, m := range page.Verdict.Missing {
		page.Missing = append(page.Missing, missingWords{Words: v.Reason(m.Reason), Link: "/outings/" + o.ID + "/" + pathOf(m.Step), Do: v.T("mend." + m.Step)})
	}
	page.found(v)
	page.Until = deadlineWords(v, page.Verdict.Deadline)
	for _, p := range base.U.Sheet.Procedure {
		page.Numbers = append(page.Numbers, numberWords{v.T("parameter." + p.ID), v.Amount(p.Amount()), v.T("source." + string(p.Source))})
	}
	plan := base.U.Round.Plan
	page.Tests = v.T("round.summary", "tests", len(plan.Tests), "faults", len(plan.Dangerous)-len(plan.Uncatchable))
	for _, f := range plan.Uncatchable {
		page.Unseen = append(page.Unseen, faultWords(v, base.U, f.Fault)+": "+v.T("uncatchable."+f.Reason))
	}
	return page, true
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
			What: defectWords(v, p.U.Sheet, store.Defect{Point: d.Check, Item: d.Item, Fault: d.Fault, Test: d.Test, Value: d.Value})}
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

// faultWords names a fault of the interlocks in the crew's words.
func faultWords(v *visit, u *outing.UnitState, fault string) string {
	name, rest, _ := cutAny(fault, "@:")
	for _, sw := range u.Sheet.Interlock.Switches {
		if sw.ID != name {
			continue
		}
		permit, how, ok := cutAny(rest, ":")
		if !ok {
			how, permit = rest, ""
		}
		for _, p := range u.Sheet.Interlock.Permits {
			if p.ID == permit {
				return v.T("fault.contact_of", "switch", lower(v.Text(sw.Label)), "permit", lower(v.Text(p.Label)), "how", v.T("fault."+how))
			}
		}
		return v.T("fault.contact", "switch", lower(v.Text(sw.Label)), "how", v.T("fault."+how))
	}
	return fault
}

func cutAny(s, marks string) (before, after string, ok bool) {
	for i := range s {
		for _, m := range marks {
			if rune(s[i]) == m {
				return s[:i], s[i+1:], true
			}
		}
	}
	return s, "", false
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
		v.page(http.StatusOK, "slip", page.U.Name, page)
	}
}
