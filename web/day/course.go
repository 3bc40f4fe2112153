package day

// An outing as the day shows it: its stages along the hours, and in words.

import (
	"slices"
	"strings"
	"time"

	"vespers/core/outing"
	"vespers/store"
	"vespers/store/projector"
	"vespers/tell"
	"vespers/web/page"
)

// strip is one outing along the day.
type strip struct {
	page.Thread
	Name  string // what it stands under its heading as: the machine, or the person
	Legs  []leg
	Marks []mark
	Steps string // the same in words
}

// leg is one part of an outing: a stage that leads to the release, or being out.
// X and W are per cent of the day.
type leg struct {
	Kind string
	X, W float64
}

// mark is something that happened at a moment: a hand-over, a look in the break,
// the end.
type mark struct {
	Kind string
	X    float64
}

// group is the strips of one person, or of one machine.
type group struct {
	Name   string
	Strips []strip
}

// strips draws outings, in the order they were given.
func strips(v *page.Visit, d *page.DayLine, h hours, rows []store.OutingRow, courses map[string][]store.CourseStep) []strip {
	var out []strip
	for _, o := range rows {
		s := strip{Thread: d.Thread(v, o)}
		last := h.place(v.Now)
		if !o.Ended.IsZero() {
			last = h.place(o.Ended)
		}
		var words []string
		steps := courses[o.ID]
		for i, step := range steps {
			words = append(words, v.Clock(step.At)+" "+stepWords(v, step))
			x := h.place(step.At)
			switch step.Step {
			case projector.StepTurn, projector.StepBreak, projector.StepHome, projector.StepGivenUp, projector.StepLeft, projector.StepCopied:
				if step.Step != projector.StepTurn && step.Step != projector.StepBreak && step.Step != projector.StepHome {
					s.State = step.Step
				}
				s.Marks = append(s.Marks, mark{step.Step, x})
				continue
			}
			end := last
			for _, next := range steps[i+1:] {
				if next.Step != projector.StepTurn && next.Step != projector.StepBreak {
					end = h.place(next.At)
					break
				}
			}
			s.Legs = append(s.Legs, leg{step.Step, x, max(0.15, end-x)})
		}
		s.Steps = strings.Join(words, " · ")
		out = append(out, s)
	}
	return out
}

func stepWords(v *page.Visit, step store.CourseStep) string {
	if slices.Contains(outing.Stages(), outing.Stage(step.Step)) {
		return tell.Lower(v.T("stage." + step.Step))
	}
	return v.T("course."+step.Step, "who", step.Who)
}

// grouped puts strips under who had them, or under their machine.
func grouped(strips []strip, byMachine bool) []group {
	var out []group
	for _, s := range strips {
		name := s.Who
		if s.Name = s.Machine; byMachine {
			name, s.Name = s.Machine, s.Who
		}
		i := slices.IndexFunc(out, func(g group) bool { return g.Name == name })
		if i < 0 {
			i = len(out)
			out = append(out, group{Name: name})
		}
		out[i].Strips = append(out[i].Strips, s)
	}
	return out
}

// tally counts how the day's outings stand, those that need somebody first.
func tally(v *page.Visit, strips []strip) []count {
	var out []count
	for _, state := range []string{"halt", "open", "out", "home", "left", "given_up", "copied"} {
		n := 0
		for _, s := range strips {
			if s.State == state {
				n++
			}
		}
		if n > 0 {
			out = append(out, count{state, v.T("day.count."+state, "n", n)})
		}
	}
	return out
}

type count struct{ State, Words string }

// hours are the part of a day that is drawn: from the first thing that happened
// to the last, or to now, in full hours.
type hours struct {
	from, to time.Time
	Marks    []page.DayHour
}

// leastHours is the shortest part of a day that is drawn.
const leastHours = 4

func hoursOf(v *page.Visit, today bool, courses map[string][]store.CourseStep) hours {
	first, last := v.Now, time.Time{}
	if today {
		last = v.Now
	}
	for _, steps := range courses {
		for _, s := range steps {
			if s.At.Before(first) {
				first = s.At
			}
			if s.At.After(last) {
				last = s.At
			}
		}
	}
	h := hours{from: full(first.In(v.Zone)), to: full(last.In(v.Zone)).Add(time.Hour)}
	if least := h.from.Add(leastHours * time.Hour); h.to.Before(least) {
		h.to = least
	}
	step := time.Hour * time.Duration(1+int(h.to.Sub(h.from).Hours())/8)
	for t := h.from; !t.After(h.to); t = t.Add(step) {
		h.Marks = append(h.Marks, page.DayHour{X: h.place(t), Text: v.Clock(t)})
	}
	return h
}

// full is the full hour before a moment, by the yard's clock.
func full(t time.Time) time.Time {
	return time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), 0, 0, 0, t.Location())
}

// place is where a moment lies, in per cent of what is drawn.
func (h hours) place(t time.Time) float64 {
	return 100 * min(1, max(0, float64(t.Sub(h.from))/float64(h.to.Sub(h.from))))
}
