package outings

// When the machines are expected home.

import (
	"vespers/core/outing"
	"vespers/web/page"
)

// homeAt is when an outing is expected home, in words; At as it was said last.
type homeAt struct{ Words, At string }

// newHomeAt is nil for what is not out, and for what is shut down already.
func newHomeAt(v *page.Visit, o *outing.Outing) *homeAt {
	if o.Status != outing.Out || o.Repair != nil || o.NotParked() == nil {
		return nil
	}
	due, said, ok := o.DueHome()
	if !ok {
		return &homeAt{Words: v.T("expect.unsaid")}
	}
	h := homeAt{At: due.In(v.Zone).Format("15:04")}
	switch key := "expect.planned"; {
	case said && due.Before(v.Now):
		h.Words = v.T("expect.late", "when", v.Clock(due))
	case said:
		h.Words = v.T("expect.said", "when", v.Clock(due), "who", v.Name(o.ExpectedBy.By))
	default:
		h.Words = v.T(key, "when", v.Clock(due))
	}
	return &h
}

func expect(v *page.Visit) {
	if o, ok := v.SayIn(outing.Expect{Home: v.Field("home")}); ok {
		v.Saved("/outings/" + o.ID + "/do")
	}
}
