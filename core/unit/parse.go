package unit

// Quantities as they are typed.

import (
	"errors"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// What can be wrong with a typed reading.
var (
	ErrEmpty  = errors.New("unit: nothing was typed")
	ErrNumber = errors.New("unit: not a plain number")
	// ErrTwoWays is a number that is thousands in one country and a fraction in
	// another: 1,250.
	ErrTwoWays = errors.New("unit: a number that can be read in two ways")
	ErrUnit    = errors.New("unit: a unit that does not fit")
)

// Parse reads what an operator typed: digits with a point or a comma, a sign,
// and, if they wrote one, a unit. Without a unit it is taken to be in
// fallback. A unit of another dimension, or an unknown one, is ErrUnit;
// exponents, letters and doubled signs are ErrNumber.
func Parse(typed string, fallback Unit) (Quantity, Unit, error) {
	s := strings.TrimSpace(typed)
	if s == "" {
		return Quantity{}, fallback, ErrEmpty
	}
	s = strings.ReplaceAll(s, "−", "-")
	split := len(s)
	for i, r := range s {
		if r != '-' && r != '+' && r != '.' && r != ',' && r != '\'' && !unicode.IsDigit(r) {
			split = i
			break
		}
	}
	number, symbol := strings.TrimSpace(s[:split]), strings.TrimSpace(s[split:])
	value, err := parseNumber(number)
	if err != nil {
		return Quantity{}, fallback, err
	}
	u := fallback
	if symbol != "" {
		named, ok := findFor(symbol, fallback.Dimension)
		switch {
		case strings.ContainsAny(symbol, "0123456789"):
			return Quantity{}, fallback, ErrNumber
		case !ok || named.Dimension != fallback.Dimension:
			return Quantity{}, fallback, ErrUnit
		}
		u = named
	}
	return u.Of(value), u, nil
}

// parseNumber accepts 12, -3.5, 3,5 and 1,203.4 (or 1.203,4): where both marks
// stand, the last one is the decimal mark.
func parseNumber(s string) (float64, error) {
	point, comma := strings.LastIndex(s, "."), strings.LastIndex(s, ",")
	if point >= 0 && comma >= 0 {
		grouping := ","
		if comma > point {
			grouping = "."
		}
		whole := s[:max(point, comma)]
		for i, group := range strings.Split(whole, grouping) {
			if i > 0 && len(group) != 3 {
				return 0, ErrNumber
			}
		}
		s = strings.ReplaceAll(s, grouping, "")
	} else if twoWays(s, max(point, comma)) {
		return 0, ErrTwoWays
	}
	s = strings.ReplaceAll(s, ",", ".")
	if len(s) > 20 || strings.ContainsAny(s, "eExXpP_") {
		return 0, ErrNumber
	}
	value, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(value, 0) || math.IsNaN(value) {
		return 0, ErrNumber
	}
	return value, nil
}

// twoWays reports whether the one mark of a number, at this place, may group
// thousands as well as begin a fraction: one to three digits before it, of which
// the first is not 0, and three after it.
func twoWays(s string, mark int) bool {
	if mark < 0 || len(s)-mark-1 != 3 || strings.Count(s, ".")+strings.Count(s, ",") != 1 {
		return false
	}
	whole := strings.TrimLeft(s[:mark], "+-")
	return len(whole) >= 1 && len(whole) <= 3 && whole[0] != '0' && !strings.ContainsFunc(whole+s[mark+1:], func(r rune) bool { return r < '0' || r > '9' })
}

func (u Unit) named(symbol string) bool {
	if strings.EqualFold(u.Symbol, symbol) {
		return true
	}
	for _, a := range u.aliases {
		if strings.EqualFold(a, symbol) {
			return true
		}
	}
	return false
}

// Format writes q in u with the places that u needs and no more; decimal is
// the mark of the reader's language.
func (u Unit) Format(q Quantity, decimal string) string { return u.FormatTo(q, u.Decimals, decimal) }

// FormatTo is Format with a number of places.
func (u Unit) FormatTo(q Quantity, places int, decimal string) string {
	return FormatNumber(u.In(q), places, decimal) + u.Suffix()
}

// Suffix is the symbol as it follows a number.
func (u Unit) Suffix() string {
	if u.Symbol == "°" || u.Symbol == "%" {
		return u.Symbol
	}
	return "\u00a0" + u.Symbol
}

// FormatNumber rounds to the given places and drops trailing zeros after the
// decimal mark.
func FormatNumber(value float64, places int, decimal string) string {
	s := strconv.FormatFloat(value, 'f', places, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		s = "0"
	}
	return strings.Replace(s, ".", decimal, 1)
}
