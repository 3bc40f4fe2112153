package outings

// What a machine goes behind or on: said where its steps are, and shown on both.

import (
	"slices"

	"vespers/core/outing"
	"vespers/core/yard"
	"vespers/web/page"
)

// trainView is with which other machines one goes.
type trainView struct {
	Asks []linkAsk
	With []withLine
}

// linkAsk asks what a machine goes behind, or on.
type linkAsk struct {
	Machine, How, Title string
	Choices             []choice
	Closed              bool // it was said, or is not needed yet
	Other               bool // one that is not in this book was said
}

// withLine is another machine that goes with one, and where its steps are.
type withLine struct{ Words, Link, LinkWords string }

// trainOf is with what a machine of an outing goes. run is the procedure that is open on
// it, "" where none is: a trailer is asked for only around loading.
func trainOf(v *page.Visit, view yard.View, u *outing.UnitState, run string) trainView {
	var t trainView
	if u.Sheet.Towed != nil {
		t.ask(v, u, outing.Behind, u.Behind, true, yard.Pullers(view, u, v.At()))
		t.with(v, view, u.Behind, "train.behind_is")
	}
	if u.Sheet.Rides() && (run == "" || run == "load" || run == "unload") {
		t.ask(v, u, outing.On, u.On, run != "", yard.Trailers(view, u))
		t.with(v, view, u.On, "train.on_is")
	}
	pulled, carried := yard.GoWith(view, u.Machine, v.At())
	for _, id := range pulled {
		t.with(v, view, &id, "train.pulls")
	}
	for _, id := range carried {
		t.with(v, view, &id, "train.carries")
	}
	return t
}

// ask asks only where there is a choice, or one was made.
func (t *trainView) ask(v *page.Visit, u *outing.UnitState, how string, now *string, needed bool, may []yard.Machine) {
	if len(may) == 0 && now == nil {
		return
	}
	a := linkAsk{Machine: u.Machine, How: how, Title: v.T("train." + how), Closed: now != nil || !needed, Other: now != nil && *now == ""}
	for _, m := range may {
		a.Choices = append(a.Choices, choice{ID: m.ID, Name: m.Name, Chosen: now != nil && *now == m.ID})
	}
	t.Asks = append(t.Asks, a)
}

func (t *trainView) with(v *page.Visit, view yard.View, id *string, words string) {
	if id == nil || *id == "" {
		return
	}
	m, ok := view.Machine(*id)
	if !ok || slices.ContainsFunc(t.With, func(w withLine) bool { return w.Link == "/outings/"+m.Outing+"/do" && m.Outing != "" }) {
		return
	}
	line := withLine{Words: v.T(words, "name", m.Name)}
	if m.Outing != "" {
		line.Link, line.LinkWords = "/outings/"+m.Outing+"/do", v.T("train.steps_of", "name", m.Name)
	}
	t.With = append(t.With, line)
}

func link(v *page.Visit) {
	o, ok := v.SayIn(outing.Link{Machine: v.Field("machine"), How: v.Field("how"), To: v.Field("to")})
	if ok {
		v.Saved("/outings/" + o.ID + "/do?machine=" + v.Field("machine"))
	}
}
