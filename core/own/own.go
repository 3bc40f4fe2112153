// Package own makes a yard's own model: a sheet like one there is, with the numbers
// of a machine's paper manual, without what that machine does not have. Every number
// is typed with its page or kept knowingly; a number nobody spoke of is refused.
package own

import (
	"errors"
	"hash/fnv"
	"maps"
	"slices"
	"strconv"
	"strings"

	"vespers/core/machine"
	"vespers/core/text"
	"vespers/core/unit"
)

// Spec is what somebody says of their model, as it was typed.
type Spec struct {
	ID, Edition  string // as ID and Edition make them
	Name, Manual string
	By, On       string // who made it; the day, as YYYY-MM-DD
	// Figures are by their paths, Left by the ids of points, Fixed by option.
	Figures map[string]Figure
	Left    map[string]Left
	Fixed   machine.Chosen
	// Settled says why an option is settled so, by option.
	Settled map[string]string
}

// Figure is a number as somebody took it from a manual, with where it stands there;
// Kept is that the manual says nothing, and the other sheet's is the house rule.
type Figure struct {
	Typed, Page string
	Kept        bool
}

// Left says why a point is left out: machine.NotFitted or machine.NotLooked, and in
// somebody's words.
type Left struct{ Kind, Why string }

// Problem is something said that cannot be so. Field is name, manual, figures/PATH,
// left/CHECK, fixed/OPTION or settled/OPTION.
type Problem struct {
	Field  string
	Reason text.Reason
}

// The most that a name, a title of a manual, a page and a reason may be long, in
// characters.
const (
	nameMost   = 60
	manualMost = 120
	pageMost   = 40
	whyMost    = 200
)

var (
	ruleName     = text.NewRule("own.name_needed")
	ruleManual   = text.NewRule("own.manual_needed")
	ruleFigure   = text.NewRule("own.figure_needed")
	ruleBoth     = text.NewRule("own.figure_and_kept")
	rulePage     = text.NewRule("own.page_needed")
	ruleNumber   = text.NewRule("own.not_a_number", text.Slot{Name: "typed", Kind: text.Name})
	ruleTwoWays  = text.NewRule("own.two_ways", text.Slot{Name: "typed", Kind: text.Name})
	ruleUnit     = text.NewRule("own.unit_differs", text.Slot{Name: "typed", Kind: text.Name}, text.Slot{Name: "unit", Kind: text.Name})
	ruleWhole    = text.NewRule("own.whole_months")
	ruleWhy      = text.NewRule("own.why_needed")
	ruleSettled  = text.NewRule("own.settled_why")
	ruleKind     = text.NewRule("own.kind_needed")
	ruleDecides  = text.NewRule("own.decides_safety", text.Slot{Name: "point", Kind: text.Words})
	ruleSwitch   = text.NewRule("own.holds_a_switch", text.Slot{Name: "point", Kind: text.Words})
	ruleOption   = text.NewRule("own.no_such_way")
	ruleTaken    = text.NewRule("own.name_taken")
	ruleNoPoints = text.NewRule("own.no_points_left")
)

// maker makes one model.
type maker struct {
	spec  Spec
	sheet *machine.Sheet
	found []Problem
}

func (m *maker) add(field string, r text.Reason) { m.found = append(m.found, Problem{field, r}) }

// Make makes the model of a sheet that was said, or tells what is wrong with what was
// said. Whether what comes of it can be used at all is for who checks sheets.
func Make(of *machine.Sheet, hash string, spec Spec) (*machine.Sheet, []Problem) {
	m := &maker{spec: spec, sheet: of.Copy()}
	s := m.sheet
	from := machine.Made{Of: s.ID, Edition: s.Edition, Hash: hash, Manual: m.typed("manual", spec.Manual, manualMost, ruleManual), By: spec.By, On: spec.On}
	from.Fixed, from.Settled = machine.Chosen{}, map[string]string{}
	if s.Made != nil { // what was left out and settled there is so here
		from.Left = slices.Clone(s.Made.Left)
		maps.Copy(from.Fixed, s.Made.Fixed)
		maps.Copy(from.Settled, s.Made.Settled)
	}
	name := m.typed("name", spec.Name, nameMost, ruleName)
	from.Pages = m.figures() // before anything is taken out: their places are the other sheet's
	for option, way := range spec.Fixed {
		if !s.Fix(option, way) {
			m.add("fixed/"+option, ruleOption.Says())
		}
		from.Settled[option] = m.typed("settled/"+option, spec.Settled[option], whyMost, ruleSettled)
	}
	if maps.Copy(from.Fixed, spec.Fixed); len(from.Fixed) == 0 {
		from.Fixed = nil
	}
	from.Left = append(from.Left, m.leave()...)
	s.ID, s.Edition, s.Name, s.Kits = spec.ID, spec.Edition, text.Text{EN: name, ES: name}, nil
	if s.Made = &from; len(m.found) > 0 {
		return nil, m.found
	}
	return s, nil
}

// typed is a text that has to be there.
func (m *maker) typed(field, typed string, most int, needed text.Rule) string {
	typed = strings.TrimSpace(typed)
	if reason, wrong := text.Wrong(typed, most); wrong {
		m.add(field, reason)
	} else if typed == "" || strings.ContainsAny(typed, "\n\t") {
		m.add(field, needed.Says())
	}
	return typed
}

// leave takes out what is left out.
func (m *maker) leave() (out []machine.LeftOut) {
	var gone []string
	for _, c := range m.sheet.Checks {
		left, said := m.spec.Left[c.ID]
		if !said {
			continue
		}
		field := "left/" + c.ID
		switch {
		case left.Kind != machine.NotFitted && left.Kind != machine.NotLooked:
			m.add(field, ruleKind.Says())
		case len(c.Switches) > 0:
			m.add(field, ruleSwitch.Says(c.Name))
		case left.Kind == machine.NotLooked && c.Class.Decides():
			m.add(field, ruleDecides.Says(c.Name))
		}
		why := m.typed(field, left.Why, whyMost, ruleWhy)
		gone = append(gone, c.ID)
		out = append(out, machine.LeftOut{Check: c.ID, Name: c.Name, Class: c.Class, Kind: left.Kind, Why: why})
	}
	if m.sheet.Without(gone...); len(m.sheet.Checks) == 0 {
		m.add("left", ruleNoPoints.Says())
	}
	return out
}

// figures sets every number that the model will have, and gives where each stands in
// the manual. Where one of two that share a source was kept, both are the house's.
func (m *maker) figures() map[string]string {
	pages := map[string]string{}
	var kept []machine.Figure
	for _, f := range m.sheet.Figures() {
		field, said := "figures/"+f.Path, m.spec.Figures[f.Path]
		typed := strings.TrimSpace(said.Typed)
		switch {
		case !m.stays(&f):
		case said.Kept && typed != "" && !sameAs(&f, typed):
			m.add(field, ruleBoth.Says())
		case said.Kept:
			kept = append(kept, f)
		case typed == "":
			m.add(field, ruleFigure.Says())
		default:
			value, reason := Read(&f, typed)
			if reason != nil {
				m.add(field, *reason)
				continue
			}
			pages[f.Under(m.spec.Fixed)] = m.typed(field, said.Page, pageMost, rulePage)
			f.Set(value, machine.Manual)
			widen(&f, value)
		}
	}
	for _, f := range kept {
		if f.Source != machine.LocalCode { // which no silence of a manual weakens
			f.Set(f.Value(), machine.HouseRule)
		}
	}
	return pages
}

// stays reports whether a figure is one of the model's: of no other way of a settled
// option, and of no point that is left out.
func (m *maker) stays(f *machine.Figure) bool {
	if f.Check != nil {
		if _, left := m.spec.Left[f.Check.ID]; left {
			return false
		}
	}
	return f.There(m.spec.Fixed)
}

// sameAs reports whether what was typed is the value that the figure has.
func sameAs(f *machine.Figure, typed string) bool {
	value, reason := Read(f, typed)
	return reason == nil && value == f.Value()
}

// Read is a figure as it was typed, in the figure's unit.
func Read(f *machine.Figure, typed string) (float64, *text.Reason) {
	no := func(r text.Reason) (float64, *text.Reason) { return 0, &r }
	if f.Kind == machine.FigureMonths {
		n, err := strconv.Atoi(typed)
		if err != nil || n < 1 {
			return no(ruleWhole.Says())
		}
		return float64(n), nil
	}
	u, _ := unit.Find(f.Unit)
	q, in, err := unit.Parse(typed, u)
	switch {
	case errors.Is(err, unit.ErrTwoWays):
		return no(ruleTwoWays.Says(typed))
	case errors.Is(err, unit.ErrUnit):
		return no(ruleUnit.Says(typed, f.Unit))
	case err != nil:
		return no(ruleNumber.Says(typed))
	case in.Symbol == u.Symbol: // what was typed, not what comes back over the base unit
		number := strings.TrimSpace(strings.TrimSuffix(typed, u.Symbol))
		if plain, err := strconv.ParseFloat(strings.Replace(number, ",", ".", 1), 64); err == nil {
			return plain, nil
		}
	}
	return u.In(q), nil
}

// widen lets a reading be as far beyond a limit of its own as it was beyond the
// other's: what cannot be a reading is known from the limit.
func widen(f *machine.Figure, limit float64) {
	r := f.Reading
	if r == nil {
		return
	}
	if span := r.Range[1] - r.Range[0]; limit <= r.Range[0] {
		beyond := limit - span/2
		if r.Range[0] >= 0 {
			beyond = max(0, beyond)
		}
		r.Range[0] = beyond
	} else if limit >= r.Range[1] {
		r.Range[1] = limit + span/2
	}
}

// Known is what a model says already, for a newer edition of it made from a sheet:
// its numbers, as they would be typed, by their paths in that sheet; what was left out
// and settled.
func Known(model, of *machine.Sheet) Spec {
	if model.Made == nil {
		return Spec{}
	}
	spec := Spec{Name: model.Name.EN, Manual: model.Made.Manual, Figures: map[string]Figure{}, Left: map[string]Left{}, Fixed: machine.Chosen{}, Settled: map[string]string{}}
	for option, way := range model.Made.Fixed {
		if slices.ContainsFunc(of.Options, func(o machine.Option) bool { return o.ID == option }) {
			spec.Fixed[option], spec.Settled[option] = way, model.Made.Settled[option]
		}
	}
	have := map[string]Figure{}
	for _, f := range model.Copy().Figures() {
		have[f.Path] = Figure{Kept: true}
		if page := model.Made.Pages[f.Path]; page != "" {
			have[f.Path] = Figure{Typed: Written(&f), Page: page}
		}
	}
	for _, f := range of.Copy().Figures() {
		if known, ok := have[f.Under(spec.Fixed)]; ok && f.There(spec.Fixed) {
			spec.Figures[f.Path] = known
		}
	}
	for _, l := range model.Made.Left {
		spec.Left[l.Check] = Left{l.Kind, l.Why}
	}
	return spec
}

// Written is the value of a figure as Read reads it.
func Written(f *machine.Figure) string {
	typed := strconv.FormatFloat(f.Value(), 'f', -1, 64)
	if _, reason := Read(f, typed); reason != nil && reason.Rule == ruleTwoWays {
		typed += "0" // a fraction of three places could be thousands
	}
	return typed
}

// NameTaken is the problem of a model whose name another one has.
func NameTaken() Problem { return Problem{"name", ruleTaken.Says()} }

// ID is what a model of a name is called in files and addresses.
func ID(name string) string {
	plain := strings.NewReplacer("á", "a", "é", "e", "í", "i", "ó", "o", "ú", "u", "ü", "u", "ñ", "n").Replace(strings.ToLower(name))
	words := strings.FieldsFunc(plain, func(r rune) bool { return !('a' <= r && r <= 'z' || '0' <= r && r <= '9') })
	if len(words) == 0 { // a name in other letters
		sum := fnv.New32a()
		sum.Write([]byte(name))
		words = []string{strconv.FormatUint(uint64(sum.Sum32()), 36)}
	}
	return "own_" + strings.Join(words, "_")
}

// Edition is the first edition of a day that is not taken: the day, or the day and a
// number.
func Edition(day string, taken []string) string {
	edition := day
	for n := 2; slices.Contains(taken, edition); n++ {
		edition = day + "." + strconv.Itoa(n)
	}
	return edition
}
