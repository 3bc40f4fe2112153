package outings

// Hands and ears today, in words.

import (
	"vespers/core/machine"
	"vespers/core/operator"
	"vespers/core/outing"
	"vespers/tell"
	"vespers/web/page"
)

// figure is a number of a sheet in its own unit, 0 if it gives none.
func figure(sheet *machine.Sheet, id string) float64 {
	n, _ := sheet.Number(id)
	return n.Value
}

// exposed is what a person has taken in today, by the time their machines were
// out: more than the trigger time, so on the safe side.
func exposed(v *page.Visit, person string) (operator.Exposure, error) {
	var all operator.Exposure
	rows, _, err := v.Site.Store.TodayOf(v.Context(), v.Yard.DayStart(v.Now), person)
	if err != nil {
		return all, err
	}
	for _, o := range rows {
		if o.Operator != person || o.Released.IsZero() {
			continue
		}
		until := v.Now
		if !o.Ended.IsZero() {
			until = o.Ended
		}
		_, sheet, err := v.Site.Store.Described(v.Context(), o.Machine)
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
func exposureWords(v *page.Visit, o *outing.Outing) ([]string, error) {
	shake, noise := 0.0, 0.0
	for _, u := range o.Units {
		shake, noise = max(shake, figure(u.Sheet, "vibration")), max(noise, figure(u.Sheet, "noise"))
	}
	if shake == 0 && noise == 0 {
		return nil, nil
	}
	spent, err := exposed(v, o.Operator())
	if err != nil {
		return nil, err
	}
	var out []string
	if shake > 0 && !spent.Slight(shake) {
		action, limit := spent.Minutes(shake)
		key := "exposure.left"
		if action < 1 {
			key = "exposure.over"
		}
		out = append(out, v.T(key, "used", v.Number(100*spent.Vibration, 0), "action", tell.Minutes(v.Voice, action), "limit", tell.Minutes(v.Voice, limit)))
	}
	if noise > 0 {
		out = append(out, v.T("exposure.noise", "level", v.Number(noise, 0), "action", tell.Minutes(v.Voice, spent.NoiseMinutes(noise))))
	}
	return out, nil
}
