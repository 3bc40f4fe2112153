package web

import (
	"net/http"

	"vespers/core/interlock"
	"vespers/core/outing"
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
	Routine   string // how the manual's own routine stands to the round
	Manual    bool   // the test is of that routine
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
		for _, p := range u.Interlocks().Permits {
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
	page.Watch = v.Text(permit(u.Interlocks(), watched).Moves)
	s.fillRoutine(v, &page)
	page.Rungs = v.rungs(u.Interlocks(), page.Do.At, changed, watched)
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

// fillRoutine says what the manual's own routine shows by itself, where the
// sheet has one.
func (s *server) fillRoutine(v *visit, page *roundPage) {
	logic, _ := interlock.Compile(*page.U.Interlocks())
	own, caught := logic.OwnRoutine()
	if own == 0 {
		return
	}
	plan := page.U.Round.Plan
	page.Routine = v.T("round.own_routine", "n", own, "shown", caught, "all", len(plan.Dangerous), "added", len(plan.Tests)-own)
	page.Manual = !page.Crank && logic.Asked(page.Test)
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
