package yard

// Defects: looking for their cause, and returning a machine to service.

import (
	"vespers/core/interlock"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/round"
	"vespers/core/text"
)

var (
	ruleClosed   = text.NewRule("defect.closed_already")
	ruleNoSearch = text.NewRule("defect.nothing_to_search")
	ruleOldPage  = text.NewRule("defect.page_out_of_date")
)

// open is a defect that is.
func open(v View, id string) (Defect, error) {
	d, ok := v.Defect(id)
	switch {
	case !ok:
		return d, record.Refuse(ruleNoDefect.Says())
	case !d.Open:
		return d, record.Refuse(ruleClosed.Says())
	}
	return d, nil
}

// Search is what is known of a failed round: what was observed in the outing and
// by the technician since, and what follows.
type Search struct {
	Unit   *outing.UnitState
	Test   int
	All    []interlock.Observation
	Tried  int // how many of these by the technician
	Result interlock.Diagnosis
}

// Look reads the failed round behind a defect; the error says that there is none
// to look into.
func Look(v View, d Defect) (Search, error) {
	o, ok := v.Outing(d.Outing)
	if !ok {
		return Search{}, record.Refuse(ruleNoSearch.Says())
	}
	u, test, ok := o.Test(d.ID)
	if !ok || u.Round.Results[test].Slow() {
		return Search{}, record.Refuse(ruleNoSearch.Says())
	}
	trials := v.Trials(d.ID)
	s := Search{Unit: u, Test: test, All: append(u.Round.Observations(), trials...), Tried: len(trials)}
	var err error
	if s.Result, err = u.Round.Logic().Diagnose(s.All); err != nil {
		return s, record.Refuse(ruleNoSearch.Says())
	}
	return s, nil
}

func (c TryFault) decide(s speech) ([]Decided, error) {
	d, err := open(s.View, c.Defect)
	if err != nil {
		return nil, err
	}
	search, err := Look(s.View, d)
	if err != nil {
		return nil, err
	}
	if search.Result.Next == nil || c.Tried != search.Tried {
		return nil, record.Refuse(ruleOldPage.Says())
	}
	yes, no := true, false
	o := interlock.Observation{Test: *search.Result.Next, Observed: &no}
	o.Catches = nil
	before, otherwise := &yes, &no // how it has to be before the change
	if o.Kind == interlock.Engage {
		before, otherwise = &no, &yes
	}
	if o.Kind != interlock.Refusal {
		o.AtFrom = before
	}
	switch {
	case c.Seen == "good":
		if o.Return {
			o.Restarted = &no
		}
	case c.Seen == "bad":
		o.Observed = &yes
	case c.Seen == "restarted" && o.Return:
		o.Restarted = &yes
	case c.Seen == "not_before" && o.Kind != interlock.Refusal:
		o.AtFrom, o.Observed = otherwise, nil
	default:
		return nil, record.Refuse(round.RuleNoResult.Says())
	}
	return just(FaultTried{Defect: d.ID, Observation: o}), nil
}

func (c DropTrials) decide(s speech) ([]Decided, error) {
	d, err := open(s.View, c.Defect)
	if err != nil {
		return nil, err
	}
	return just(TrialsDropped{Defect: d.ID}), nil
}
