package web

import (
	"fmt"

	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
)

// figure is a number of a sheet in its own unit, 0 if it gives none.
func figure(sheet *machine.Sheet, id string) float64 {
	for _, p := range sheet.Procedure {
		if p.ID == id {
			return p.Value
		}
	}
	return 0
}

// exposed is what a person has taken in today, by the time their machines were
// out: more than the trigger time, so on the safe side.
func (s *server) exposed(v *visit, person string) (operator.Exposure, error) {
	var all operator.Exposure
	rows, _, err := s.Store.TodayOf(v.ctx(), v.yard.DayStart(v.now), person)
	if err != nil {
		return all, err
	}
	for _, o := range rows {
		if o.Operator != person || o.Released.IsZero() {
			continue
		}
		until := v.now
		if !o.Ended.IsZero() {
			until = o.Ended
		}
		_, sheet, err := s.Store.Described(v.ctx(), o.Machine)
		if err != nil {
			return all, err
		}
		all = all.Plus(operator.At(until.Sub(o.Released).Minutes(), figure(sheet, "vibration"), figure(sheet, "noise")))
	}
	return all, nil
}

// exposureWords says how long the machines of an outing may be worked by its
// operator today: before vibration has to be acted on, and before noise would
// have to be without protection.
func (s *server) exposureWords(v *visit, o *outing.Outing) ([]string, error) {
	shake, noise := 0.0, 0.0
	for _, u := range o.Units {
		shake, noise = max(shake, figure(u.Sheet, "vibration")), max(noise, figure(u.Sheet, "noise"))
	}
	if shake == 0 && noise == 0 {
		return nil, nil
	}
	spent, err := s.exposed(v, o.Operator)
	if err != nil {
		return nil, err
	}
	var out []string
	if shake > 0 {
		action, limit := spent.Minutes(shake)
		key := "exposure.left"
		if action < 1 {
			key = "exposure.over"
		}
		out = append(out, v.T(key, "used", v.Number(100*spent.Vibration, 0), "action", hoursMinutes(v, action), "limit", hoursMinutes(v, limit)))
	}
	if noise > 0 {
		out = append(out, v.T("exposure.noise", "level", v.Number(noise, 0), "action", hoursMinutes(v, spent.NoiseMinutes(noise))))
	}
	return out, nil
}

// hoursMinutes writes minutes as hours and minutes.
func hoursMinutes(v *visit, minutes float64) string {
	if minutes < 1 {
		return v.T("exposure.under_a_minute")
	}
	return fmt.Sprintf("%d h %02d min", int(minutes)/60, int(minutes)%60)
}
