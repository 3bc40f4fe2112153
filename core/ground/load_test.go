package ground

import (
	"math"
	"math/rand"
	"slices"
	"testing"
)

// TestARamp: touching the angle is too steep, touching the width will do; the needed
// length is the least tenth that is not.
func TestARamp(t *testing.T) {
	base := Ramp{Height: Measured{0.6, 0.01}, Length: Measured{2.5, 0.01}, Width: Measured{1.6, 0.01}, Limit: 15, MachineWidth: 1.2, Margin: RampMargin}
	for _, c := range []struct {
		name    string
		change  func(*Ramp)
		because []string
	}{
		{"as it is", func(*Ramp) {}, []string{}},
		{"at its limit", func(r *Ramp) { r.Limit = degrees(math.Asin(0.61 / 2.49)) }, []string{"angle"}},
		{"as wide as it has to be", func(r *Ramp) { r.Width.Value = 1.51 }, []string{}},
		{"a little less", func(r *Ramp) { r.Width.Value = 1.509 }, []string{"width"}},
		{"as long as it is high", func(r *Ramp) { r.Length = Measured{0.62, 0.01} }, []string{"angle"}},
		{"short and narrow", func(r *Ramp) { r.Length.Value, r.Width.Value = 1, 1 }, []string{"angle", "width"}},
	} {
		r := base
		c.change(&r)
		if got := r.Judge(); !slices.Equal(got.Because, c.because) {
			t.Errorf("%s: %+v", c.name, got)
		}
	}
	if got := base.Judge(); math.Abs(got.Margin-(15-got.Worst)) > 1e-9 || got.Margin < 0 {
		t.Errorf("%+v", got)
	}
	if r := base; true {
		r.Limit, r.Height = 0, Measured{}
		if got := r.Judge(); got.NeededLength != nil {
			t.Errorf("no limit at all, and it needs %g", *got.NeededLength)
		}
		r.Limit, r.Height = 0, base.Height
		if got := r.Judge(); got.NeededLength != nil {
			t.Errorf("on the flat it needs %g", *got.NeededLength)
		}
	}
	random := rand.New(rand.NewSource(3))
	for range 5000 {
		r := Ramp{Height: Measured{random.Float64() * 1.5, random.Float64() / 20}, Length: Measured{random.Float64() * 6, random.Float64() / 10}, Width: Measured{1, 0}, Limit: 1 + random.Float64()*40, MachineWidth: 1}
		got := r.Judge()
		tried := 0.0 // by trying one after the other
		for n := 1; ; n++ {
			one := r
			one.Length.Value = float64(n) / 10
			if j := one.Judge(); len(j.Because) == 0 || !slices.Contains(j.Because, "angle") {
				tried = one.Length.Value
				break
			}
		}
		if got.NeededLength == nil || math.Abs(*got.NeededLength-tried) > 1e-9 {
			t.Fatalf("%+v needs %v, tried %g", r, got.NeededLength, tried)
		}
	}
}

// TestABridge: no bridge is none; the law holds without one.
func TestABridge(t *testing.T) {
	for _, c := range []struct {
		height  float64
		bridges []float64
		because []string
		margin  float64
	}{
		{3.85, []float64{4.6, 4.05}, []string{}, 0}, // to the law, which is less here
		{3.9, []float64{4.05}, []string{"legal"}, -0.05},
		{3.95, []float64{4.05}, []string{"bridge", "legal"}, -0.1},
		{3.5, []float64{3.6}, []string{"bridge"}, -0.05},
		{3, nil, []string{}, 0.85},
	} {
		got := Bridge{Height: Measured{c.height, 0.05}, Margin: BridgeMargin, Bridges: c.bridges, Legal: 4}.Judge()
		if !slices.Equal(got.Because, c.because) || !near(got.Margin, c.margin) || (got.Lowest == nil) != (len(c.bridges) == 0) {
			t.Errorf("%g under %v: %+v", c.height, c.bridges, got)
		}
	}
}

// TestATrailer: on the worst side of every mass; a tongue that nobody measured is no tongue
// in its range.
func TestATrailer(t *testing.T) {
	tow := func(change func(*Tow)) Towed {
		one := Tow{Trailer: Measured{350, 0}, Machines: []Measured{{480, 10}}, Gross: 1500, Rating: 1800, Tongue: &Measured{105, 5}, Low: TongueLow, High: TongueHigh}
		change(&one)
		return one.Judge()
	}
	for name, c := range map[string]struct {
		change  func(*Tow)
		because []string
	}{
		"as it is":                {func(*Tow) {}, []string{}},
		"the gross weight itself": {func(t *Tow) { t.Gross = 840 }, []string{}},
		"a kilogram more":         {func(t *Tow) { t.Gross = 839 }, []string{"gross"}},
		"too much for the car":    {func(t *Tow) { t.Rating = 800 }, []string{"rating"}},
		"not measured":            {func(t *Tow) { t.Tongue = nil }, []string{"tongue_unknown"}},
		"light in front":          {func(t *Tow) { t.Tongue.Value = 88 }, []string{"tongue_low"}},
		"heavy in front":          {func(t *Tow) { t.Tongue.Value = 119 }, []string{"tongue_high"}},
		"a doubtful gauge":        {func(t *Tow) { t.Tongue.Doubt = 30 }, []string{"tongue_low", "tongue_high"}},
		"nothing on it":           {func(t *Tow) { t.Machines = nil; t.Tongue.Value = 45; t.Tongue.Doubt = 0 }, []string{}},
	} {
		if got := tow(c.change); !slices.Equal(got.Because, c.because) {
			t.Errorf("%s: %+v", name, got)
		}
	}
}

// TestStraps: a cut one counts nothing, a shallow one little, and both ends are held.
func TestStraps(t *testing.T) {
	at := func(deg float64) *Measured { return &Measured{deg, 5} }
	good := []Strap{{500, at(45), Front, false}, {500, at(45), Front, false}, {500, nil, Rear, false}, {500, at(45), Rear, false}}
	judge := func(ridden bool, mass float64, straps ...Strap) Strapped {
		return Straps{Mass: Measured{mass, 10}, Ridden: ridden, Share: StrapShare, Straps: straps}.Judge()
	}
	if got := judge(true, 480, good...); len(got.Because) > 0 || !near(got.Counts, 500+3*500*math.Sin(radians(40))) || got.Needed != 245 {
		t.Errorf("%+v", got)
	}
	cut := slices.Clone(good)
	cut[0].Cut = true
	if got := judge(true, 480, cut...); !slices.Equal(got.Because, []string{Front}) || got.Front != 1 {
		t.Errorf("one is cut: %+v", got)
	}
	if got := judge(false, 480, cut...); len(got.Because) > 0 {
		t.Errorf("one is cut, of a machine that nobody rides: %+v", got)
	}
	if got := judge(false, 480); !slices.Equal(got.Because, []string{"load", Front, Rear}) {
		t.Errorf("none: %+v", got)
	}
	if got := judge(false, 480, Strap{500, &Measured{3, 5}, Front, false}, Strap{100, nil, Rear, false}); got.Counts != 100 || !slices.Equal(got.Because, []string{"load"}) {
		t.Errorf("one lies flat: %+v", got)
	}
	if got := judge(false, 390, Strap{100, nil, Front, false}, Strap{100, nil, Rear, false}); len(got.Because) > 0 {
		t.Errorf("just enough: %+v", got)
	}
}

// TestWhatMendsATongue does: pressed as much as it says, at either end, it is in range.
func TestWhatMendsATongue(t *testing.T) {
	for _, c := range []Tow{
		{Trailer: Measured{350, 0}, Machines: []Measured{{480, 10}}, Gross: 1500, Rating: 1800, Tongue: &Measured{20, 5}, Low: TongueLow, High: TongueHigh},
		{Trailer: Measured{400, 20}, Machines: []Measured{{900, 25}, {300, 5}}, Gross: 3000, Rating: 3000, Tongue: &Measured{400, 8}, Low: TongueLow, High: TongueHigh},
	} {
		press := c.Judge().Press
		for _, kilograms := range press {
			again := c
			again.Tongue = &Measured{kilograms, c.Tongue.Doubt}
			if because := again.Judge().Because; len(because) > 0 {
				t.Errorf("%v kg of %v: %v", kilograms, press, because)
			}
		}
		for i, off := range []float64{-1, 1} {
			again := c
			again.Tongue = &Measured{press[i] + off, c.Tongue.Doubt}
			if because := again.Judge().Because; len(because) != 1 {
				t.Errorf("a kilogram beyond %v: %v", press, because)
			}
		}
	}
}
