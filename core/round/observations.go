package round

// What a round has shown, for finding out which switch it is.

import "vespers/core/interlock"

// Observations is what the unit's round has shown, as far as it counts: for
// finding out which switch it is.
func (s State) Observations() []interlock.Observation {
	yes, no := true, false
	var out []interlock.Observation
	for i, r := range s.Results {
		test := s.Plan.Tests[i]
		o := interlock.Observation{Test: test, Observed: &no}
		switch test.Kind {
		case interlock.Engage:
			o.AtFrom = &no
		case interlock.EngineStop, interlock.DriveStop:
			o.AtFrom = &yes
		}
		switch {
		case r.Outcome == "" || r.Outcome == Void:
			continue
		case r.Early:
			o.AtFrom, o.Observed = &yes, nil
		case r.Restarted:
			o.Restarted = &yes
		case r.Outcome == Failed && r.Seconds == nil:
			o.Observed = &yes
		case test.Return:
			o.Restarted = &no
		}
		out = append(out, o)
	}
	return out
}
