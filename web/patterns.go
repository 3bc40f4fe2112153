package web

import "net/http"

// patternsPage is for leads alone: what comes again and again in how machines
// are looked at. It proves nothing; it says with whom to go round once.
type patternsPage struct {
	Hurried, Missed []string
	Alike           []alikeReadings
}

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

func (s *server) showPatterns(v *visit) {
	list, err := s.Store.Patterns(v.ctx(), v.now.AddDate(0, 0, -patternDays), patternsMost)
	if err != nil {
		s.fail(v, err)
		return
	}
	var page patternsPage
	of := map[string]int{} // where a machine and its reader stand in page.Alike
	for _, p := range list {
		point := p.Point
		if p.SheetOfPoints != "" {
			sheet, err := s.Store.Sheet(v.ctx(), p.SheetOfPoints)
			if err != nil {
				s.fail(v, err)
				return
			}
			if c, ok := sheet.Check(p.Point); ok {
				point = v.Text(c.Name)
				if r, ok := c.Reading(p.Item); ok {
					point += ", " + lower(v.Text(r.Name))
				}
			}
		}
		words := v.T("pattern."+p.Kind, "who", p.PersonName, "machine", p.MachineName, "point", point, "typed", p.Typed, "n", p.Times, "of", p.Of, "when", v.When(p.Last, v.now))
		switch p.Kind {
		case "hurried":
			page.Hurried = append(page.Hurried, words)
		case "alike":
			who := v.T("pattern.alike_of", "machine", p.MachineName, "who", p.PersonName)
			at, known := of[who]
			if !known {
				at = len(page.Alike)
				of[who] = at
				page.Alike = append(page.Alike, alikeReadings{Of: who})
			}
			page.Alike[at].Points = append(page.Alike[at].Points, words)
		default:
			page.Missed = append(page.Missed, words)
		}
	}
	v.page(http.StatusOK, "patterns", v.T("pattern.title"), page)
}
