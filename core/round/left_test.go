package round_test

import (
	"testing"
	"time"

	"vespers/core/record"
	"vespers/core/round"
)

// TestARoundThatWasLeft: after a while, or once somebody else has the machine, it
// says how everything stood; never before it was begun or once it is over.
func TestARoundThatWasLeft(t *testing.T) {
	for name, test := range map[string]struct {
		begun, started bool
		after          time.Duration // since the last word
		turn           time.Duration // when somebody else took over, before or after it
		left, runs     bool
	}{
		"not begun":                {after: time.Hour},
		"at once":                  {begun: true, turn: -time.Hour},
		"a short while":            {begun: true, after: 9 * time.Minute, turn: -time.Hour},
		"a long while":             {begun: true, after: 10 * time.Minute, turn: -time.Hour, left: true},
		"another took over":        {begun: true, after: time.Minute, turn: time.Second, left: true},
		"with the engine running":  {begun: true, started: true, after: time.Hour, turn: -time.Hour, left: true, runs: true},
		"running, another took on": {begun: true, started: true, after: time.Minute, turn: time.Second, left: true, runs: true},
	} {
		t.Run(name, func(t *testing.T) {
			r := fan(t, func(*round.Setup) {})
			last := now
			say := func(e record.Event) {
				last = last.Add(time.Second)
				r.State, _ = r.State.Apply(record.Meta{ID: last.String(), By: "ida", At: last}, e)
			}
			if test.begun {
				say(round.Begun{Machine: "m", Attempt: 1})
			}
			if test.started {
				say(round.Tested{Machine: "m", Attempt: 1, Test: 0})
				say(round.Cranked{Machine: "m", Attempt: 1, Cranked: true, Started: true})
			}
			at, runs, left := r.WasLeft(last.Add(test.after), last.Add(test.turn))
			if left != test.left || runs != test.runs || left != (len(at) == 3) {
				t.Errorf("left %v, runs %v, %v", left, runs, at)
			}
		})
	}
}
