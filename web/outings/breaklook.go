package outings

// The look round at a break.

import (
	"net/http"
	"slices"

	"vespers/core/outing"
	"vespers/draw"
	"vespers/tell"
	"vespers/web/page"
)

// breakPage is one point of the look round at a break.
type breakPage struct {
	common
	Scene   draw.Scene
	Point   *pointView
	Item    string
	Where   string
	First   []string // what has to be set before it can be seen
	Reading *readingView
	Before  string
	Points  int // still to be looked at
	Known   []string
	Title   string // of the look: at a break, or after what
}

var breakPages = page.New[breakPage](templates, "break")

// beginBreak begins the look, or goes on with the one under way.
func beginBreak(v *page.Visit) {
	o, err := v.Site.Store.Outing(v.Context(), v.Param("outing"))
	if err != nil {
		v.Fail(err)
		return
	}
	if len(o.BreakLeft()) > 0 {
		v.Saved("/outings/" + o.ID + "/break")
		return
	}
	say(v, outing.BeginBreak{})
}

func answerBreak(v *page.Visit) { say(v, outing.AnswerBreak{Answer: answer(v)}) }

func showBreak(v *page.Visit) {
	base, ok := load(v, outing.StageVerdict)
	if !ok {
		return
	}
	left := base.o.BreakLeft()
	if len(left) == 0 {
		v.Go("/outings/" + base.Outing + "/verdict")
		return
	}
	now := left[0]
	base.about(now.Unit)
	p := breakPage{common: base, Title: lookTitle(v, base.o), Point: newPoint(v, now.Check), Item: now.Item, Points: len(left)}
	spot, _ := now.Unit.Sheet.Spot(now.Check.At)
	p.Where = v.Text(spot.Name)
	for _, setting := range now.Unit.Sheet.Settings {
		if want, needs := now.Check.Needs[setting.ID]; needs && want != setting.End {
			way, _ := setting.Way(want)
			p.First = append(p.First, v.Text(way.Do))
		}
	}
	if r, ok := now.Check.Reading(now.Item); ok {
		p.Reading = newReading(v, now.Check, now.Unit.Under(r))
		for _, this := range now.Unit.Readings() {
			if this.Check == now.Check.ID && this.Item == now.Item {
				p.Before = readBefore(v, now.Check, this, now.Unit.Under(r))
			}
		}
	}
	for _, d := range base.o.Defects() {
		if d.Machine == now.Unit.Machine && d.Check == now.Check.ID {
			reasons, _ := tell.Reasons(v.Voice, d.Finding)
			p.Known = append(p.Known, reasons...)
		}
	}
	p.Scene = draw.Walk(now.Unit.Sheet, breakMarks(base.o, now))
	breakPages.Show(v, http.StatusOK, p.Point.Name, p)
}

// lookTitle says what a look under way is for.
func lookTitle(v *page.Visit, o *outing.Outing) string {
	for _, d := range o.LookDue() {
		if slices.Contains(o.Break().After, d.Happened.Defect) {
			return v.T("look.after", "event", v.Text(d.Event.Name))
		}
	}
	return v.T("break.title")
}

// lookOver is what has to be looked over after an event before a machine goes on.
type lookOver struct {
	Words  string
	Points int
}

func looksOver(v *page.Visit, o *outing.Outing) (out []lookOver) {
	for _, d := range o.LookDue() {
		out = append(out, lookOver{v.T("look.first", "event", v.Text(d.Event.Name), "machine", d.Unit.Name), len(d.Event.Look)})
	}
	return out
}
