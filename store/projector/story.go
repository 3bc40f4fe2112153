package projector

// What happened to each defect since it was found: terms set, repairs tried, closed.

import (
	"vespers/core/outing"
	"vespers/core/yard"
)

// The steps of a defect's story.
const (
	StoryTerms     = "terms"
	StoryProving   = "proving"
	StoryNotProved = "not_proved"
	StoryClosed    = "closed"
)

var story = Projection{Name: "story", Version: 1, Tables: []string{"story"}, On: func(tx Tx, c Change) error {
	note := func(defect, what, in string, body any) error {
		data, err := asJSON(body)
		if err != nil {
			return err
		}
		return tx.Exec("INSERT INTO story (defect, seq, at, by, what, outing, body) VALUES (?,?,?,?,?,?,?)", defect, c.Seq, c.Meta.At.UnixMilli(), c.Meta.By, what, in, data)
	}
	switch e := c.Event.(type) {
	case outing.TermsSet:
		return note(e.Defect, StoryTerms, "", e)
	case yard.DefectClosed:
		return note(e.Defect, StoryClosed, e.Proof, e)
	case outing.Started:
		return each(c.Outing, func(d string) error { return note(d, StoryProving, c.Outing.ID, e.Repair) })
	case outing.Ended:
		if e.How == outing.EndMended {
			return nil
		}
		return each(c.Outing, func(d string) error { return note(d, StoryNotProved, c.Outing.ID, nil) })
	}
	return nil
}}

// each calls see with the defects that an outing's repair is of.
func each(o *outing.Outing, see func(defect string) error) error {
	if o == nil || o.Repair == nil {
		return nil
	}
	for _, d := range o.Repair.Defects {
		if err := see(d); err != nil {
			return err
		}
	}
	return nil
}
