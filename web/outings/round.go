package outings

// The interlock round.

import (
	"net/http"

	"vespers/core/outing"
	"vespers/core/round"
	"vespers/tell"
	"vespers/web/page"
)

// roundPage is one test of the interlock round, or the start between refusals
// and stops.
type roundPage struct {
	common
	Blocked   string
	Crank     bool
	Attempt   int
	Number    int
	All       int
	Kind      string // of the test: refusal, engine_stop, drive_stop
	Return    bool   // the control goes back after the stop
	Stop      bool   // the running engine is switched off first
	Start     bool   // and started again
	Restart   []string
	Set       []string
	Act, Back string
	Recoil    bool
	Rungs     []page.Rung
	Watch     string // what must stop, in words, if it is not the engine
	Limit     string // stop time limit, if timed
	Near      string
	Void      bool
	NotBefore bool
	First     bool
	Cautions  []string
	Exclusion string
	Routine   string // how the manual's own routine stands to the round
	Manual    bool   // the test is of that routine
}

var roundPages = page.New[roundPage](templates, "round")

func showRound(v *page.Visit) {
	base, ok := load(v, outing.StageRound)
	if !ok {
		return
	}
	u, r := base.u, base.u.Round
	switch {
	case base.o.Ready() == nil:
		v.Go("/outings/" + base.Outing + "/ready")
		return
	case r.Done() || r.FailedTest() >= 0:
		v.Go(next(base.o))
		return
	}
	p := roundPage{common: base, All: len(r.Plan.Tests), Void: r.WouldNotCrank, Attempt: r.Attempt, Recoil: u.Sheet.Starter == "recoil"}
	for _, n := range u.Sheet.Numbers {
		if n.ID == "exclusion" {
			p.Exclusion = v.Amount(n.Amount())
		}
	}
	for _, c := range r.Section.Cautions {
		p.Cautions = append(p.Cautions, v.Text(c))
	}
	p.Crank = r.NeedsCrank()
	p.Number = min(r.Next(), p.All)
	p.First = p.Number == 0
	p.Blocked = p.blocked(v)
	in, watched := p.instruction(v)
	changed := map[string]bool{in.Act.Switch: true}
	for _, c := range in.Set {
		changed[c.Switch] = true
	}
	p.Watch = v.Text(tell.Permit(r.Section, watched).Moves)
	p.routine(v)
	p.Rungs = v.Rungs(r.Section, in.At, changed, watched)
	roundPages.Show(v, http.StatusOK, v.T("stage.round"), p)
}

// instruction puts what is to be done into words, and says which permit is
// watched.
func (p *roundPage) instruction(v *page.Visit) (round.Instruction, string) {
	r := p.u.Round
	var in round.Instruction
	watched := ""
	if p.Crank {
		in = r.StartInstruction()
		for _, permit := range r.Section.Permits {
			if permit.Kind == "start" {
				watched = permit.ID
			}
		}
	} else {
		test := r.Plan.Tests[p.Number]
		in, watched = r.Instruction(p.Number), test.Permit
		p.Kind, p.Return = test.Kind, test.Return
		p.Manual = r.Logic().Asked(test)
		p.result(v)
	}
	p.Stop, p.Start = in.Stop, in.Start
	p.Restart, p.Set = words(v, in.Restart), words(v, in.Set)
	p.Act, p.Back = v.Text(in.Act.Do), v.Text(in.Back.Do)
	return in, watched
}

func words(v *page.Visit, changes []round.Change) []string {
	var out []string
	for _, c := range changes {
		out = append(out, v.Text(c.Do))
	}
	return out
}

// result shows the limit of a timed stop and what came of the last try.
func (p *roundPage) result(v *page.Visit) {
	r := p.u.Round
	if limit := r.StopWithin(p.Number); limit > 0 {
		p.Limit = v.Number(limit, 1) + "\u00a0s"
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

// blocked says what the round waits for.
func (p *roundPage) blocked(v *page.Visit) string {
	r := p.u.Round
	var probe outing.Command = outing.Test{Test: round.Test{Machine: p.Machine, Attempt: r.Attempt, Test: p.Number, Result: round.Bad}}
	if p.Crank {
		probe = outing.Crank{Crank: round.Crank{Machine: p.Machine, Attempt: r.Attempt, Did: "no"}}
	}
	view, _ := v.Site.Store.View(v.Context())
	operator, _ := view.Person(p.o.Operator())
	if refused := p.o.MayNow(probe, operator, v.Now, view); refused != nil {
		return v.Reason(refused.Reason)
	}
	return ""
}

func crank(v *page.Visit) {
	say(v, outing.Crank{Crank: round.Crank{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Did: v.Field("did")}})
}

func test(v *page.Visit) {
	say(v, outing.Test{Test: round.Test{Machine: v.Field("machine"), Attempt: v.Whole("attempt"), Test: v.Whole("test"), Result: v.Field("result"), Seconds: v.Field("seconds")}})
}
