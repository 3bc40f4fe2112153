package page

// What machines are cleared for, and not for, in words.

import (
	"vespers/core/outing"
)

// UseWords is a use in words: under which conditions, and why so.
type UseWords struct {
	Words string
	Only  []string // the conditions it may be put to the use under
	Why   []string
}

// Uses are the uses of a verdict: what it clears, and what it does not.
func (v *Visit) Uses(judged outing.Verdict) (cleared, notFor []UseWords) {
	for _, c := range judged.Cleared {
		w := UseWords{Words: v.T("use." + c.Use), Why: []string{v.T("source." + string(c.Source))}}
		for _, only := range c.Only {
			w.Only = append(w.Only, v.T("use.only", "condition", v.Text(only)))
		}
		if c.Limit != nil {
			w.Words = v.T("use."+c.Use+"_to", "limit", v.Amount(*c.Limit))
			if c.Up != nil {
				w.Words = v.T("use.across_and_up", "use", w.Words, "up", v.Amount(*c.Up))
			}
		}
		cleared = append(cleared, w)
	}
	for _, r := range judged.Refused {
		w := UseWords{Words: v.T("use." + r.Use)}
		for _, b := range r.Because {
			w.Why = append(w.Why, v.Reason(b))
		}
		notFor = append(notFor, w)
	}
	return cleared, notFor
}
