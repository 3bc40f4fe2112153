package procedure

// Facts: what the program keeps of how a machine stands, in one published list.

import (
	"maps"
	"slices"
)

// Fact is something about a machine, its place or the people there that stands
// one way or another.
type Fact struct {
	ID string
	// Values are the ways it may stand; the first is the one where nobody knows.
	Values []string
	// Fitted is what a machine must have for it: the name of a thing that its sheet
	// lists, or of its power; "" is every machine.
	Fitted []string
	// ReadOnly: no step makes it; the outing does.
	ReadOnly bool
}

// fuelled are the powers that burn what is in a tank.
var fuelled = []string{"petrol", "mix", "diesel"}

// facts is the published list, in the order in which it is told.
var facts = []Fact{
	{ID: "engine", Values: []string{"off", "running"}},
	{ID: "key", Values: []string{"in", "out"}},
	{ID: "lead", Values: []string{"on", "off"}, Fitted: []string{"lead"}},
	{ID: "cutter", Values: []string{"off", "on"}, Fitted: []string{"cutter"}},
	{ID: "motion", Values: []string{"turning", "still"}, Fitted: []string{"cutter"}},
	{ID: "travel", Values: []string{"neutral", "moving"}, Fitted: []string{"travel"}},
	{ID: "brake", Values: []string{"off", "set"}, Fitted: []string{"brake"}},
	{ID: "attachment", Values: []string{"up", "down", "rest"}, Fitted: []string{"attachment"}},
	{ID: "from_fuel", Values: []string{"near", "moved"}, Fitted: fuelled},
	{ID: "level", Values: []string{"unknown", "yes", "no"}},
	{ID: "place", Values: []string{"unknown", "indoors", "bed", "outdoors", "open_shed"}},
	{ID: "person", Values: []string{"away", "beside", "in_place"}},
	{ID: "people", Values: []string{"unknown", "near", "clear"}},
	{ID: "ignition", Values: []string{"unknown", "near", "none"}, Fitted: append([]string{"ignition"}, fuelled...)},
	{ID: "cap", Values: []string{"shut", "open"}, Fitted: fuelled},
	{ID: "can", Values: []string{"away", "bed", "ground"}, Fitted: fuelled},
	{ID: "spill", Values: []string{"none", "wet", "wiped", "gone"}, Fitted: fuelled},
	{ID: "valve", Values: []string{"open", "shut"}, Fitted: []string{"valve"}},
	{ID: "bar", Values: []string{"up", "folded"}, Fitted: []string{"bar"}},
	{ID: "belt", Values: []string{"off", "on"}, Fitted: []string{"bar"}},
	{ID: "metal", Values: []string{"hot", "cool"}, Fitted: append([]string{"metal"}, fuelled...)},
	{ID: "hands", Values: []string{"off", "at_cutter"}, Fitted: []string{"cutter"}},
	{ID: "water", Values: []string{"off", "on"}, Fitted: []string{"water"}},
	{ID: "grease", Values: []string{"off", "on"}, Fitted: []string{"grease"}},
	{ID: "charger", Values: []string{"unplugged", "plugged"}, Fitted: []string{"charger", "battery"}},
	{ID: "pack", Values: []string{"unknown", "sound", "damaged"}, Fitted: []string{"battery"}},
	{ID: "transport", Values: []string{"no", "road", "trailer"}, Fitted: []string{"transport"}},
	{ID: "walk", Values: stages, ReadOnly: true},
	{ID: "refusals", Values: stages, ReadOnly: true},
	{ID: "stops", Values: stages, ReadOnly: true},
	{ID: "released", Values: stages, ReadOnly: true},
	{ID: "proved_forward", Values: []string{"no", "yes"}, Fitted: []string{"proved"}},
	{ID: "proved_reverse", Values: []string{"no", "yes"}, Fitted: []string{"proved"}},
	{ID: "feeding", Values: []string{"no", "yes"}, Fitted: []string{"feeding"}},
}

// stages are how a part of the outing stands.
var stages = []string{"open", "halt", "passed"}

// outingFacts are the parts of the outing, in their order.
var outingFacts = []string{"walk", "refusals", "stops", "released"}

// Facts lists the facts that every sheet shares, as they are published.
func Facts() []Fact { return slices.Clone(facts) }

// factsOf lists the facts of a machine: those of its power, of what is fitted, and
// its own.
func factsOf(power string, fitted []string, own map[string][]string) []Fact {
	var out []Fact
	for _, f := range facts {
		if len(f.Fitted) == 0 || slices.ContainsFunc(f.Fitted, func(s string) bool { return s == power || slices.Contains(fitted, s) }) {
			out = append(out, f)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(own)) {
		out = append(out, Fact{ID: id, Values: own[id]})
	}
	return out
}

// layout is where each fact of a machine stands in one number: which bits.
type layout struct {
	facts []Fact
	index map[string]int
	shift []uint
	mask  []uint64 // of the value, not shifted
}

// bitsMost is how many bits the facts of one machine may take.
const bitsMost = 64

// newLayout packs facts; ok is false where they are too many for one number.
func newLayout(list []Fact) (l *layout, ok bool) {
	l = &layout{facts: list, index: map[string]int{}}
	at := uint(0)
	for i, f := range list {
		bits := uint(1)
		for 1<<bits < len(f.Values) {
			bits++
		}
		l.index[f.ID] = i
		l.shift = append(l.shift, at)
		l.mask = append(l.mask, 1<<bits-1)
		at += bits
	}
	return l, at <= bitsMost && len(list) <= 64
}

// world is how all facts stand: the number of a layout. Zero is every first value.
type world uint64

func (l *layout) get(w world, fact int) int { return int(uint64(w) >> l.shift[fact] & l.mask[fact]) }

// value is how a fact stands, in words.
func (l *layout) value(w world, fact int) string { return l.facts[fact].Values[l.get(w, fact)] }

// has reports whether the machine has a fact of this name.
func (l *layout) has(id string) bool { _, ok := l.index[id]; return ok }

// set is a set of facts by their index.
type set uint64

func (s set) has(fact int) bool { return s>>fact&1 == 1 }

// setOf is the set of the facts among ids that the machine has.
func (l *layout) setOf(ids ...string) (out set) {
	for _, id := range ids {
		if i, ok := l.index[id]; ok {
			out |= 1 << i
		}
	}
	return out
}

// value is one value of one fact.
type value struct{ fact, is int }

// lookup finds a value of a fact by name.
func (l *layout) lookup(fact, is string) (v value, ok bool) {
	i, ok := l.index[fact]
	if !ok {
		return v, false
	}
	j := slices.Index(l.facts[i].Values, is)
	return value{i, j}, j >= 0
}
