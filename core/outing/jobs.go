package outing

// What the machines are meant for today: asked when they are taken out, so that what a
// defect takes away, and the hours until a deadline, are known before anybody walks.

import (
	"math"
	"slices"
	"strings"
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// Meant is what the machines are meant for today.
type Meant struct {
	// Uses are jobs, as machine.ParseJob reads them.
	Uses []string `json:"uses,omitempty"`
	// Hours of work, 0 where nobody said.
	Hours float64 `json:"hours,omitempty"`
}

// Intend says what the machines are meant for. Uses are uses of the sheets, Slope how
// steep in degrees, Hours how long; both as typed.
type Intend struct {
	Uses         []string
	Slope, Hours string
}

// Act implements Command.
func (Intend) Act() operator.Act { return operator.Work }

// Planned says what the machines are meant for from now on.
type Planned struct {
	Meant
}

// Kind implements record.Event.
func (Planned) Kind() string { return "planned" }

var _ = record.Register(Planned{})

// plannedMost is how many hours of work anybody plans for a day.
const plannedMost = 24

var (
	ruleUse     = text.NewRule("plan.no_such_use")
	ruleSlope   = text.NewRule("plan.how_steep")
	rulePlanned = text.NewRule("plan.how_long", text.Slot{Name: "most", Kind: text.Count})
)

// Read is the plan as it will be recorded, nil where nothing was said; the error is a
// *record.Refused.
func (p Intend) Read() (*Meant, error) {
	var m Meant
	for _, use := range machine.Uses() {
		if !slices.Contains(p.Uses, use) {
			continue
		}
		if machine.Steep(use) {
			degrees, err := number(p.Slope, "°")
			if err != nil || degrees == nil || *degrees < 0 || *degrees > 90 {
				return nil, record.Refuse(ruleSlope.Says())
			}
			use = machine.Job{Use: use, Degrees: degrees}.String()
		}
		m.Uses = append(m.Uses, use)
	}
	for _, use := range p.Uses {
		if !slices.Contains(machine.Uses(), use) {
			return nil, record.Refuse(ruleUse.Says())
		}
	}
	hours, err := number(p.Hours, "h")
	if err != nil || hours != nil && (*hours <= 0 || *hours > plannedMost) {
		return nil, record.Refuse(rulePlanned.Says(plannedMost))
	}
	if hours != nil {
		m.Hours = *hours
	}
	if len(m.Uses) == 0 && m.Hours == 0 {
		return nil, nil
	}
	return &m, nil
}

// number is a number that was typed in a unit, nil for nothing.
func number(words, symbol string) (*float64, error) {
	if strings.TrimSpace(words) == "" {
		return nil, nil
	}
	u, _ := unit.Find(symbol)
	q, _, err := unit.Parse(words, u)
	if err != nil {
		return nil, err
	}
	v := math.Round(u.In(q)*1e9) / 1e9 // there and back changes the last digits
	return &v, nil
}

type planStage struct{ quiet }

func (planStage) decide(o *Outing, c Command, _ speech) ([]record.Event, bool, error) {
	plan, mine := c.(Intend)
	if !mine {
		return pass()
	}
	m, err := plan.Read()
	if err != nil {
		return nil, true, err
	}
	if m == nil {
		m = &Meant{}
	}
	return one(Planned{*m}, nil)
}

func (planStage) apply(o *Outing, _ record.Meta, e record.Event) bool {
	planned, mine := e.(Planned)
	if mine {
		o.Plan = &planned.Meant
	}
	return mine
}

// JobsRefused are the planned uses that the machines are not for, or their operator not
// with them, and hours of work that end after a deadline. No grade is worse for it,
// and no release is refused.
func (o *Outing) JobsRefused(now time.Time) []RefusedUse {
	if o.Plan == nil {
		return nil
	}
	standing := o.Defects()
	var out []RefusedUse
	for _, use := range o.Plan.Uses {
		job, ok := machine.ParseJob(use)
		if !ok {
			continue // of a later program
		}
		var because []text.Reason
		for _, u := range o.Units {
			because = append(because, defect.Refuses(u.Sheet, o.restricting(u, standing), job)...)
			if r := o.Ready(); r != nil {
				because = append(because, r.Forbids(u.Sheet, job.Use, now)...)
			}
		}
		if len(because) > 0 {
			out = append(out, RefusedUse{Use: use, Because: because})
		}
	}
	var because []text.Reason
	for _, u := range o.Units {
		because = append(because, o.until(u, standing, now).Outlasts(o.Plan.Hours, u.metered(), now)...)
	}
	if o.Plan.Hours > 0 && len(because) > 0 {
		out = append(out, RefusedUse{Use: defect.UseHours, Because: because})
	}
	return out
}

// until is the first deadline of a machine's Mends.
func (o *Outing) until(u *UnitState, standing []Defect, now time.Time) defect.Deadline {
	var findings []defect.Finding
	for _, d := range standing {
		if d.Machine == u.Machine {
			findings = append(findings, d.Finding)
		}
	}
	return defect.Over(findings, u.HoursNow(), now).Deadline
}

// metered is the machine's hour meter now, nil where none runs.
func (u *UnitState) metered() *float64 {
	if !u.Sheet.Metered() {
		return nil
	}
	hours := u.HoursNow()
	return &hours
}
