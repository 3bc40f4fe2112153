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

// exposed is what a person has taken in today, by the time that machines were out in
// their hands: more than the trigger time, so on the safe side.
func exposed(v *page.Visit, person string) (operator.Exposure, error) {
	var all operator.Exposure
	ids, err := v.Site.Store.RunBy(v.Context(), v.Yard.DayStart(v.Now), person)
	if err != nil {
		return all, err
	}
	for _, id := range ids {
		o, err := v.Site.Store.Outing(v.Context(), id)
		if err != nil {
			return all, err
		}
		shake, noise := figures(o)
		all = all.Plus(operator.At(o.RanBy(person, v.Now).Minutes(), shake, noise))
	}
	return all, nil
}

// figures are the vibration and the noise of the machines of an outing: the most of each.
func figures(o *outing.Outing) (shake, noise float64) {
	for _, u := range o.Units {
		shake, noise = max(shake, figure(u.Sheet, "vibration")), max(noise, figure(u.Sheet, "noise"))
	}
	return shake, noise
}

// exposureWords says how long the machines of an outing may be worked by its
// operator today: before vibration has to be acted on, and before noise would
// have to be without protection.
func exposureWords(v *page.Visit, o *outing.Outing) ([]string, error) {
	shake, noise := figures(o)
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
