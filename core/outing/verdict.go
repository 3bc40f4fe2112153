package outing

import (
	"time"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
	"vespers/core/walk"
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
	Cleared      []ClearedUse          `json:"cleared,omitempty"`
	Refused      []RefusedUse          `json:"refused,omitempty"`
	Restrictions []machine.Restriction `json:"restrictions,omitempty"`
	Deadline     defect.Deadline       `json:"deadline"`
	// Hours is the hour meter read in the outing, in hours.
	Hours float64 `json:"hours,omitempty"`
}

// The steps a Missing points to.
const (
	StepReady   = "ready"
	StepWalk    = "walk"
	StepRound   = "round"
	StepRunning = "running"
)

// Missing is one thing that keeps an outing from release, and the step where
// it is mended.
type Missing struct {
	Reason  text.Reason `json:"reason"`
	Step    string      `json:"step"`
	Machine string      `json:"machine,omitempty"`
	Check   string      `json:"check,omitempty"`
}

// ClearedUse is a use the machines may be put to.
type ClearedUse struct {
	Use    string         `json:"use"`
	Limit  *text.Measure  `json:"limit,omitempty"`
	Source machine.Source `json:"source"`
}

// RefusedUse is a use they may not, and why.
type RefusedUse struct {
	Use     string        `json:"use"`
	Because []text.Reason `json:"because"`
}

// The rules of release.
var (
	ruleNotAsked    = text.NewRule("release.not_ready")
	ruleOpenPoints  = text.NewRule("release.points_open", text.Slot{Name: "count", Kind: text.Count}, text.Slot{Name: "first", Kind: text.Words})
	ruleSettings    = text.NewRule("release.setting_left", text.Slot{Name: "do", Kind: text.Words})
	ruleTestsOpen   = text.NewRule("release.tests_open", text.Slot{Name: "count", Kind: text.Count}, text.Slot{Name: "all", Kind: text.Count})
	ruleVoid        = text.NewRule("release.round_void")
	ruleNotStarted  = text.NewRule("release.engine_not_started")
	ruleFindingHalt = text.NewRule("release.halt_at_point", text.Slot{Name: "point", Kind: text.Words})
	ruleFaultHalt   = text.NewRule("release.halt_by_fault", text.Slot{Name: "point", Kind: text.Words}, text.Slot{Name: "fault", Kind: text.Words})
	ruleRestricted  = text.NewRule("release.restricted", text.Slot{Name: "point", Kind: text.Words}, text.Slot{Name: "restriction", Kind: text.Term})
	ruleNotBuilt    = text.NewRule("release.not_built_for", text.Slot{Name: "machine", Kind: text.Words})
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
	o.judgePerson(&v, now)
	for _, u := range o.Units {
		u.judgePoints(&v, machine.Cold, StepWalk)
		u.judgeRound(&v)
		u.judgePoints(&v, machine.KeyOn, StepRunning)
		u.judgePoints(&v, machine.Running, StepRunning)
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
		grade, reasons := d.Finding.Grade, d.Finding.Reasons
		if grade == defect.Mend && d.Finding.Deadline.Passed(u.HoursNow(), now) {
			grade, reasons = defect.Halt, append([]text.Reason{ruleMendPassed.Says()}, reasons...)
		}
		v.Grade = defect.Worse(v.Grade, grade)
		if grade == defect.Halt {
			v.Halts = append(append(v.Halts, u.haltedAt(d)...), reasons...)
			continue
		}
		v.Deadline = v.Deadline.Earlier(d.Finding.Deadline)
		v.Restrictions = defect.Union(v.Restrictions, d.Finding.Restrictions)
	}
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
			if o.Ready != nil {
				because = append(because, o.Ready.Forbids(u.Sheet, use, now)...)
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
		v.Missing = append(v.Missing, Missing{Reason: ruleNoUseForYou.Says(), Step: StepReady})
	}
}

// machinesFor is how far the machines of the outing may be put to a use, and
// why not if they may not.
func (o *Outing) machinesFor(use string, standing []Defect) (ClearedUse, []text.Reason) {
	cleared := ClearedUse{Use: use}
	var because []text.Reason
	for _, u := range o.Units {
		built, ok := u.Sheet.Use(use)
		if !ok {
			because = append(because, ruleNotBuilt.Says(u.Sheet.Name))
			continue
		}
		cleared.Source = built.Source
		if built.Limit != nil {
			parsed, _ := unit.Find(built.Unit)
			limit := text.Measure{Unit: built.Unit, Quantity: parsed.Of(*built.Limit)}
			if cleared.Limit == nil || limit.Quantity.Value < cleared.Limit.Quantity.Value {
				cleared.Limit = &limit
			}
		}
		because = append(because, u.restrictedBy(standing, use)...)
	}
	return cleared, because
}

// restrictedBy is why a unit may not be put to a use it is built for.
func (u *UnitState) restrictedBy(standing []Defect, use string) []text.Reason {
	var out []text.Reason
	for _, d := range standing {
		if d.Machine != u.Machine || d.Finding.Grade == defect.Halt {
			continue
		}
		for _, r := range d.Finding.Restrictions {
			forbids := r.Forbids() == use || r == machine.NoSlope && use == "wet_slope"
			if c, ok := u.Sheet.Check(d.Check); ok && forbids {
				out = append(out, ruleRestricted.Says(c.Name, text.Key("restriction."+string(r))))
			}
		}
	}
	return out
}

func (o *Outing) judgePerson(v *Verdict, now time.Time) {
	if o.Ready == nil {
		v.Missing = append(v.Missing, Missing{Reason: ruleNotAsked.Says(), Step: StepReady})
		return
	}
	for _, r := range o.Unready(now) {
		v.Missing = append(v.Missing, Missing{Reason: r, Step: StepReady})
	}
}

// shortMove is how long a machine may have been out without having worked: a
// move across the yard leaves it as cool as it was (house rule).
const shortMove = time.Minute

// WorkedUntil reports whether the machines worked, if they come home at a time.
func (o *Outing) WorkedUntil(home time.Time) bool {
	return o.Verdict != nil && home.Sub(o.Release.At) >= shortMove
}

// NeedsSecond reports whether somebody else has to release the outing, because
// its operator may not do so alone.
func (o *Outing) NeedsSecond() bool { return o.Ready != nil && !o.Ready.Role.MayRelease() }

// Unready is what keeps the operator from releasing the machines of the outing.
func (o *Outing) Unready(now time.Time) []text.Reason {
	var sheets []*machine.Sheet
	for _, u := range o.Units {
		sheets = append(sheets, u.Sheet)
	}
	return o.Ready.Missing(sheets, now)
}

// judgePoints asks for the open points of a phase and for settings left where
// they must not stay.
func (u *UnitState) judgePoints(v *Verdict, phase machine.Phase, step string) {
	var open []*machine.Check
	var undone []text.Text
	for _, stop := range u.Left(phase) {
		if stop.Do == walk.Check {
			c, _ := u.Sheet.Check(stop.ID)
			open = append(open, c)
			continue
		}
		s, _ := u.Sheet.Setting(stop.ID)
		way, _ := s.Way(stop.To)
		undone = append(undone, way.Do)
	}
	switch {
	case len(open) > 0:
		v.Missing = append(v.Missing, Missing{Reason: ruleOpenPoints.Says(len(open), open[0].Name), Step: step, Machine: u.Machine, Check: open[0].ID})
	case len(undone) > 0:
		v.Missing = append(v.Missing, Missing{Reason: ruleSettings.Says(undone[0]), Step: step, Machine: u.Machine})
	}
}

func (u *UnitState) judgeRound(v *Verdict) {
	r := &u.Round
	if r.Done() || r.FailedTest() >= 0 {
		return
	}
	missing := Missing{Step: StepRound, Machine: u.Machine}
	left := 0
	for _, res := range r.Results {
		if res.Outcome != Passed {
			left++
		}
	}
	switch {
	case r.WouldNotCrank:
		missing.Reason = ruleVoid.Says()
	case left == 0:
		missing.Reason = ruleNotStarted.Says()
	default:
		missing.Reason = ruleTestsOpen.Says(left, len(r.Results))
	}
	v.Missing = append(v.Missing, missing)
}

// HoursNow is the machine's hour meter, in hours: as read in this outing, or
// as it was known before.
func (u *UnitState) HoursNow() float64 {
	hours := u.Hours
	for i := range u.Sheet.Checks {
		c := &u.Sheet.Checks[i]
		for _, r := range c.Readings {
			if g, ok := u.last(c.ID, r.ID); ok && r.Kind == "hours" && g.now().Value != nil {
				hours = r.UnitOf().In(g.now().Value.Quantity)
			}
		}
	}
	return hours
}

func seconds(s float64) text.Measure {
	return text.Measure{Quantity: unit.Quantity{Value: s, Dimension: unit.Time}, Unit: "s"}
}

// Stage is the step an outing is at. Each step is done for every machine of the
// outing before the next begins.
func (o *Outing) Stage() string {
	switch {
	case o.Status != Open:
		return "verdict"
	case o.Ready == nil:
		return StepReady
	}
	for _, step := range []string{StepWalk, StepRound, StepRunning} {
		if o.At(step) != nil {
			return step
		}
	}
	return "verdict"
}

// At is the machine that a step goes on with, or nil if it is done for all.
// Rounds begin with the machine that has the engine, which moves the others.
func (o *Outing) At(step string) *UnitState {
	var later *UnitState
	for _, u := range o.Units {
		switch {
		case !u.has(step):
		case step == StepRound && u.With != "":
			// tested in its carrier's round
		case step != StepRound || u.Round.Engine:
			return u
		case later == nil:
			later = u
		}
	}
	return later
}

// Main is the machine that an outing is named after: the implement, if one is
// carried.
func (o *Outing) Main() *UnitState {
	for _, u := range o.Units {
		if u.Sheet.Carrier != nil {
			return u
		}
	}
	return o.Units[0]
}

// has reports whether the step is not done for this machine.
func (u *UnitState) has(step string) bool {
	failed := u.Round.FailedTest() >= 0
	switch step {
	case StepWalk:
		return u.anyLeft(machine.Cold)
	case StepRound:
		return !failed && !u.Round.Done()
	case StepRunning:
		return !failed && (u.anyLeft(machine.KeyOn) || u.anyLeft(machine.Running))
	}
	return false
}

// anyLeft reports whether Left has anything, which is asked after every answer.
func (u *UnitState) anyLeft(phase machine.Phase) bool {
	for _, stop := range u.Route {
		if stop.Phase == phase && stop.Do == walk.Check && len(u.Open(stop.ID)) > 0 {
			return true
		}
	}
	return len(u.Left(phase)) > 0
}
