package unit

import (
	"errors"
	"fmt"
	"strings"
	"testing"
)

// TestMarksInNumbers: a comma or a point, and both where one groups thousands.
func TestMarksInNumbers(t *testing.T) {
	mm, _ := Find("mm")
	for typed, want := range map[string]float64{
		"12": 12, ",5": 0.5, ".5": 0.5, "5,": 5, "5.": 5, "-3,5": -3.5, "+4": 4, "−2": -2, " 7 ": 7,
		"1,203.4": 1203.4, "1.203,4": 1203.4, "1,203,456.5": 1203456.5, "12345678901234567890": 12345678901234567890,
		"0": 0, "0,125": 0.125, "0.250": 0.25, "1250,125": 1250.125, "1,2500": 1.25, "1.25": 1.25, "00012": 12, "1,20": 1.2, ",123.5": 123.5,
	} {
		t.Run(typed, func(t *testing.T) {
			q, _, err := Parse(typed, mm)
			if got := mm.In(q); err != nil || got < want-1e-6*max(1, want) || got > want+1e-6*max(1, want) {
				t.Errorf("%q is %v, %v; want %v", typed, got, err, want)
			}
		})
	}
	for typed, want := range map[string]error{
		"1,20.5": ErrNumber, "12,34,567.8": ErrNumber, "1,2,3": ErrNumber, "1.2.3": ErrNumber, "--1": ErrNumber, "1-2": ErrNumber, "123456789012345678901": ErrNumber,
		"1e3": ErrNumber, "0x10": ErrNumber, "1_000": ErrNumber, "": ErrEmpty, " ": ErrEmpty, ",": ErrNumber, ".": ErrNumber, "1 kPa": ErrUnit, "1 furlong": ErrUnit, "3 4": ErrNumber, "3 mm2": ErrNumber,
		strings.Repeat("9", 400): ErrNumber,
		"1,250":                  ErrTwoWays, "1.250": ErrTwoWays, "-12,345": ErrTwoWays, "955.300 ": ErrTwoWays,
	} {
		t.Run(typed, func(t *testing.T) {
			if q, _, err := Parse(typed, mm); !errors.Is(err, want) {
				t.Errorf("%q is %v, %v; want %v", typed, q, err, want)
			}
		})
	}
}

func TestSymbolsStandAsTheyShould(t *testing.T) {
	for symbol, want := range map[string]string{"°": "12°", "%": "12%", "mm": "12\u00a0mm", "kPa": "12\u00a0kPa"} {
		t.Run(symbol, func(t *testing.T) {
			u, ok := Find(symbol)
			if !ok {
				return
			}
			if got := u.Format(u.Of(12), "."); got != want {
				t.Errorf("%q, want %q", got, want)
			}
		})
	}
}

// Example reads what somebody typed on a tablet that shows psi.
func Example() {
	kPa, _ := Find("kPa")
	q, as, err := Parse("13,5 psi", kPa)
	fmt.Println(as.Symbol, strings.ReplaceAll(kPa.Format(q, "."), "\u00a0", " "), err)
	// Output: psi 93 kPa <nil>
}
