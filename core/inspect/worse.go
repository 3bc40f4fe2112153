package inspect

// A finding made worse by whoever stands before it: an operator may, never better.

import (
	"slices"

	"vespers/core/defect"
	"vespers/core/record"
	"vespers/core/text"
)

// Worsened says that a finding is worse than the rules make it.
type Worsened struct {
	Machine string       `json:"machine"`
	Check   string       `json:"check"`
	Item    string       `json:"item,omitempty"`
	Finding string       `json:"finding"` // record id of the finding
	Grade   defect.Grade `json:"grade"`
	Why     string       `json:"why,omitempty"`
}

// Kind implements record.Event.
func (Worsened) Kind() string { return "finding_worsened" }

var _ = record.Register(Worsened{})

var (
	ruleNotWorse = text.NewRule("finding.not_worse")
	ruleByHand   = text.NewRule("grade.by_hand")
	ruleByWhy    = text.NewRule("grade.by_hand_why", text.Slot{Name: "why", Kind: text.Name})
)

// Worse lists the grades that a finding that stands may be made, mildest first.
func (s State) Worse(g Given) []defect.Grade {
	now := s.Judged(g)
	if g.Right != nil || now.Grade == defect.Sound || !s.House.Remembers() {
		return nil
	}
	return defect.Grades()[slices.Index(defect.Grades(), now.Grade)+1:]
}

// Worsen decides that a finding is worse.
func (s State) Worsen(e Worsened) (Worsened, error) {
	last, ok := s.Last(e.Check, e.Item)
	if !ok || last.Meta.ID != e.Finding {
		return e, record.Refuse(ruleSupersede.Says())
	}
	if !slices.Contains(s.Worse(last), e.Grade) {
		return e, record.Refuse(ruleNotWorse.Says())
	}
	if reason, wrong := text.Wrong(e.Why, noteMost); wrong {
		return e, record.Refuse(reason)
	}
	return e, nil
}

// worsened is a finding as it was made worse by hand, with that reason first.
func (s State) worsened(id string, f defect.Finding) defect.Finding {
	e, made := s.worse[id]
	if !made || defect.Worse(f.Grade, e.Grade) == f.Grade {
		return f
	}
	says := ruleByHand.Says()
	if e.Why != "" {
		says = ruleByWhy.Says(e.Why)
	}
	f.Grade, f.Reasons = e.Grade, append([]text.Reason{says}, f.Reasons...)
	if f.Grade == defect.Halt {
		f.Deadline = defect.Deadline{}
	}
	return f
}
