package yard

// A lead's duties, handed to somebody while no lead is there.

import (
	"time"

	"vespers/core/record"
	"vespers/core/text"
)

// dutiesMost is how far ahead duties are handed (house rule): longer than that is a
// change of role.
const dutiesMost = 92 * 24 * time.Hour

var (
	ruleNotStandIn = text.NewRule("duties.not_to_them", text.Slot{Name: "role", Kind: text.Term})
	ruleTooFar     = text.NewRule("duties.too_long")
	ruleNoneHanded = text.NewRule("duties.none")
)

// decide hands a lead's duties over, or takes them back. They go to somebody who may
// release machines alone; what nobody may do for a lead is in the table of who may.
func (c HandDuties) decide(s speech) ([]Decided, error) {
	p, err := here(s.View, c.Person)
	if err != nil {
		return nil, err
	}
	if c.Until == "" {
		if !s.At.Before(p.StandsIn) {
			return nil, record.Refuse(ruleNoneHanded.Says())
		}
		return just(DutiesHanded{ID: p.ID}), nil
	}
	if !p.MayStandIn() {
		return nil, record.Refuse(ruleNotStandIn.Says(text.Key("role." + string(p.Role))))
	}
	until, err := endOfDay(s, c.Until)
	if err != nil {
		return nil, err
	}
	if until.Sub(s.At) > dutiesMost {
		return nil, record.Refuse(ruleTooFar.Says())
	}
	return just(DutiesHanded{ID: p.ID, Until: until}), nil
}

// endOfDay is the end of a date that was typed, in the yard's zone; refused where there
// is no such date or it is over.
func endOfDay(s speech, date string) (time.Time, error) {
	settings, _ := s.Settings()
	zone, known := s.Zone(settings.Timezone)
	if !known {
		return time.Time{}, record.Refuse(ruleZone.Says())
	}
	day, err := time.ParseInLocation(time.DateOnly, date, zone)
	if err != nil || day.Before(s.At) && !sameDay(day, s.At.In(zone)) {
		return time.Time{}, record.Refuse(ruleDate.Says())
	}
	return day.AddDate(0, 0, 1).Add(-time.Second), nil
}

func sameDay(a, b time.Time) bool {
	return a.Year() == b.Year() && a.YearDay() == b.YearDay()
}
