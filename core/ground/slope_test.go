package ground

import (
	"math"
	"math/rand"
	"slices"
	"strings"
	"testing"
)

func near(a, b float64) bool { return math.Abs(a-b) < 1e-6 }

// TestWorstOfAReading: each way of measuring, on its worst side; what says nothing.
func TestWorstOfAReading(t *testing.T) {
	for _, c := range []struct {
		name string
		r    Reading
		want float64
		ok   bool
	}{
		{"an angle", Reading{ByAngle, Measured{13, 1}, Measured{}}, 14, true},
		{"a drop", Reading{ByDrop, Measured{0.25, 0.005}, Measured{1.2, 0.005}}, 12.045632385, true},
		{"a rise", Reading{ByRiseRun, Measured{1, 0}, Measured{5, 0}}, 11.309932474, true},
		{"fifteen per cent is no fifteen degrees", Reading{ByPercent, Measured{15, 0}, Measured{}}, 8.530765610, true},
		{"level", Reading{ByDrop, Measured{0, 0}, Measured{1.2, 0}}, 0, true},
		{"a board that may be none", Reading{ByDrop, Measured{0.1, 0}, Measured{0.01, 0.01}}, 0, false},
		{"upright", Reading{ByAngle, Measured{89, 1}, Measured{}}, 0, false},
		{"another way", Reading{"by eye", Measured{9, 0}, Measured{}}, 0, false},
	} {
		if got, ok := c.r.Worst(); ok != c.ok || ok && !near(got, c.want) {
			t.Errorf("%s: %g %v, want %g %v", c.name, got, ok, c.want, c.ok)
		}
	}
	if got := Percent(15); !near(got, 26.794919243) {
		t.Errorf("15° is %g %%", got)
	}
}

// TestLimits: the least of the tiers that agree, the flat where something forbids more,
// degrees off for what the sheet has degrees for.
func TestLimits(t *testing.T) {
	tiers := []Tier{{map[string][]string{"counterweight": {"none"}}, 5, 8}, {map[string][]string{"counterweight": {"full"}}, 15, 18}}
	sheet := func(change func(*Slope)) Slope {
		s := Slope{Tiers: tiers, Wet: []Tier{{nil, 9, 9}}, Off: map[string]float64{Soft: 4, "towing": 20}, OffFlat: []string{"bar_folded"}, Direction: UpDown}
		if change != nil {
			change(&s)
		}
		return s
	}
	full := map[string]string{"counterweight": "full"}
	for _, c := range []struct {
		name string
		s    Slope
		u    Under
		want Limits
	}{
		{"as built", sheet(nil), Under{Options: full, Practised: true}, Limits{15, 18}},
		{"nobody said how it is built", sheet(nil), Under{Practised: true}, Limits{5, 8}},
		{"another option says nothing of it", sheet(nil), Under{Options: map[string]string{"deck": "wide"}, Practised: true}, Limits{5, 8}},
		{"built as no tier is", sheet(nil), Under{Options: map[string]string{"counterweight": "half"}, Practised: true}, Limits{3, 3}},
		{"no tiers", sheet(func(s *Slope) { s.Tiers = nil }), Under{Options: full, Practised: true}, Limits{3, 3}},
		{"no direction", sheet(func(s *Slope) { s.Direction = "" }), Under{Options: full, Practised: true}, Limits{3, 3}},
		{"not practised", sheet(nil), Under{Options: full}, Limits{3, 3}},
		{"no slope today", sheet(nil), Under{Options: full, Practised: true, Restrictions: []string{"no_slope"}}, Limits{3, 3}},
		{"wet", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{Wet}}, Limits{9, 9}},
		{"wet, and the sheet is silent", sheet(func(s *Slope) { s.Wet = nil }), Under{Options: full, Practised: true, Conditions: []string{Wet}}, Limits{3, 3}},
		{"wet, and built as no wet tier is", sheet(func(s *Slope) { s.Wet = tiers[:1] }), Under{Options: full, Practised: true, Conditions: []string{Wet}}, Limits{3, 3}},
		{"no wet slope today", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{Wet}, Restrictions: []string{"no_wet_slope"}}, Limits{3, 3}},
		{"and it is dry", sheet(nil), Under{Options: full, Practised: true, Restrictions: []string{"no_wet_slope"}}, Limits{15, 18}},
		{"soft", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{Soft}}, Limits{11, 14}},
		{"wet and soft", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{Soft, Wet}}, Limits{5, 5}},
		{"more off than there is", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{"towing"}}, Limits{3, 3}},
		{"the bar folded", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{"bar_folded"}}, Limits{3, 3}},
		{"the sheet has no degrees", sheet(nil), Under{Options: full, Practised: true, Conditions: []string{"tyres_out"}}, Limits{3, 3}},
		{"below the flat anyway", sheet(func(s *Slope) { s.Tiers = []Tier{{nil, 2, 6}} }), Under{Practised: true, Conditions: []string{Soft}}, Limits{2, 3}},
	} {
		if got := c.s.Limits(c.u); got != c.want {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
}

// TestABank: touching a limit is outside; between the two only up and down; a failed test
// forbids whatever was measured.
func TestABank(t *testing.T) {
	at := func(deg float64) Bank {
		return Bank{Readings: []Reading{{Kind: ByAngle, Up: Measured{deg, 0}}}, Needed: 2}
	}
	l := &Limits{15, 18}
	for _, c := range []struct {
		deg            float64
		limits         *Limits
		direction      string
		allowed, watch bool
	}{{14.999, l, UpDown, true, false}, {15, l, UpDown, true, true}, {15, l, AnyWays, true, true}, {15, l, "", true, true}, {15, l, Across, false, false}, {17.999, l, UpDown, true, true}, {18, l, UpDown, false, false}, {80, nil, "", true, false}} {
		if v := at(c.deg).Judge(c.limits, c.direction); v.Allowed != c.allowed || v.Watch != c.watch || !v.Few {
			t.Errorf("%g %s: %+v", c.deg, c.direction, v)
		}
	}
	slips := at(1)
	slips.ReverseFailed = true
	if v := slips.Judge(l, UpDown); v.Allowed || !slices.Equal(v.Because, []string{"reverse_test"}) {
		t.Errorf("wheels slip, and it is %+v", v)
	}
	slips.Readings[0].Up.Value = 16
	if v := slips.Judge(l, UpDown); v.Allowed || v.Watch {
		t.Errorf("wheels slip between the limits, and it is %+v", v)
	}
	slips.Readings[0].Up.Value = 30
	if v := slips.Judge(l, UpDown); !slices.Equal(v.Because, []string{"slope", "reverse_test"}) {
		t.Errorf("%v", v.Because)
	}
}

// TestNothingWorseAllowsMore: a steeper reading, more doubt, another reading, a further
// condition or restriction, an option that is no longer known never allow more, and never
// turn a refusal into Watch.
func TestNothingWorseAllowsMore(t *testing.T) {
	random := rand.New(rand.NewSource(14))
	rank := func(v Verdict) int {
		switch {
		case !v.Allowed:
			return 0
		case v.Watch:
			return 1
		}
		return 2
	}
	ways := []string{"none", "full"}
	tiers := func() (out []Tier) {
		for range random.Intn(3) {
			l := float64(random.Intn(25))
			tier := Tier{Limit: l, NeverAbove: l + float64(random.Intn(5))}
			if random.Intn(2) == 0 {
				tier.When = map[string][]string{"counterweight": {ways[random.Intn(2)]}}
			}
			out = append(out, tier)
		}
		return out
	}
	reading := func() Reading {
		r := Reading{Kind: []string{ByAngle, ByDrop, ByRiseRun, ByPercent}[random.Intn(4)], Up: Measured{random.Float64() * 20, random.Float64()}, Along: Measured{1 + random.Float64(), random.Float64() / 20}}
		if r.Kind == ByDrop || r.Kind == ByRiseRun {
			r.Up = Measured{random.Float64() * 0.4, random.Float64() / 50}
		}
		return r
	}
	for n := range 20000 {
		s := Slope{Tiers: tiers(), Wet: tiers(), Off: map[string]float64{Soft: float64(random.Intn(6)), "tyres_out": 2}, Direction: []string{UpDown, Across, AnyWays, ""}[random.Intn(4)]}
		b := Bank{Readings: []Reading{reading(), reading()}, Needed: Needs}
		u := Under{Options: map[string]string{"counterweight": ways[random.Intn(2)]}, Practised: random.Intn(4) > 0}
		judge := func(b Bank, u Under) Verdict { l := s.Limits(u); return b.Judge(&l, s.Direction) }
		was := judge(b, u)
		worse, under := Bank{slices.Clone(b.Readings), b.Needed, false}, u
		switch n % 7 {
		case 0:
			worse.Readings[0].Up.Value *= 1.2
		case 1:
			worse.Readings[1].Up.Doubt += 0.05
		case 2:
			worse.Readings[1].Along.Doubt += 0.1
		case 3:
			worse.Readings = append(worse.Readings, reading())
		case 4:
			under.Conditions = []string{Conditions()[random.Intn(7)]}
		case 5:
			under.Restrictions = []string{"no_slope"}
		default:
			worse.ReverseFailed = random.Intn(2) == 0
			if _, built := of(s.Tiers, u.Options); built { // else the sheet says nothing of how it is built
				under.Options = nil
			}
		}
		if now := judge(worse, under); rank(now) > rank(was) {
			t.Fatalf("%+v %+v was %+v, and worse is %+v", s, b, was, now)
		}
	}
}

// TestWithAnother machine nothing is allowed that one of the two may not.
func TestWithAnother(t *testing.T) {
	tractor := Slope{Tiers: []Tier{{nil, 16, 20}}, Wet: []Tier{{nil, 9, 9}}, Off: map[string]float64{"towing": 6, Soft: 5}, Direction: AnyWays}
	boom := Slope{Tiers: []Tier{{nil, 10, 12}}, Off: map[string]float64{Soft: 2, "bar_folded": 1}, Direction: UpDown}
	both := tractor.With(boom)
	if got := boom.With(tractor); got.Direction != both.Direction || len(got.Off) != len(both.Off) {
		t.Errorf("%+v, the other way round %+v", both, got)
	}
	if both.Direction != UpDown || both.Off[Soft] != 5 || both.Off["towing"] != 6 || len(both.Off) != 2 || len(both.Wet) != 0 {
		t.Errorf("%+v", both)
	}
	for _, conditions := range [][]string{nil, {Soft}, {Wet}, {"bar_folded"}} {
		u := Under{Practised: true, Conditions: conditions}
		l, a, b := both.Limits(u), tractor.Limits(u), boom.Limits(u)
		if l.Limit > min(a.Limit, b.Limit) || l.NeverAbove > min(a.NeverAbove, b.NeverAbove) {
			t.Errorf("%v: %+v of %+v and %+v", conditions, l, a, b)
		}
	}
	if got := boom.With(Slope{Tiers: []Tier{{nil, 8, 8}}, Direction: Across}); got.Direction != "" {
		t.Errorf("one across and one straight: %q", got.Direction)
	}
	if l := boom.With(Slope{Direction: AnyWays}).Limits(Under{Practised: true}); l != flat {
		t.Errorf("one of the two is for the flat only: %+v", l)
	}
}

// TestWhatLeavesLessOfASlope is named: each thing that by itself lowers a limit, and never
// nothing where the limit is lower than it could be.
func TestWhatLeavesLessOfASlope(t *testing.T) {
	whole := Slope{Tiers: []Tier{{Limit: 15, NeverAbove: 18}}, Wet: []Tier{{Limit: 9, NeverAbove: 9}}, Off: map[string]float64{Soft: 4}, OffFlat: []string{"bagger_full"}, Direction: AnyWays}
	bare := Slope{Tiers: []Tier{{Limit: 15, NeverAbove: 18, When: map[string][]string{"bar": {"folding"}}}}}
	for name, c := range map[string]struct {
		of   Slope
		u    Under
		want string
	}{
		"nothing":             {whole, Under{Practised: true}, ""},
		"wet and soft":        {whole, Under{Practised: true, Conditions: []string{Soft, Wet}}, "wet soft"},
		"all but the flat":    {whole, Under{Practised: true, Conditions: []string{"bagger_full", "towing"}}, "towing bagger_full"},
		"nobody practised it": {whole, Under{}, Unpractised},
		"a defect":            {whole, Under{Practised: true, Restrictions: []string{"no_slope"}}, KeptFlat},
		"a defect when wet":   {whole, Under{Practised: true, Restrictions: []string{"no_wet_slope"}, Conditions: []string{Wet}}, Wet},
		"a defect, and dry":   {whole, Under{Practised: true, Restrictions: []string{"no_wet_slope"}}, ""},
		"no direction":        {Slope{Tiers: whole.Tiers}, Under{Practised: true}, NoDirection},
		"built otherwise":     {bare, Under{Practised: true, Options: map[string]string{"bar": "fixed"}}, NoTier + " " + NoDirection},
	} {
		if got := strings.Join(c.of.LessBy(c.u), " "); got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
	for _, conditions := range [][]string{nil, {Wet}, {Soft}, {Wet, Soft}, {"towing"}, {"bagger_full", Wet}} {
		for _, restrictions := range [][]string{nil, {"no_slope"}, {"no_wet_slope"}} {
			for _, practised := range []bool{false, true} {
				u := Under{Conditions: conditions, Restrictions: restrictions, Practised: practised}
				lower := whole.Limits(u) != whole.Limits(Under{Practised: true})
				if got := whole.LessBy(u); lower != (len(got) > 0) {
					t.Errorf("%+v: less is %t, and it is said to be by %v", u, lower, got)
				}
			}
		}
	}
}
