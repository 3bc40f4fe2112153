package page

// The zones that the morning's plan gives to somebody.

import "vespers/core/yard"

// ZoneJob is a zone in words, with what and when.
type ZoneJob struct{ When, Words, Zone string }

// ZoneJob is a job of the morning's plan.
func (v *Visit) ZoneJob(view yard.View, j yard.MorningJob) ZoneJob {
	m, _ := view.Machine(j.Machine)
	one, _ := yard.SiteOf(view).Feature(j.Zone)
	return ZoneJob{When: v.Clock(j.From) + "–" + v.Clock(j.Until), Words: v.T("morning.with", "zone", one.Name(), "machine", m.Name), Zone: j.Zone}
}

// ZonesToday are the visitor's own zones today.
func (v *Visit) ZonesToday(view yard.View) (out []ZoneJob) {
	m, _ := yard.MorningToday(view, v.Now)
	for _, j := range m.Jobs {
		if j.Operator == v.Person.ID {
			out = append(out, v.ZoneJob(view, j))
		}
	}
	return out
}
