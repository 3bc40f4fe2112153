package record_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"vespers/core/record"
	_ "vespers/core/yard" // registers every kind there is
)

// line is a record of the first edition of the program as its export wrote it.
type line struct {
	Kind string          `json:"kind"`
	Body json.RawMessage `json:"body"`
}

// editions are records that were really made, one of each kind and shape; a new edition
// adds a file with what is new in it.
func editions(t testing.TB) []line {
	t.Helper()
	files, err := filepath.Glob("testdata/edition*.jsonl")
	if err != nil || len(files) < 2 {
		t.Fatal(files, err)
	}
	var data []byte
	for _, file := range files {
		one, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		data = append(data, one...)
	}
	var all []line
	for in := bufio.NewScanner(bytes.NewReader(data)); in.Scan(); {
		var l line
		if err := json.Unmarshal(in.Bytes(), &l); err != nil {
			t.Fatal(err)
		}
		all = append(all, l)
	}
	return all
}

// TestEveryEditionIsRead, and nothing of it is lost on the way: what is
// written again has everything that was there.
func TestEveryEditionIsRead(t *testing.T) {
	lines := editions(t)
	var kinds []string
	for _, l := range lines {
		kinds = append(kinds, l.Kind)
		e, err := record.Decode(1, l.Kind, l.Body)
		if err != nil {
			t.Errorf("%s: %v", l.Kind, err)
			continue
		}
		if e.Kind() != l.Kind {
			t.Errorf("%s became a %s", l.Kind, e.Kind())
		}
		again, err := json.Marshal(e)
		if err != nil {
			t.Fatal(err)
		}
		var was, is any
		if err := json.Unmarshal(l.Body, &was); err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(again, &is); err != nil {
			t.Fatal(err)
		}
		if lost := missing(was, is, l.Kind); lost != "" {
			t.Errorf("%s: %s is lost", l.Kind, lost)
		}
	}
	if len(lines) < 30 {
		t.Errorf("only %d records", len(lines))
	}
	for _, kind := range []string{"person_added", "machine_added", "outing_started", "point_answered", "tested", "released", "defect_closed", "procedure_begun", "step_answered", "procedure_left", "happened", "checked_in", "sought", "filled",
		"planned", "terms_set", "finding_worsened", "news_heard", "machine_changed", "machine_left", "machine_returned", "linked", "told_beside", "person_home", "day_sealed", "expected", "person_came", "machine_given", "weather_said", "calendar_opened", "test_copied"} {
		if !slices.Contains(kinds, kind) {
			t.Errorf("no %s among them: %v", kind, kinds)
		}
	}
}

// missing names what is in was and not, or otherwise, in is.
func missing(was, is any, at string) string {
	switch was := was.(type) {
	case map[string]any:
		now, ok := is.(map[string]any)
		if !ok {
			return at
		}
		for k, v := range was {
			if lost := missing(v, now[k], at+"."+k); lost != "" && v != nil && !reflect.ValueOf(v).IsZero() {
				return lost
			}
		}
		return ""
	case []any:
		now, ok := is.([]any)
		if !ok || len(now) != len(was) {
			return at
		}
		for i := range was {
			if lost := missing(was[i], now[i], at+"[]"); lost != "" {
				return lost
			}
		}
		return ""
	}
	if !reflect.DeepEqual(was, is) {
		return at
	}
	return ""
}

// TestWhatIsNotKnownIsNotGuessed: a record of a newer program, or of no kind.
func TestWhatIsNotKnownIsNotGuessed(t *testing.T) {
	for name, c := range map[string]struct {
		format     int
		kind, body string
		says       string
	}{
		"a newer format":  {record.Format + 1, "point_answered", "{}", "is not known here"},
		"no format":       {0, "point_answered", "{}", "is not known here"},
		"no such kind":    {1, "danced", "{}", `no event of kind "danced"`},
		"no JSON":         {1, "point_answered", "{", "point_answered"},
		"another type":    {1, "point_answered", `{"machine":3}`, "point_answered"},
		"nothing at all":  {1, "point_answered", "", "point_answered"},
		"this format":     {record.Format, "point_answered", "{}", ""},
		"the first as is": {1, "point_answered", "{}", ""},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := record.Decode(c.format, c.kind, []byte(c.body))
			switch {
			case err == nil && c.says != "":
				t.Error("it was read")
			case err != nil && (c.says == "" || !strings.Contains(err.Error(), c.says)):
				t.Error(err)
			}
		})
	}
}

func TestEveryKindHasOneName(t *testing.T) {
	kinds := record.Kinds()
	if !slices.IsSorted(kinds) || len(slices.Compact(slices.Clone(kinds))) != len(kinds) {
		t.Errorf("%v", kinds)
	}
	defer func() {
		if recover() == nil {
			t.Error("a kind was registered twice")
		}
	}()
	e, err := record.Decode(1, "point_answered", []byte("{}"))
	if err != nil {
		t.Fatal(err)
	}
	record.Register(e)
}

// FuzzDecode: whatever is in a file, decoding it gives an event that can be
// written, or an error.
func FuzzDecode(f *testing.F) {
	for _, l := range editions(f) {
		f.Add(1, l.Kind, []byte(l.Body))
	}
	f.Add(2, "point_answered", []byte(`{"value":{"quantity":1e999}}`))
	f.Fuzz(func(t *testing.T, format int, kind string, body []byte) {
		e, err := record.Decode(format, kind, body)
		if err != nil {
			return
		}
		data, err := json.Marshal(e)
		if err != nil {
			t.Fatalf("%s was read and cannot be written: %v", kind, err)
		}
		again, err := record.Decode(record.Format, kind, data)
		if err != nil {
			t.Fatalf("%s was written and cannot be read: %v", kind, err)
		}
		if twice, err := json.Marshal(again); err != nil || !bytes.Equal(twice, data) {
			t.Fatalf("%s says %s, then %s", kind, data, twice)
		}
	})
}
