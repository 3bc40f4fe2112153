package outing_test

// One round a day, where the house says so.

import (
	"testing"
	"time"

	"vespers/core/inspect"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
	"vespers/core/outing/outingtest"
)

// TestOnceADay: proved today, built as it is now, by a house that asks for one round a
// day, and by nothing less; then it is started by its procedure and looked at running.
func TestOnceADay(t *testing.T) {
	of := machinetest.Of(t, "zero_turn")
	today := morning.Add(-2 * time.Hour)
	proved := func(change func(m *outing.Machine)) *runner {
		m := outingtest.Machine("m", of)
		m.Practice = map[string]string{"test_rhythm": "daily"}
		m.Past.Today, m.Past.Proved, m.Past.ProvedAs = today, today.Add(time.Hour), m.Hash
		if change != nil {
			change(&m)
		}
		return runnerOf(t, outingtest.Begin(t, "ida", m, nil))
	}
	tests := func(r *runner) int { return len(r.u().Round.Plan.Tests) }
	if r := proved(nil); tests(r) != 0 || r.u().Proved == nil {
		t.Errorf("%d tests", tests(r))
	}
	for name, change := range map[string]func(m *outing.Machine){
		"each use":           func(m *outing.Machine) { m.Practice = map[string]string{"test_rhythm": "each_use"} },
		"nobody chose":       func(m *outing.Machine) { m.Practice = nil },
		"yesterday":          func(m *outing.Machine) { m.Past.Proved = today.Add(-time.Minute) },
		"never":              func(m *outing.Machine) { m.Past.Proved, m.Past.ProvedAs = time.Time{}, "" },
		"built otherwise":    func(m *outing.Machine) { m.Past.ProvedAs = "another" },
		"repaired since":     func(m *outing.Machine) { m.Past.Repaired = &inspect.Seen{At: m.Past.Proved.Add(time.Minute)} },
		"nobody knows today": func(m *outing.Machine) { m.Past.Today = time.Time{} },
	} {
		if r := proved(change); tests(r) == 0 || r.u().Proved != nil {
			t.Errorf("%s: no round", name)
		}
	}
	r := proved(func(m *outing.Machine) { m.Past.Repaired = &inspect.Seen{At: m.Past.Proved.Add(-time.Minute)} })
	r.until(r.stage(outing.StageRunning))
	r.follow("start")
	r.until(r.stage(outing.StageVerdict))
	r.must(outing.Release{})
	r.home()
}
