package outing_test

import (
	"testing"

	"vespers/core/defect"
	"vespers/core/machine"
	"vespers/core/machine/machinetest"
	"vespers/core/outing"
)

// TestWhatIsPlanned is read as it was typed, and refused where it says nothing.
func TestWhatIsPlanned(t *testing.T) {
	for name, c := range map[string]struct {
		say  outing.Intend
		want string // the plan, or the rule that refuses it
	}{
		"nothing":           {outing.Intend{}, ""},
		"a road":            {outing.Intend{Uses: []string{"road"}}, "road"},
		"a slope":           {outing.Intend{Uses: []string{"slope"}, Slope: "12,5"}, "slope:12.5"},
		"a wet one too":     {outing.Intend{Uses: []string{"wet_slope", "slope"}, Slope: "9"}, "slope:9 wet_slope:9"},
		"hours":             {outing.Intend{Hours: "3.5"}, "3.5 h"},
		"with its unit":     {outing.Intend{Hours: "90 min"}, "1.5 h"},
		"how steep":         {outing.Intend{Uses: []string{"slope"}}, "plan.how_steep"},
		"steeper than up":   {outing.Intend{Uses: []string{"slope"}, Slope: "91"}, "plan.how_steep"},
		"less than flat":    {outing.Intend{Uses: []string{"slope"}, Slope: "-1"}, "plan.how_steep"},
		"no number":         {outing.Intend{Uses: []string{"slope"}, Slope: "steep"}, "plan.how_steep"},
		"another use":       {outing.Intend{Uses: []string{"fly"}}, "plan.no_such_use"},
		"no hours":          {outing.Intend{Hours: "0"}, "plan.how_long"},
		"more than a day":   {outing.Intend{Hours: "24.1"}, "plan.how_long"},
		"a slope, no slope": {outing.Intend{Uses: []string{"road"}, Slope: "5"}, "road"},
	} {
		t.Run(name, func(t *testing.T) {
			m, err := c.say.Read()
			got := rule(err)
			if err == nil && m != nil {
				for _, use := range m.Uses {
					if got != "" {
						got += " "
					}
					got += use
				}
				if m.Hours > 0 {
					got = trimmed(m.Hours)
				}
			}
			if got != c.want {
				t.Errorf("%q, want %q", got, c.want)
			}
		})
	}
}

func trimmed(h float64) string { return machine.Job{Use: "", Degrees: &h}.String()[1:] + " h" }

// TestAJobIsRefusedAndNotTheMachine: what is found takes planned uses away, and hours
// past a deadline; it is released for the rest.
func TestAJobIsRefusedAndNotTheMachine(t *testing.T) {
	until := 102.0
	weep := outing.Carried{ID: "d", Check: "hydraulic_leaks", Finding: defect.Finding{Grade: defect.Mend, Deadline: defect.Deadline{Hours: &until},
		Restrictions: []machine.Restriction{machine.NoFineTurf}}}
	r := newRunner(t, machinetest.All(t)[0], weep)
	plan := func(i outing.Intend) map[string]string {
		r.must(i)
		out := map[string]string{}
		for _, j := range r.o.JobsRefused(r.now()) {
			out[j.Use] = string(j.Because[0].Rule)
		}
		return out
	}
	if got := plan(outing.Intend{Uses: []string{"fine_turf", "slope", "road"}, Slope: "14.9", Hours: "2.1"}); len(got) != 3 ||
		got["fine_turf"] != "release.restricted" || got["road"] != "release.not_built_for" || got["hours"] != "use.past_hours" {
		t.Errorf("%v", got)
	}
	if got := plan(outing.Intend{Uses: []string{"slope"}, Slope: "15", Hours: "1.5"}); len(got) != 1 || got["slope:15"] != "use.too_steep" {
		t.Errorf("%v", got)
	}
	r.until(r.stage(outing.StageVerdict))
	v := r.o.Judge(r.now())
	if v.Outcome != outing.Clear || len(v.Jobs) != 1 {
		t.Errorf("%s %v", v.Outcome, v.Jobs)
	}
	r.must(outing.Release{})
	if len(r.o.Verdict.Jobs) != 1 {
		t.Error("the release says nothing of it")
	}
	if got := plan(outing.Intend{}); len(got) != 0 {
		t.Errorf("nothing planned: %v", got)
	}
}
