package grade

// Judging a case, in the order of the rules: table, history, trend, the machine,
// its round, its uses.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
)

var (
	rulePutRight   = text.NewRule("grade.put_right")
	ruleTakenBack  = text.NewRule("grade.taken_back")
	ruleNoUseLeft  = text.NewRule("grade.no_use_left")
	ruleTestFailed = text.NewRule("grade.test_failed", text.Slot{Name: "test", Kind: text.Name})
	ruleHalt       = text.NewRule("grade.is_halt")
	ruleTestVoid   = text.NewRule("grade.test_void", text.Slot{Name: "test", Kind: text.Name})
	ruleDayOver    = text.NewRule("grade.day_is_over")
)

// Judge judges a case of a sheet. The error is a *record.Refused that says what
// cannot be judged.
func (c Case) Judge(sheet *machine.Sheet) (Report, error) {
	r := reader{Case: c, sheet: sheet}
	if err := r.read(); err != nil {
		return Report{}, err
	}
	return r.judge(), nil
}

// judge is the report of a case that was read.
func (r *reader) judge() Report {
	out := Report{Findings: []Graded{}}
	var today []defect.Seen
	var place []int // of each of today's among the findings
	var watching []string
	for _, c := range r.carried {
		if c.f.Grade == defect.Watch {
			watching = append(watching, c.check)
		}
	}
	for i, a := range r.answers {
		out.Findings = append(out.Findings, Graded{Check: a.seen.Check.ID, Finding: a.seen.Finding})
		if !a.gone() {
			today, place = append(today, a.seen), append(place, i)
		}
	}
	uneven := r.uneven()
	for i, f := range defect.Remember(r.sheet, append(today, uneven...), watching) {
		if i < len(today) {
			out.Findings[place[i]].Finding = r.house.Dated(f, today[i].In.At).Now(r.meter(), *r.At)
		} else {
			one := uneven[i-len(today)]
			out.Uneven = append(out.Uneven, Graded{Check: one.Check.ID, Finding: r.house.Dated(f, one.In.At).Now(r.meter(), *r.At)})
		}
	}
	for i, a := range r.answers {
		if a.gone() {
			out.Findings[i].Finding = a.over()
		}
	}
	r.sum(&out)
	r.round(&out)
	r.uses(&out)
	return out
}

// sum is what everything that stands comes to.
func (r *reader) sum(out *Report) {
	var all []defect.Finding
	for _, g := range slices.Concat(out.Findings, out.Uneven) {
		all = append(all, g.Finding)
	}
	for _, c := range r.carried {
		all = append(all, c.f)
	}
	sum := defect.Over(all, r.meter(), *r.At)
	out.Grade, out.Restrictions, out.Deadline = sum.Grade, sum.Restrictions, sum.Deadline
	if len(sum.Restrictions) > 0 && !r.sheet.Leaves(sum.Restrictions) {
		out.Grade = defect.Halt
		out.Reasons = append(out.Reasons, ruleNoUseLeft.Says())
	}
}

// round adds what the tests say, and what keeps the machine in.
func (r *reader) round(out *Report) {
	void := ""
	for i, t := range r.Tests {
		switch t.Outcome {
		case Failed:
			out.Grade = defect.Halt
			out.Reasons = append(out.Reasons, ruleTestFailed.Says(t.ID))
		case Void:
			if !slices.ContainsFunc(r.Tests[i+1:], func(later Test) bool { return later.ID == t.ID && later.Outcome == Passed }) {
				void = t.ID
			}
		}
	}
	if out.Grade == defect.Halt {
		out.NotReleased = append(out.NotReleased, ruleHalt.Says())
	}
	if void != "" {
		out.NotReleased = append(out.NotReleased, ruleTestVoid.Says(void))
	}
	if r.Begun != nil && !r.At.Before(endOfDay(*r.Begun)) {
		out.NotReleased = append(out.NotReleased, ruleDayOver.Says())
	}
}

// dayEnds is the hour at which a day that was begun is over (house rule).
const dayEnds = 4

// endOfDay is the first end of a day after a moment, by the moment's own offset.
func endOfDay(begun time.Time) time.Time {
	end := time.Date(begun.Year(), begun.Month(), begun.Day(), dayEnds, 0, 0, 0, begun.Location())
	if !end.After(begun) {
		end = end.AddDate(0, 0, 1)
	}
	return end
}

// uses refuses what of the planned uses the machine is not for, whatever its grade.
func (r *reader) uses(out *Report) {
	standing := r.standing(out)
	for i, job := range r.jobs {
		if because := defect.Refuses(r.sheet, standing, job); len(because) > 0 {
			out.Refused = append(out.Refused, Refused{Use: r.Uses[i], Because: because})
		}
	}
	if r.PlannedHours == nil {
		return
	}
	if because := out.Deadline.Outlasts(*r.PlannedHours, r.Hours, *r.At); len(because) > 0 {
		out.Refused = append(out.Refused, Refused{Use: defect.UseHours, Because: because})
	}
}

// standing lists every restriction with the point that it comes of.
func (r *reader) standing(out *Report) []defect.Restricted {
	var list []defect.Restricted
	note := func(check string, restrictions []machine.Restriction) {
		name := r.sheet.Name
		if c, ok := r.sheet.Check(check); ok {
			name = c.Name
		}
		for _, one := range restrictions {
			list = append(list, defect.Restricted{Point: name, Restriction: one})
		}
	}
	for _, g := range slices.Concat(out.Findings, out.Uneven) {
		note(g.Check, g.Restrictions)
	}
	for _, c := range r.carried {
		note(c.check, c.f.Restrictions)
	}
	return list
}
