package projector

// How each outing went, step by step: when it first came to each stage, when it
// was handed over, looked at again, released and ended.

import "vespers/core/outing"

// The steps of an outing beside its stages.
const (
	StepTurn    = "turn" // another person has it
	StepBreak   = "break"
	StepOut     = "out"
	StepHome    = "home"
	StepGivenUp = "given_up"
	StepLeft    = "left"   // on site
	StepCopied  = "copied" // from paper
)

var course = Projection{Name: "course", Version: 1, Tables: []string{"course"}, On: func(tx Tx, c Change) error {
	o := c.Outing
	if o == nil {
		return nil
	}
	at := c.Meta.At.UnixMilli()
	note := func(step, who string) error {
		return tx.Exec("INSERT OR IGNORE INTO course (outing,step,at,who) VALUES (?,?,?,?)", o.ID, step, at, who)
	}
	switch e := c.Event.(type) {
	case outing.TurnBegun:
		if err := note(StepTurn, e.Operator); err != nil {
			return err
		}
	case outing.BreakBegun:
		return note(StepBreak, c.Meta.By)
	case outing.Released:
		return note(StepOut, c.Meta.By)
	case outing.Ended:
		switch e.How {
		case outing.EndHome:
			return note(StepHome, c.Meta.By)
		case outing.EndLeft:
			return note(StepLeft, c.Meta.By)
		case outing.EndPaper:
			return note(StepCopied, c.Meta.By)
		}
		return note(StepGivenUp, c.Meta.By)
	}
	if o.Status != outing.Open {
		return nil
	}
	stage := string(o.Stage())
	return tx.Exec("INSERT INTO course (outing,step,at,who) SELECT ?,?,?,? WHERE NOT EXISTS (SELECT 1 FROM course WHERE outing=? AND step=?)", o.ID, stage, at, c.Meta.By, o.ID, stage)
}}
