package operator

// What a PIN may be.

import (
	"strings"

	"vespers/core/text"
)

var (
	rulePINDigits  = text.NewRule("pin.digits")
	rulePINObvious = text.NewRule("pin.obvious")
	// RulePINLent refuses to keep a PIN that somebody else has given: they know
	// it. Whoever keeps the PINs compares the two.
	RulePINLent = text.NewRule("pin.lent_one")
)

// PINLike reports whether something typed could be a PIN: four to eight digits.
func PINLike(pin string) bool {
	for _, r := range pin {
		if r < '0' || r > '9' {
			return false
		}
	}
	return len(pin) >= 4 && len(pin) <= 8
}

// PINWrong says why a PIN may not be chosen: not four to eight digits, or one of
// those that are tried first (house rule): the same digit throughout, digits in
// a row up or down, a pair said over and over, or a recent year.
func PINWrong(pin string) (text.Reason, bool) {
	if !PINLike(pin) {
		return rulePINDigits.Says(), true
	}
	up, down := true, true
	for i := 1; i < len(pin); i++ {
		up = up && (pin[i]-pin[i-1] == 1 || pin[i-1] == '9' && pin[i] == '0')
		down = down && (pin[i-1]-pin[i] == 1 || pin[i-1] == '0' && pin[i] == '9')
	}
	over := strings.Repeat(pin[:2], len(pin)/2) == pin || strings.Repeat(pin[:1], len(pin)) == pin
	year := len(pin) == 4 && (pin[:2] == "19" || pin[:2] == "20")
	if up || down || over || year {
		return rulePINObvious.Says(), true
	}
	return text.Reason{}, false
}
