package evening

// Reading an evening from a file: what is unknown, missing or of the wrong kind is
// refused, and nothing is guessed.

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"math"
	"slices"
	"strings"

	"vespers/core/record"
	"vespers/core/text"
)

var (
	whereSlot = text.Slot{Name: "where", Kind: text.Name}
	whatSlot  = text.Slot{Name: "what", Kind: text.Name}

	ruleJSON    = text.NewRule("evening.json", text.Slot{Name: "problem", Kind: text.Name})
	ruleType    = text.NewRule("evening.type", whereSlot, whatSlot)
	ruleUnknown = text.NewRule("evening.unknown_word", whereSlot, whatSlot, text.Slot{Name: "known", Kind: text.Name})
	ruleTwice   = text.NewRule("evening.twice", whereSlot, whatSlot)
	ruleMissing = text.NewRule("evening.missing", whereSlot)
	ruleNothing = text.NewRule("evening.nothing", whereSlot)
	ruleNumber  = text.NewRule("evening.number", whereSlot, whatSlot)
	ruleNoPlace = text.NewRule("evening.no_such_place", whereSlot, whatSlot, text.Slot{Name: "known", Kind: text.Name})
	ruleNobody  = text.NewRule("evening.nobody", whereSlot, whatSlot)
	ruleMost    = text.NewRule("evening.too_many_jobs", whereSlot, text.Slot{Name: "most", Kind: text.Count})
)

// listMost is the longest list of jobs of a machine.
const listMost = 60

// Read reads an evening; the error is a *record.Refused.
func Read(data []byte) (Evening, error) {
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
		return Evening{}, err
	case err != nil:
		return Evening{}, record.Refuse(ruleJSON.Says(err.Error()))
	}
	r := &reader{}
	e := r.evening(root)
	return e, r.err
}

// object is a JSON object whose words are in the order of the file.
type object struct {
	words  []string
	values map[string]any
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
	o := &object{values: map[string]any{}}
	for d.More() {
		key, err := d.Token()
		if err != nil {
			return nil, err
		}
		word := key.(string)
		if _, twice := o.values[word]; twice {
			return nil, record.Refuse(ruleTwice.Says(cmp.Or(where, "the file"), word))
		}
		if o.values[word], err = parse(d, strings.TrimPrefix(where+"."+word, ".")); err != nil {
			return nil, err
		}
		o.words = append(o.words, word)
	}
	_, err = d.Token()
	return o, err
}

// reader turns what was parsed into an evening; after the first thing that is wrong it
// reads on without looking.
type reader struct{ err error }

func (r *reader) refuse(reason text.Reason) {
	if r.err == nil {
		r.err = record.Refuse(reason)
	}
}

// object is a value that has to be an object of known words.
func (r *reader) object(v any, where string, known ...string) *object {
	o, ok := v.(*object)
	if !ok {
		r.refuse(ruleType.Says(where, kind(v)))
		return &object{}
	}
	for _, word := range o.words {
		if known != nil && !slices.Contains(known, word) {
			r.refuse(ruleUnknown.Says(where, word, strings.Join(known, ", ")))
		}
	}
	return o
}

func (r *reader) list(v any, where string) []any {
	list, ok := v.([]any)
	if !ok {
		r.refuse(ruleType.Says(where, kind(v)))
	}
	return list
}

// word is a text that has to be there.
func (r *reader) word(o *object, id, where string) string {
	v, there := o.values[id]
	s, ok := v.(string)
	switch {
	case !there || ok && s == "":
		r.refuse(ruleMissing.Says(where + "." + id))
	case !ok:
		r.refuse(ruleType.Says(where+"."+id, kind(v)))
	}
	return s
}

// number is a number that is left out for 0, and no less than that.
func (r *reader) number(o *object, id, where string) float64 {
	v, there := o.values[id]
	if !there {
		return 0
	}
	n, ok := v.(json.Number)
	if !ok {
		r.refuse(ruleType.Says(where+"."+id, kind(v)))
		return 0
	}
	f, err := n.Float64()
	if err != nil || math.IsInf(f, 0) || f < 0 {
		r.refuse(ruleNumber.Says(where+"."+id, n.String()))
	}
	return f
}

func (r *reader) yes(o *object, id, where string) bool {
	v, there := o.values[id]
	b, ok := v.(bool)
	if there && !ok {
		r.refuse(ruleType.Says(where+"."+id, kind(v)))
	}
	return b
}

// unique refuses an id that was there before.
func (r *reader) unique(seen map[string]bool, id, where string) string {
	if seen[id] {
		r.refuse(ruleTwice.Says(where, id))
	}
	seen[id] = true
	return id
}

func (r *reader) evening(root any) Evening {
	top := r.object(root, "the file", "places", "people", "machines")
	e := Evening{Places: map[string]int{"wash": 1, "fuel": 1}}
	if places, there := top.values["places"]; there {
		r.places(places, e.Places)
	}
	people, named := top.values["people"]
	known := map[string]bool{}
	if named {
		for i, v := range r.list(people, "people") {
			where := fmt.Sprintf("people[%d]", i)
			o := r.object(v, where, "id", "from")
			e.People = append(e.People, Person{ID: r.unique(known, r.word(o, "id", where), where), From: r.number(o, "from", where)})
		}
	}
	machines, there := top.values["machines"]
	if !there {
		r.refuse(ruleNothing.Says("machines"))
		return e
	}
	list := r.list(machines, "machines")
	if len(list) == 0 {
		r.refuse(ruleNothing.Says("machines"))
	}
	seen := map[string]bool{}
	for i, v := range list {
		where := fmt.Sprintf("machines[%d]", i)
		m := r.machine(v, where, e.Places)
		r.unique(seen, m.ID, where)
		for _, who := range m.Who {
			if named && !known[who] {
				r.refuse(ruleNobody.Says(where+".who", who))
			}
		}
		e.Machines = append(e.Machines, m)
	}
	return e
}

func (r *reader) places(v any, into map[string]int) {
	o := r.object(v, "places")
	for _, id := range o.words {
		n, ok := o.values[id].(json.Number)
		if !ok {
			r.refuse(ruleType.Says("places."+id, kind(o.values[id])))
			continue
		}
		count, err := n.Float64()
		if err != nil || count < 1 || count != math.Trunc(count) || count > 1000 {
			r.refuse(ruleNumber.Says("places."+id, n.String()))
			continue
		}
		into[id] = int(count)
	}
}

func (r *reader) machine(v any, where string, places map[string]int) Machine {
	o := r.object(v, where, "id", "arrives", "cool", "who", "jobs")
	m := Machine{ID: r.word(o, "id", where), Arrives: r.number(o, "arrives", where), Cool: r.number(o, "cool", where)}
	for _, id := range []string{"who", "jobs"} {
		if list, there := o.values[id]; !there || len(r.list(list, where+"."+id)) == 0 {
			r.refuse(ruleNothing.Says(where + "." + id))
			return m
		}
	}
	for i, v := range r.list(o.values["who"], where+".who") {
		id, ok := v.(string)
		if !ok || id == "" {
			r.refuse(ruleType.Says(fmt.Sprintf("%s.who[%d]", where, i), kind(v)))
		}
		m.Who = append(m.Who, id)
	}
	jobs := r.list(o.values["jobs"], where+".jobs")
	if len(jobs) > listMost {
		r.refuse(ruleMost.Says(where, listMost))
		return m
	}
	seen := map[string]bool{}
	for i, v := range jobs {
		at := fmt.Sprintf("%s.jobs[%d]", where, i)
		o := r.object(v, at, "id", "minutes", "place", "cool", "early")
		j := Job{ID: r.unique(seen, r.word(o, "id", at), at), Minutes: r.number(o, "minutes", at), Cool: r.yes(o, "cool", at), Early: r.yes(o, "early", at)}
		if j.Minutes <= 0 {
			r.refuse(ruleNumber.Says(at+".minutes", fmt.Sprint(j.Minutes)))
		}
		if place := o.values["place"]; place != nil { // null is nowhere, as in the answer
			if j.Place = r.word(o, "place", at); r.err == nil && places[j.Place] == 0 {
				r.refuse(ruleNoPlace.Says(at+".place", fmt.Sprint(place), strings.Join(slices.Sorted(maps.Keys(places)), ", ")))
			}
		}
		m.Jobs = append(m.Jobs, j)
	}
	return m
}

// kind says what a value is, for who wrote it.
func kind(v any) string {
	switch v := v.(type) {
	case nil:
		return "null"
	case *object:
		return "{…}"
	case []any:
		return "[…]"
	case string:
		return fmt.Sprintf("%q", v)
	}
	return fmt.Sprint(v)
}
