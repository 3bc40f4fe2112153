package interlock

// Tests and results that somebody wrote down, held against the machine.

import (
	"vespers/core/machine"
	"vespers/core/text"
)

// The rules that tests and results written down by somebody are held to.
var (
	ruleNoTest     = text.NewRule("interlock.not_a_test", text.Slot{Name: "number", Kind: text.Count})
	ruleNotFrom    = text.NewRule("interlock.result_at_from", text.Slot{Name: "number", Kind: text.Count})
	ruleNoResult   = text.NewRule("interlock.result_missing", text.Slot{Name: "number", Kind: text.Count})
	ruleNotStopped = text.NewRule("interlock.result_restarted", text.Slot{Name: "number", Kind: text.Count})
)

// Wrong is a test or result, by its place in a list, that cannot be one.
type Wrong struct {
	Place  int // from 0
	Reason text.Reason
}

func (e *Wrong) Error() string { return "interlock: " + string(e.Reason.Rule) }

// legalOf is the legal test that t describes; a switch that it does not name
// stands as at rest.
func (b *bench) legalOf(t Test) (candidate, bool) {
	return b.find(machine.RequiredTest{Kind: t.Kind, Permit: t.Permit, From: t.From, To: t.To, Return: t.Return})
}

// candidates reads a list of tests; the error is a *Wrong.
func (b *bench) candidates(tests []Test) ([]candidate, error) {
	var out []candidate
	for i, t := range tests {
		c, ok := b.legalOf(t)
		if !ok {
			return nil, &Wrong{Place: i, Reason: ruleNoTest.Says(i + 1)}
		}
		out = append(out, c)
	}
	return out, nil
}
