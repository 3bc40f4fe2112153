package yard_test

import (
	"math"
	"testing"
	"time"

	"vespers/core/defect"
	"vespers/core/outing"
	"vespers/core/yard"
)

// TestWhenAKeyMayBeOut: not before the cold walk, not on Halt, not when nobody has it.
func TestWhenAKeyMayBeOut(t *testing.T) {
	w := newConvoy(t, "Lancet")
	rule := func(name string) string {
		why, may := yard.KeyMay(w, w.machine(name), w.at)
		if may != (why.Rule == "") {
			t.Errorf("may %v, and %s", may, why.Rule)
		}
		return string(why.Rule)
	}
	if got := rule("Lancet"); got != "" {
		t.Errorf("it is out: %s", got)
	}
	if got := rule("Verger"); got != "key.nobody_has_it" {
		t.Errorf("in its bay: %q", got)
	}
	w.must("otto", yard.TakeOut{Machine: w.machine("Verger").ID})
	if got := rule("Verger"); got != "key.walk_first" {
		t.Errorf("before the walk: %q", got)
	}
	m := w.machines[w.machine("Lancet").ID]
	m.Grade = defect.Halt
	w.machines[m.ID] = m
	if got := rule("Lancet"); got != "key.on_halt" {
		t.Errorf("on Halt at work: %q", got)
	}
	m.Grade = defect.Sound
	w.machines[m.ID] = m
	w.home("ida", "Lancet")
	if got := rule("Lancet"); got != "key.nobody_has_it" {
		t.Errorf("home: %q", got)
	}
}

// TestWhatAMeterMayReport: no more than the clock allows, and never less.
func TestWhatAMeterMayReport(t *testing.T) {
	at := time.Date(2026, 11, 26, 7, 0, 0, 0, time.UTC)
	m := yard.Machine{Hours: 100, HoursAt: at}
	for name, c := range map[string]struct {
		hours float64
		after time.Duration
		want  string
	}{
		"the same":              {100, 0, ""},
		"rounded the other way": {99.9, time.Hour, ""},
		"back":                  {99.7, time.Hour, "fed.runs_back"},
		"an hour in an hour":    {101.1, time.Hour, ""},
		"two in an hour":        {102, time.Hour, "fed.too_fast"},
		"before it was read":    {100.5, -time.Hour, "fed.too_fast"},
	} {
		if why, ok := yard.Believe(m, c.hours, at.Add(c.after)); string(why.Rule) != c.want || ok != (c.want == "") {
			t.Errorf("%s: %v %s", name, ok, why.Rule)
		}
	}
	if _, ok := yard.Believe(yard.Machine{Hours: 100}, 400, at); !ok {
		t.Error("nobody knows when it was read, and it may be long ago")
	}
}

// TestWhatAPostSees: words that the weather has, lightning by how far off it is.
func TestWhatAPostSees(t *testing.T) {
	km := func(n float64) *float64 { return &n }
	for _, c := range []struct {
		grass, light string
		lightning    *float64
		storm        string
		ok           bool
	}{{"dry", "good", nil, "none", true}, {"wet", "dark", km(10), "about", true}, {"frozen", "poor", km(10.1), "none", true}, {"", "good", nil, "none", false}, {"dry", "bright", nil, "none", false}, {"dry", "good", km(-1), "none", false}, {"dry", "good", km(math.NaN()), "none", false}} {
		if w, ok := yard.Seen(c.grass, c.light, c.lightning); ok != c.ok || ok && (w.Storm != c.storm || w.Grass != c.grass) {
			t.Errorf("%+v: %+v %v", c, w, ok)
		}
	}
	now := time.Date(2026, 11, 26, 7, 0, 0, 0, time.UTC)
	for off, want := range map[time.Duration]bool{0: true, 10 * time.Minute: true, -10 * time.Minute: true, 11 * time.Minute: false, -25 * time.Hour: false} {
		if yard.OnTime(now.Add(off), now) != want {
			t.Errorf("a clock that is off by %s", off)
		}
	}
	for old, want := range map[time.Duration]bool{0: true, 15 * time.Minute: true, 16 * time.Minute: false} {
		if yard.SeenLately(now.Add(-old), now) != want {
			t.Errorf("seen %s ago", old)
		}
	}
}

// TestWhoIsTold: leads, of what somebody else found or did, as long as it is news.
func TestWhoIsTold(t *testing.T) {
	w := newConvoy(t, "Lancet")
	ids := func(at time.Time) map[string]bool {
		out := map[string]bool{}
		for _, tiding := range yard.Tidings(w, at) {
			if !tiding.To.Leads(at) || out[tiding.ID] {
				t.Errorf("%+v", tiding)
			}
			out[tiding.ID] = true
		}
		return out
	}
	start := len(ids(w.at))
	d := w.found(w.machine("Verger").ID, defect.Halt, nil)
	w.found(w.machine("Verger").ID, defect.Mend, nil)
	got := ids(w.at)
	if len(got) != start+2 || !got["halt-"+d+"-maren"] || !got["halt-"+d+"-edda"] {
		t.Errorf("%v", got)
	}
	if late := ids(w.at.Add(25 * time.Hour)); late["halt-"+d+"-maren"] {
		t.Error("a day later it is no news")
	}
	one := w.defects[d]
	one.FoundBy = "maren"
	w.defects[d] = one
	if got := ids(w.at); got["halt-"+d+"-maren"] || !got["halt-"+d+"-edda"] {
		t.Errorf("who found it is told: %v", got)
	}
	due := w.outings[w.machine("Lancet").Outing].Now().Due
	if due.IsZero() {
		t.Fatal("nobody looks for Ida")
	}
	missed := func() (n int) {
		for _, one := range yard.Tidings(w, due.Add(time.Minute)) {
			if one.Outing != nil && one.Outing.Operator() == "ida" {
				n++
			}
		}
		return n
	}
	if missed() != 2 {
		t.Errorf("%d leads are told that Ida was not heard of", missed())
	}
	w.want(w.say("Lancet", outing.CheckIn{Next: due.Add(-time.Minute).Format("15:04")}), "")
}
