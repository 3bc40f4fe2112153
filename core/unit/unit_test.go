package unit

import (
	"errors"
	"fmt"
	"math"
	"testing"
)

func find(t *testing.T, symbol string) Unit {
	t.Helper()
	u, ok := Find(symbol)
	if !ok {
		t.Fatalf("no unit %s", symbol)
	}
	return u
}

func TestParse(t *testing.T) {
	for _, test := range []struct {
		typed, in string
		want      float64 // in the unit it is then in
		unit      string
		err       error
	}{
		{"92", "kPa", 92, "kPa", nil},
		{" 92,5 ", "kPa", 92.5, "kPa", nil},
		{"13.5 psi", "kPa", 13.5, "psi", nil},
		{"2,2bar", "kPa", 2.2, "bar", nil},
		{"-4", "mm", -4, "mm", nil},
		{"−4", "mm", -4, "mm", nil},
		{"1,203.4", "h", 1203.4, "h", nil},
		{"1.203,4", "h", 1203.4, "h", nil},
		{"33 MM", "mm", 33, "mm", nil},
		{"", "kPa", 0, "", ErrEmpty},
		{"   ", "kPa", 0, "", ErrEmpty},
		{"1e9", "kPa", 0, "", ErrNumber},
		{"0x10", "kPa", 0, "", ErrNumber},
		{"abc", "kPa", 0, "", ErrNumber},
		{"--3", "kPa", 0, "", ErrNumber},
		{"1.2.3", "kPa", 0, "", ErrNumber},
		{"12,34.5", "h", 0, "", ErrNumber},
		{"NaN", "kPa", 0, "", ErrNumber},
		{"33 mm", "kPa", 0, "", ErrUnit},
		{"33 furlongs", "mm", 0, "", ErrUnit},
	} {
		t.Run(fmt.Sprint(test.typed, " ", test.in), func(t *testing.T) {
			q, u, err := Parse(test.typed, find(t, test.in))
			if !errors.Is(err, test.err) {
				t.Errorf("Parse(%q, %s): %v, want %v", test.typed, test.in, err, test.err)
				return
			}
			if err == nil && (u.Symbol != test.unit || math.Abs(u.In(q)-test.want) > 1e-9) {
				t.Errorf("Parse(%q, %s) = %v %s, want %v %s", test.typed, test.in, u.In(q), u.Symbol, test.want, test.unit)
			}
		})
	}
}

func TestThereAndBack(t *testing.T) {
	for _, symbol := range Symbols() {
		u := find(t, symbol)
		for _, v := range []float64{-40, 0, 0.1, 32, 1203.4} {
			if got := u.In(u.Of(v)); math.Abs(got-v) > 1e-9*math.Max(1, math.Abs(v)) {
				t.Errorf("%v %s reads back as %v", v, symbol, got)
			}
		}
		for _, s := range []System{Metric, US} {
			if other := u.For(s); other.Dimension != u.Dimension {
				t.Errorf("%s for %s is %s", symbol, s, other.Symbol)
			}
		}
	}
	if c, f := find(t, "°C"), find(t, "°F"); math.Abs(f.In(c.Of(100))-212) > 1e-9 {
		t.Errorf("100 °C is %v °F", f.In(c.Of(100)))
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"92", "1,5 bar", "-0", "1.203,4", "°", "9\u00a0kPa"} {
		f.Add(s)
	}
	kPa, _ := Find("kPa")
	f.Fuzz(func(t *testing.T, typed string) {
		q, u, err := Parse(typed, kPa)
		if err == nil && (math.IsNaN(q.Value) || math.IsInf(q.Value, 0) || u.Dimension != Pressure) {
			t.Fatalf("%q became %v %s", typed, q, u.Symbol)
		}
	})
}
