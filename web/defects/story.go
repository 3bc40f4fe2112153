package defects

// A defect's whole story: found, carried, eased, repaired, proved, came back.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/yard"
	"vespers/store"
	"vespers/tell"
	"vespers/web/page"
)

// storyLine is one thing that happened, with where to read more.
type storyLine struct{ When, Words, Link string }

// storyOf tells what happened to a defect, in order.
func storyOf(v *page.Visit, d store.Defect) ([]storyLine, error) {
	steps, err := v.Site.Store.Story(v.Context(), d.ID)
	if err != nil {
		return nil, err
	}
	line := func(at time.Time, words, link string) storyLine {
		return storyLine{tell.DayTime(v.Voice, at), words, link}
	}
	out := []storyLine{line(d.FoundAt, v.T("story.found", "who", d.FinderName), "/outings/"+d.Outing+"/verdict")}
	end := v.Now
	if !d.Open {
		end = d.ClosedAt
	}
	carried, err := v.Site.Store.CarriedBy(v.Context(), d.Machine, d.FoundAt, end)
	if err != nil {
		return nil, err
	}
	if carried > 0 {
		out = append(out, storyLine{Words: v.T("story.carried", "n", carried)})
	}
	for _, s := range steps {
		switch s.What {
		case "terms":
			out = append(out, line(s.At, termsWords(v, s), ""))
		case "proving":
			out = append(out, line(s.At, v.T("story.repaired", "who", s.By, "work", s.Repair.Work), "/outings/"+s.Outing+"/verdict"))
		case "not_proved":
			out = append(out, line(s.At, v.T("story.not_proved", "who", s.By), "/outings/"+s.Outing+"/verdict"))
		case "closed":
			key, link := "story.closed", ""
			if s.Outing != "" {
				key, link = "story.proved", "/outings/"+s.Outing+"/verdict"
			}
			out = append(out, line(s.At, v.T(key, "who", s.By), link))
		}
	}
	again, err := v.Site.Store.AtPoint(v.Context(), d.Machine, d.Point, 12)
	if err != nil {
		return nil, err
	}
	slices.Reverse(again)
	for _, other := range again {
		if !d.Open && other.FoundAt.After(d.ClosedAt) {
			out = append(out, line(other.FoundAt, v.T("story.came_back", "who", other.FinderName), "/defects/"+other.ID))
		}
	}
	return out, nil
}

// termsWords says how a lead eased or tightened a Mend.
func termsWords(v *page.Visit, s store.StoryStep) string {
	words := v.T("story.terms", "who", s.By, "until", tell.Deadline(v.Voice, s.Terms.Deadline), "was", tell.Deadline(v.Voice, s.Terms.Was))
	var more, less []string
	for _, r := range machine.Restrictions() {
		now, was := slices.Contains(s.Terms.Restrictions, r), slices.Contains(s.Terms.WasNot, r)
		switch name := v.T("restriction." + string(r)); {
		case now && !was:
			more = append(more, name)
		case was && !now:
			less = append(less, name)
		}
	}
	if len(more) > 0 {
		words += " " + v.T("story.more_limits", "limits", strings.Join(more, ", "))
	}
	if len(less) > 0 {
		words += " " + v.T("story.less_limits", "limits", strings.Join(less, ", "))
	}
	return words + " " + v.T("story.why", "why", s.Terms.Why)
}

// termsForm asks a lead until when a Mend may stand, and what it forbids.
type termsForm struct {
	ID, Until, Hours, Why string
	Metered               bool
	Limits                []limitLine
}

type limitLine struct {
	ID, Name string
	On       bool
}

func newTermsForm(v *page.Visit, d yard.Defect, sheet *machine.Sheet) *termsForm {
	f := &termsForm{ID: page.NewID(), Until: v.Field("until"), Hours: v.Field("hours"), Why: v.Field("why"), Metered: sheet.Metered()}
	posted := v.Posted() && v.Field("asked") == "terms"
	if at := d.Finding.Deadline.At; at != nil && !posted {
		f.Until = at.In(v.Zone).Format("2006-01-02T15:04")
	}
	if h := d.Finding.Deadline.Hours; h != nil && !posted {
		f.Hours = v.Number(*h, 1)
	}
	for _, r := range machine.Restrictions() {
		on := slices.Contains(d.Finding.Restrictions, r)
		if posted {
			on = slices.Contains(v.Fields("not"), string(r))
		}
		f.Limits = append(f.Limits, limitLine{string(r), v.T("restriction." + string(r)), on})
	}
	return f
}
