package inspect

// Readings: what was read, what the hour meter says, what may be read once more.

import (
	"errors"
	"strings"
	"time"

	"vespers/core/machine"
	"vespers/core/record"
	"vespers/core/text"
	"vespers/core/unit"
)

// The rules of readings.
var (
	RuleEmpty        = text.NewRule("reading.empty")
	RuleNotNumber    = text.NewRule("reading.not_a_number", text.Slot{Name: "typed", Kind: text.Name})
	RuleTwoWays      = text.NewRule("reading.two_ways", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "whole", Kind: text.Name})
	RuleWrongUnit    = text.NewRule("reading.wrong_unit", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "unit", Kind: text.Name})
	RuleRange        = text.NewRule("reading.out_of_range", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "low", Kind: text.Amount}, text.Slot{Name: "high", Kind: text.Amount})
	ruleHoursBack    = text.NewRule("reading.hours_back", text.Slot{Name: "last", Kind: text.Amount})
	ruleHoursFaster  = text.NewRule("reading.hours_faster", text.Slot{Name: "last", Kind: text.Amount}, text.Slot{Name: "at", Kind: text.Moment})
	ruleHoursForward = text.NewRule("reading.hours_jump", text.Slot{Name: "last", Kind: text.Amount})
)

// hoursJump is the most an hour meter may have moved since it was last known,
// in hours, before the entry is taken for a slip of the finger (house rule).
const hoursJump = 200

// Readings lists what was read, as it stands after anything put right.
func (s State) Readings() []Before {
	var out []Before
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for _, r := range c.Readings {
			if g, ok := s.Last(c.ID, r.ID); ok && g.Now().Value != nil {
				out = append(out, Before{Check: c.ID, Item: r.ID, Value: *g.Now().Value, At: g.Meta.At})
			}
		}
	}
	return out
}

// ReadBefore is the reading of the time before, or nil.
func (s State) ReadBefore(check, item string) *Before {
	for i := range s.Before {
		if s.Before[i].Check == check && s.Before[i].Item == item {
			return &s.Before[i]
		}
	}
	return nil
}

// meter is the point and the reading of the machine's hour meter; nil if it has
// none, or somebody found that it does not run.
func (s State) meter() (*machine.Check, *machine.Reading) {
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for j := range c.Readings {
			if c.Readings[j].Kind != "hours" {
				continue
			}
			if g, ok := s.Last(c.ID, ""); ok && g.Now().Answer == Fault {
				if f, ok := c.Fault(g.Now().Fault); ok && f.NoReading {
					return nil, nil
				}
			}
			return c, &c.Readings[j]
		}
	}
	return nil, nil
}

// HoursNow is the machine's hour meter, in hours: as read in this look, or as
// it was known before.
func (s State) HoursNow() float64 {
	hours, _ := s.HoursRead()
	return hours
}

// HoursRead is HoursNow, and whether it was read in this look, or said by a lead
// since.
func (s State) HoursRead() (hours float64, read bool) {
	hours = s.Hours
	if s.said {
		return hours, true
	}
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for _, r := range c.Readings {
			if g, ok := s.Last(c.ID, r.ID); ok && r.Kind == "hours" && g.Now().Value != nil {
				hours, read = r.UnitOf().In(g.Now().Value.Quantity), true
			}
		}
	}
	return hours, read
}

// ReadAt is when HoursNow was read, zero where that is not known.
func (s State) ReadAt() time.Time {
	at := s.HoursAt
	if s.said {
		return at
	}
	for i := range s.Sheet.Checks {
		c := &s.Sheet.Checks[i]
		for _, r := range c.Readings {
			if g, ok := s.Last(c.ID, r.ID); ok && r.Kind == "hours" && g.Now().Value != nil {
				at = g.Meta.At
			}
		}
	}
	return at
}

// readsMeter reports whether an answer reads the hour meter.
func (s State) readsMeter(e Answered) bool {
	c := s.checks[e.Check]
	if c == nil || e.Value == nil {
		return false
	}
	r, ok := c.Reading(e.Item)
	return ok && r.Kind == "hours"
}

// IsMeter reports whether a point holds the hour meter.
func (s State) IsMeter(check string) bool {
	c, _ := s.meter()
	return c != nil && c.ID == check
}

// MayMeasureAgain reports whether a reading may be taken once more: it was not
// sound, and is the first.
func (s State) MayMeasureAgain(check, item string) bool {
	given := s.points[place{check, item}]
	for _, g := range given {
		if g.Again || g.Right != nil {
			return false
		}
	}
	return s.taken(check, item) < takesMost && len(given) > 0 && given[len(given)-1].Answer == Read && given[len(given)-1].Finding.Extent != machine.Sound
}

func (s State) fitsRange(r *machine.Reading, v Value, now time.Time) error {
	low, high := r.Measure(r.Range[0]), r.Measure(r.Range[1])
	if v.Quantity.Value < low.Quantity.Value || v.Quantity.Value > high.Quantity.Value {
		return record.Refuse(RuleRange.Says(v.Typed, low, high))
	}
	if r.Kind != "hours" {
		return nil
	}
	return FitsMeter(s.Hours, s.HoursAt, r.UnitOf().In(v.Quantity), now)
}

// meterSlack is how far a meter may be ahead of the clock, in hours: it shows tenths,
// and was read while it ran (house rule).
const meterSlack = 0.2

// FitsMeter says whether an hour meter that was last known, at a time (zero: not
// known), may stand so now: it does not run back, not faster than the clock, and not
// far ahead. last and hours are in hours.
func FitsMeter(last float64, at time.Time, hours float64, now time.Time) error {
	known := text.Measure{Quantity: unit.Quantity{Value: last * 3600, Dimension: unit.Time}, Unit: "h"}
	switch {
	case hours < last-0.05:
		return record.Refuse(ruleHoursBack.Says(known))
	case !at.IsZero() && hours > last+max(0, now.Sub(at).Hours())+meterSlack:
		return record.Refuse(ruleHoursFaster.Says(known, at))
	case hours > last+hoursJump:
		return record.Refuse(ruleHoursForward.Says(known))
	}
	return nil
}

// ParseValue reads a typed reading for r. The unit is the one the operator was
// shown, unless they typed another of the same kind; the error is a
// *record.Refused.
func ParseValue(r *machine.Reading, typed, shown string) (*Value, error) {
	typed = strings.TrimSpace(typed)
	u, ok := unit.Find(shown)
	if !ok || u.Dimension != r.UnitOf().Dimension {
		u = r.UnitOf()
	}
	if reason, wrong := text.Wrong(typed, typedMost); wrong {
		return nil, record.Refuse(reason)
	}
	q, taken, err := unit.Parse(typed, u)
	switch {
	case errors.Is(err, unit.ErrEmpty):
		return nil, record.Refuse(RuleEmpty.Says())
	case errors.Is(err, unit.ErrUnit):
		return nil, record.Refuse(RuleWrongUnit.Says(typed, u.Symbol))
	case errors.Is(err, unit.ErrTwoWays):
		bare := strings.NewReplacer(".", "", ",", "").Replace(typed)
		return nil, record.Refuse(RuleTwoWays.Says(typed, bare))
	case err != nil:
		return nil, record.Refuse(RuleNotNumber.Says(typed))
	}
	return &Value{Typed: typed, Unit: taken.Symbol, Quantity: q}, nil
}

// typedMost is the longest number anybody types, in characters.
const typedMost = 40
