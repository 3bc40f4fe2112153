package ground

// What is typed in the visitor's units.

import (
	"strings"
	"unicode"

	"vespers/web/page"
)

// bare is a number as it was typed, with the visitor's unit where none was typed with it.
func bare(v *page.Visit, typed, symbol string) string {
	typed = strings.TrimSpace(typed)
	if typed == "" || symbol == "" || strings.ContainsFunc(typed, func(r rune) bool { return !unicode.IsDigit(r) && !strings.ContainsRune(".,'-+− ", r) }) {
		return typed
	}
	return typed + " " + v.Unit(symbol).Symbol
}
