// Package record is what everything accepted becomes: an event with who said
// it and when, and the registry by which an event is read back from a file of
// any age. Every kind of event is registered once, by the package it belongs to.
package record

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"time"

	"vespers/core/text"
)

// Meta is what every event carries: the record it is, who made it and when the
// server took it.
type Meta struct {
	ID         string
	By         string // person id
	At         time.Time
	Supersedes string // record id of the answer this one corrects, or ""
	// Doubtful: the clock was seen to be wrong when it was taken, so At tells
	// nothing about how long something took.
	Doubtful bool
	// Wrong is since when the clock is known to be wrong, while a record is decided;
	// zero where it is right. What hangs on it is kept in the event.
	Wrong time.Time
}

// Event is one thing that happened, as it stands in the records.
type Event interface{ Kind() string }

// Format numbers the form that bodies are written in. A file with a higher
// number was written by a newer program and is not guessed at.
//
//	1  as first written
//	2  the same bodies; the number itself is sealed with the record
const Format = 2

var kinds = map[string]reflect.Type{}

// Register makes events readable. It is called from package variables only and
// panics if a kind is taken.
func Register(events ...Event) []string {
	var names []string
	for _, e := range events {
		if _, taken := kinds[e.Kind()]; taken {
			panic("record: kind " + e.Kind() + " is registered twice")
		}
		kinds[e.Kind()] = reflect.TypeOf(e)
		names = append(names, e.Kind())
	}
	return names
}

// Kinds lists every kind by name.
func Kinds() []string {
	out := make([]string, 0, len(kinds))
	for k := range kinds {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// Decode reads an event back from its format, kind and JSON body.
func Decode(format int, kind string, body []byte) (Event, error) {
	if format < 1 || format > Format {
		return nil, fmt.Errorf("record: format %d is not known here; this program reads up to %d", format, Format)
	}
	t, ok := kinds[kind]
	if !ok {
		return nil, fmt.Errorf("record: no event of kind %q", kind)
	}
	v := reflect.New(t)
	if err := json.Unmarshal(body, v.Interface()); err != nil {
		return nil, fmt.Errorf("record: %s: %w", kind, err)
	}
	return v.Elem().Interface().(Event), nil
}

// Refused says why a command came to nothing. It is the only refusal there is.
type Refused struct {
	Reason text.Reason
	// Earlier is the answer already taken, where the command would have
	// answered the same thing again.
	Earlier *Earlier
}

// Earlier is an event that stands already.
type Earlier struct {
	Meta  Meta
	Event Event
}

func (e *Refused) Error() string { return "refused by " + string(e.Reason.Rule) }

// Refuse is the refusal of a reason.
func Refuse(r text.Reason) error { return &Refused{Reason: r} }
