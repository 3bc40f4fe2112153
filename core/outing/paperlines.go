package outing

// What stands on the paper of a machine, line by line: the same numbers on the printed
// sheet and where it is copied in.

import (
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/round"
	"vespers/core/walk"
)

// PaperLine is one line of a paper: a setting to change, a point to look at, or a step
// of the round. Number is 0 for what is done and not answered.
type PaperLine struct {
	Number int
	Set    *machine.Way // a setting to be put so first
	Check  *machine.Check
	Told   *round.Told
}

// PaperLines are those of a machine in the order of a day: round it, with the key on, the
// interlock round, and what is looked at with the engine running.
func (u *UnitState) PaperLines() []PaperLine {
	var before, running []PaperLine
	number := 0
	count := func() int { number++; return number }
	route := walk.Route(u.Sheet, walk.Options{Only: onPaper})
	line := func(stop walk.Stop) (PaperLine, bool) {
		if stop.Do == walk.Set {
			setting, _ := u.Sheet.Setting(stop.ID)
			way, ok := setting.Way(stop.To)
			return PaperLine{Set: way}, ok
		}
		c := u.Check(stop.ID)
		return PaperLine{Check: c}, c != nil
	}
	for _, stop := range route {
		if l, ok := line(stop); ok && stop.Phase != machine.Running {
			if l.Check != nil {
				l.Number = count()
			}
			before = append(before, l)
		}
	}
	for _, told := range round.Begin(u.Round.Setup).Whole() {
		l := PaperLine{Told: &told}
		if told.Test >= 0 {
			l.Number = count()
		}
		before = append(before, l)
	}
	for _, stop := range route {
		if l, ok := line(stop); ok && stop.Phase == machine.Running {
			if l.Check != nil {
				l.Number = count()
			}
			running = append(running, l)
		}
	}
	return append(before, running...)
}

// onPaper reports whether a point stands on a paper: what is looked at at every outing or
// once a day, and not by a technician. Nothing on paper tells what else is due; that is
// said beside it when it is printed (house rule).
func onPaper(c *machine.Check) bool {
	return c.WhoLooks() != machine.ByTechnician && (c.Every == nil || c.Every.Days == 1)
}

// Anybody is who a paper is printed for: it asks for all of its points, and whoever may not
// look at one leaves it to somebody else.
var Anybody = operator.Person{Role: operator.Technician}
