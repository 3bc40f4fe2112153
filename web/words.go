package web

import "strings"

// lower writes the first letter small, for words inside a sentence.
func lower(s string) string {
	for i, r := range s {
		return strings.ToLower(string(r)) + s[i+len(string(r)):]
	}
	return s
}
