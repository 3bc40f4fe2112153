package outings

// The direction in which fine turf is mown today, on the card.

import (
	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/web/page"
)

type mowWords struct {
	Words   string
	Degrees int
}

func mowing(v *page.Visit, o *outing.Outing) *mowWords {
	if !yard.MowsFineTurf(o) {
		return nil
	}
	d, ok := v.Yard.Mowing.On(o.Until)
	if !ok {
		return nil
	}
	edge := v.T("mow.against")
	if d.Clockwise {
		edge = v.T("mow.with")
	}
	return &mowWords{Words: v.T("mow."+d.ID) + " " + edge, Degrees: d.Degrees}
}
