package machine

// How often a point is looked at, and by whom.

// Who looks at a point.
const (
	ByOperator   = "operator"   // whoever takes the machine out
	ByTrained    = "trained"    // who has practised on this kind of machine
	ByTechnician = "technician" // a technician
)

// Interval is how often a point is looked at: whichever comes first. A point
// without one is looked at at every outing.
type Interval struct {
	// Days is a number of the yard's days: 1 is once a day, 7 once a week.
	Days int `json:"days,omitempty" jsonschema:"minimum=1,maximum=366"`
	// Hours is by the hour meter.
	Hours float64 `json:"hours,omitempty" jsonschema:"exclusiveMinimum=0,maximum=5000"`
	// Months is by the calendar.
	Months int `json:"months,omitempty" jsonschema:"minimum=1,maximum=60"`
	// FirstHours is once more, so many hours after a repair or from new.
	FirstHours float64 `json:"first_hours,omitempty" jsonschema:"exclusiveMinimum=0,maximum=500"`
	// After are events that ask for it.
	After  []string `json:"after,omitempty" jsonschema:"enum=repair"`
	Source Source   `json:"source" jsonschema:"enum=local_code,enum=manual,enum=house_rule,enum=trade_practice"`
}

// AfterRepair is the event of a machine that was returned to service.
const AfterRepair = "repair"

// empty reports whether nothing ever makes it due.
func (i *Interval) empty() bool {
	return i.Days == 0 && i.Hours == 0 && i.Months == 0 && i.FirstHours == 0 && len(i.After) == 0
}

// WhoLooks is who looks at the point.
func (c *Check) WhoLooks() string {
	if c.Who == "" {
		return ByOperator
	}
	return c.Who
}
