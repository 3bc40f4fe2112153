// Package strict reads a JSON file of numbers that something is computed from: what is
// unknown, missing, there twice or of the wrong kind is refused with its place, and
// nothing is guessed.
package strict

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"vespers/core/record"
	"vespers/core/text"
)

var (
	whereSlot = text.Slot{Name: "where", Kind: text.Name}
	whatSlot  = text.Slot{Name: "what", Kind: text.Name}
	knownSlot = text.Slot{Name: "known", Kind: text.Name}

	ruleJSON    = text.NewRule("file.json", text.Slot{Name: "problem", Kind: text.Name})
	ruleType    = text.NewRule("file.type", whereSlot, whatSlot)
	ruleUnknown = text.NewRule("file.unknown_word", whereSlot, whatSlot, knownSlot)
	ruleTwice   = text.NewRule("file.twice", whereSlot, whatSlot)
	ruleMissing = text.NewRule("file.missing", whereSlot)
	ruleNothing = text.NewRule("file.nothing", whereSlot)
	ruleNumber  = text.NewRule("file.number", whereSlot, whatSlot)
)

// Object is a JSON object whose words are in the order of the file.
type Object struct {
	Words []string
	// Where is its place in the file.
	Where  string
	values map[string]any
}

// Has reports whether a word is there.
func (o *Object) Has(word string) bool { _, there := o.values[word]; return there }

// Value is what stands at a word, nil for nothing or null.
func (o *Object) Value(word string) any { return o.values[word] }

// Reader goes through a file. After the first thing that is wrong it reads on without
// looking; Err is what that was, a *record.Refused.
type Reader struct{ Err error }

// Read parses a file, which holds one object.
func Read(data []byte) (*Reader, *Object) {
	r := &Reader{}
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	root, err := parse(d, "")
	if err == nil {
		if _, more := d.Token(); more != io.EOF {
			err = record.Refuse(ruleJSON.Says("more after the end"))
		}
	}
	var refused *record.Refused
	switch {
	case errors.As(err, &refused):
		r.Err = refused
	case err != nil:
		r.Refuse(ruleJSON.Says(err.Error()))
	}
	if r.Err != nil {
		return r, &Object{}
	}
	return r, r.object(root, "the file")
}

// parse reads one value: an object, a list, or what the decoder gives. A word that is
// there twice is refused.
func parse(d *json.Decoder, where string) (any, error) {
	token, err := d.Token()
	if err != nil {
		return nil, err
	}
	delimiter, opens := token.(json.Delim)
	if !opens {
		return token, nil
	}
	if delimiter == '[' {
		list := []any{}
		for d.More() {
			one, err := parse(d, fmt.Sprintf("%s[%d]", where, len(list)))
			if err != nil {
				return nil, err
			}
			list = append(list, one)
		}
		_, err = d.Token()
		return list, err
	}
	o := &Object{Where: cmp.Or(where, "the file"), values: map[string]any{}}
	for d.More() {
		key, err := d.Token()
		if err != nil {
			return nil, err
		}
		word := key.(string)
		if _, twice := o.values[word]; twice {
			return nil, record.Refuse(ruleTwice.Says(o.Where, word))
		}
		if o.values[word], err = parse(d, strings.TrimPrefix(where+"."+word, ".")); err != nil {
			return nil, err
		}
		o.Words = append(o.Words, word)
	}
	_, err = d.Token()
	return o, err
}

// Refuse notes the first thing that is wrong.
func (r *Reader) Refuse(reason text.Reason) {
	if r.Err == nil {
		r.Err = record.Refuse(reason)
	}
}

func (r *Reader) object(v any, where string) *Object {
	o, ok := v.(*Object)
	if !ok {
		r.Refuse(ruleType.Says(where, Kind(v)))
		return &Object{Where: where}
	}
	return o
}

// Known refuses every word of an object that is none of these.
func (r *Reader) Known(o *Object, known ...string) *Object {
	for _, word := range o.Words {
		if !slices.Contains(known, word) {
			r.Unknown(o.Where, word, known)
		}
	}
	return o
}

// At is the place of a word of an object.
func (o *Object) At(word string) string {
	if o.Where == "the file" {
		return word
	}
	return o.Where + "." + word
}

// Object is the object that has to stand at a word, of known words where any are named.
func (r *Reader) Object(o *Object, word string, known ...string) *Object {
	if !o.Has(word) {
		r.Refuse(ruleMissing.Says(o.At(word)))
		return &Object{Where: o.At(word)}
	}
	one := r.object(o.values[word], o.At(word))
	if known != nil {
		r.Known(one, known...)
	}
	return one
}

// List is the list at a word, nil where it is left out.
func (r *Reader) List(o *Object, word string) []any {
	v, there := o.values[word]
	list, ok := v.([]any)
	if there && !ok {
		r.Refuse(ruleType.Says(o.At(word), Kind(v)))
	}
	return list
}

// Some is a list that has to be there with something in it.
func (r *Reader) Some(o *Object, word string) []any {
	list := r.List(o, word)
	if len(list) == 0 {
		r.Refuse(ruleNothing.Says(o.At(word)))
	}
	return list
}

// Objects are the objects of a list, of known words where any are named.
func (r *Reader) Objects(o *Object, word string, list []any, known ...string) []*Object {
	out := make([]*Object, len(list))
	for i, v := range list {
		out[i] = r.object(v, fmt.Sprintf("%s[%d]", o.At(word), i))
		if known != nil {
			r.Known(out[i], known...)
		}
	}
	return out
}

// Words are the texts of a list.
func (r *Reader) Words(o *Object, word string, list []any) []string {
	out := make([]string, len(list))
	for i, v := range list {
		s, ok := v.(string)
		if !ok || s == "" {
			r.Refuse(ruleType.Says(fmt.Sprintf("%s[%d]", o.At(word), i), Kind(v)))
		}
		out[i] = s
	}
	return out
}

// Word is a text that has to be there.
func (r *Reader) Word(o *Object, word string) string {
	v, there := o.values[word]
	s, ok := v.(string)
	switch {
	case !there || ok && s == "":
		r.Refuse(ruleMissing.Says(o.At(word)))
	case !ok:
		r.Refuse(ruleType.Says(o.At(word), Kind(v)))
	}
	return s
}

// OneOf is a text that has to be there and one of those known.
func (r *Reader) OneOf(o *Object, word string, known ...string) string {
	s := r.Word(o, word)
	if s != "" && !slices.Contains(known, s) {
		r.Unknown(o.At(word), s, known)
	}
	return s
}

// Unknown refuses a word that is none of those known.
func (r *Reader) Unknown(where, word string, known []string) {
	r.Refuse(ruleUnknown.Says(where, word, strings.Join(known, ", ")))
}

// Numbers are the numbers of a list, each above 0.
func (r *Reader) Numbers(o *Object, word string, list []any) []float64 {
	out := make([]float64, len(list))
	for i, v := range list {
		where := fmt.Sprintf("%s[%d]", o.At(word), i)
		if out[i] = r.numberAt(v, where); out[i] == 0 {
			r.Refuse(ruleNumber.Says(where, Kind(v)))
		}
	}
	return out
}

// Number is a number that is left out for 0, and no less than that.
func (r *Reader) Number(o *Object, word string) float64 {
	if !o.Has(word) {
		return 0
	}
	return r.number(o, word)
}

// Needed is a number of at least 0 that has to be there.
func (r *Reader) Needed(o *Object, word string) float64 {
	if !o.Has(word) {
		r.Refuse(ruleMissing.Says(o.At(word)))
		return 0
	}
	return r.number(o, word)
}

// Positive is a number above 0 that has to be there.
func (r *Reader) Positive(o *Object, word string) float64 {
	n := r.Needed(o, word)
	if n == 0 && o.Has(word) {
		r.NoNumber(o, word)
	}
	return n
}

// NoNumber refuses the number at a word.
func (r *Reader) NoNumber(o *Object, word string) {
	r.Refuse(ruleNumber.Says(o.At(word), Kind(o.values[word])))
}

func (r *Reader) number(o *Object, word string) float64 {
	return r.numberAt(o.values[word], o.At(word))
}

func (r *Reader) numberAt(v any, where string) float64 {
	f := r.Signed(v, where)
	if f < 0 {
		r.Refuse(ruleNumber.Says(where, Kind(v)))
		return 0
	}
	return f
}

// Yes is true or false, left out for false.
func (r *Reader) Yes(o *Object, word string) bool {
	v, there := o.values[word]
	b, ok := v.(bool)
	if there && !ok {
		r.Refuse(ruleType.Says(o.At(word), Kind(v)))
	}
	return b
}

// Unique refuses an id that was there before.
func (r *Reader) Unique(seen map[string]bool, id, where string) string {
	if seen[id] {
		r.Refuse(ruleTwice.Says(where, id))
	}
	seen[id] = true
	return id
}

// Missing refuses a word that is not there.
func (r *Reader) Missing(o *Object, word string) { r.Refuse(ruleMissing.Says(o.At(word))) }

// Kind says what a value is, for who wrote it.
func Kind(v any) string {
	switch v := v.(type) {
	case nil:
		return "null"
	case *Object:
		return "{…}"
	case []any:
		return "[…]"
	case string:
		return fmt.Sprintf("%q", v)
	}
	return fmt.Sprint(v)
}

// Signed is a number that may be below 0, as a coordinate is.
func (r *Reader) Signed(v any, where string) float64 {
	n, ok := v.(json.Number)
	if !ok {
		r.Refuse(ruleType.Says(where, Kind(v)))
		return 0
	}
	f, err := n.Float64()
	if err != nil || math.IsInf(f, 0) {
		r.Refuse(ruleNumber.Says(where, n.String()))
		return 0
	}
	return f
}

// Items is a value that has to be a list.
func (r *Reader) Items(v any, where string) []any {
	list, ok := v.([]any)
	if !ok {
		r.Refuse(ruleType.Says(where, Kind(v)))
	}
	return list
}
