package text

// What people type: kept or refused, never cut.

import (
	"unicode"
	"unicode/utf8"
)

var (
	ruleLong       = NewRule("typed.too_long", Slot{"count", Count}, Slot{"most", Count})
	ruleUnreadable = NewRule("typed.unreadable")
)

// Wrong says what is wrong with a text somebody typed: it is kept as it is or
// refused, never cut. Most is in characters, as a person counts them, not bytes.
func Wrong(typed string, most int) (Reason, bool) {
	if !utf8.ValidString(typed) {
		return ruleUnreadable.Says(), true
	}
	for _, r := range typed {
		// Bidirectional marks and zero-width letters make two names look alike.
		if r == '\n' || r == '\t' {
			continue
		}
		if unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Co, r) {
			return ruleUnreadable.Says(), true
		}
	}
	if n := utf8.RuneCountInString(typed); n > most {
		return ruleLong.Says(n, most), true
	}
	return Reason{}, false
}
