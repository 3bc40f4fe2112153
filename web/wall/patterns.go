package wall

// What stands out over many outings.

import (
	"net/http"
	"vespers/tell"
	"vespers/web/page"
)

// patternsPage is for leads alone: what comes again and again in how machines
// are looked at. It proves nothing; it says with whom to go round once.
type patternsPage struct {
	Hurried, Missed []string
	Alike           []alikeReadings
	TakenBack       []takenBack
}

// takenBack is a Halt that was found and taken back before the machine went out.
type takenBack struct{ Outing, Words string }

// alikeReadings are the readings of one machine that come out the same again
// and again.
type alikeReadings struct {
	Of     string // the machine, and who read last
	Points []string
}

// patternDays is how far back patterns are looked for.
const patternDays = 30

// patternsMost is how many of a kind are listed: the rest stands out less.
const patternsMost = 25

var patternPages = page.New[patternsPage](templates, "patterns")

func showPatterns(v *page.Visit) {
	list, err := v.Site.Store.Patterns(v.Context(), v.Now.AddDate(0, 0, -patternDays), patternsMost)
	if err != nil {
		v.Fail(err)
		return
	}
	var p patternsPage
	of := map[string]int{} // where a machine and its reader stand in page.Alike
	for _, one := range list {
		point := one.Point
		if one.SheetOfPoints != "" {
			sheet, err := v.Site.Store.Sheet(v.Context(), one.SheetOfPoints)
			if err != nil {
				v.Fail(err)
				return
			}
			if c, ok := sheet.Check(one.Point); ok {
				point = v.Text(c.Name)
				if r, ok := c.Reading(one.Item); ok {
					point += ", " + tell.Lower(v.Text(r.Name))
				}
			}
		}
		say := func(key string) string {
			return v.T("pattern."+key, "who", one.PersonName, "second", one.SecondName, "machine", one.MachineName, "point", point,
				"typed", one.Typed, "why", one.Why, "n", one.Times, "of", one.Of, "when", v.When(one.Last, v.Now))
		}
		words := say(one.Kind)
		switch one.Kind {
		case "hurried":
			p.Hurried = append(p.Hurried, words)
		case "alike":
			who := v.T("pattern.alike_of", "machine", one.MachineName, "who", one.PersonName)
			at, known := of[who]
			if !known {
				at = len(p.Alike)
				of[who] = at
				p.Alike = append(p.Alike, alikeReadings{Of: who})
			}
			p.Alike[at].Points = append(p.Alike[at].Points, words)
		case "taken_back":
			if one.SecondName != "" {
				words = say("taken_back_seen")
			}
			p.TakenBack = append(p.TakenBack, takenBack{one.Outing, words})
		default:
			p.Missed = append(p.Missed, words)
		}
	}
	patternPages.Show(v, http.StatusOK, v.T("pattern.title"), p)
}
