package yard_test

import (
	"maps"
	"slices"
	"strings"
	"testing"

	"vespers/core/outing"
	"vespers/core/outing/outingtest"
	"vespers/core/yard"
)

// loading is a town with an outing of Ida's, and a load sheet on which all is well.
func loading(t *testing.T) (*town, *outing.Outing, yard.CheckLoad) {
	w := newTown(t)
	verger := w.machine("Verger")
	o := outingtest.Begin(t, "ida", outingtest.Machine(verger.ID, w.sheet()), nil)
	w.outings[o.ID] = o
	verger.Outing = o.ID
	w.machines[verger.ID] = verger
	strap := func(end string) yard.TypedStrap { return yard.TypedStrap{Load: "700", End: end} }
	return w, o, yard.CheckLoad{Outing: o.ID, Typed: map[string]string{
		"ramp_height": "0.4", "ramp_height_u": "0.01", "ramp_length": "3,5", "ramp_length_u": "0.01", "ramp_width": "2.4", "ramp_width_u": "0.01",
		"load_height": "2.3", "load_height_u": "0.05", "bridges": "4.05; 4.6", "legal": "4",
		"trailer": "350", "gross": "2000", "rating": "2500", "tongue": "100", "tongue_u": "3", "mass": "450", "mass_u": "10",
	}, Straps: []yard.TypedStrap{strap("front"), strap("front"), strap("rear"), strap("rear"), {}}}
}

// TestALoadSheet: each part as it was typed, with what the sheets of the machines say; what
// it comes to.
func TestALoadSheet(t *testing.T) {
	w, o, c := loading(t)
	w.must("ida", c)
	l, ok := w.Load(o.ID)
	if !ok || l.By != "ida" || l.Ramp == nil || l.Bridge == nil || l.Tow == nil || l.Straps == nil {
		t.Fatalf("%+v", l)
	}
	carried := yard.CarriedBy(o)
	if l.Ramp.Limit != carried.Limit || l.Ramp.Machine != w.sheet().Sheet.Drawing.Width || !l.Straps.Ridden || len(l.Straps.Straps) != 4 || l.Ramp.Length.Value != 3.5 {
		t.Errorf("%+v %+v %+v", l.Ramp, l.Straps, carried)
	}
	j := l.Judge()
	if against := slices.Concat(j.Ramp.Because, j.Bridge.Because, j.Tow.Because, j.Straps.Because); len(against) > 0 {
		t.Errorf("against it: %v", against)
	}
	for name, change := range map[string]func(map[string]string){
		"angle": func(m map[string]string) { m["ramp_length"] = "0.9" }, "width": func(m map[string]string) { m["ramp_width"] = "1.2" },
		"bridge": func(m map[string]string) { m["bridges"] = "2.4" }, "legal": func(m map[string]string) { m["legal"] = "2.4" },
		"gross": func(m map[string]string) { m["gross"] = "700" }, "rating": func(m map[string]string) { m["rating"] = "700" },
		"tongue_low": func(m map[string]string) { m["tongue"] = "40" }, "tongue_high": func(m map[string]string) { m["tongue"] = "300" },
		"tongue_unknown": func(m map[string]string) { delete(m, "tongue") },
	} {
		again := c
		again.Typed = maps.Clone(c.Typed)
		change(again.Typed)
		w.must("ida", again)
		l, _ := w.Load(o.ID)
		j := l.Judge()
		if got := slices.Concat(j.Ramp.Because, j.Bridge.Because, j.Tow.Because, j.Straps.Because); !slices.Equal(got, []string{name}) {
			t.Errorf("%s: %v", name, got)
		}
	}
}

// TestALoadSheetIsRefused where a number is none, or half of a part is typed; nobody fills
// in another's, or one of an outing that is over.
func TestALoadSheetIsRefused(t *testing.T) {
	w, o, c := loading(t)
	with := func(word, typed string) yard.CheckLoad {
		again := c
		again.Typed = maps.Clone(c.Typed)
		again.Typed[word] = typed
		return again
	}
	for _, word := range slices.Sorted(maps.Keys(c.Typed)) {
		if word == "bridges" || word == "tongue" || word == "mass" || word == "mass_u" {
			continue
		}
		for _, typed := range []string{"", "much", "-1"} {
			if word == "tongue_u" && typed == "" || word == "load_height" {
				continue
			}
			w.refused("ida", with(word, typed), "load.number")
		}
	}
	w.refused("ida", with("ramp_height_u", "0.4"), "load.number") // as much as the height
	w.refused("ida", with("bridges", ""), "load.bridges")
	w.refused("ida", with("bridges", "4; low"), "load.number")
	w.refused("ida", with("no_bridge", "yes"), "load.bridges")
	w.refused("ida", with("bridges", strings.Repeat("4;", 25)), "load.many")
	w.refused("ida", yard.CheckLoad{Outing: o.ID}, "load.nothing")
	w.refused("ida", yard.CheckLoad{Outing: o.ID, Straps: []yard.TypedStrap{{Load: "500"}}, Typed: c.Typed}, "load.end")
	w.refused("ida", yard.CheckLoad{Outing: o.ID, Straps: []yard.TypedStrap{{Load: "500", Angle: "95", Doubt: "1", End: "rear"}}, Typed: c.Typed}, "load.number")
	w.refused("ida", yard.CheckLoad{Outing: o.ID, Straps: []yard.TypedStrap{{Load: "500", Angle: "45", End: "rear"}}, Typed: c.Typed}, "load.number")
	w.refused("otto", c, "who.anothers_outing")
	w.refused("ida", yard.CheckLoad{Outing: "none"}, "yard.no_such_outing")
	over := *o
	over.End = &outing.Ended{}
	w.outings[o.ID] = &over
	w.refused("ida", c, "load.ended")
}
