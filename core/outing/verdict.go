package outing

// What an outing comes to as things stand.

import (
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// Outcome words of a verdict.
const (
	Clear   = "clear"   // may be released
	Refusal = "refused" // something is missing; the machine is no worse for it
	Halted  = "halt"    // a machine of the outing is on Halt
)

// Verdict is what an outing comes to as things stand, with every reason.
type Verdict struct {
	Outcome string       `json:"outcome"`
	Grade   defect.Grade `json:"grade"`
	// Halts is why a machine may not start.
	Halts []text.Reason `json:"halts,omitempty"`
	// Missing is what keeps the outing from release, in the order to mend it.
	Missing []Missing `json:"missing,omitempty"`
	// Cleared and Refused are the uses of the machines.
	Cleared []ClearedUse `json:"cleared,omitempty"`
	Refused []RefusedUse `json:"refused,omitempty"`
	// Jobs are the planned uses that they are not for today.
	Jobs         []RefusedUse          `json:"jobs,omitempty"`
	Restrictions []machine.Restriction `json:"restrictions,omitempty"`
	Deadline     defect.Deadline       `json:"deadline"`
	// Hours is the hour meter read in the outing, in hours.
	Hours float64 `json:"hours,omitempty"`
}

// ClearedUse is a use the machines may be put to.
type ClearedUse struct {
	Use   string        `json:"use"`
	Limit *text.Measure `json:"limit,omitempty"`
	// Up is the limit straight up and down a slope, where it is another than across.
	Up     *text.Measure  `json:"up,omitempty"`
	Source machine.Source `json:"source"`
	// Only are the conditions that they may be put to it under, all of them.
	Only []text.Text `json:"only,omitempty"`
}

// RefusedUse is a use they may not, and why.
type RefusedUse struct {
	Use     string        `json:"use"`
	Because []text.Reason `json:"because"`
}

// The rules of release.
var (
	ruleNotAsked    = text.NewRule("release.not_ready")
	ruleFindingHalt = text.NewRule("release.halt_at_point", text.Slot{Name: "point", Kind: text.Words})
	ruleFaultHalt   = text.NewRule("release.halt_by_fault", text.Slot{Name: "point", Kind: text.Words}, text.Slot{Name: "fault", Kind: text.Words})
	ruleNoUseForYou = text.NewRule("release.no_use_for_you")
	ruleNoUseLeft   = text.NewRule("release.no_use_left")
)

// Judge says what the outing comes to at a time. It decides alone and in this
// order: the grade over all defects, the uses they leave, the person, the open
// points, the round.
func (o *Outing) Judge(now time.Time) Verdict {
	v := Verdict{Grade: defect.Sound}
	standing := o.Defects()
	o.judgeDefects(&v, standing, now)
	o.judgeUses(&v, standing, now)
	v.Jobs = o.JobsRefused(now)
	if o.Stale(now) {
		v.Missing = append(v.Missing, Missing{Reason: ruleStale.Says(), Step: StageVerdict})
	}
	if o.Paper == nil {
		o.judgePerson(&v, now)
	}
	for _, u := range o.Units {
		for _, s := range stages {
			v.Missing = append(v.Missing, s.missing(o, u, now)...)
		}
		v.Hours = max(v.Hours, u.HoursNow())
	}
	switch {
	case len(v.Halts) > 0:
		v.Outcome = Halted
	case len(v.Missing) > 0:
		v.Outcome = Refusal
	default:
		v.Outcome = Clear
	}
	return v
}

func (o *Outing) judgeDefects(v *Verdict, standing []Defect, now time.Time) {
	for _, d := range standing {
		u := o.Unit(d.Machine)
		f := d.Finding.Now(u.HoursNow(), now)
		v.Grade = defect.Worse(v.Grade, f.Grade)
		if f.Grade == defect.Halt {
			v.Halts = append(append(v.Halts, u.haltedAt(d)...), f.Reasons...)
			if !o.House.Remembers() {
				continue
			}
		}
		v.Deadline = v.Deadline.Earlier(f.Deadline)
		v.Restrictions = defect.Union(v.Restrictions, f.Restrictions)
	}
}

// HaltsStanding is how many findings halt the machines of the outing now; at
// least one where the outing is halted for another reason.
func (o *Outing) HaltsStanding(now time.Time) int {
	n := 0
	for _, d := range o.Defects() {
		if d.Finding.GradeAt(o.Unit(d.Machine).HoursNow(), now) == defect.Halt {
			n++
		}
	}
	return max(n, 1)
}

// haltedAt names the point, and the fault if there is one, of a Halt.
func (u *UnitState) haltedAt(d Defect) []text.Reason {
	c, ok := u.Sheet.Check(d.Check)
	if !ok {
		return nil // a failed test, which says itself what it was
	}
	if f, ok := c.Fault(d.Fault); ok {
		return []text.Reason{ruleFaultHalt.Says(c.Name, f.Name)}
	}
	return []text.Reason{ruleFindingHalt.Says(c.Name)}
}

// judgeUses sorts the uses into cleared and refused. A machine that no use is
// left to is on Halt; if it is the operator who may put it to none, somebody
// else takes it.
func (o *Outing) judgeUses(v *Verdict, standing []Defect, now time.Time) {
	left := 0 // uses that the machines themselves leave
	for _, use := range machine.Uses() {
		cleared, because := o.machinesFor(use, standing)
		if len(because) == 0 {
			left++
		}
		for _, u := range o.Units {
			if o.Ready() != nil {
				because = append(because, o.Ready().Forbids(u.Sheet, use, now)...)
			}
		}
		if len(because) > 0 {
			v.Refused = append(v.Refused, RefusedUse{Use: use, Because: because})
		} else {
			v.Cleared = append(v.Cleared, cleared)
		}
	}
	switch {
	case left == 0 && len(v.Halts) == 0:
		v.Halts = append(v.Halts, ruleNoUseLeft.Says())
		v.Grade = defect.Halt
	case left > 0 && len(v.Cleared) == 0:
		v.Missing = append(v.Missing, Missing{Reason: ruleNoUseForYou.Says(), Step: StageReady})
	}
}

// machinesFor is how far the machines of the outing may be put to a use, and
// why not if they may not.
func (o *Outing) machinesFor(use string, standing []Defect) (ClearedUse, []text.Reason) {
	cleared := ClearedUse{Use: use}
	var because []text.Reason
	for _, u := range o.Units {
		because = append(because, defect.Refuses(u.Sheet, o.restricting(u, standing), machine.Job{Use: use})...)
		built, ok := u.Sheet.Use(use)
		if !ok {
			continue
		}
		cleared.Source = built.Source
		if built.Only != nil {
			cleared.Only = append(cleared.Only, *built.Only)
		}
		if built.Limit != nil {
			parsed, _ := unit.Find(built.Unit)
			across := text.Measure{Unit: built.Unit, Quantity: parsed.Of(*built.Limit)}
			up := across
			if built.Up != nil {
				up.Quantity = parsed.Of(*built.Up)
			}
			cleared.Limit, cleared.Up = lesser(cleared.Limit, across), lesser(cleared.Up, up)
		}
	}
	if cleared.Up != nil && cleared.Up.Quantity == cleared.Limit.Quantity {
		cleared.Up = nil // the same whichever way it goes
	}
	return cleared, because
}

// lesser is the smaller of a limit so far, nil for none, and another.
func lesser(so *text.Measure, other text.Measure) *text.Measure {
	if so != nil && so.Quantity.Value <= other.Quantity.Value {
		return so
	}
	return &other
}

// restricting lists what stands against a unit that takes uses away, each with its
// point. Before the fourth edition of the rules a Halt took none away.
func (o *Outing) restricting(u *UnitState, standing []Defect) []defect.Restricted {
	var out []defect.Restricted
	for _, d := range standing {
		if d.Machine != u.Machine || d.Finding.Grade == defect.Halt && !o.House.Remembers() {
			continue
		}
		name := u.Sheet.Name // a restriction holds, whatever became of its point
		if c, ok := u.Sheet.Check(d.Check); ok {
			name = c.Name
		}
		for _, r := range d.Finding.Restrictions {
			out = append(out, defect.Restricted{Point: name, Restriction: r})
		}
	}
	return out
}

func (o *Outing) judgePerson(v *Verdict, now time.Time) {
	if o.Ready() == nil {
		v.Missing = append(v.Missing, Missing{Reason: ruleNotAsked.Says(), Step: StageReady})
		return
	}
	for _, r := range o.Unready(now) {
		v.Missing = append(v.Missing, Missing{Reason: r, Step: StageReady})
	}
}

// Unready is what keeps the operator from releasing the machines of the outing.
func (o *Outing) Unready(now time.Time) []text.Reason {
	return o.Ready().Missing(o.Sheets(), now)
}
