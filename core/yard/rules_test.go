package yard_test

import (
	"strings"
	"testing"

	"vespers/core/defect"
	"vespers/core/procedure"
	"vespers/core/yard"
)

// TestAHouseChoosesWhereGoodPractitionersDiffer: the first choice holds where nobody
// chose, a family's own wins over the yard's, and nothing else is taken.
func TestAHouseChoosesWhereGoodPractitionersDiffer(t *testing.T) {
	p := yard.Practice{"clearing": "still", "zero_turn/clearing": "lead_off", "zero_turn/brake_when": "after_off"}
	for family, want := range map[string]procedure.House{
		"zero_turn": {"clearing": "lead_off", "brake_when": "after_off", "washing": "air_then_water"},
		"tractor":   {"clearing": "still", "brake_when": "before_off", "washing": "air_then_water"},
	} {
		got := p.For(family)
		for q, choice := range want {
			if got[q] != choice {
				t.Errorf("%s, %s: %s, want %s", family, q, got[q], choice)
			}
		}
		if n := len(procedure.Questions()) + len(yard.Kept(family, "")); len(got) != n {
			t.Errorf("%s: %d of %d: %v", family, len(got), n, got)
		}
	}
	usual := yard.Practice{"slope_mowing": "across", "tracked_trencher/ramp": "backwards_up"}
	for family, want := range map[string]string{"zero_turn/slope_mowing": "across", "boom_mower/slope_mowing": "up_down", "tracked_trencher/ramp": "backwards_up", "disc_chipper/slope_mowing": "", "tractor/light": "day_or_lit"} {
		of, q, _ := strings.Cut(family, "/")
		if got := usual.For(of)[q]; got != want {
			t.Errorf("%s: %q, want %q", family, got, want)
		}
	}
	w := newTown(t)
	name := yard.NameYard{Name: "Wrenfield", Timezone: "UTC", House: defect.DefaultHouse()}
	for rule, practice := range map[string]yard.Practice{"house.no_such_question": {"moon": "full"}, "house.no_such_choice": {"tractor/clearing": "never"}} {
		c := name
		c.Practice = practice
		w.refused("maren", c, rule)
	}
	c := name
	c.Emergency.Numbers = strings.Repeat("1", 300)
	w.refused("maren", c, "typed.too_long")
	c.Emergency = yard.Emergency{Numbers: "112", Address: "Upper Gate", Meeting: "By the yew"}
	c.Practice = p
	w.must("maren", c)
	// What holds anyhow was chosen by nobody, until somebody has chosen otherwise.
	c.Practice = yard.Practice{"light": "day_or_lit", "reverse": "never", "zero_turn/light": "day_or_lit"}
	w.must("maren", c)
	if got := w.settings.Practice; len(got) != 2 || got["reverse"] != "never" || got["zero_turn/light"] == "" {
		t.Errorf("chosen: %v", got)
	}
	c.Practice = yard.Practice{"reverse": "only_needed"}
	w.must("maren", c)
	if got := w.settings.Practice; got["reverse"] != "only_needed" {
		t.Errorf("chosen back: %v", got)
	}
	c.Practice = p
	w.must("maren", c)
	// An outing keeps what held when it began.
	w.must("ida", yard.TakeOut{Machine: w.machine("Verger").ID})
	o := w.outings[w.machine("Verger").Outing]
	c.Practice = yard.Practice{"zero_turn/clearing": "still"}
	w.must("maren", c)
	if got := o.Units[0].Way().House; got["clearing"] != "lead_off" || got["brake_when"] != "after_off" {
		t.Errorf("it began with %v", got)
	}
	if got := w.settings.Practice.For("zero_turn")["clearing"]; got != "still" || w.settings.Emergency.Meeting != "By the yew" {
		t.Errorf("now it is %s, help is met %q", got, w.settings.Emergency.Meeting)
	}
}
