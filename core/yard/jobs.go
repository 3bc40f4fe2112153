package yard

// Planned uses that are refused before anybody walks, and who may do them instead.

import (
	"slices"
	"time"

	"vespers/core/defect"
	"vespers/core/interlock"
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/core/record"
	"vespers/core/text"
)

// RuleJob refuses to take a machine out for something it is not for today.
var RuleJob = text.NewRule("take_out.job", text.Slot{Name: "machine", Kind: text.Name}, text.Slot{Name: "use", Kind: text.Term})

// Refuses are the planned uses that a machine is not for as it stands in its bay, and
// the machines that may do all of them instead.
func (c TakeOut) Refuses(v View, who operator.Person, now time.Time) ([]outing.RefusedUse, []Substitute) {
	_, started, err := c.compose("", v, who, now)
	if err != nil || started.Plan == nil {
		return nil, nil
	}
	m, _ := v.Machine(c.Machine)
	return jobsRefused(v, started, now), Substitutes(v, m, *started.Plan, now)
}

// jobsRefused are the planned uses of an outing that begins, as its machines stand.
func jobsRefused(v View, started outing.Started, now time.Time) []outing.RefusedUse {
	if started.Plan == nil {
		return nil
	}
	o, err := imagined(v, started, now)
	if err != nil {
		return nil
	}
	return o.JobsRefused(now)
}

// imagined is the outing that would begin.
func imagined(v View, started outing.Started, now time.Time) (*outing.Outing, error) {
	return outing.Begin("", record.Meta{At: now}, started, func(key string) (*machine.Sheet, error) {
		sheet, ok := v.Sheet(key)
		if !ok {
			return nil, record.Refuse(ruleNoSheet.Says())
		}
		return sheet, nil
	})
}

// refuseJob refuses the first of planned uses that cannot be done.
func refuseJob(name string, refused []outing.RefusedUse) error {
	if len(refused) == 0 {
		return nil
	}
	use := refused[0].Use
	if job, ok := machine.ParseJob(use); ok {
		use = job.Use
	}
	return record.Refuse(RuleJob.Says(name, text.Key("use."+use)))
}

// Substitute is another machine of the kind that may do what was planned.
type Substitute struct {
	Machine
	// Out: it was released already, and Who has it; else it stands in its bay.
	Out bool
	Who string
}

// Substitutes lists the machines of the same kind that may do all of a plan now: those
// in their bays first, then those that are out and released.
func Substitutes(v View, of Machine, plan outing.Meant, now time.Time) []Substitute {
	kind, ok := v.Sheet(of.Sheet)
	if !ok {
		return nil
	}
	var out []Substitute
	for _, m := range v.Machines() {
		sheet, ok := v.Sheet(m.Sheet)
		if m.ID == of.ID || !ok || sheet.Family != kind.Family || m.GradeAt(now) == defect.Halt || keeps(v, m, now) || !bears(v, m, sheet, plan, now) {
			continue
		}
		s := Substitute{Machine: m}
		if m.Outing != "" {
			o, ok := v.Outing(m.Outing)
			if !ok || o.Status != outing.Out {
				continue
			}
			s.Out, s.Who = true, o.Operator()
		}
		out = append(out, s)
	}
	slices.SortStableFunc(out, func(a, b Substitute) int {
		switch {
		case a.Out == b.Out:
			return 0
		case b.Out:
			return -1
		}
		return 1
	})
	return out
}

// keeps reports whether something overdue keeps a machine in.
func keeps(v View, m Machine, now time.Time) bool {
	return slices.ContainsFunc(DueOn(v, m, now), Due.Keeps)
}

// bears reports whether a machine as it stands may do all of a plan.
func bears(v View, m Machine, sheet *machine.Sheet, plan outing.Meant, now time.Time) bool {
	var standing []defect.Restricted
	var findings []defect.Finding
	for _, d := range v.OpenDefects(m.ID) {
		findings = append(findings, d.Finding)
		for _, r := range d.Finding.Restrictions {
			standing = append(standing, defect.Restricted{Restriction: r})
		}
	}
	for _, use := range plan.Uses {
		job, ok := machine.ParseJob(use)
		if !ok || len(defect.Refuses(sheet, standing, job)) > 0 {
			return false
		}
	}
	meter := &m.Hours
	if !sheet.Metered() {
		meter = nil
	}
	return len(defect.Over(findings, m.Hours, now).Deadline.Outlasts(plan.Hours, meter, now)) == 0
}

// AsItStands judges a machine as it stands in its bay, with what would carry it: what it
// is cleared for before anybody has looked. ok is false where it would not go out.
func AsItStands(v View, id, carrier string, now time.Time) (verdict outing.Verdict, ok bool) {
	settings, _ := v.Settings()
	started := outing.Started{House: settings.House}
	started.House.Edition = defect.Edition
	for _, one := range []string{id, carrier} {
		if one == "" {
			continue
		}
		m, err := standing(v, one, now)
		if err != nil {
			return verdict, false
		}
		started.Units = append(started.Units, outing.Unit{Machine: m.ID, Name: m.Name, Sheet: m.Hash, Hours: m.Hours, Carried: m.Carried, Round: interlock.NoTests()})
	}
	o, err := imagined(v, started, now)
	if err != nil {
		return verdict, false
	}
	return o.Judge(now), true
}
