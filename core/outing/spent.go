package outing

// How long the chores of an evening took, by what was answered when: from one answer to the
// next, waits left out. Where somebody went away meanwhile, or the clock was wrong, nobody
// can tell, and nothing is said.

import (
	"maps"
	"time"

	"vespers/core/machine"
	"vespers/core/record"
)

// awayAfter is how long after an answer nobody is at it any more (house rule).
const awayAfter = 10 * time.Minute

// spending is how long chores took so far.
type spending struct {
	since   time.Time // of the last answer
	run     string
	seconds map[string]float64
	unsure  map[string]bool
}

// begin notes that a procedure is begun. Begun again after some of it was done, it tells
// nothing of the whole.
func (s spending) begin(run string, m record.Meta) spending {
	s.run, s.since = run, m.At
	for _, chore := range []string{choreOf(run, false), choreOf(run, true)} {
		if s.seconds[chore] > 0 {
			s = s.doubt(chore)
		}
	}
	return s
}

func (s spending) doubt(chore string) spending {
	s.unsure = maps.Clone(s.unsure)
	if s.unsure == nil {
		s.unsure = map[string]bool{}
	}
	s.unsure[chore] = true
	return s
}

// answered counts what a step took. Wet says whether the water was on.
func (s spending) answered(step *machine.Step, run string, wet bool, m record.Meta) spending {
	took, known := m.At.Sub(s.since), s.run == run && !s.since.IsZero() && !m.Doubtful
	s.run, s.since = run, m.At
	if step == nil || step.Answer == machine.AnswerWait {
		return s
	}
	chore := choreOf(run, wet)
	if !known || took < 0 || took > awayAfter {
		return s.doubt(chore)
	}
	s.seconds = maps.Clone(s.seconds)
	if s.seconds == nil {
		s.seconds = map[string]float64{}
	}
	s.seconds[chore] += took.Seconds()
	return s
}

// Spent is how many seconds each chore of the evening took that was done to its end, by
// its id.
func (u *UnitState) Spent() map[string]float64 {
	out := map[string]float64{}
	for _, id := range []string{cleansIt, greasesIt, fuelsIt, storesIt} {
		if _, ended := u.Ended(id); !ended {
			continue
		}
		for _, chore := range []string{choreOf(id, false), choreOf(id, true)} {
			if took := u.procedures.spending.seconds[chore]; took > 0 && !u.procedures.spending.unsure[chore] {
				out[chore] = took
			}
		}
	}
	return out
}
