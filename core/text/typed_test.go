package text

import (
	"fmt"
	"strings"
	"testing"
)

// TestWhatIsTypedIsKeptOrRefused: whole, counted in characters.
func TestWhatIsTypedIsKeptOrRefused(t *testing.T) {
	for name, c := range map[string]struct {
		typed string
		most  int
		want  Rule
	}{
		"nothing":                     {"", 5, ""},
		"as many as may be":           {"ñandú", 5, ""},
		"one more":                    {"ñandús", 5, "typed.too_long"},
		"long in bytes, not letters":  {strings.Repeat("á", 500), 500, ""},
		"lines and tabs":              {"one\n\ttwo", 20, ""},
		"a letter and its accent":     {"e\u0301", 2, ""},
		"a control character":         {"a\x00b", 9, "typed.unreadable"},
		"a carriage return":           {"a\rb", 9, "typed.unreadable"},
		"a delete":                    {"a\x7f", 9, "typed.unreadable"},
		"turned round":                {"a\u202eb", 9, "typed.unreadable"},
		"of no width":                 {"a\u200bb", 9, "typed.unreadable"},
		"of nobody's":                 {"a\ue000", 9, "typed.unreadable"},
		"half a letter":               {"a\xc3", 9, "typed.unreadable"},
		"unreadable goes before long": {strings.Repeat("x", 10) + "\x01", 5, "typed.unreadable"},
		"a control after lines":       {"one\n\x01", 20, "typed.unreadable"},
		"any language":                {"Людмила 鈴木 🌲", 20, ""},
	} {
		t.Run(name, func(t *testing.T) {
			reason, wrong := Wrong(c.typed, c.most)
			if reason.Rule != c.want || wrong != (c.want != "") {
				t.Errorf("%q %v, want %q", reason.Rule, wrong, c.want)
			}
		})
	}
}

// Example makes a reason: a rule with what fills its slots, to be told in any
// language later.
func Example() {
	reason, _ := Wrong("a name that does not end", 10)
	fmt.Println(reason.Rule, *reason.Args[0].Count, *reason.Args[1].Count)
	// Output: typed.too_long 24 10
}
