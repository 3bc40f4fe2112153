package web

import (
	"net/http"
	"strings"

	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/store"
)

// findPage helps a technician to find the switch behind a failed round: the
// test that tells most, until nothing tells the suspects apart.
type findPage struct {
	Defect      store.Defect
	MachineName string
	What        string
	ID          string
	Rungs       []rungView
	Cautions    []string
	Suspects    []string // in words
	Pairs       bool     // no single fault explains it
	None        bool     // nothing explains it
	Sound       bool     // no fault at all is among the suspects
	Done        []string // what was seen so far, in words
	Tried       int      // how many of these here
	Next        *interlock.Test
	Start       []string // how to set the controls and start the engine first
	Set         []string // how to set the controls before the act
	Act         string
	Back        string
	Moves       string
	MayTry      bool
	Cause       string
}

// search is what is known of a failed round: the section, what was observed in
// the outing, and what a technician tried since.
type search struct {
	unit   *outing.UnitState
	logic  *interlock.Logic
	test   int
	all    []interlock.Observation
	tried  int
	result interlock.Diagnosis
}

// search reads the failed round of a defect; ok is false, and the page answered,
// if there is none to look into.
func (s *server) search(v *visit) (store.Defect, search, bool) {
	var none search
	d, err := s.Store.Defect(v.ctx(), v.param("defect"))
	if err != nil {
		s.fail(v, err)
		return d, none, false
	}
	o, err := s.Store.Outing(v.ctx(), d.Outing)
	if err != nil {
		s.fail(v, err)
		return d, none, false
	}
	u, test, ok := o.Test(d.ID)
	if !ok || u.Round.Results[test].Slow() {
		s.fail(v, store.ErrNotFound)
		return d, none, false
	}
	tried, err := s.Store.Trials(v.ctx(), d.ID)
	if err != nil {
		s.fail(v, err)
		return d, none, false
	}
	out := search{unit: u, test: test, all: append(u.Observations(), tried...), tried: len(tried)}
	out.logic, _ = interlock.Compile(*u.Interlocks())
	if out.result, err = out.logic.Diagnose(out.all); err != nil {
		s.fail(v, err)
		return d, none, false
	}
	return d, out, true
}

func (s *server) showFind(v *visit) {
	d, found, ok := s.search(v)
	if !ok {
		return
	}
	m, sheet, err := s.Store.Described(v.ctx(), d.Machine)
	if err != nil {
		s.fail(v, err)
		return
	}
	section := found.unit.Interlocks()
	page := findPage{Defect: d, MachineName: m.Name, What: defectWords(v, sheet, d), ID: newID(), Tried: found.tried, Next: found.result.Next,
		MayTry: d.Open && v.person.Role == operator.Technician, None: len(found.result.Suspects) == 0}
	marked := map[string]bool{}
	for _, names := range found.result.Suspects {
		page.Pairs = page.Pairs || len(names) > 1
		page.Sound = page.Sound || len(names) == 0
		page.Suspects = append(page.Suspects, v.suspectWords(section, names))
		for _, f := range names {
			marked[interlock.ReadFault(f).On] = true
		}
	}
	for _, o := range found.all {
		page.Done = append(page.Done, v.T("find.seen", "test", v.testWords(section, found.logic, o.Test), "seen", v.observedWords(o)))
	}
	for _, c := range section.Cautions {
		page.Cautions = append(page.Cautions, v.Text(c))
	}
	at := found.logic.Positions(found.logic.Rest)
	watched := ""
	if page.Next != nil {
		at, watched = page.Next.To, page.Next.Permit
		page.steps(v, section, found)
	}
	if len(page.Suspects) == 1 || page.Next == nil {
		page.Cause = strings.Join(page.Suspects, " "+v.T("find.or")+" ")
	}
	page.Rungs = v.rungs(section, at, marked, watched)
	v.page(http.StatusOK, "find", v.T("find.title"), page)
}

// steps tells how to set the controls for the next test, from rest.
func (p *findPage) steps(v *visit, section *machine.Interlock, found search) {
	step := found.logic.Steps([]interlock.Test{*p.Next})[0]
	before := p.Next.To
	if p.Next.From != nil {
		before = p.Next.From
		for _, sw := range section.Switches {
			if p.Next.From[sw.ID] == p.Next.To[sw.ID] {
				continue
			}
			p.Act, p.Back = v.Text(sw.Break), v.Text(sw.Make)
			if p.Next.To[sw.ID] {
				p.Act, p.Back = p.Back, p.Act
			}
		}
	}
	if step.Start != nil {
		for _, sw := range section.Switches {
			p.Start = append(p.Start, positionWords(v, sw, step.Start[sw.ID]))
		}
	}
	for _, sw := range section.Switches {
		if step.Start == nil || step.Start[sw.ID] != before[sw.ID] {
			p.Set = append(p.Set, positionWords(v, sw, before[sw.ID]))
		}
	}
	p.Moves = v.Text(permit(section, p.Next.Permit).Moves)
}

// suspectWords names one explanation.
func (v *visit) suspectWords(section *machine.Interlock, names []string) string {
	if len(names) == 0 {
		return v.T("find.no_fault")
	}
	return strings.Join(v.faultsWords(section, names), " "+v.T("find.and")+" ")
}

// observedWords says what a test showed.
func (v *visit) observedWords(o interlock.Observation) string {
	switch {
	case o.AtFrom != nil && !*o.AtFrom:
		return v.T("find.not_before")
	case o.Restarted != nil && *o.Restarted:
		return v.T("find.restarted")
	case o.Observed != nil && *o.Observed:
		return v.T("find.bad." + o.Kind)
	}
	return v.T("find.good." + o.Kind)
}

// tryFault records what the next test showed. The number of tests done before
// comes with it, so that an old page does not answer for a newer test.
func (s *server) tryFault(v *visit) {
	if !s.checkID(v) {
		return
	}
	d, found, ok := s.search(v)
	if !ok {
		return
	}
	tried, isNumber := parseInt(v.field("tried"))
	if !d.Open || found.result.Next == nil || !isNumber || tried != found.tried {
		v.saved("/defects/" + d.ID + "/find")
		return
	}
	yes, no := true, false
	o := interlock.Observation{Test: *found.result.Next, Observed: &no}
	o.Catches = nil
	if o.Kind != interlock.Refusal {
		o.AtFrom = &yes
	}
	switch v.field("seen") {
	case "not_before":
		o.AtFrom, o.Observed = &no, nil
	case "bad":
		o.Observed = &yes
	case "restarted":
		o.Restarted = &yes
	case "good":
		if o.Return {
			o.Restarted = &no
		}
	default:
		s.fail(v, store.ErrNotFound)
		return
	}
	if err := s.Store.Record(v.ctx(), v.entry(), store.FaultTried{Defect: d.ID, Observation: o}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/defects/" + d.ID + "/find")
}

// dropTrials begins the search again.
func (s *server) dropTrials(v *visit) {
	if !s.checkID(v) {
		return
	}
	if err := s.Store.Record(v.ctx(), v.entry(), store.TrialsDropped{Defect: v.param("defect")}); err != nil {
		s.fail(v, err)
		return
	}
	v.saved("/defects/" + v.param("defect") + "/find")
}
