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
	// Remark is what the words mean where they do not say so themselves, for who
	// writes sheets.
	Remark string
}

// fuelled are the powers that burn what is in a tank.
var fuelled = []string{"petrol", "mix", "diesel"}

// facts is the published list, in the order in which it is told.
var facts = []Fact{
	{ID: "engine", Values: []string{"off", "running"}, Remark: "a battery machine: switched on; off is what the machine's own stop leaves"},
	{ID: "key", Values: []string{"in", "out"}, Remark: "key or start switch"},
	{ID: "lead", Values: []string{"on", "off"}, Fitted: []string{"lead"}, Remark: "spark lead, isolator or pack: off, it cannot start by itself"},
	{ID: "cutter", Values: []string{"off", "on"}, Fitted: []string{"cutter"}, Remark: "the control of what cuts, digs or throws"},
	{ID: "motion", Values: []string{"turning", "still"}, Fitted: []string{"cutter"}, Remark: "still: it has run down and somebody saw it"},
	{ID: "travel", Values: []string{"neutral", "moving"}, Fitted: []string{"travel"}},
	{ID: "brake", Values: []string{"off", "set"}, Fitted: []string{"brake"}, Remark: "set: or chocked; a saw: chain brake on"},
	{ID: "attachment", Values: []string{"up", "down", "rest"}, Fitted: []string{"attachment"}, Remark: "rest: locked for travel"},
	{ID: "from_fuel", Values: []string{"near", "moved"}, Fitted: fuelled, Remark: "moved: 3 m or more from where it was filled"},
	{ID: "level", Values: []string{"unknown", "yes", "no"}},
	{ID: "place", Values: []string{"unknown", "indoors", "bed", "outdoors", "open_shed"}, Remark: "bed: trailer or lined bed; open_shed: doors wide open, air moving, to drive in or out and no longer"},
	{ID: "person", Values: []string{"away", "beside", "in_place"}, Remark: "who answers; in_place: where this machine is run from"},
	{ID: "people", Values: []string{"unknown", "near", "clear"}, Remark: "others inside the distance; who has a task at its place is not counted"},
	{ID: "ignition", Values: []string{"unknown", "near", "none"}, Fitted: append([]string{"ignition"}, fuelled...), Remark: "a tow vehicle that runs is near"},
	{ID: "cap", Values: []string{"shut", "open"}, Fitted: fuelled},
	{ID: "can", Values: []string{"away", "bed", "ground"}, Fitted: fuelled},
	{ID: "spill", Values: []string{"none", "wet", "wiped", "gone"}, Fitted: fuelled, Remark: "gone: the vapour wait is over"},
	{ID: "valve", Values: []string{"open", "shut"}, Fitted: []string{"valve"}},
	{ID: "bar", Values: []string{"up", "folded"}, Fitted: []string{"bar"}},
	{ID: "belt", Values: []string{"off", "on"}, Fitted: []string{"bar"}},
	{ID: "metal", Values: []string{"hot", "cool"}, Fitted: append([]string{"metal"}, fuelled...)},
	{ID: "hands", Values: []string{"off", "at_cutter"}, Fitted: []string{"cutter"}, Remark: "anybody's hands"},
	{ID: "water", Values: []string{"off", "on"}, Fitted: []string{"water"}},
	{ID: "grease", Values: []string{"off", "on"}, Fitted: []string{"grease"}},
	{ID: "charger", Values: []string{"unplugged", "plugged"}, Fitted: []string{"charger", "battery"}},
	{ID: "pack", Values: []string{"unknown", "sound", "damaged"}, Fitted: []string{"battery"}},
	{ID: "transport", Values: []string{"no", "road", "trailer"}, Fitted: []string{"transport"}},
	{ID: "walk", Values: stages, ReadOnly: true, Remark: "the walk-around of this outing"},
	{ID: "refusals", Values: stages, ReadOnly: true, Remark: "the tests where the engine must refuse to start"},
	{ID: "stops", Values: stages, ReadOnly: true, Remark: "the tests where it must stop"},
	{ID: "released", Values: stages, ReadOnly: true, Remark: "released to work"},
	{ID: "proved_forward", Values: []string{"no", "yes"}, Fitted: []string{"proved"}, Remark: "the stop bar, since this start"},
	{ID: "proved_reverse", Values: []string{"no", "yes"}, Fitted: []string{"proved"}},
	{ID: "feeding", Values: []string{"no", "yes"}, Fitted: []string{"feeding"}, Remark: "wood, soil, grass"},
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
