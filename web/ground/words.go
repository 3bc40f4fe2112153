package ground

// What a verdict says, in sentences.

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"vespers/core/ground"
	"vespers/tell"
	"vespers/web/page"
)

// word is a word of the site's files as a key has it.
func word(w string) string { return strings.ReplaceAll(w, ":", "_") }

// why is each reason against a machine in a zone, in a sentence.
func why(v *page.Visit, r *ground.Judgement, a ground.Answer, machine, who string) (out []string) {
	worst, known := r.Zone.Degrees()
	for _, because := range a.Because {
		more := []any{"machine", machine, "operator", who, "work", v.T("ground.work." + r.Zone.Work)}
		switch because {
		case "slope":
			if !known {
				continue
			}
			more = append(more, "worst", tell.Degrees(v.Voice, worst), "limit", tell.Degrees(v.Voice, a.Limit), "how", lessBy(v, a, who))
			if len(a.LessBy) > 0 {
				because = "slope_as"
			}
		case "use:dusk":
			if r.Zone.Light == ground.Dark {
				because = "dark"
			}
		case "use:under_trees":
			height, branches := "?", "?"
			if r.Machine.Height != nil {
				height = tell.Metres(v.Voice, r.Machine.Height.Value)
			}
			if b := r.Zone.Branches; b != nil {
				branches = tell.Metres(v.Voice, b.Value)
			}
			more = append(more, "height", height, "branches", branches)
		case "use:near_public":
			near := ""
			if i := slices.IndexFunc(r.Near, func(n ground.NearBy) bool { return n.Kind == ground.Public || n.Kind == ground.Path }); i >= 0 {
				near = tell.Metres(v.Voice, r.Near[i].Metres)
			}
			more = append(more, "metres", near)
		}
		out = append(out, v.T("ground.why."+word(because), more...))
	}
	return out
}

// lessBy says what makes the limit of a machine less in a zone; "" where nothing does.
func lessBy(v *page.Visit, a ground.Answer, who string) string {
	var how []string
	for _, one := range a.LessBy {
		if slices.Contains(ground.Conditions(), one) {
			how = append(how, tell.Lower(v.T("condition."+one)))
		} else {
			how = append(how, v.T("ground.less_by."+one, "operator", who))
		}
	}
	return strings.Join(how, ", ")
}

// outOf are what is out of a zone for a machine, each cause in a sentence.
func outOf(v *page.Visit, r *ground.Judgement) (out []string) {
	for _, o := range r.Out {
		out = append(out, v.T("ground.less."+o.Because, "area", tell.Area(v.Voice, o.Area)))
	}
	return out
}

// nearTo are what lies in the circle around a machine, in sentences.
func nearTo(v *page.Visit, r *ground.Judgement, name func(string) string) (out []string) {
	for _, n := range r.Near {
		out = append(out, v.T("ground.is_near", "id", name(n.ID), "what", v.T("ground.thing."+n.Kind), "metres", tell.Metres(v.Voice, n.Metres)))
	}
	return out
}

// keepTo is what an operator keeps to, in their order.
func keepTo(v *page.Visit, a ground.Answer) (out []string) {
	for _, k := range a.Keep {
		out = append(out, v.T("ground.keep."+k))
	}
	return out
}

// takes says how long it takes and what it burns; "" where nobody knows.
func takes(v *page.Visit, r *ground.Judgement) string {
	if r.Minutes == nil {
		return ""
	}
	words := v.T("ground.takes", "minutes", v.Number(math.Ceil(*r.Minutes), 0))
	if r.Litres != nil {
		words += " " + v.T("ground.uses_up", "litres", v.Litres(*r.Litres))
	}
	return words
}

// zoneWords say how a zone is: how steep, how it was found today.
func zoneWords(v *page.Visit, z *ground.Zone, few bool) (out []string) {
	worst, known := z.Degrees()
	switch {
	case !known:
		out = append(out, v.T("ground.not_measured"))
	case few:
		out = append(out, tell.Degrees(v.Voice, worst)+". "+v.T("ground.one_more"))
	default:
		out = append(out, tell.Degrees(v.Voice, worst))
	}
	for _, one := range []struct {
		is  bool
		key string
	}{{z.Wet, "ground.is.wet"}, {z.Soft, "ground.is.soft"}, {z.Light == ground.Dusk, "ground.is.dusk"}, {z.Light == ground.Dark, "ground.is.dark"}, {z.ReverseFailed, "ground.is.slipped"}} {
		if one.is {
			out = append(out, v.T(one.key))
		}
	}
	return append(out, termsOf(v, z)...)
}

// termsOf say when a zone may be worked and by when it is done, how low its branches hang,
// and until when buried services count as located.
func termsOf(v *page.Visit, z *ground.Zone) (out []string) {
	for _, q := range z.Quiet {
		out = append(out, v.T("ground.is.quiet", "from", ofDay(q[0]), "until", ofDay(q[1])))
	}
	if z.Deadline != nil {
		out = append(out, v.T("ground.is.deadline", "when", ofDay(*z.Deadline)))
	}
	if z.Branches != nil {
		out = append(out, v.T("ground.is.branches", "height", tell.Metres(v.Voice, z.Branches.Value)))
	}
	if z.Work == ground.Trench && !z.TicketUntil.IsZero() {
		out = append(out, v.T("ground.is.ticket", "when", v.When(z.TicketUntil, v.Now)))
	}
	return out
}

// ofDay is a time of the day, of its minutes since midnight.
func ofDay(minutes int) string { return fmt.Sprintf("%02d:%02d", minutes/60, minutes%60) }
