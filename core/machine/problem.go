package machine

// What can be wrong with a sheet, and where.

import (
	"slices"
	"strconv"
	"strings"

	"vespers/core/text"
	"vespers/core/unit"
)

// Problem is one thing wrong with a sheet. Pointer is a JSON pointer into the
// resolved sheet; the reason says what is wrong and what would be right.
type Problem struct {
	Pointer string
	Reason  text.Reason
}

// The rules that sheets are held to.
var (
	RuleDuplicate   = text.NewRule("sheet.duplicate_id", text.Slot{Name: "id", Kind: text.Name})
	RuleUnknown     = text.NewRule("sheet.unknown_reference", text.Slot{Name: "id", Kind: text.Name}, text.Slot{Name: "kind", Kind: text.Term}, text.Slot{Name: "known", Kind: text.Name})
	RuleUpsideDown  = text.NewRule("sheet.limit_upside_down", text.Slot{Name: "low", Kind: text.Name}, text.Slot{Name: "high", Kind: text.Name})
	RuleNoLimit     = text.NewRule("sheet.limit_empty")
	RuleOutOfRange  = text.NewRule("sheet.limit_outside_range", text.Slot{Name: "limit", Kind: text.Name}, text.Slot{Name: "range", Kind: text.Name})
	RuleRange       = text.NewRule("sheet.range_upside_down")
	RuleUnknownUnit = text.NewRule("sheet.unknown_unit", text.Slot{Name: "unit", Kind: text.Name}, text.Slot{Name: "known", Kind: text.Name})
	RuleUnitKind    = text.NewRule("sheet.unit_differs", text.Slot{Name: "unit", Kind: text.Name}, text.Slot{Name: "reading", Kind: text.Name})
	RuleNoText      = text.NewRule("sheet.missing_text")
	RuleStations    = text.NewRule("sheet.station_order")
	RuleCycle       = text.NewRule("sheet.cyclic_order", text.Slot{Name: "cycle", Kind: text.Name})
	RuleLaterPhase  = text.NewRule("sheet.after_later_phase", text.Slot{Name: "id", Kind: text.Name})
	RuleBandOrder   = text.NewRule("sheet.band_order")
	RuleSpot        = text.NewRule("sheet.spot_beside_readings")
	RuleNoInterval  = text.NewRule("sheet.interval_empty")
	RuleUnmetered   = text.NewRule("sheet.hours_without_meter")
	RuleNeverAsked  = text.NewRule("sheet.for_others_without_interval", text.Slot{Name: "who", Kind: text.Name})
	RuleRestricts   = text.NewRule("sheet.restriction_missing", text.Slot{Name: "class", Kind: text.Name}, text.Slot{Name: "extent", Kind: text.Name})
	RuleNoneWhy     = text.NewRule("sheet.restriction_none")
	RuleNoDegree    = text.NewRule("sheet.use_has_no_limit", text.Slot{Name: "use", Kind: text.Name})
	RuleSlopeLimit  = text.NewRule("sheet.slope_limit", text.Slot{Name: "most", Kind: text.Count})
	RuleMeasures    = text.NewRule("sheet.unit_measures_other", text.Slot{Name: "unit", Kind: text.Name}, text.Slot{Name: "dimension", Kind: text.Term})
	RuleNumberRange = text.NewRule("sheet.number_out_of_range", text.Slot{Name: "value", Kind: text.Name})
	RuleManyWays    = text.NewRule("sheet.too_many_ways", text.Slot{Name: "most", Kind: text.Count})
	RuleStroke      = text.NewRule("sheet.stroke")
	RuleWear        = text.NewRule("sheet.wear_of_nothing")
	RuleHosePart    = text.NewRule("sheet.hose_body_class")
)

// finder collects problems.
type finder struct {
	sheet *Sheet
	found []Problem
}

func (f *finder) add(r text.Reason, path ...any) {
	f.found = append(f.found, Problem{Pointer: Pointer(path...), Reason: r})
}

// Pointer writes a JSON pointer from names and indexes.
func Pointer(path ...any) string {
	var b strings.Builder
	for _, p := range path {
		b.WriteByte('/')
		switch p := p.(type) {
		case int:
			b.WriteString(strconv.Itoa(p))
		case string:
			b.WriteString(strings.NewReplacer("~", "~0", "/", "~1").Replace(p))
		}
	}
	return b.String()
}

// Problems finds what the shape of the data alone cannot show: references,
// limits, units, order, in every combination of its options' ways. A sheet
// without problems can be used without further checks.
func (s *Sheet) Problems() []Problem {
	if f := (&finder{sheet: s}); !f.options() {
		return f.found
	}
	return s.EachWay((*Sheet).problems)
}

// problems are those of a sheet whose options are chosen.
func (s *Sheet) problems() []Problem {
	f := &finder{sheet: s}
	f.identities()
	f.loop()
	f.settings()
	for i := range s.Checks {
		f.check(i, &s.Checks[i])
	}
	f.order()
	f.numbered()
	f.worked()
	f.carried()
	f.shapes()
	f.controls()
	f.interlockTexts()
	return f.found
}

// options checks the options themselves, and that whatever belongs to a way
// belongs to one there is; ok is false where that is not so.
func (f *finder) options() (ok bool) {
	s := f.sheet
	unique(f, "options", s.Options, func(o Option) string { return o.ID })
	for i, o := range s.Options {
		seen := map[string]bool{}
		for j, way := range o.Choices {
			if seen[way.ID] {
				f.add(RuleDuplicate.Says(way.ID), "options", i, "choices", j, "id")
			}
			seen[way.ID] = true
		}
	}
	if len(s.EveryWay()) == 0 {
		f.add(RuleManyWays.Says(waysMost), "options")
	}
	s.lists(func(l conditional) {
		for i := range l.size {
			f.ways(*l.when(i), l.path, i)
		}
	})
	return len(f.found) == 0
}

// ways checks that what belongs to ways of options belongs to ones there are.
func (f *finder) ways(condition If, list string, i int) {
	for option, ways := range condition {
		var at []any
		for _, part := range strings.Split(list[1:], "/") {
			at = append(at, part)
		}
		at = append(at, i, "if", option)
		j := slices.IndexFunc(f.sheet.Options, func(o Option) bool { return o.ID == option })
		if j < 0 {
			var known []string
			for _, o := range f.sheet.Options {
				known = append(known, o.ID)
			}
			f.unknown(option, "sheet.kind.option", known, at...)
			continue
		}
		for _, way := range ways {
			if _, ok := f.sheet.Options[j].Choice(way); !ok {
				var known []string
				for _, c := range f.sheet.Options[j].Choices {
					known = append(known, c.ID)
				}
				f.unknown(way, "sheet.kind.option_way", known, at...)
			}
		}
	}
}

func (f *finder) identities() {
	s := f.sheet
	unique(f, "checks", s.Checks, func(c Check) string { return c.ID })
	unique(f, "settings", s.Settings, func(c Setting) string { return c.ID })
	unique(f, "protection", s.Protection, func(c Protection) string { return c.ID })
	unique(f, "conditions", s.Conditions, func(c Condition) string { return c.ID })
	unique(f, "not_to_wear", s.NotToWear, func(c Conflict) string { return c.ID })
	unique(f, "uses", s.Uses, func(c Use) string { return c.ID })
	unique(f, "numbers", s.Numbers, func(c Parameter) string { return c.ID })
	seen := map[string]bool{}
	for i, st := range s.Loop.Stations {
		if seen[st.ID] {
			f.add(RuleDuplicate.Says(st.ID), "loop", "stations", i, "id")
		}
		seen[st.ID] = true
	}
	for i, p := range s.Places {
		if seen[p.ID] {
			f.add(RuleDuplicate.Says(p.ID), "places", i, "id")
		}
		seen[p.ID] = true
	}
	seen = map[string]bool{}
	for i, p := range s.Drawing.Parts {
		if seen[p.ID] {
			f.add(RuleDuplicate.Says(p.ID), "drawing", "parts", i, "id")
		}
		seen[p.ID] = true
	}
}

func unique[T any](f *finder, section string, items []T, id func(T) string) {
	seen := map[string]bool{}
	for i, item := range items {
		if seen[id(item)] {
			f.add(RuleDuplicate.Says(id(item)), section, i, "id")
		}
		seen[id(item)] = true
	}
}

func (f *finder) spot(id string, path ...any) {
	if _, ok := f.sheet.Spot(id); !ok {
		f.add(UnknownSpot(f.sheet, id), path...)
	}
}

// UnknownSpot says that a sheet has no station or place of this id, and which
// it has.
func UnknownSpot(s *Sheet, id string) text.Reason {
	var known []string
	for _, st := range s.Loop.Stations {
		known = append(known, st.ID)
	}
	for _, p := range s.Places {
		known = append(known, p.ID)
	}
	return RuleUnknown.Says(id, text.Key("sheet.kind.place"), strings.Join(known, ", "))
}

func (f *finder) unknown(id string, kind text.Key, known []string, path ...any) {
	f.add(RuleUnknown.Says(id, kind, strings.Join(known, ", ")), path...)
}

func (f *finder) loop() {
	s, last := f.sheet, -1.0
	for i, st := range s.Loop.Stations {
		if st.At <= last || st.At >= s.Loop.Length {
			f.add(RuleStations.Says(), "loop", "stations", i, "at")
		}
		last = st.At
	}
	for i, p := range s.Places {
		if !slices.ContainsFunc(s.Loop.Stations, func(st Station) bool { return st.ID == p.Station }) {
			f.spotStation(p.Station, "places", i, "station")
		}
	}
	f.spot(s.OperatorPlace, "operator_place")
	if s.Hitch != "" {
		f.spot(s.Hitch, "hitch")
	}
	if s.Carrier != nil {
		f.spot(s.Carrier.At, "carrier", "at")
	}
}

func (f *finder) spotStation(id string, path ...any) {
	var known []string
	for _, st := range f.sheet.Loop.Stations {
		known = append(known, st.ID)
	}
	f.unknown(id, "sheet.kind.station", known, path...)
}

func (f *finder) settings() {
	for i := range f.sheet.Settings {
		st := &f.sheet.Settings[i]
		f.spot(st.At, "settings", i, "at")
		f.way(st, st.Start, "settings", i, "start")
		f.way(st, st.End, "settings", i, "end")
	}
}

func (f *finder) way(st *Setting, id string, path ...any) {
	if _, ok := st.Way(id); ok {
		return
	}
	var known []string
	for _, w := range st.Ways {
		known = append(known, w.ID)
	}
	f.unknown(id, "sheet.kind.way", known, path...)
}

func (f *finder) check(i int, c *Check) {
	f.spot(c.At, "checks", i, "at")
	for j, id := range c.Switches {
		if known := switchIDs(f.sheet); !slices.Contains(known, id) {
			f.unknown(id, "sheet.kind.switch", known, "checks", i, "switches", j)
		}
	}
	for j := range c.Readings {
		if r := &c.Readings[j]; r.Wear != nil && (*r.Wear == 0 || r.Limits == nil) {
			f.add(RuleWear.Says(), "checks", i, "readings", j, "wear")
		}
	}
	for id, want := range c.Needs {
		st, ok := f.sheet.Setting(id)
		if !ok {
			var known []string
			for _, s := range f.sheet.Settings {
				known = append(known, s.ID)
			}
			f.unknown(id, "sheet.kind.setting", known, "checks", i, "needs", id)
			continue
		}
		f.way(st, want, "checks", i, "needs", id)
	}
	seen := map[string]bool{}
	for j, fault := range c.Faults {
		if seen[fault.ID] {
			f.add(RuleDuplicate.Says(fault.ID), "checks", i, "faults", j, "id")
		}
		seen[fault.ID] = true
		f.restrictions(fault.Restrict, "checks", i, "faults", j, "restrict")
		f.none(fault.Restrict, fault.RestrictWhy, "checks", i, "faults", j, "restrict")
		if class := c.ClassOf(&fault); len(fault.Restrict) == 0 && Restricts(class, fault.Extent) && !(c.Critical && class == ClassG) {
			f.add(RuleRestricts.Says(string(class), string(fault.Extent)), "checks", i, "faults", j)
		}
		if fault.HoseBody && c.ClassOf(&fault) != ClassD {
			f.add(RuleHosePart.Says(), "checks", i, "faults", j, "hose_body")
		}
	}
	f.often(i, c)
	f.restrictions(c.Restrict, "checks", i, "restrict")
	f.none(c.Restrict, c.RestrictWhy, "checks", i, "restrict")
	if len(c.Restrict) == 0 && f.limited(c) && Restricts(c.Class, Lost) && !c.Critical {
		f.add(RuleRestricts.Says(string(c.Class), string(Lost)), "checks", i)
	}
	seen = map[string]bool{}
	for j := range c.Readings {
		r := &c.Readings[j]
		if seen[r.ID] {
			f.add(RuleDuplicate.Says(r.ID), "checks", i, "readings", j, "id")
		}
		seen[r.ID] = true
		f.reading(r, "checks", i, "readings", j)
	}
	if c.Spot != nil {
		f.reading(c.Spot, "checks", i, "spot")
		if len(c.Readings) > 0 {
			f.add(RuleSpot.Says(), "checks", i, "spot")
		}
	}
	f.even(i, c)
}

// often checks how often a point is looked at: an interval says something, is
// counted by a meter the machine has, and stands at every point that is not for
// whoever takes the machine out.
func (f *finder) often(i int, c *Check) {
	switch {
	case c.Every == nil && c.WhoLooks() != ByOperator:
		f.add(RuleNeverAsked.Says(c.Who), "checks", i, "who")
	case c.Every == nil:
	case c.Every.empty():
		f.add(RuleNoInterval.Says(), "checks", i, "every")
	case c.Every.Hours+c.Every.FirstHours > 0 && !f.sheet.Metered():
		f.add(RuleUnmetered.Says(), "checks", i, "every")
	}
}

func (f *finder) restrictions(list []string, path ...any) {
	for j, r := range list {
		if r != None && !slices.Contains(Restrictions(), Restriction(r)) {
			var known []string
			for _, k := range Restrictions() {
				known = append(known, string(k))
			}
			f.unknown(r, "sheet.kind.restriction", known, append(path, j)...)
		}
	}
}

// none checks that a restriction of none stands alone and says why.
func (f *finder) none(list []string, why *text.Text, path ...any) {
	if has := slices.Contains(list, None); has != (why != nil) || has && len(list) > 1 {
		f.add(RuleNoneWhy.Says(), path...)
	}
}

// limited reports whether anything read at the point has a limit.
func (f *finder) limited(c *Check) bool {
	return c.Even != nil || c.Spot != nil && c.Spot.Limits != nil ||
		slices.ContainsFunc(c.Readings, func(r Reading) bool { return r.Limits != nil })
}

func (f *finder) unit(symbol string, path ...any) bool {
	if _, ok := unit.Find(symbol); ok {
		return true
	}
	f.add(RuleUnknownUnit.Says(symbol, strings.Join(unit.Symbols(), ", ")), path...)
	return false
}

func (f *finder) reading(r *Reading, path ...any) {
	f.unit(r.Unit, append(path, "unit")...)
	if r.Range[0] >= r.Range[1] {
		f.add(RuleRange.Says(), append(path, "range")...)
	}
	l := r.Limits
	if l == nil {
		return
	}
	if l.By != "" {
		f.bands(r, l, append(path, "limits")...)
		return
	}
	f.limit(r, l.Low, l.High, append(path, "limits")...)
}

// limit checks one pair of limits.
func (f *finder) limit(r *Reading, low, high *float64, path ...any) {
	if low == nil && high == nil {
		f.add(RuleNoLimit.Says(), path...)
	}
	if low != nil && high != nil && *low >= *high {
		f.add(RuleUpsideDown.Says(number(*low), number(*high)), path...)
	}
	for _, limit := range []*float64{low, high} {
		if limit != nil && (*limit < r.Range[0] || *limit > r.Range[1]) {
			f.add(RuleOutOfRange.Says(number(*limit), number(r.Range[0])+" … "+number(r.Range[1])), path...)
		}
	}
}

// bands checks limits that depend on a condition: the condition is one of the
// sheet's, and the limits are right at every band.
func (f *finder) bands(r *Reading, l *Limits, path ...any) {
	if !slices.ContainsFunc(f.sheet.Conditions, func(c Condition) bool { return c.ID == l.By }) {
		var known []string
		for _, c := range f.sheet.Conditions {
			known = append(known, c.ID)
		}
		f.unknown(l.By, "sheet.kind.condition", known, append(path, "by")...)
	}
	last := 0.0
	for i, b := range l.Bands {
		at := append(slices.Clone(path), "bands", i)
		if i > 0 && b.At <= last {
			f.add(RuleBandOrder.Says(), at...)
		}
		last = b.At
		f.limit(r, b.Low, b.High, at...)
	}
	if len(l.Bands) < 2 {
		f.add(RuleBandOrder.Says(), path...)
	}
}

func (f *finder) even(i int, c *Check) {
	if c.Even == nil {
		return
	}
	known := f.unit(c.Even.Unit, "checks", i, "even", "unit")
	for j, pair := range c.Even.Pairs {
		for k, id := range pair {
			_, r, ok := f.sheet.Paired(c, id)
			if !ok {
				var ids []string
				for _, r := range c.Readings {
					ids = append(ids, r.ID)
				}
				for _, other := range f.sheet.Checks {
					for _, r := range other.Readings {
						if other.ID != c.ID {
							ids = append(ids, other.ID+"."+r.ID)
						}
					}
				}
				f.unknown(id, "sheet.kind.reading", ids, "checks", i, "even", "pairs", j, k)
				continue
			}
			if u, _ := unit.Find(c.Even.Unit); known && r.UnitOf().Dimension != u.Dimension {
				f.add(RuleUnitKind.Says(c.Even.Unit, r.ID), "checks", i, "even", "unit")
			}
		}
	}
}

// interlockTexts asks for the words that the round shows; the logic itself is
// checked in core/interlock, which also reads files without words.
func (f *finder) interlockTexts() {
	for i, sw := range f.sheet.Interlock.Switches {
		for name, t := range map[string]text.Text{"label": sw.Label, "made": sw.Made, "broken": sw.Broken, "make": sw.Make, "break": sw.Break} {
			if t.Empty() {
				f.add(RuleNoText.Says(), "interlock", "switches", i, name)
			}
		}
	}
	for i, p := range f.sheet.Interlock.Permits {
		if p.Label.Empty() {
			f.add(RuleNoText.Says(), "interlock", "permits", i, "label")
		}
		if p.Kind == "drive" && p.Moves.Empty() {
			f.add(RuleNoText.Says(), "interlock", "permits", i, "moves")
		}
	}
}

func number(v float64) string { return unit.FormatNumber(v, 3, ".") }
