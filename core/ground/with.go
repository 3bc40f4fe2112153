package ground

// Reading the machines and people that a site is asked for.

import (
	"slices"
	"time"

	"vespers/core/machine"
	"vespers/core/strict"
	"vespers/core/text"
)

var (
	ruleSetbacks = text.NewRule("ground.two_setbacks", whereSlot)
	ruleOverlap  = text.NewRule("ground.overlap", whereSlot)
	ruleShare    = text.NewRule("ground.efficiency", whereSlot)
)

// With is who and what a site is asked for, and when; At is zero where nobody says.
type With struct {
	At       time.Time
	House    House
	Machines []Machine
	People   []Person
}

// ReadWith reads what a site is asked for; the error is a *record.Refused.
func ReadWith(data []byte) (With, error) {
	file, top := strict.Read(data)
	r := reader{file}
	r.Known(top, "at", "house", "machines", "people")
	w := With{House: Ruled()}
	if top.Has("at") {
		w.At = r.instant(top, "at")
	}
	if top.Has("house") {
		r.house(r.Object(top, "house", "needed", "setback", "turning", "overhead_m", "roadside_m"), &w.House)
	}
	seen := map[string]bool{}
	for _, o := range r.Objects(top, "machines", r.List(top, "machines")) {
		m := r.machine(o)
		r.Unique(seen, m.ID, o.At("id"))
		w.Machines = append(w.Machines, m)
	}
	known := map[string]bool{}
	for _, o := range r.Objects(top, "people", r.List(top, "people"), "id", "machines", "slope_practice") {
		p := Person{ID: r.Unique(known, r.Word(o, "id"), o.At("id")), Machines: r.Words(o, "machines", r.List(o, "machines")),
			Practised: r.Words(o, "slope_practice", r.List(o, "slope_practice"))}
		for _, id := range slices.Concat(p.Machines, p.Practised) {
			if !seen[id] {
				r.Unknown(o.Where, id, ids(w.Machines))
			}
		}
		w.People = append(w.People, p)
	}
	return w, r.Err
}

func ids(machines []Machine) (out []string) {
	for _, m := range machines {
		out = append(out, m.ID)
	}
	return out
}

func (r reader) house(o *strict.Object, h *House) {
	if o.Has("needed") {
		h.Needed = r.whole(o, "needed")
	}
	if o.Has("setback") {
		s := r.Object(o, "setback", "cutting_widths", "machine_widths")
		if s.Has("cutting_widths") == s.Has("machine_widths") {
			r.Refuse(ruleSetbacks.Says(s.Where))
		}
		h.CuttingWidths, h.MachineWidths = 0, 0
		for word, to := range map[string]*float64{"cutting_widths": &h.CuttingWidths, "machine_widths": &h.MachineWidths} {
			if s.Has(word) {
				*to = r.Positive(s, word)
			}
		}
	}
	if o.Has("turning") {
		h.Turning = r.OneOf(o, "turning", NoTurning, TurnUphill)
	}
	if o.Has("overhead_m") {
		h.Overhead = r.Needed(o, "overhead_m")
	}
	if o.Has("roadside_m") {
		h.Roadside = r.Needed(o, "roadside_m")
	}
}

// perhaps is a number that may be left out, nil then.
func perhaps(o *strict.Object, word string, read func(*strict.Object, string) float64) *float64 {
	if !o.Has(word) {
		return nil
	}
	n := read(o, word)
	return &n
}

func (r reader) machine(o *strict.Object) Machine {
	r.Known(o, "id", "released", "does", "uses", "restrictions", "options", "conditions", "slope", "width_m", "cut_m", "setback_m",
		"exclusion_m", "reach_m", "reach_u", "height_m", "height_u", "hand_dig_m", "work")
	for _, word := range []string{"released", "does"} {
		if !o.Has(word) {
			r.Missing(o, word)
		}
	}
	m := Machine{ID: r.Word(o, "id"), Released: r.Yes(o, "released"), Does: r.words(o, "does", Works()), Uses: r.words(o, "uses", machine.Uses()),
		Restrictions: r.words(o, "restrictions", restrictions()), Conditions: r.words(o, "conditions", Conditions()),
		Width: r.Positive(o, "width_m"), Cut: perhaps(o, "cut_m", r.Positive), Setback: perhaps(o, "setback_m", r.Needed),
		Exclusion: r.Needed(o, "exclusion_m"), Reach: r.beside(o, "reach"), Height: r.beside(o, "height"), HandDig: HandDig}
	if o.Has("options") {
		m.Options = r.ways(o, "options")
	}
	if o.Has("slope") {
		m.Slope = r.slope(r.Object(o, "slope", "tiers", "wet", "off", "direction"))
	}
	if o.Has("hand_dig_m") {
		m.HandDig = r.Needed(o, "hand_dig_m")
	}
	if o.Has("work") {
		m.Pace = r.pace(r.Object(o, "work", "km_h", "overlap_m", "efficiency", "setup_min", "burn_l_h"), m.Cut)
	}
	return m
}

func restrictions() (out []string) {
	for _, one := range machine.Restrictions() {
		out = append(out, string(one))
	}
	return out
}

// words are those of a list, each one of those known and there once.
func (r reader) words(o *strict.Object, word string, known []string) []string {
	out := r.Words(o, word, r.List(o, word))
	seen := map[string]bool{}
	for _, one := range out {
		if !slices.Contains(known, one) {
			r.Unknown(o.At(word), one, known)
		}
		r.Unique(seen, one, o.At(word))
	}
	return out
}

// beside is a length in metres with its doubt beside it, nil where nobody knows it. A
// doubt alone says nothing.
func (r reader) beside(o *strict.Object, word string) *Measured {
	if !o.Has(word + "_m") {
		if o.Has(word + "_u") {
			r.Missing(o, word+"_m")
		}
		return nil
	}
	return &Measured{r.Positive(o, word+"_m"), r.Needed(o, word+"_u")}
}

func (r reader) pace(o *strict.Object, cut *float64) Pace {
	p := Pace{perhaps(o, "km_h", r.Positive), perhaps(o, "overlap_m", r.Needed), perhaps(o, "efficiency", r.Positive), perhaps(o, "setup_min", r.Needed), perhaps(o, "burn_l_h", r.Needed)}
	if p.Overlap != nil && cut != nil && !below(*p.Overlap, *cut) {
		r.Refuse(ruleOverlap.Says(o.At("overlap_m")))
	}
	if p.Efficiency != nil && !within(*p.Efficiency, 1) {
		r.Refuse(ruleShare.Says(o.At("efficiency")))
	}
	return p
}
