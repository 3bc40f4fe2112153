// Package tell puts the things of the yard into the words of a person: defects,
// faults, tests, answers, deadlines, positions of controls, load sheets. It needs a voice and
// no page, so that lists, prints and exports say the same.
package tell

import (
	"fmt"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/inspect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/outing"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/yard"
	"vespers/say"
)

// Lower writes the first letter small, for words inside a sentence.
func Lower(s string) string {
	for i, r := range s {
		return strings.ToLower(string(r)) + s[i+len(string(r)):]
	}
	return s
}

// Defect names a defect: the point and the fault, or the test.
func Defect(v *say.Voice, sheet *machine.Sheet, d yard.Defect) string {
	if d.Test >= 0 {
		return v.T("defect.failed_test", "n", d.Test+1)
	}
	if id, is := outing.EventID(d.Point); is {
		for _, e := range sheet.Events {
			if e.ID == id {
				return v.Text(e.Name)
			}
		}
	}
	c, ok := sheet.Check(d.Point)
	if !ok {
		return d.Point
	}
	words := v.Text(c.Name)
	if f, ok := c.Fault(d.Fault); ok {
		return words + ": " + Lower(v.Text(f.Name))
	}
	if r, ok := c.Reading(d.Item); ok {
		words += ": " + Lower(v.Text(r.Name))
		if d.Value != nil {
			words += ", " + Value(v, *d.Value)
		}
	}
	return words
}

// Standing names a defect as an outing has it.
func Standing(v *say.Voice, o *outing.Outing, d outing.Defect) string {
	words := Defect(v, o.Unit(d.Machine).Sheet, yard.Defect{Point: d.Check, Item: d.Item, Fault: d.Fault, Test: d.Test, Value: d.Value})
	if failed := FailedTest(v, o, d.ID); failed != "" {
		words += ": " + Lower(failed)
	}
	return words
}

// Job says what a machine is meant for today.
func Job(v *say.Voice, job machine.Job) string {
	if job.Degrees == nil {
		return v.T("use." + job.Use)
	}
	return v.T("use."+job.Use+".of", "degrees", v.Number(*job.Degrees, -1)+"°")
}

// Deadline says until when a Mend may go out; "" for none.
func Deadline(v *say.Voice, d defect.Deadline) string {
	switch {
	case d.Hours != nil && d.At != nil:
		return v.T("deadline.both", "hours", v.Number(*d.Hours, 1), "day", DayTime(v, *d.At))
	case d.Hours != nil:
		return v.T("deadline.hours", "hours", v.Number(*d.Hours, 1))
	case d.At != nil:
		return v.T("deadline.day", "day", DayTime(v, *d.At))
	}
	return ""
}

// DayTime is a date, with the time where a deadline does not end with its day.
func DayTime(v *say.Voice, t time.Time) string { return v.Day(t) + " " + v.Clock(t) }

// Value is a reading as it was understood, with no fewer places than were typed.
func Value(v *say.Voice, value inspect.Value) string {
	u, known := unit.Find(value.Unit)
	if !known {
		return value.Typed + "\u00a0" + value.Unit
	}
	places := u.Decimals
	if mark := strings.LastIndexAny(value.Typed, ".,"); mark >= 0 {
		places = max(places, min(6, len(value.Typed)-mark-1))
	}
	return unit.FormatNumber(u.In(value.Quantity), places, v.Decimal()) + u.Suffix()
}

// Answer is an answer as a person would say it.
func Answer(v *say.Voice, a inspect.Answered) string {
	if a.Value != nil {
		return Value(v, *a.Value)
	}
	return v.T("answer." + a.Answer)
}

// Reading is a value of a reading in the person's unit, as exactly as it takes
// that it means what it meant. The reading's limits are those of the day.
func Reading(v *say.Voice, c *machine.Check, r *machine.Reading, q unit.Quantity) string {
	m := text.Measure{Quantity: q, Unit: r.Unit}
	return v.AmountTo(m, defect.Places(c, r, q, v.Unit(r.Unit)))
}

// Given is an answer in the point's own words.
func Given(v *say.Voice, c *machine.Check, a inspect.Answered) string {
	if f, ok := c.Fault(a.Fault); ok {
		return v.Text(f.Name)
	}
	if a.Answer == inspect.Sound && c.Sound != nil {
		return v.Text(*c.Sound)
	}
	if r, ok := c.Reading(a.Item); ok && r.Kind == "marks" && a.Value != nil {
		if words, told := level(v, a.Value.Typed); told {
			return words
		}
	}
	return Answer(v, a)
}

// Position says how a control stands.
func Position(v *say.Voice, sw machine.Switch, made bool) string {
	position := sw.Broken
	if made {
		position = sw.Made
	}
	return v.Text(sw.Label) + ": " + v.Text(position)
}

// Fault names a fault of the interlocks in the crew's words.
func Fault(v *say.Voice, section *machine.Interlock, fault string) string {
	f := interlock.ReadFault(fault)
	if sw := section.Switch(f.On); sw.ID != "" {
		if own := section.Permit(f.Permit); own.ID != "" {
			return v.T("fault.contact_of", "switch", Lower(v.Text(sw.Label)), "permit", Lower(v.Text(own.Label)), "how", v.T("fault."+f.How))
		}
		return v.T("fault.contact", "switch", Lower(v.Text(sw.Label)), "how", v.T("fault."+f.How))
	}
	own := section.Permit(f.On)
	if f.How == "restarts" {
		return v.T("fault.restarts", "what", v.Text(own.Moves))
	}
	return v.T("fault.permit", "permit", Lower(v.Text(own.Label)), "how", v.T("fault."+f.How))
}

// Faults names several.
func Faults(v *say.Voice, section *machine.Interlock, faults []string) []string {
	var out []string
	for _, f := range faults {
		out = append(out, Fault(v, section, f))
	}
	return out
}

// Test names a test: what must not happen, and what is done for it.
func Test(v *say.Voice, section *machine.Interlock, logic *interlock.Logic, t interlock.Test) string {
	before := t.From
	if t.Kind == interlock.Refusal {
		before = logic.Positions(logic.Rest)
	}
	var acts []string
	for _, sw := range section.Switches {
		if before[sw.ID] != t.To[sw.ID] {
			acts = append(acts, Lower(Position(v, sw, t.To[sw.ID])))
		}
	}
	return v.T("test."+t.Kind, "what", v.Text(section.Permit(t.Permit).Moves), "acts", strings.Join(acts, ", "))
}

// FailedTest names the test that a defect was found by; "" for a finding at a
// point.
func FailedTest(v *say.Voice, o *outing.Outing, defectID string) string {
	u, test, ok := o.Test(defectID)
	if !ok {
		return ""
	}
	return Test(v, u.Interlocks(), u.Round.Logic(), u.Round.Plan.Tests[test])
}

// Observed says what a test showed.
func Observed(v *say.Voice, o interlock.Observation) string {
	switch {
	case o.AtFrom != nil && *o.AtFrom == (o.Kind == interlock.Engage):
		return v.T("find.not_before." + before(o.Kind))
	case o.Restarted != nil && *o.Restarted:
		return v.T("find.restarted")
	case o.Observed != nil && *o.Observed:
		return v.T("find.bad." + o.Kind)
	}
	return v.T("find.good." + o.Kind)
}

// before is what was wrong before the change was made.
func before(kind string) string {
	if kind == interlock.Engage {
		return "engage"
	}
	return "stop"
}

// Suspect names one explanation of what was observed.
func Suspect(v *say.Voice, section *machine.Interlock, faults []string) string {
	if len(faults) == 0 {
		return v.T("find.no_fault")
	}
	return strings.Join(Faults(v, section, faults), " "+v.T("find.and")+" ")
}

// Minutes writes minutes as hours and minutes.
func Minutes(v *say.Voice, minutes float64) string {
	if minutes < 1 {
		return v.T("exposure.under_a_minute")
	}
	return fmt.Sprintf("%d h %02d min", int(minutes)/60, int(minutes)%60)
}

// Reasons are several reasons as sentences.
func Reasons(v *say.Voice, f defect.Finding) (reasons, limits []string) {
	for _, r := range f.Reasons {
		reasons = append(reasons, v.Reason(r))
	}
	for _, r := range f.Restrictions {
		limits = append(limits, v.T("restriction."+string(r)))
	}
	return reasons, limits
}
