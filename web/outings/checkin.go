package outings

// Looking for who works alone.

import (
	"net/http"

	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/web/page"
)

// checkIn is when somebody looks for the operator, in words.
type checkIn struct {
	Words  string
	Missed bool
	Next   string // what is offered as the next time
}

func newCheckIn(v *page.Visit, o *outing.Outing) *checkIn {
	due := o.Now().Due
	if due.IsZero() || o.Status == outing.Closed {
		return nil
	}
	key := "check_in.due"
	if o.Missed(v.Now) {
		key = "check_in.overdue"
	}
	words := v.T(key, "when", v.Clock(due))
	if v.Person.ID != o.Operator() {
		words = v.T(key+".of", "who", v.Name(o.Operator()), "when", v.Clock(due))
	}
	return &checkIn{Words: words, Missed: o.Missed(v.Now), Next: v.Now.Add(outing.NextLook).In(v.Zone).Format("15:04")}
}

type checkInPage struct {
	common
	Title  string
	Look   *checkIn
	Sought string // who goes, since when
	Heard  string // when they were last heard of
	Seek   []choice
	MaySay bool // who goes
}

var checkInPages = page.New[checkInPage](templates, "checkin")

func showCheckIn(v *page.Visit) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	base.beside("")
	o := base.o
	p := checkInPage{common: base, Look: newCheckIn(v, o), MaySay: o.Missed(v.Now) && o.May(*v.Person, operator.Seek, v.Now)}
	t := o.Now()
	if t.Sought != "" {
		p.Sought = v.T("check_in.goes", "who", v.Name(t.Sought), "when", v.When(t.SoughtBy.At, v.Now), "by", v.Name(t.SoughtBy.By))
	}
	switch {
	case t.Heard.ID != "":
		p.Heard = v.T("check_in.heard", "when", v.When(t.Heard.At, v.Now))
	case t.ReadyBy.ID != "":
		p.Heard = v.T("check_in.ready", "when", v.When(t.ReadyBy.At, v.Now))
	}
	if p.MaySay {
		people, err := v.Site.Store.People(v.Context())
		if err != nil {
			v.Fail(err)
			return
		}
		for _, other := range o.Companions(people) {
			p.Seek = append(p.Seek, choice{ID: other.ID, Name: other.Name})
		}
	}
	if p.Title = v.T("check_in.title"); v.Person.ID != o.Operator() {
		p.Title = v.T("check_in.title_of", "who", v.Name(o.Operator()))
	}
	checkInPages.Show(v, http.StatusOK, p.Title, p)
}

func checkedIn(v *page.Visit) {
	if o, ok := v.SayIn(outing.CheckIn{Next: v.Field("next")}); ok {
		v.Saved("/outings/" + o.ID + "/check-in")
	}
}

func seek(v *page.Visit) {
	if o, ok := v.SayIn(outing.Seek{Who: v.Field("who")}); ok {
		v.Saved("/outings/" + o.ID + "/check-in")
	}
}
