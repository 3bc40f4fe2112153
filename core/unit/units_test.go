package unit

import (
	"fmt"
	"math"
	"testing"
)

// TestEveryUnitThereAndBack: turning a value into SI and back gives it again,
// and what is written is read as the same.
func TestEveryUnitThereAndBack(t *testing.T) {
	for _, symbol := range Symbols() {
		u, ok := Find(symbol)
		if !ok || u.Symbol != symbol {
			t.Fatalf("%s is not found", symbol)
		}
		for _, value := range []float64{0, 0.5, 3, 12.7, 98, 1203.4} {
			if got := u.In(u.Of(value)); math.Abs(got-value) > 1e-9*math.Max(1, value) {
				t.Errorf("%v %s comes back as %v", value, symbol, got)
			}
			for _, decimal := range []string{".", ","} {
				written := u.Format(u.Of(value), decimal)
				q, as, err := Parse(written, u)
				if err != nil || as.Dimension != u.Dimension {
					t.Errorf("%q cannot be read: %v", written, err)
					continue
				}
				if step := math.Pow10(-u.Decimals); math.Abs(u.In(q)-value) > step/2+1e-9 {
					t.Errorf("%v %s is written %q and read as %v", value, symbol, written, u.In(q))
				}
			}
		}
	}
}

// TestTheOtherSystem: each person's unit measures the same thing, and going
// over and back leads to the unit one came from or one of its system.
func TestTheOtherSystem(t *testing.T) {
	for _, symbol := range Symbols() {
		u, _ := Find(symbol)
		for _, system := range []System{Metric, US} {
			other := u.For(system)
			if other.Dimension != u.Dimension {
				t.Errorf("%s becomes %s, which measures something else", symbol, other.Symbol)
			}
			if again := other.For(system); again.Symbol != other.Symbol {
				t.Errorf("%s becomes %s and then %s", symbol, other.Symbol, again.Symbol)
			}
		}
	}
	psi, _ := Find("psi")
	if kPa := psi.For(Metric); kPa.Symbol != "kPa" || math.Abs(kPa.In(psi.Of(14.5))-99.97) > 0.01 {
		t.Errorf("14.5 psi is %v %s", kPa.In(psi.Of(14.5)), kPa.Symbol)
	}
}

func TestSpanIsADifference(t *testing.T) {
	celsius, _ := Find("°C")
	if celsius.Span(10) != 10 {
		t.Errorf("ten degrees apart are %v kelvin", celsius.Span(10))
	}
	mm, _ := Find("mm")
	if math.Abs(mm.Span(5)-0.005) > 1e-12 {
		t.Errorf("five millimetres are %v m", mm.Span(5))
	}
}

func TestAliases(t *testing.T) {
	for typed, want := range map[string]string{"PSI": "psi", "pulgadas": "in", "Litros": "L", "grados": "°", "segs": "", "hrs": "h", "m/s2": "m/s²", "Nm": "N·m", "ft-lb": "lb·ft", "lb": "lb", "LBS": "psi", "kmh": "km/h"} {
		t.Run(typed, func(t *testing.T) {
			u, ok := Find(typed)
			if ok != (want != "") || u.Symbol != want {
				t.Errorf("%q is %q, want %q", typed, u.Symbol, want)
			}
		})
	}
}

// TestPoundsAreWhatIsMeasured: at a tyre they are psi, at a load they are mass.
func TestPoundsAreWhatIsMeasured(t *testing.T) {
	for _, c := range []struct {
		typed, shown, taken string
		value               float64
	}{{"14 lb", "kPa", "psi", 96526.6}, {"14 lbs", "psi", "psi", 96526.6}, {"14 lb", "kg", "lb", 6.3503}, {"14 lb", "lb", "lb", 6.3503}, {"80 ft-lb", "N·m", "lb·ft", 108.465}, {"3000 rpm", "rpm", "rpm", 314.159}, {"18 km/h", "mph", "km/h", 5}} {
		t.Run(c.typed+" shown "+c.shown, func(t *testing.T) {
			shown, _ := Find(c.shown)
			q, taken, err := Parse(c.typed, shown)
			if err != nil || taken.Symbol != c.taken || math.Abs(q.Value-c.value) > 1e-3*c.value {
				t.Errorf("%v %s, %v", q.Value, taken.Symbol, err)
			}
		})
	}
}

func TestFormatNumber(t *testing.T) {
	for _, test := range []struct {
		value  float64
		places int
		want   string
	}{{1203.4, 1, "1203.4"}, {12, 2, "12"}, {0.1, 2, "0.1"}, {-0.001, 1, "0"}, {100, 0, "100"}} {
		t.Run(fmt.Sprint(test.value, " ", test.places), func(t *testing.T) {
			if got := FormatNumber(test.value, test.places, "."); got != test.want {
				t.Errorf("%v to %d places is %q, want %q", test.value, test.places, got, test.want)
			}
		})
	}
}
