package outings

// The last page of a repair: what is still to be proved, and the signature.

import (
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/web/page"
)

// repairCard is what a repair was, what keeps it from service, and who may sign.
type repairCard struct {
	Cause, Work, Parts string
	Defects            []defectLink
	Missing            []missingWords
	MaySign            bool
	Signed             string // by whom and when
	GivenUp            bool
	Form               string
}

type defectLink struct{ ID, What string }

// repairOf tells the repair that an outing proves, nil for one that goes out.
func repairOf(v *page.Visit, o *outing.Outing) *repairCard {
	if o.Repair == nil {
		return nil
	}
	c := &repairCard{Cause: o.Repair.Cause, Work: o.Repair.Work, Parts: o.Repair.Parts, Form: page.NewID(),
		MaySign: o.Status == outing.Open && o.May(*v.Person, operator.Mend, v.Now), GivenUp: o.End != nil && o.End.How != outing.EndMended}
	for _, id := range o.Repair.Defects {
		d, err := v.Site.Store.Defect(v.Context(), id)
		if err != nil {
			continue
		}
		if u := o.Unit(d.Machine); u != nil {
			c.Defects = append(c.Defects, defectLink{id, v.Defect(u.Sheet, d.Defect)})
		}
	}
	if o.End != nil && o.End.How == outing.EndMended {
		c.Signed = v.T("repair.signed_by", "who", v.Name(o.Home.By), "when", v.When(o.Home.At, v.Now))
		return c
	}
	if o.Status == outing.Closed {
		return c
	}
	for _, m := range o.Unproved(v.Now) {
		c.Missing = append(c.Missing, newMissing(v, o, m))
	}
	return c
}

// sign puts the machine of a repair back to service.
func sign(v *page.Visit) { say(v, outing.Sign{}) }
