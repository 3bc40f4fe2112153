// Package text holds what a person reads without deciding how it is said:
// sheet text in every language of the product, and Reasons, which name the
// rule that spoke and the things it spoke about. Sentences are made outside
// the core, from the message catalogue.
package text

// Language is a language a person can choose.
type Language string

// The languages every text exists in.
const (
	English Language = "en"
	Spanish Language = "es"
)

// Languages lists them in the order they are offered.
func Languages() []Language { return []Language{English, Spanish} }

// Text is one text of a machine sheet in every language.
type Text struct {
	EN string `json:"en" jsonschema:"minLength=1"`
	ES string `json:"es" jsonschema:"minLength=1"`
}

// In is the text in language l; a language that does not exist reads English.
func (t Text) In(l Language) string {
	if l == Spanish {
		return t.ES
	}
	return t.EN
}

// Empty reports whether the text says nothing in some language.
func (t Text) Empty() bool { return t.EN == "" || t.ES == "" }
